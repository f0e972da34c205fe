// Rays against triangles.
#pragma once

#include <glm/glm.hpp>
#include <limits>
#include <optional>
#include <span>

#include "geometry/bvh.h"

namespace rakugo::geometry {

/// Where a ray meets a triangle.
struct RayHit {
  double distance = 0;  ///< in lengths of the ray's direction
  double u = 0, v = 0;  ///< barycentric: the place is a (1 - u - v) + b u + c v
};

/// The place in front of `origin` where the ray meets the triangle a, b, c, from whichever side; nothing
/// where it passes by, runs in the triangle's plane, or the triangle has no surface. Edges count as inside.
/// Computed in double. Not finite: nothing. Source: T. Moeller and B. Trumbore, "Fast, minimum storage
/// ray/triangle intersection" (1997).
std::optional<RayHit> rayMeets(glm::vec3 origin, glm::vec3 direction, glm::vec3 a, glm::vec3 b, glm::vec3 c);

/// The triangle that a ray meets first.
struct NearestHit : RayHit {
  uint32_t triangle = 0;  ///< its number
};
/// The first of the triangles (indices 3 x n over positions) that the ray meets nearer than `most`, by a tree
/// of their boxes (`triangleBoxes`); of two at the same distance any one. Cost: about log n.
std::optional<NearestHit> nearestHit(const Bvh& tree, std::span<const glm::vec3> positions,
                                     std::span<const uint32_t> indices, glm::vec3 origin, glm::vec3 direction,
                                     double most = std::numeric_limits<double>::infinity());

}  // namespace rakugo::geometry
