// Triangles so thin that they are hardly there, taken away.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// Removes triangles whose least height is below `ratio` of their longest side, as far as that moves nothing
/// by more than such a height, or such a short side: one with a short side loses it (its two ends become
/// one), one whose third corner lies on its longest side gives that corner to the neighbour there, which is
/// cut in two. Where a seam, a border or the shape itself stands against it, a triangle stays.
///
/// `indices` is 3 x m over vertices; the result is as well, with the same vertices. Cost: n log n.
std::vector<uint32_t> withoutNeedles(std::span<const glm::vec3> positions, std::vector<uint32_t> indices,
                                     float ratio);

}  // namespace rakugo::geometry
