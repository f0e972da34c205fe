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

/// Distances are taken from each vertex of either part to the surface of the other, both at rest. The result
/// is exact where a vertex is nearest, and nearly so between curved surfaces. Two edges that cross far from
/// any vertex are measured from their ends. Nothing when a part has no triangles. Cost: n log n.
std::optional<Gap> gapBetween(const Model& model, NodeIndex a, NodeIndex b);

}  // namespace rakugo::scene
