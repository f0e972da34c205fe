// Normals at the corners of triangles, smooth within an angle and hard beyond it.
#pragma once

#include <glm/glm.hpp>
#include <span>
#include <vector>

#include "geometry/topology.h"

namespace rakugo::geometry {

/// A normal a corner: the area-weighted mean of the faces round its place that one reaches from its own
/// triangle over edges bent by no more than `crease_rad`. Edges with one triangle, or three and more, end a
/// face; `positions` are by place. Corners of triangles without a surface get the mean of all faces at their
/// place, and (0, 0, 1) where there are none. Cost: linear.
std::vector<glm::vec3> cornerNormals(std::span<const glm::vec3> positions, const Topology& topology,
                                     float crease_rad);

}  // namespace rakugo::geometry
