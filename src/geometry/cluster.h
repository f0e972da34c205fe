// A coarser mesh over the same vertices, for pictures that have to be quick.
// Source: Rossignac and Borrel, "Multi-resolution 3D approximations for rendering complex scenes" (1993),
// with the first vertex of a cell as its representative, so that all attributes stay those of a real vertex.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// The representative of each vertex: the first one that lies in the same cell of a cubic grid, which has
/// `cells` (1 to 1024) along the longest side of the points' box. A position that is not finite represents
/// itself. Positions: n x 3, any space. Cost: linear.
std::vector<uint32_t> clusterVertices(std::span<const glm::vec3> positions, uint32_t cells);

/// Triangles (m x 3) with each corner replaced by its representative, without those that lost a corner.
/// Corners that `representatives` does not know are dropped with their triangle.
std::vector<uint32_t> coarseTriangles(std::span<const uint32_t> triangles,
                                      std::span<const uint32_t> representatives);

}  // namespace rakugo::geometry
