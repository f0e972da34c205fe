// Faults of single triangles, and what mends them.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// Positions in the list (triangle numbers) of triangles without a surface: two equal indices, or an area
/// below 1e-12 of the square of the longest edge of the whole mesh's box. Triangles with a NaN corner are not
/// counted here. `indices` is 3 x n and every index is below positions.size().
std::vector<uint32_t> degenerateTriangles(std::span<const glm::vec3> positions,
                                          std::span<const uint32_t> indices);

/// Triangles whose least height is below `ratio` of their longest side: so thin that they shade wrongly and
/// cost a triangle for nothing. Those without a surface count too; those with a NaN corner do not. Ascending.
std::vector<uint32_t> needleTriangles(std::span<const glm::vec3> positions, std::span<const uint32_t> indices,
                                      float ratio);

/// The directions triangles face, of length 1; zero for those without a surface and those with a corner that
/// is not finite. Computed in double.
std::vector<glm::vec3> unitNormals(std::span<const glm::vec3> positions, std::span<const uint32_t> indices);

/// All of the above in one walk on all cores (a triangle without a surface is no needle), and the area of all
/// triangles in squared units; those with a corner that is not finite count nothing.
struct Slivers {
  double area = 0;
  std::vector<uint32_t> degenerate, needles;
  std::vector<glm::vec3> normals;
};
Slivers sliversOf(std::span<const glm::vec3> positions, std::span<const uint32_t> indices, float ratio);

/// Numbers of the vertices with a NaN or infinite component.
std::vector<uint32_t> nonFiniteVertices(std::span<const glm::vec3> values);

}  // namespace rakugo::geometry
