#include "scene/named_places.h"

#include "scene/pose.h"

namespace rakugo::scene {

std::vector<NamedPlace> emptiesOf(const Model& model) {
  std::vector<bool> joint(model.nodes.size(), false);
  for (const Skin& skin : model.skins)
    for (const NodeIndex i : skin.joints) joint[i.value()] = true;
  const auto world = worldMatrices(model);
  std::vector<NamedPlace> out;
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    if (node.mesh.valid() || node.camera.valid() || node.light.valid() || !node.children.empty() ||
        joint[i.value()])
      continue;
    out.push_back(
        {node.name.empty() ? node.key : node.name, glm::vec3(world[i.value()][3]), turnOf(world[i.value()])});
  }
  return out;
}

}  // namespace rakugo::scene
