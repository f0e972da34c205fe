// Simple shapes round points: the least box, ball, cylinder and capsule.
#pragma once

#include <glm/glm.hpp>
#include <span>

#include "geometry/hull.h"

namespace rakugo::geometry {

/// A box that may be turned: its axes are columns of a rotation.
struct FittedBox {
  glm::dvec3 center{0};
  glm::dmat3 axes{1};
  glm::dvec3 size{0};  ///< along each of the axes
  [[nodiscard]] double volume() const { return size.x * size.y * size.z; }
};
struct FittedBall {
  glm::dvec3 center{0};
  double radius = 0;
};
/// A cylinder, or a capsule: then `height` is that of its straight part, and the round ends come on top.
struct FittedRound {
  glm::dvec3 center{0}, axis{0, 0, 1};
  double radius = 0, height = 0;
};

/// All hold every corner of the hull, but for rounding; a hull without corners gives shapes of size 0 at the
/// origin.

/// The least by volume of the box along the axes and of those that lie flat on one of the 128 largest faces
/// of the hull, where an edge of the outline of what one sees along it lies on a side of the rectangle (H.
/// Freeman and R. Shapira, "Determining the minimum-area encasing rectangle for an arbitrary closed curve",
/// 1975). The box of least volume of all may be a few percent smaller (J. O'Rourke, "Finding minimal
/// enclosing boxes", 1985). Cost: faces x square of the outline's corners.
FittedBox leastBox(const Hull& hull);
/// The box along the axes.
FittedBox boxAlongAxes(std::span<const glm::vec3> points);
/// The least ball (E. Welzl, "Smallest enclosing disks (balls and ellipsoids)", 1991). Cost: linear,
/// expected.
FittedBall leastBall(std::span<const glm::vec3> points);
/// The least by volume of those along the axes of the least box and of the points' own axes, with the least
/// circle round what one sees along each.
FittedRound leastCylinder(const Hull& hull);
FittedRound leastCapsule(const Hull& hull);

}  // namespace rakugo::geometry
