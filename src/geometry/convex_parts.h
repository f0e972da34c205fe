// A shape taken apart into convex bodies that together hold it: what a physics engine reckons with where one
// hull holds too much.
#pragma once

#include <cstdint>
#include <functional>
#include <glm/glm.hpp>
#include <span>
#include <vector>

#include "geometry/hull.h"

namespace rakugo::geometry {

struct ConvexPartsOptions {
  size_t most_parts = 8;
  size_t most_corners = 0;  ///< of each; 0: as many as there are
  /// A cut that takes away less than this share of the volume of the shape's own hull is not made.
  double least_gain = 0.002;
  /// Asked between cuts: true ends with the bodies that there are. May be empty.
  std::function<bool()> stop;
};

/// Convex bodies that hold all triangles (3 x n over positions), in the order in which they were cut off.
/// Each is the hull of what lies in one cell of a partition of space by planes across the axes of the
/// positions, or of two bodies that were joined because there were more than `most_parts`; bodies overlap
/// only by what a body grew when it was joined. Positions that are not finite, and triangles that name none,
/// are left out; what lies in a plane within a cell has no body. Empty for what has no hull. With
/// `most_corners` a body may fall short of what it holds by its `Hull::beyond`. Equal input gives equal
/// output. The cell whose cut takes away the most volume is cut first, until there are half as many cells
/// again as asked for; cuts are tried at even distances, at edges that bend inward, at faces that lie across
/// an axis, and round the best of these. Then the two bodies whose common hull grows least are joined, again
/// and again. Cost: for each cell a few dozen hulls of what it holds, and for each pair of cells one hull.
std::vector<Hull> convexParts(std::span<const glm::vec3> positions, std::span<const uint32_t> corners,
                              const ConvexPartsOptions& options = {});

/// What the triangles of a hull enclose; cubed units.
double volumeOf(const Hull& hull);

}  // namespace rakugo::geometry
