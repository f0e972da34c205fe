// Surfaces laid flat: charts that hardly bend, each unrolled with as little distortion of angles as can be.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

#include "base/jobs.h"
#include "geometry/topology.h"

namespace rakugo::geometry {

struct UnwrapOptions {
  /// How far a triangle may be turned away from its chart's mean normal while charts grow.
  float cone_rad = 0.7F;
  /// Of areas, at the 95th percentile by area of a chart; a chart above it is parted.
  double most_stretch = 1.5;
};

struct Unwrapped {
  std::vector<uint32_t> chart;  ///< one a triangle
  /// One a corner (3 x n), in the unit of the positions; each chart from (0, 0) on.
  std::vector<glm::vec2> uv;
  uint32_t charts = 0;
  /// Area on the picture by area of the surface, or the inverse where that is larger, at the 95th percentile
  /// by area.
  double stretch_95 = 1;
};

/// Lays triangles flat. `positions`: one a place of the topology, any space and unit, finite; triangles
/// without area, or wound against their neighbour, count as cut off there. Charts grow from triangle to
/// triangle over edges of two triangles, nearest to the chart's mean normal first, and are laid flat by least
/// squares conformal maps (B. Lévy, S. Petitjean, N. Ray and J. Maillot, "Least Squares Conformal Maps for
/// Automatic Texture Atlas Generation", 2002). A chart that would overlap itself or stretch too far is parted
/// until it does not; a triangle alone never does. Each chart covers the area on the picture that it has as a
/// surface, turned so that its box is small. The same on any number of cores. Once `progress` is cancelled,
/// what is left lies at (0, 0). Cost: n log n and a sparse solution for each chart.
Unwrapped unwrap(std::span<const glm::vec3> positions, const Topology& topology,
                 const UnwrapOptions& options = {}, const base::Progress* progress = nullptr);

}  // namespace rakugo::geometry
