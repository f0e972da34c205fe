// Tangents for normal maps.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// A tangent a corner (3 x m), w the side of the bitangent: bitangent = cross(normal, tangent) * w, which
/// runs up the picture (against v). What programs make that follow M. Mikkelsen, "Simulation of Wrinkled
/// Surfaces Revisited" (2008), so that a normal map baked elsewhere shades as it did there: corners whose
/// position, normal and coordinates are equal are one; triangles round such a corner belong together as far
/// as they hang together by edges and run the same way round on the picture; each group's tangent is the mean
/// of its triangles' directions of u in the plane of the normal, weighted by the angle at the corner.
///
/// Triangles whose coordinates have no area join a neighbour's group; those without a surface take what
/// another triangle has at the same corner. Where nothing says how the picture lies, a corner gets some
/// tangent across its normal and w 1. Positions, normals and uvs (v downward, as in glTF 2.0) are one a
/// vertex; indices are below their number. Cost: n log n.
std::vector<glm::vec4> cornerTangents(std::span<const glm::vec3> positions,
                                      std::span<const glm::vec3> normals, std::span<const glm::vec2> uvs,
                                      std::span<const uint32_t> indices);

}  // namespace rakugo::geometry
