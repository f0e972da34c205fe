#include "scene/bones.h"

namespace rakugo::scene {

std::vector<bool> boneNodes(const Model& model) {
  std::vector<bool> out(model.nodes.size(), false);
  for (const NodeIndex joint : usedJoints(model)) {
    out[joint.value()] = true;
    for (NodeIndex up = model.node(joint).parent;
         up.valid() && !out[up.value()] && !model.node(up).mesh.valid(); up = model.node(up).parent)
      out[up.value()] = true;
  }
  return out;
}

std::map<std::string, NodeIndex> bonesByName(const Model& model) {
  std::map<std::string, NodeIndex> out;
  const std::vector<bool> bone = boneNodes(model);
  for (const NodeIndex i : reachedNodes(model))
    if (bone[i.value()]) out.emplace(model.node(i).name, i);
  return out;
}

}  // namespace rakugo::scene
