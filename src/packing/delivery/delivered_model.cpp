#include "packing/delivery/delivered_model.h"

#include <algorithm>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/objects/piece_parts.h"
#include "scene/written_model.h"

namespace rakugo::packing {
namespace {

using scene::NodeIndex;

base::Result<NodeIndex> partNamed(const scene::Model& model, const std::string& name) {
  if (const NodeIndex exact = scene::findPart(model, name); exact.valid()) return exact;
  std::vector<std::string> known;
  for (const NodeIndex i : scene::reachedNodes(model)) {
    if (model.node(i).name == name) return i;
    if (model.node(i).mesh.valid()) known.push_back(model.node(i).name);
  }
  const std::string near = base::nearMiss(name, known);
  return base::Error{"delivery.part",
                     base::phrase("The model has no part \"{0}\".", base::presentable(name, 60)),
                     {},
                     near.empty() ? base::phrase("Its parts are {0}.", base::listText(known, 12))
                                  : base::phrase("\"{0}\" is probably meant.", near)};
}

// Takes out the meshes of all nodes but those, and branches in which nothing is left that is drawn or a bone
// of what is.
void keepNodes(scene::Model& model, const std::set<NodeIndex>& wanted) {
  for (size_t i = 0; i < model.nodes.size(); ++i)
    if (wanted.count(NodeIndex(i)) == 0) {
      model.nodes[i].mesh = {};
      model.nodes[i].skin = {};
      model.nodes[i].lighter.clear();
    }
  std::set<NodeIndex> needed;
  const auto need = [&](NodeIndex node) {
    for (; node.valid() && needed.insert(node).second; node = model.node(node).parent) {
    }
  };
  for (const NodeIndex i : scene::reachedNodes(model))
    if (model.node(i).mesh.valid()) need(i);
  for (const NodeIndex joint : scene::usedJoints(model)) need(joint);
  const auto drop = [&](std::vector<NodeIndex>& list) {
    std::erase_if(list, [&](NodeIndex node) { return needed.count(node) == 0; });
  };
  drop(model.roots);
  for (scene::Node& node : model.nodes) drop(node.children);
}

// The node as the only root, where it is stored.
void makeRoot(scene::Model& model, NodeIndex root) {
  const NodeIndex parent = model.node(root).parent;
  if (parent.valid()) std::erase(model.node(parent).children, root);
  model.node(root).parent = {};
  model.node(root).local = {};
  model.roots = {root};
}

void nameMaterials(scene::Model& model, const rulebook::Kind* kind) {
  std::set<std::string> taken;
  const auto unique = [&](const std::string& wanted) {
    const std::string stem = wanted.empty() ? "material" : wanted;
    std::string name = stem;
    for (int number = 2; !taken.insert(name).second; ++number) name = stem + "-" + std::to_string(number);
    return name;
  };
  // What the game looks for goes first: nothing else is called so.
  for (scene::Material& m : model.materials)
    if (!m.role.empty()) m.name = unique(kind != nullptr ? kind->roleWord(m.role) : m.role);
  for (scene::Material& m : model.materials)
    if (m.role.empty()) m.name = unique(m.name);
}

void turnTriangles(scene::Model& model) {
  for (size_t i = 0; i < model.meshes.size(); ++i)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(i)).primitives)
      for (size_t t = 0; t + 2 < p.indices.size(); t += 3) std::swap(p.indices[t + 1], p.indices[t + 2]);
}

void turnPictures(scene::Model& model) {
  for (size_t i = 0; i < model.meshes.size(); ++i)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(i)).primitives)
      for (auto& set : p.uvs)
        for (glm::vec2& uv : set) uv.y = 1 - uv.y;
}

}  // namespace

base::Result<scene::Model> modelAsWanted(const scene::Model& prepared, const rulebook::Kind* kind,
                                         const ModelWanted& wanted) {
  scene::Model out = prepared;
  if (!wanted.parts.empty()) {
    std::set<NodeIndex> nodes;
    NodeIndex first;
    for (const std::string& name : wanted.parts) {
      RAKUGO_ASSIGN(const NodeIndex part, partNamed(out, name));
      if (!first.valid()) first = part;
      nodes.merge(prepare::partTree(out, part));
    }
    keepNodes(out, nodes);
    if (wanted.at_own_origin) makeRoot(out, first);
  }
  out = scene::reachedModel(out);
  nameMaterials(out, kind);
  out = scene::inSpace(out, wanted.space);
  if (wanted.clockwise) turnTriangles(out);
  if (wanted.v_up) turnPictures(out);
  return out;
}

}  // namespace rakugo::packing
