#include "prepare/parts/part_ops.h"

#include <algorithm>
#include <set>

#include "geometry/union_find.h"
#include "geometry/welding.h"
#include "scene/primitive_edit.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::Model;
using scene::NodeIndex;
using scene::Primitive;

template <class T>
void append(std::vector<T>& to, const std::vector<T>& from) {
  to.insert(to.end(), from.begin(), from.end());
}

// Whether the two carry the same lists, so that one can go on where the other ends.
bool sameLists(const Primitive& a, const Primitive& b) {
  const auto same = [](const auto& x, const auto& y) { return x.empty() == y.empty(); };
  if (!same(a.normals, b.normals) || !same(a.tangents, b.tangents) || !same(a.uvs[0], b.uvs[0]) ||
      !same(a.uvs[1], b.uvs[1]) || !same(a.colors, b.colors) || !same(a.joints, b.joints) ||
      !same(a.weights, b.weights) || !same(a.more_joints, b.more_joints) ||
      !same(a.more_weights, b.more_weights) || a.morphs.size() != b.morphs.size())
    return false;
  for (size_t m = 0; m < a.morphs.size(); ++m)
    if (!same(a.morphs[m].positions, b.morphs[m].positions) ||
        !same(a.morphs[m].normals, b.morphs[m].normals) || !same(a.morphs[m].tangents, b.morphs[m].tangents))
      return false;
  return true;
}

}  // namespace

NodeIndex addPart(Model& model, const std::string& name, NodeIndex parent) {
  std::set<std::string> taken;
  for (const scene::Node& node : model.nodes) taken.insert(node.key);
  const std::string wanted = parent.valid() ? model.node(parent).key + "/" + name : name;
  scene::Node node;
  node.key = wanted;
  for (int n = 2; taken.count(node.key) != 0; ++n) node.key = wanted + "#" + std::to_string(n);
  node.name = name;
  node.parent = parent;
  const NodeIndex index(model.nodes.size());
  model.nodes.push_back(std::move(node));
  (parent.valid() ? model.node(parent).children : model.roots).push_back(index);
  return index;
}

bool isReached(const Model& model, NodeIndex part) {
  while (model.node(part).parent.valid()) part = model.node(part).parent;
  return std::find(model.roots.begin(), model.roots.end(), part) != model.roots.end();
}

NodeIndex findReached(const Model& model, const std::string& key) {
  const NodeIndex part = scene::findPart(model, key);
  return part.valid() && isReached(model, part) ? part : NodeIndex();
}

void unlinkPart(Model& model, NodeIndex part) {
  const NodeIndex parent = model.node(part).parent;
  auto& siblings = parent.valid() ? model.node(parent).children : model.roots;
  siblings.erase(std::remove(siblings.begin(), siblings.end(), part), siblings.end());
  // Whoever climbs from it would come to a root, and take it for reached.
  model.node(part).parent = {};
}

void putAt(Model& model, NodeIndex part, const glm::mat4& place, const std::vector<glm::mat4>& world) {
  const NodeIndex parent = model.node(part).parent;
  const glm::mat4 above = parent.valid() ? world[parent.value()] : glm::mat4(1);
  bool exact = true;
  model.node(part).local = scene::placementOf(glm::inverse(above) * place, exact);
}

LoosePieces loosePieces(const Mesh& mesh) {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> corners;
  for (const Primitive& p : mesh.primitives) {
    const auto first = static_cast<uint32_t>(positions.size());
    append(positions, p.positions);
    for (const uint32_t i : p.indices) corners.push_back(first + i);
  }
  const geometry::Welding welding = geometry::weldEqual(positions);
  geometry::UnionFind groups(welding.places());
  for (size_t i = 0; i + 2 < corners.size(); i += 3)
    for (size_t k = 1; k < 3; ++k) groups.join(welding.of[corners[i]], welding.of[corners[i + k]]);
  LoosePieces out;
  std::vector<uint32_t> number(welding.places(), UINT32_MAX);
  size_t corner = 0;
  for (const Primitive& p : mesh.primitives) {
    std::vector<uint32_t>& of = out.of.emplace_back();
    for (size_t t = 0; t < p.indices.size() / 3; ++t, corner += 3) {
      uint32_t& known = number[groups.first(welding.of[corners[corner]])];
      if (known == UINT32_MAX) known = out.count++;
      of.push_back(known);
    }
  }
  return out;
}

std::vector<Mesh> splitMesh(const Mesh& mesh, const LoosePieces& pieces) {
  std::vector<Mesh> out(pieces.count);
  for (Mesh& piece : out) {
    piece.name = mesh.name;
    piece.morph_names = mesh.morph_names;
    piece.morph_weights = mesh.morph_weights;
    piece.kept = mesh.kept;
  }
  for (size_t k = 0; k < mesh.primitives.size(); ++k) {
    std::vector<std::vector<uint32_t>> triangles(pieces.count);
    for (uint32_t t = 0; t < pieces.of[k].size(); ++t) triangles[pieces.of[k][t]].push_back(t);
    std::vector<uint32_t> scratch(mesh.primitives[k].positions.size(), UINT32_MAX);
    for (uint32_t i = 0; i < pieces.count; ++i)
      if (!triangles[i].empty())
        out[i].primitives.push_back(scene::takenTriangles(mesh.primitives[k], triangles[i], scratch));
  }
  return out;
}

void joinMesh(Mesh& to, const Mesh& from) {
  for (const Primitive& p : from.primitives) {
    const auto at = std::find_if(to.primitives.begin(), to.primitives.end(), [&](const Primitive& other) {
      return other.material == p.material && sameLists(other, p);
    });
    if (at == to.primitives.end()) {
      to.primitives.push_back(p);
      continue;
    }
    const auto first = static_cast<uint32_t>(at->positions.size());
    append(at->positions, p.positions);
    append(at->normals, p.normals);
    append(at->tangents, p.tangents);
    for (size_t set = 0; set < 2; ++set) append(at->uvs[set], p.uvs[set]);
    append(at->colors, p.colors);
    append(at->joints, p.joints);
    append(at->weights, p.weights);
    append(at->more_joints, p.more_joints);
    append(at->more_weights, p.more_weights);
    for (size_t m = 0; m < p.morphs.size(); ++m) {
      append(at->morphs[m].positions, p.morphs[m].positions);
      append(at->morphs[m].normals, p.morphs[m].normals);
      append(at->morphs[m].tangents, p.morphs[m].tangents);
    }
    for (const uint32_t i : p.indices) at->indices.push_back(first + i);
  }
}

}  // namespace rakugo::prepare
