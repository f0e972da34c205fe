// How far two parts are from each other.
#pragma once

#include <optional>

#include "scene/model.h"

namespace rakugo::scene {

/// The least distance found between two surfaces, and where; in the model's space.
struct Gap {
  double distance_m = 0;
  glm::vec3 from_m{0}, to_m{0};
};

/// From each vertex of either part to the surface of the other, as their bones put them at rest: exact where
/// a vertex is nearest, which between curved things is nearly so. Two edges that cross without a vertex near
/// are measured from their ends. Nothing when a part has no triangles. Cost: n log n.
std::optional<Gap> gapBetween(const Model& model, NodeIndex a, NodeIndex b);

}  // namespace rakugo::scene
