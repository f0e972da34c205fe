// Volume, centre of mass and inertia of closed shapes.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>

namespace rakugo::geometry {

/// Of a body whose density is 1.
struct MassProperties {
  double volume = 0;      ///< cubed units; negative where the triangles are wound inward
  glm::dvec3 center{0};   ///< of mass; the mean of the corners where the volume is 0
  glm::dmat3 inertia{0};  ///< about the centre, along the axes of the positions; volume x squared units
};

/// Of what the triangles (3 x n) enclose. They must be closed: what an open border leaves out depends on
/// where the shape lies. Triangles with a corner that is not finite are left out. Exact but for rounding:
/// sums over the tetrahedra from one corner of the shape, in double (J. Blow and A. Binstock, "How to find
/// the inertia tensor (or other mass properties) of a 3D solid body represented by a triangle mesh", 2004).
/// Cost: linear.
MassProperties massOf(std::span<const glm::vec3> positions, std::span<const uint32_t> corners);

/// Moments of inertia about the axes that the body turns about freely, ascending, and those axes, each of
/// length 1, as columns of a rotation (right-handed).
struct PrincipalAxes {
  glm::dvec3 moments{0};
  glm::dmat3 axes{1};
};
/// By Jacobi rotations. `inertia` is symmetric.
PrincipalAxes principalAxes(const glm::dmat3& inertia);

}  // namespace rakugo::geometry
