// Steps applied to small models, for tests of what they do.
#pragma once

#include "prepare/step.h"
#include "scene/structure.h"

namespace rakugo::test {

/// A model of one part, "block", with these primitives.
inline scene::Model modelOf(std::vector<scene::Primitive> primitives) {
  scene::Model model;
  scene::Mesh mesh;
  mesh.primitives = std::move(primitives);
  model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
  model.nodes.emplace_back();
  model.nodes[0].name = "block";
  model.nodes[0].mesh = scene::MeshIndex(0);
  model.roots = {scene::NodeIndex(0)};
  scene::assignKeys(model);
  return model;
}
inline scene::Model modelOf(scene::Primitive primitive) {
  return modelOf(std::vector<scene::Primitive>{std::move(primitive)});
}

/// Applies a step of that kind with its initial values, `values` over them.
inline prepare::StepOutcome applyStep(scene::Model& model, const char* kind,
                                      const base::Json& values = base::Json::object(),
                                      const rulebook::Rulebook& book = {}) {
  prepare::StepContext context;
  context.book = &book;
  return prepare::applyStep(*prepare::findStepKind(kind), model, values, context);
}

/// How often a fault is found in all parts together.
inline uint64_t faultCount(const scene::Model& model, scene::FaultCode code) {
  uint64_t out = 0;
  for (const auto& part : scene::structureOf(model).value()) out += part.fault(code).count;
  return out;
}

/// A closed block from corner to corner: eight vertices, normals away from its middle.
inline scene::Primitive block(glm::vec3 low, glm::vec3 high, scene::MaterialIndex material = {}) {
  scene::Primitive p;
  for (int i = 0; i < 8; ++i)
    p.positions.push_back(
        {(i & 1) != 0 ? high.x : low.x, (i & 2) != 0 ? high.y : low.y, (i & 4) != 0 ? high.z : low.z});
  p.indices = {0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4,
               2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5};
  for (const glm::vec3& v : p.positions) p.normals.push_back(glm::normalize(v - (low + high) * 0.5F));
  p.material = material;
  return p;
}

/// The unit cube with every side cut into n x n squares: vertices of their own on each side, flat normals and
/// the whole picture on each.
inline scene::Primitive cutCube(int n) {
  scene::Primitive p;
  const glm::vec3 sides[6] = {{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
  for (const glm::vec3 out : sides) {
    const glm::vec3 u = std::abs(out.z) > 0.5F ? glm::vec3(1, 0, 0) : glm::vec3(0, 0, 1);
    const glm::vec3 v = glm::cross(out, u);
    const auto first = static_cast<uint32_t>(p.positions.size());
    for (int y = 0; y <= n; ++y)
      for (int x = 0; x <= n; ++x) {
        // Equal numbers where two sides meet, whichever way each counts.
        const auto along = [&](glm::vec3 axis, int i) {
          const bool back = axis.x + axis.y + axis.z < 0;
          return glm::abs(axis) * (static_cast<float>(back ? n - i : i) / static_cast<float>(n) - 0.5F);
        };
        p.positions.push_back(out * 0.5F + along(u, x) + along(v, y));
        const float a = static_cast<float>(x) / static_cast<float>(n),
                    b = static_cast<float>(y) / static_cast<float>(n);
        p.normals.push_back(out);
        p.uvs[0].emplace_back(a, 1 - b);
      }
    const auto row = static_cast<uint32_t>(n + 1);
    for (uint32_t y = 0; y + 1 < row; ++y)
      for (uint32_t x = 0; x + 1 < row; ++x) {
        const uint32_t a = first + y * row + x;
        p.indices.insert(p.indices.end(), {a, a + 1, a + row + 1, a, a + row + 1, a + row});
      }
  }
  return p;
}

}  // namespace rakugo::test
