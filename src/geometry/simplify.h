// Fewer triangles that look the same: edges collapsed one vertex onto another.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <limits>
#include <span>
#include <vector>

#include "base/jobs.h"

namespace rakugo::geometry {

/// Triangles over vertices. Vertices at one place that are not the same vertex (another UV, normal or
/// material) make a seam there: it stays where it is, and both of its sides are shortened together.
struct SimplifyInput {
  std::span<const glm::vec3> positions;  ///< n x 3, any unit
  std::span<const uint32_t> indices;     ///< 3 x m, below n
  /// n x attribute_count numbers that are interpolated along with the surface. They are scaled so that a
  /// change by one is as bad as a surface that lies one unit off. May be empty.
  std::span<const float> attributes;
  uint32_t attribute_count = 0;
};

struct SimplifyOptions {
  size_t triangles = 0;                                 ///< ends when there are no more than these
  float max_error = std::numeric_limits<float>::max();  ///< no collapse moves the surface farther, about
  /// The same for attributes alone; a collapse that changes them more is not made.
  float max_attribute_error = std::numeric_limits<float>::max();
  /// By vertex: 0 for one that stays. Empty: all may go. A place stays when one of its vertices does.
  std::span<const uint8_t> may_go;
  /// By vertex: the one vertex it may go to, UINT32_MAX for any. Empty: any.
  std::span<const uint32_t> only_to;
  /// Looks at every neighbour a vertex could go to, not only at the one that moves the surface least. For
  /// few vertices and tight limits.
  bool every_way = false;
};

struct Simplified {
  std::vector<uint32_t> indices;    ///< over the same vertices; those left out are not named any more
  std::vector<uint32_t> triangles;  ///< the input's number of each
  float error = 0;  ///< the root of the largest quadric error that was accepted; in the unit of the positions
};

/// Collapses edges in the order of the quadric error they make (M. Garland and P. Heckbert, "Surface
/// Simplification Using Quadric Error Metrics", 1997), in passes over ever fewer vertices. Only old vertices
/// are used, so that whatever they carry stays theirs. Borders and seams collapse along themselves alone;
/// where they end, cross or where three triangles meet at an edge, places stay. No triangle is turned by
/// more than about 75 degrees, and the surface keeps its kind (link condition; T. Dey et al., "Topology
/// preserving edge contraction", 1999). Triangles with a corner that is not finite stay as they are.
/// Deterministic. Cost: about linear. Errors: job.cancelled.
base::Result<Simplified> simplify(const SimplifyInput& input, const SimplifyOptions& options,
                                  base::Progress* progress = nullptr);

}  // namespace rakugo::geometry
