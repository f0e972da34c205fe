// The convex hull of points in space.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// Triangles over corners, seen from outside counter-clockwise.
struct Hull {
  std::vector<glm::vec3> corners;
  std::vector<uint32_t> triangles;  ///< 3 x n
  /// How far the farthest point lies outside; not more than the tolerance unless the corners were limited.
  double beyond = 0;
  [[nodiscard]] bool empty() const { return triangles.empty(); }
};

struct HullOptions {
  /// Points nearer than this to a face count as on it, as a share of the diagonal of the points' box.
  double tolerance = 1e-6;
  /// At most so many corners, 4 or more: the points farthest out come first. 0: as many as there are.
  size_t most_corners = 0;
};

/// Empty for fewer than four points, and for points that lie in one plane within the tolerance. Points that
/// are not finite are left out. Computed in double; equal input gives equal output. Source: C. B. Barber, D.
/// P. Dobkin and H. Huhdanpaa, "The quickhull algorithm for convex hulls" (1996). Cost: n log n expected.
Hull convexHull(std::span<const glm::vec3> points, const HullOptions& options = {});

/// The corners of the convex outline of points in a plane, counter-clockwise; those on an edge are left out.
/// Source: A. M. Andrew, "Another efficient algorithm for convex hulls in two dimensions" (1979). Cost: n log
/// n.
std::vector<glm::dvec2> convexOutline(std::vector<glm::dvec2> points);

}  // namespace rakugo::geometry
