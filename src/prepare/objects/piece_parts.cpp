#include "prepare/objects/piece_parts.h"

#include <algorithm>

namespace rakugo::prepare {
namespace {

// Nodes that have a mesh, or one below them; parents before children.
std::vector<scene::NodeIndex> nodesWithMeshes(const scene::Model& model) {
  std::vector<scene::NodeIndex> out = scene::reachedNodes(model);
  std::set<scene::NodeIndex> seen;
  for (auto at = out.rbegin(); at != out.rend(); ++at) {
    const scene::Node& node = model.node(*at);
    if (node.mesh.valid() || std::any_of(node.children.begin(), node.children.end(),
                                         [&](scene::NodeIndex child) { return seen.count(child) != 0; }))
      seen.insert(*at);
  }
  std::erase_if(out, [&](scene::NodeIndex node) { return seen.count(node) == 0; });
  return out;
}

}  // namespace

std::vector<size_t> modelsOfPiece(const mod::ObjectDoc& object, const mod::PieceDoc& piece) {
  for (const mod::PieceDoc* one : mod::carriersOf(object, piece))
    if (one->isModel()) return {static_cast<size_t>(one - object.pieces.data())};
  std::vector<size_t> out;
  for (size_t i = 0; i < object.pieces.size(); ++i)
    if (object.pieces[i].isModel()) out.push_back(i);
  return out;
}

std::set<scene::NodeIndex> partTree(const scene::Model& model, scene::NodeIndex root) {
  std::set<scene::NodeIndex> out;
  std::vector<scene::NodeIndex> open = {root};
  while (!open.empty()) {
    const scene::NodeIndex at = open.back();
    open.pop_back();
    if (!out.insert(at).second) continue;
    for (const scene::NodeIndex child : model.node(at).children) open.push_back(child);
  }
  return out;
}

std::vector<std::string> partsForPiece(const mod::ObjectDoc& object, const mod::PieceDoc& piece,
                                       const ModelOf& models) {
  std::vector<std::string> out;
  std::set<std::string> known;
  for (const size_t i : modelsOfPiece(object, piece))
    if (const scene::Model* model = models(object.pieces[i].model))
      for (const scene::NodeIndex node : nodesWithMeshes(*model))
        if (const std::string& key = model->node(node).key; known.insert(key).second) out.push_back(key);
  return out;
}

}  // namespace rakugo::prepare
