#include "geometry/triangles.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "geometry/bounds.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
std::vector<uint32_t> degenerateTriangles(std::span<const glm::vec3> positions,
                                          std::span<const uint32_t> indices) {
  const glm::vec3 size = boundsOf(positions).size();
  const float longest = std::max({size.x, size.y, size.z});
  const double least = static_cast<double>(longest) * longest * 1e-12;
  std::vector<uint32_t> out;
  for (size_t t = 0; t + 2 < indices.size(); t += 3) {
    const uint32_t i = indices[t], j = indices[t + 1], k = indices[t + 2];
    const glm::vec3 a = positions[i], b = positions[j], c = positions[k];
    const bool repeated = i == j || j == k || i == k;
    if (!repeated && !(finite(a) && finite(b) && finite(c))) continue;
    if (repeated ||
        glm::length(glm::cross(glm::dvec3(b) - glm::dvec3(a), glm::dvec3(c) - glm::dvec3(a))) * 0.5 <= least)
      out.push_back(static_cast<uint32_t>(t / 3));
  }
  return out;
}

std::vector<uint32_t> needleTriangles(std::span<const glm::vec3> positions, std::span<const uint32_t> indices,
                                      float ratio) {
  std::vector<uint32_t> out;
  for (size_t t = 0; t < indices.size() / 3; ++t) {
    const glm::dvec3 a(positions[indices[t * 3]]), b(positions[indices[t * 3 + 1]]),
        c(positions[indices[t * 3 + 2]]);
    const double longest = std::max(glm::distance(a, b), std::max(glm::distance(b, c), glm::distance(c, a)));
    // Twice the area is the longest side times the least height.
    if (glm::length(glm::cross(b - a, c - a)) < static_cast<double>(ratio) * longest * longest)
      out.push_back(static_cast<uint32_t>(t));
  }
  return out;
}

std::vector<uint32_t> duplicateTriangles(std::span<const uint32_t> corners) {
  std::vector<std::array<uint32_t, 4>> sorted;  // the three corners, and the triangle
  sorted.reserve(corners.size() / 3);
  for (uint32_t t = 0; t < corners.size() / 3; ++t) {
    std::array<uint32_t, 4> one = {corners[t * 3], corners[t * 3 + 1], corners[t * 3 + 2], t};
    std::sort(one.begin(), one.begin() + 3);
    if (one[0] != one[1] && one[1] != one[2]) sorted.push_back(one);
  }
  std::sort(sorted.begin(), sorted.end());
  std::vector<uint32_t> out;
  for (size_t i = 1; i < sorted.size(); ++i)
    if (std::equal(sorted[i].begin(), sorted[i].begin() + 3, sorted[i - 1].begin()))
      out.push_back(sorted[i][3]);
  std::sort(out.begin(), out.end());
  return out;
}

std::vector<uint32_t> nonFiniteVertices(std::span<const glm::vec3> values) {
  std::vector<uint32_t> out;
  for (size_t i = 0; i < values.size(); ++i)
    if (!finite(values[i])) out.push_back(static_cast<uint32_t>(i));
  return out;
}

}  // namespace rakugo::geometry
