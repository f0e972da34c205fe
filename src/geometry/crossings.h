// Triangles that pass through each other, in space or on a picture.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <utility>
#include <vector>

#include "base/jobs.h"

namespace rakugo::geometry {

/// Whether two triangles cross: each has corners on both sides of the other's plane and they have more than a
/// point of the line between the planes in common (Moeller, "A fast triangle-triangle intersection test",
/// 1997), or both lie in one plane and cover a common area. Touching does not count, nor do common corners
/// and edges. In double; a corner whose distance from the plane is below the error of float coordinates lies
/// in it.
bool trianglesCross(const glm::vec3 (&one)[3], const glm::vec3 (&other)[3]);

/// Pairs of crossing triangles (lower number first, ascending); each is paired with at most `kMostEach`
/// higher ones. Triangles are 3 x n places, and those that share all three are not paired (they are
/// duplicates). Degenerate triangles cross nothing. On all cores. Cost: n log n while boxes overlap little.
std::vector<std::pair<uint32_t, uint32_t>> crossingTriangles(std::span<const glm::vec3> positions,
                                                             std::span<const uint32_t> corners,
                                                             const base::Progress* progress = nullptr);
inline constexpr size_t kMostEach = 64;

/// Triangles (3 x n) that cover, on the picture, an area that another one of the list covers too, ascending.
/// Those without an area on the picture do not count; touching borders are no overlap. Once `progress` is
/// cancelled, what was found so far is given. On all cores. Cost: n log n while few cover the same.
std::vector<uint32_t> overlappingUvs(std::span<const glm::vec2> uvs, std::span<const uint32_t> indices,
                                     const base::Progress* progress = nullptr);

}  // namespace rakugo::geometry
