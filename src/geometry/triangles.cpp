#include "geometry/triangles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

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

std::vector<glm::vec3> vertexNormals(std::span<const glm::vec3> positions, std::span<const uint32_t> indices,
                                     float crease_rad) {
  // Vertices of one position form a group: sorted by position, numbered in that order.
  std::vector<uint32_t> order(positions.size());
  std::iota(order.begin(), order.end(), 0u);
  const auto key = [&](uint32_t i) {
    return std::array<float, 3>{positions[i].x, positions[i].y, positions[i].z};
  };
  const auto less = [&](uint32_t a, uint32_t b) {
    // NaN compares as equal to nothing; such vertices sort last, each on its own.
    const bool fa = finite(positions[a]), fb = finite(positions[b]);
    if (fa != fb) return fa;
    if (!fa) return a < b;
    return key(a) != key(b) ? key(a) < key(b) : a < b;
  };
  std::sort(order.begin(), order.end(), less);
  std::vector<uint32_t> group(positions.size());
  uint32_t groups = 0;
  for (size_t i = 0; i < order.size(); ++i) {
    if (i > 0 && !(finite(positions[order[i]]) && key(order[i]) == key(order[i - 1]))) ++groups;
    group[order[i]] = groups;
  }
  ++groups;

  const size_t triangles = indices.size() / 3;
  std::vector<glm::vec3> faces(triangles);  // length = twice the area
  std::vector<uint32_t> first(groups + 1, 0);
  for (size_t t = 0; t < triangles; ++t) {
    const glm::vec3 a = positions[indices[3 * t]], b = positions[indices[3 * t + 1]],
                    c = positions[indices[3 * t + 2]];
    const glm::vec3 n = glm::cross(b - a, c - a);
    faces[t] = finite(n) ? n : glm::vec3(0);
    for (size_t k = 0; k < 3; ++k) ++first[group[indices[3 * t + k]] + 1];
  }
  std::partial_sum(first.begin(), first.end(), first.begin());
  std::vector<uint32_t> around(indices.size());
  std::vector<uint32_t> fill(first.begin(), first.end() - 1);
  for (size_t t = 0; t < triangles; ++t)
    for (size_t k = 0; k < 3; ++k) around[fill[group[indices[3 * t + k]]]++] = static_cast<uint32_t>(t);

  // Each vertex's own faces first say which way it looks; neighbours within the crease angle then join in.
  std::vector<glm::vec3> own(positions.size(), glm::vec3(0));
  for (size_t t = 0; t < triangles; ++t)
    for (size_t k = 0; k < 3; ++k) own[indices[3 * t + k]] += faces[t];
  const float least_cosine = std::cos(crease_rad);
  std::vector<glm::vec3> out(positions.size(), glm::vec3(0, 0, 1));
  for (size_t v = 0; v < positions.size(); ++v) {
    const float own_length = glm::length(own[v]);
    if (!(own_length > 0)) continue;
    const glm::vec3 look = own[v] / own_length;
    glm::vec3 sum(0);
    for (uint32_t at = first[group[v]]; at < first[group[v] + 1]; ++at) {
      const glm::vec3 face = faces[around[at]];
      const float length = glm::length(face);
      if (length > 0 && glm::dot(face / length, look) >= least_cosine) sum += face;
    }
    const float length = glm::length(sum);
    out[v] = length > 0 ? sum / length : look;
  }
  return out;
}

}  // namespace rakugo::geometry
