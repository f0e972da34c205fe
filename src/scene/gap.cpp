#include "scene/gap.h"

#include "geometry/nearest.h"
#include "scene/rest_pose.h"

namespace rakugo::scene {
std::optional<Gap> gapBetween(const Model& model, NodeIndex a, NodeIndex b) {
  const auto world = worldMatrices(model);
  const WholeMesh both[2] = {placedMesh(model, a, world), placedMesh(model, b, world)};
  std::optional<Gap> best;
  for (const size_t side : {size_t{0}, size_t{1}}) {
    const WholeMesh &from = both[side], &to = both[1 - side];
    const geometry::Surface surface(to.positions, to.indices);
    float within = best ? static_cast<float>(best->distance_m) : 1e18F;
    for (const uint32_t v : from.indices) {
      const auto near = surface.nearest(from.positions[v], within);
      if (!near || (best && static_cast<double>(near->distance) >= best->distance_m)) continue;
      within = near->distance;
      best = Gap{static_cast<double>(near->distance), from.positions[v], near->at};
    }
  }
  return best;
}

}  // namespace rakugo::scene
