#include <algorithm>
#include <cmath>

#include "base/jobs.h"
#include "build/runtime.h"
#include "geometry/vertex_cache.h"
#include "scene/rest_pose.h"

namespace rakugo::build {
namespace {

using bundle::Attribute;
using bundle::AttributeFormat;
using bundle::Semantic;

struct Layout {
  bool tangent = false, uv0 = false, uv1 = false, color = false;
};

Layout layoutOf(const scene::Mesh& mesh) {
  Layout out;
  for (const scene::Primitive& p : mesh.primitives) {
    out.tangent = out.tangent || !p.tangents.empty();
    out.uv0 = out.uv0 || !p.uvs[0].empty();
    out.uv1 = out.uv1 || !p.uvs[1].empty();
    out.color = out.color || !p.colors.empty();
  }
  return out;
}

void describe(const Layout& layout, bundle::MeshPayload& out) {
  const auto add = [&](Semantic semantic, AttributeFormat format) {
    out.attributes.push_back({semantic, format, out.stride});
    out.stride += bundle::formatBytes(format);
  };
  add(Semantic::position, AttributeFormat::f32x3);
  add(Semantic::normal, AttributeFormat::f32x3);
  if (layout.tangent) add(Semantic::tangent, AttributeFormat::f32x4);
  if (layout.uv0) add(Semantic::uv0, AttributeFormat::f32x2);
  if (layout.uv1) add(Semantic::uv1, AttributeFormat::f32x2);
  if (layout.color) add(Semantic::color, AttributeFormat::unorm8x4);
}

template <class T>
T at(const std::vector<T>& values, uint32_t i, T fallback) {
  return i < values.size() ? values[i] : fallback;
}

float finiteOr(float value, float fallback) { return std::isfinite(value) ? value : fallback; }

void writeVertex(base::ByteWriter& out, const scene::Primitive& p, uint32_t i, const Layout& layout,
                 const GameSpace& space) {
  const auto write = [&](auto v, int n, float fallback) {
    for (int c = 0; c < n; ++c) out.write<float>(finiteOr(v[c], fallback));
  };
  write(space.position(p.positions[i]), 3, 0);
  write(space.direction(at(p.normals, i, glm::vec3(0, 0, 1))), 3, 0);
  if (layout.tangent) {
    const glm::vec4 tangent = at(p.tangents, i, glm::vec4(1, 0, 0, 1));
    write(glm::vec4(space.direction(glm::vec3(tangent)), space.mirrored < 0 ? tangent.w : -tangent.w), 4, 0);
  }
  if (layout.uv0) write(at(p.uvs[0], i, glm::vec2(0)), 2, 0);
  if (layout.uv1) write(at(p.uvs[1], i, glm::vec2(0)), 2, 0);
  if (layout.color) {
    const glm::vec4 color = at(p.colors, i, glm::vec4(1));
    for (int c = 0; c < 4; ++c)
      out.write<uint8_t>(
          static_cast<uint8_t>(std::lround(std::clamp(finiteOr(color[c], 1), 0.0F, 1.0F) * 255)));
  }
}

}  // namespace

bundle::MeshPayload runtimeMesh(const scene::Mesh& mesh, const GameSpace& space) {
  bundle::MeshPayload out;
  const Layout layout = layoutOf(mesh);
  describe(layout, out);
  base::ByteWriter vertices;
  geometry::Bounds box;
  uint32_t material = 0;
  for (const scene::Primitive& p : mesh.primitives) {
    if (p.indices.empty()) continue;
    const auto count = static_cast<uint32_t>(p.positions.size());
    std::vector<uint32_t> ordered = geometry::orderForVertexCache(p.indices, count);
    uint32_t used = 0;
    const std::vector<uint32_t> place = geometry::orderOfFirstUse(ordered, count, used);
    std::vector<uint32_t> back(used);
    for (uint32_t v = 0; v < count; ++v)
      if (place[v] != 0xFFFFFFFFu) back[place[v]] = v;
    if (space.mirrored >= 0)
      for (size_t t = 0; t + 2 < ordered.size(); t += 3) std::swap(ordered[t + 1], ordered[t + 2]);
    out.submeshes.push_back(
        {static_cast<uint32_t>(out.indices.size()), static_cast<uint32_t>(ordered.size()), material++});
    for (const uint32_t v : ordered) out.indices.push_back(out.vertex_count + place[v]);
    for (const uint32_t v : back) {
      writeVertex(vertices, p, v, layout, space);
      box.add(space.position(p.positions[v]));
    }
    out.vertex_count += used;
  }
  out.vertices = vertices.take();
  for (int c = 0; c < 3; ++c) {
    out.bounds_min[static_cast<size_t>(c)] = box.empty() ? 0 : box.min[c];
    out.bounds_max[static_cast<size_t>(c)] = box.empty() ? 0 : box.max[c];
  }
  return out;
}

std::vector<scene::MaterialIndex> drawnMaterials(const scene::Model& model, scene::NodeIndex part) {
  std::vector<scene::MaterialIndex> out;
  for (const scene::Primitive& p : model.mesh(model.node(part).mesh).primitives)
    if (!p.indices.empty()) out.push_back(p.material);
  return out;
}

std::vector<DrawnPart> drawnParts(const scene::Model& model) {
  std::vector<DrawnPart> out;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    DrawnPart part{i, drawnMaterials(model, i)};
    if (!part.materials.empty()) out.push_back(std::move(part));
  }
  return out;
}

std::shared_ptr<const scene::Mesh> drawnMesh(const scene::Model& model, scene::NodeIndex part,
                                             const std::vector<glm::mat4>& world) {
  std::shared_ptr<const scene::Mesh> mesh = scene::restMesh(model, part, world);
  std::shared_ptr<scene::Mesh> moved;
  for (size_t i = 0; i < mesh->primitives.size(); ++i) {
    const scene::MaterialIndex worn = mesh->primitives[i].material;
    if (!worn.valid()) continue;
    std::array<bool, 2> done{};
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::TextureUse& use = model.materials[worn.value()].*slot.use;
      if (!use.image.valid() || use.uv_set > 1 || done[use.uv_set]) continue;
      done[use.uv_set] = true;
      if (use.plain()) continue;
      if (!moved) moved = std::make_shared<scene::Mesh>(*mesh);
      for (glm::vec2& uv : moved->primitives[i].uvs[use.uv_set]) uv = use.lookedUp(uv);
    }
  }
  return moved ? moved : mesh;
}

glm::mat4 partWorld(const scene::Model& model, const std::vector<glm::mat4>& world, scene::NodeIndex node) {
  return model.node(node).skin.valid() ? glm::mat4(1) : world[node.value()];
}

std::vector<RuntimePart> runtimeParts(const scene::Model& model) {
  const std::vector<DrawnPart> drawn = drawnParts(model);
  const auto world = scene::worldMatrices(model);
  std::vector<RuntimePart> out(drawn.size());
  base::parallelFor(drawn.size(), [&](size_t i) {
    const scene::Node& node = model.node(drawn[i].node);
    out[i].node = drawn[i].node;
    out[i].name = node.name;
    out[i].world = partWorld(model, world, drawn[i].node);
    out[i].mesh = runtimeMesh(*drawnMesh(model, drawn[i].node, world), GameSpace());
    out[i].materials = drawn[i].materials;
  });
  return out;
}

}  // namespace rakugo::build
