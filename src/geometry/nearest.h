// What of a surface is nearest to a place.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <optional>
#include <span>
#include <vector>

#include "geometry/bvh.h"

namespace rakugo::geometry {

/// How far a place is from the line between two others.
float distanceFromLine(glm::vec3 p, glm::vec3 a, glm::vec3 b);

/// The place of a triangle (a, b, c) that is nearest to `p`, as shares of its corners; they add up to 1
/// (C. Ericson, "Real-Time Collision Detection", 2004, section 5.1.5). A triangle without a surface counts
/// as its sides.
glm::vec3 nearestInTriangle(glm::vec3 p, glm::vec3 a, glm::vec3 b, glm::vec3 c);

/// Triangles sorted so that the nearest is found without looking at all. It holds views: positions and
/// corners must outlive it.
class Surface {
 public:
  struct Near {
    uint32_t triangle = 0;
    glm::vec3 share{1, 0, 0};  ///< of the triangle's corners
    glm::vec3 at{0};
    float distance = 0;
  };
  /// `corners`: 3 x n numbers below the number of positions. Triangles with a corner that is not finite are
  /// left out. Cost: n log n.
  Surface(std::span<const glm::vec3> positions, std::span<const uint32_t> corners);
  /// Nothing when no triangle is as near as `within`, or `p` is not finite.
  [[nodiscard]] std::optional<Near> nearest(glm::vec3 p, float within = 1e18F) const;

 private:
  std::span<const glm::vec3> positions_;
  std::span<const uint32_t> corners_;
  Bvh tree_;
};

/// How far places lie from a surface: the largest and the mean distance. Places that are not finite do not
/// count. Cost: n log n, on all cores.
struct Distances {
  double largest = 0, mean = 0;
};
Distances distancesFrom(const Surface& surface, std::span<const glm::vec3> places);

}  // namespace rakugo::geometry
