#include "scene/model.h"

#include <map>
#include <set>

#include <glm/gtc/matrix_transform.hpp>

#include "scene/pose.h"
#include "scene/rest_pose.h"

namespace rakugo::scene {

const std::array<TextureSlot, 5> kTextureSlots = {{
    {"base colour", &Material::base_color_texture, true},
    {"metal and roughness", &Material::metallic_roughness_texture, false},
    {"normal", &Material::normal_texture, false},
    {"occlusion", &Material::occlusion_texture, false},
    {"glow", &Material::emissive_texture, true},
}};

glm::mat4 Placement::matrix() const {
  return glm::translate(glm::mat4(1), position) * glm::mat4_cast(turn) * glm::scale(glm::mat4(1), scale);
}

bool Placement::atRest() const {
  const auto near = [](float a, float b, float e) { return std::abs(a - b) <= e; };
  for (int i = 0; i < 3; ++i)
    if (!near(position[i], 0, 1e-6F) || !near(scale[i], 1, 1e-5F)) return false;
  return near(std::abs(turn.w), 1, 1e-5F) && near(turn.x, 0, 1e-5F) && near(turn.y, 0, 1e-5F) &&
         near(turn.z, 0, 1e-5F);
}

Placement placementOf(const glm::mat4& matrix, bool& exact) {
  Placement out;
  out.position = glm::vec3(matrix[3]);
  glm::mat3 m(matrix);
  out.scale = {glm::length(m[0]), glm::length(m[1]), glm::length(m[2])};
  if (glm::determinant(m) < 0) out.scale.x = -out.scale.x;
  glm::mat3 turn(1);
  for (int i = 0; i < 3; ++i)
    if (out.scale[i] != 0) turn[i] = m[i] / out.scale[i];
  const float skew = std::max({std::abs(glm::dot(turn[0], turn[1])), std::abs(glm::dot(turn[1], turn[2])),
                               std::abs(glm::dot(turn[0], turn[2]))});
  exact = skew < 1e-4F && out.scale.x != 0 && out.scale.y != 0 && out.scale.z != 0;
  out.turn = glm::normalize(glm::quat_cast(turn));
  return out;
}

Mesh& Model::editMesh(MeshIndex i) {
  auto copy = std::make_shared<Mesh>(*meshes[i.value()]);
  Mesh& out = *copy;
  meshes[i.value()] = std::move(copy);
  return out;
}

NodeIndex findPart(const Model& model, const std::string& key) {
  for (size_t i = 0; i < model.nodes.size(); ++i)
    if (model.nodes[i].key == key) return NodeIndex(i);
  return {};
}

MaterialIndex findMaterial(const Model& model, const std::string& key) {
  for (size_t i = 0; i < model.materials.size(); ++i)
    if (model.materials[i].key == key) return MaterialIndex(i);
  return {};
}

std::vector<NodeIndex> reachedNodes(const Model& model) {
  std::vector<NodeIndex> out;
  std::vector<NodeIndex> waiting(model.roots.rbegin(), model.roots.rend());
  while (!waiting.empty()) {
    const NodeIndex at = waiting.back();
    waiting.pop_back();
    out.push_back(at);
    const auto& children = model.node(at).children;
    waiting.insert(waiting.end(), children.rbegin(), children.rend());
  }
  return out;
}

std::vector<glm::mat4> worldMatrices(const Model& model) { return worldMatrices(model, restPose(model)); }

geometry::Bounds partBounds(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world) {
  geometry::Bounds out;
  const Node& node = model.node(part);
  if (!node.mesh.valid()) return out;
  const std::shared_ptr<const Mesh> mesh = restMesh(model, part, world);
  for (const Primitive& p : mesh->primitives)
    out.add(geometry::boundsOf(p.positions, node.skin.valid() ? glm::mat4(1) : world[part.value()]));
  return out;
}

geometry::Bounds unbentBounds(const Model& model) {
  const auto world = worldMatrices(model);
  geometry::Bounds out;
  for (const NodeIndex i : reachedNodes(model))
    if (model.node(i).mesh.valid())
      for (const Primitive& p : model.mesh(model.node(i).mesh).primitives)
        out.add(geometry::boundsOf(p.positions, world[i.value()]));
  return out;
}

glm::vec2 TextureUse::lookedUp(glm::vec2 uv) const {
  const float s = std::sin(turn_rad), c = std::cos(turn_rad);
  const glm::vec2 scaled = uv * scale;
  return offset + glm::vec2(c * scaled.x + s * scaled.y, -s * scaled.x + c * scaled.y);
}

geometry::Bounds boundsOf(const Model& model) {
  const auto world = worldMatrices(model);
  geometry::Bounds out;
  for (const NodeIndex i : reachedNodes(model)) out.add(partBounds(model, i, world));
  return out;
}

Counts countsOf(const Model& model) {
  Counts out;
  std::set<uint32_t> bones;
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    if (node.skin.valid())
      for (const NodeIndex joint : model.skins[node.skin.value()].joints) bones.insert(joint.value());
    if (!node.mesh.valid()) continue;
    ++out.parts;
    for (const Primitive& p : model.mesh(node.mesh).primitives) {
      out.triangles += p.indices.size() / 3;
      out.vertices += p.positions.size();
    }
  }
  out.bones = bones.size();
  return out;
}

std::vector<MaterialIndex> usedMaterials(const Model& model) {
  std::set<uint32_t> used;
  for (const NodeIndex i : reachedNodes(model))
    if (model.node(i).mesh.valid())
      for (const Primitive& p : model.mesh(model.node(i).mesh).primitives)
        if (p.material.valid()) used.insert(p.material.value());
  std::vector<MaterialIndex> out;
  for (const uint32_t m : used) out.emplace_back(m);
  return out;
}

std::vector<NodeIndex> usedJoints(const Model& model) {
  std::set<uint32_t> used;
  for (const NodeIndex i : reachedNodes(model))
    if (model.node(i).skin.valid())
      for (const NodeIndex joint : model.skins[model.node(i).skin.value()].joints) used.insert(joint.value());
  std::vector<NodeIndex> out;
  for (const uint32_t j : used) out.emplace_back(j);
  return out;
}

void assignKeys(Model& model) {
  std::set<std::string> taken;
  // The next number to try for a name: a hostile file may hold the same name two hundred thousand times.
  std::map<std::string, int> next;
  const auto unique = [&](const std::string& wanted) {
    std::string key = wanted;
    for (int& n = next.emplace(wanted, 2).first->second; !taken.insert(key).second; ++n)
      key = wanted + "#" + std::to_string(n);
    return key;
  };
  for (const NodeIndex i : reachedNodes(model)) {
    Node& node = model.node(i);
    const std::string own = node.name.empty() ? "part " + std::to_string(i.value()) : node.name;
    // A path longer than this comes from a hostile tree; the name alone, made unique, does as well.
    const std::string parent = node.parent.valid() ? model.node(node.parent).key : "";
    node.key = unique(parent.empty() || parent.size() > 400 ? own : parent + "/" + own);
  }
  taken.clear();
  next.clear();
  for (size_t i = 0; i < model.materials.size(); ++i)
    model.materials[i].key =
        unique(model.materials[i].name.empty() ? "material " + std::to_string(i) : model.materials[i].name);
}

}  // namespace rakugo::scene
