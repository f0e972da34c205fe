#include "scene/model.h"

#include <algorithm>
#include <map>
#include <set>

#include <glm/gtc/matrix_transform.hpp>

#include "base/phrase.h"
#include "base/text.h"
#include "geometry/finite.h"
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

namespace {

// The box of many placed meshes. A part whose own box, placed, lies within what is known already cannot widen
// it, so that of a mesh that is used a hundred thousand times few uses are looked at vertex by vertex.
geometry::Bounds placedBounds(const Model& model, const std::vector<NodeIndex>& parts,
                              const std::vector<glm::mat4>& world) {
  std::map<uint32_t, geometry::Bounds> own;
  struct Placed {
    NodeIndex part;
    geometry::Bounds box;
  };
  std::vector<Placed> placed;
  for (const NodeIndex i : parts) {
    const auto [mesh, fresh] = own.try_emplace(model.node(i).mesh.value());
    if (fresh)
      for (const Primitive& p : model.mesh(model.node(i).mesh).primitives)
        mesh->second.add(geometry::boundsOf(p.positions));
    if (mesh->second.empty()) continue;
    geometry::Bounds box;
    int corners = 0;
    for (const float x : {mesh->second.min.x, mesh->second.max.x})
      for (const float y : {mesh->second.min.y, mesh->second.max.y})
        for (const float z : {mesh->second.min.z, mesh->second.max.z})
          if (const glm::vec3 at(world[i.value()] * glm::vec4(x, y, z, 1)); geometry::finite(at))
            box.add(at), ++corners;
    // Where a corner goes beyond all numbers the box says nothing of the part.
    if (corners < 8)
      box = {glm::vec3(std::numeric_limits<float>::lowest()), glm::vec3(std::numeric_limits<float>::max())};
    placed.push_back({i, box});
  }
  geometry::Bounds out;
  std::vector<bool> looked(placed.size(), false);
  const auto look = [&](size_t k) {
    if (looked[k] || (!out.empty() && out.contains(placed[k].box))) return;
    looked[k] = true;
    for (const Primitive& q : model.mesh(model.node(placed[k].part).mesh).primitives)
      out.add(geometry::boundsOf(q.positions, world[placed[k].part.value()]));
  };
  // Those that may reach farthest each way come first: they make what the others lie within.
  constexpr size_t kOutermost = 32;
  std::vector<size_t> order(placed.size());
  for (int axis = 0; axis < 3; ++axis)
    for (const bool high : {false, true}) {
      for (size_t k = 0; k < order.size(); ++k) order[k] = k;
      const auto farther = [&](size_t i, size_t k) {
        return high ? placed[i].box.max[axis] > placed[k].box.max[axis]
                    : placed[i].box.min[axis] < placed[k].box.min[axis];
      };
      const size_t some = std::min(kOutermost, order.size());
      std::partial_sort(order.begin(), order.begin() + static_cast<std::ptrdiff_t>(some), order.end(),
                        farther);
      for (size_t k = 0; k < some; ++k) look(order[k]);
    }
  for (size_t k = 0; k < placed.size(); ++k) look(k);
  return out;
}

}  // namespace

geometry::Bounds unbentBounds(const Model& model) {
  std::vector<NodeIndex> parts;
  for (const NodeIndex i : reachedNodes(model))
    if (model.node(i).mesh.valid()) parts.push_back(i);
  return placedBounds(model, parts, worldMatrices(model));
}

glm::vec2 TextureUse::lookedUp(glm::vec2 uv) const {
  const float s = std::sin(turn_rad), c = std::cos(turn_rad);
  const glm::vec2 scaled = uv * scale;
  return offset + glm::vec2(c * scaled.x + s * scaled.y, -s * scaled.x + c * scaled.y);
}

geometry::Bounds boundsOf(const Model& model) {
  const auto world = worldMatrices(model);
  geometry::Bounds out;
  std::vector<NodeIndex> still;
  std::set<std::pair<uint32_t, uint32_t>>
      bent;  // one that wears the same mesh by the same bones stands where it does
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    if (!node.skin.valid())
      still.push_back(i);
    else if (bent.emplace(node.mesh.value(), node.skin.value()).second)
      out.add(partBounds(model, i, world));
  }
  out.add(placedBounds(model, still, world));
  return out;
}

Counts countsOf(const Model& model) {
  Counts out;
  // Each mesh and skin is looked at once, however many parts use it.
  std::set<uint32_t> bones, skins;
  std::map<uint32_t, std::pair<uint64_t, uint64_t>> meshes;  // triangles and vertices
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    if (node.skin.valid() && skins.insert(node.skin.value()).second)
      for (const NodeIndex joint : model.skins[node.skin.value()].joints) bones.insert(joint.value());
    if (!node.mesh.valid()) continue;
    ++out.parts;
    const auto [mesh, fresh] = meshes.try_emplace(node.mesh.value());
    if (fresh)
      for (const Primitive& p : model.mesh(node.mesh).primitives) {
        mesh->second.first += p.indices.size() / 3;
        mesh->second.second += p.positions.size();
      }
    out.triangles += mesh->second.first;
    out.vertices += mesh->second.second;
  }
  out.bones = bones.size();
  return out;
}

base::Status drawnWithin(const Model& model, const base::Limits& limits) {
  const Counts counts = countsOf(model);
  if (counts.triangles <= limits.drawn_triangles && counts.vertices <= limits.drawn_vertices &&
      counts.parts <= limits.drawn_parts)
    return {};
  return base::Error{
      "model.too_large",
      base::phrase("The model draws {0} and {1} in {2}; Rakugo prepares models of up to {3} triangles, {4} "
                   "vertices and {5} parts.",
                   base::countText(counts.triangles, "triangle", "triangles"),
                   base::countText(counts.vertices, "vertex", "vertices"),
                   base::countText(counts.parts, "part", "parts"), base::groupedText(limits.drawn_triangles),
                   base::groupedText(limits.drawn_vertices), base::groupedText(limits.drawn_parts)),
      {},
      base::phrase("Drop parts or simplify the meshes in the modelling program, and export again.")};
}

std::vector<MaterialIndex> usedMaterials(const Model& model) {
  std::set<uint32_t> used, meshes;
  for (const NodeIndex i : reachedNodes(model))
    if (model.node(i).mesh.valid() && meshes.insert(model.node(i).mesh.value()).second)
      for (const Primitive& p : model.mesh(model.node(i).mesh).primitives)
        if (p.material.valid()) used.insert(p.material.value());
  std::vector<MaterialIndex> out;
  for (const uint32_t m : used) out.emplace_back(m);
  return out;
}

std::vector<NodeIndex> usedJoints(const Model& model) {
  std::set<uint32_t> used, skins;
  for (const NodeIndex i : reachedNodes(model))
    if (model.node(i).skin.valid() && skins.insert(model.node(i).skin.value()).second)
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
