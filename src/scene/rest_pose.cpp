#include "scene/rest_pose.h"

#include <algorithm>
#include <cmath>

#include "geometry/skinning.h"
#include "scene/influences.h"

namespace rakugo::scene {
namespace {

bool changesNothing(const glm::mat4& m) {
  for (int c = 0; c < 4; ++c)
    for (int r = 0; r < 4; ++r)
      if (!(std::abs(m[c][r] - (c == r ? 1.0F : 0.0F)) <= 1e-6F)) return false;
  return true;
}

// The weighted matrix of a vertex; false when nothing moves it.
bool blend(const Primitive& p, size_t v, const std::vector<glm::mat4>& matrices, glm::mat4& out) {
  out = glm::mat4(0);
  float sum = 0;
  eachInfluence(p, v, [&](uint32_t joint, float weight) {
    if (!std::isfinite(weight) || joint >= matrices.size()) return;
    out += matrices[joint] * weight;
    sum += weight;
  });
  if (!(sum > 0)) return false;
  // Weights that sum to one but for rounding are left alone.
  if (std::abs(sum - 1) > 1e-5F) out /= sum;
  return true;
}

glm::vec3 unit(glm::vec3 v, glm::vec3 fallback) {
  const float length = glm::length(v);
  return length > 0 && std::isfinite(length) ? v / length : fallback;
}

}  // namespace

std::vector<glm::mat4> skinMatrices(const Model& model, SkinIndex skin, const std::vector<glm::mat4>& world) {
  const Skin& s = model.skins[skin.value()];
  std::vector<glm::mat4> out(s.joints.size(), glm::mat4(1));
  for (size_t j = 0; j < out.size(); ++j) {
    out[j] = world[s.joints[j].value()];
    if (j < s.inverse_bind.size()) out[j] = out[j] * s.inverse_bind[j];
  }
  return out;
}

std::shared_ptr<const Mesh> restMesh(const Model& model, NodeIndex part,
                                     const std::vector<glm::mat4>& world) {
  const Node& node = model.node(part);
  const std::shared_ptr<const Mesh>& mesh = model.meshes[node.mesh.value()];
  if (!node.skin.valid()) return mesh;
  const std::vector<glm::mat4> matrices = skinMatrices(model, node.skin, world);
  if (std::all_of(matrices.begin(), matrices.end(), changesNothing)) return mesh;
  auto out = std::make_shared<Mesh>(*mesh);
  for (Primitive& p : out->primitives) {
    for (size_t v = 0; v < p.positions.size(); ++v) {
      glm::mat4 m(1);
      if (!blend(p, v, matrices, m)) continue;
      p.positions[v] = glm::vec3(m * glm::vec4(p.positions[v], 1));
      const glm::mat3 linear(m);
      if (v < p.normals.size()) {
        const bool solid = std::abs(glm::determinant(linear)) > 1e-20F;
        p.normals[v] =
            unit((solid ? glm::transpose(glm::inverse(linear)) : linear) * p.normals[v], p.normals[v]);
      }
      if (v < p.tangents.size()) {
        const glm::vec3 t(p.tangents[v]);
        p.tangents[v] = glm::vec4(unit(linear * t, t), p.tangents[v].w);
      }
      // What a morph target adds is a way, and turns with the vertex.
      for (MorphTarget& morph : p.morphs)
        for (auto* list : {&morph.positions, &morph.normals, &morph.tangents})
          if (v < list->size()) (*list)[v] = linear * (*list)[v];
    }
  }
  return out;
}

std::vector<glm::vec3> placedPositions(const Model& model, NodeIndex part,
                                       const std::vector<glm::mat4>& world) {
  std::vector<glm::vec3> out;
  const Node& node = model.node(part);
  if (!node.mesh.valid()) return out;
  const std::vector<glm::mat4> matrices =
      node.skin.valid() ? skinMatrices(model, node.skin, world) : std::vector<glm::mat4>();
  for (const Primitive& p : model.mesh(node.mesh).primitives) {
    std::vector<glm::vec3> places(p.positions.size(), glm::vec3(0));
    if (!node.skin.valid()) {
      for (size_t v = 0; v < places.size(); ++v)
        places[v] = glm::vec3(world[part.value()] * glm::vec4(p.positions[v], 1));
    } else {
      geometry::addSkinned(p.positions, p.joints, p.weights, matrices, places);
      geometry::addSkinned(p.positions, p.more_joints, p.more_weights, matrices, places);
      // Sums that are not one are scaled to it, and what follows nothing stays where it is stored.
      for (size_t v = 0; v < places.size(); ++v) {
        float sum = 0;
        eachInfluence(p, v,
                      [&](uint32_t joint, float weight) { sum += joint < matrices.size() ? weight : 0; });
        if (!(sum > 0))
          places[v] = p.positions[v];
        else if (std::abs(sum - 1) > 1e-5F)
          places[v] /= sum;
      }
    }
    out.insert(out.end(), places.begin(), places.end());
  }
  return out;
}

Standing::Standing(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world)
    : skinned_(model.node(part).skin.valid()) {
  if (skinned_)
    joints_ = skinMatrices(model, model.node(part).skin, world);
  else
    part_ = world[part.value()];
}

glm::mat4 Standing::of(const Primitive& primitive, size_t vertex) const {
  if (!skinned_) return part_;
  glm::mat4 out(1);
  return blend(primitive, vertex, joints_, out) ? out : glm::mat4(1);
}

WholeMesh placedMesh(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world) {
  if (!part.valid() || !model.node(part).mesh.valid()) return {};
  WholeMesh out = wholeMesh(*restMesh(model, part, world));
  if (!model.node(part).skin.valid())
    for (glm::vec3& p : out.positions) p = glm::vec3(world[part.value()] * glm::vec4(p, 1));
  return out;
}

}  // namespace rakugo::scene
