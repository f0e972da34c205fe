#include "scene/regions.h"

#include <algorithm>

namespace rakugo::scene {

std::vector<RegionCover> regionCovers(const Model& model) {
  std::vector<RegionCover> out;
  const auto world = worldMatrices(model);
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    auto at =
        std::find_if(out.begin(), out.end(), [&](const RegionCover& c) { return c.region == node.region; });
    if (at == out.end()) at = out.insert(out.end(), RegionCover{node.region, {}, 0, {}});
    at->parts.push_back(i);
    for (const Primitive& p : model.mesh(node.mesh).primitives) at->triangles += p.indices.size() / 3;
    at->box.add(partBounds(model, i, world));
  }
  return out;
}

}  // namespace rakugo::scene
