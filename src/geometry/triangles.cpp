#include "geometry/triangles.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "geometry/bounds.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

// Squares, for a root costs more than the rest. Twice the area is the longest side times the least height.
struct Shape {
  double twice_area2, longest2;
  [[nodiscard]] bool needle(float ratio) const {
    const double most = static_cast<double>(ratio) * longest2;
    return twice_area2 < most * most;
  }
};
Shape shapeOf(std::span<const glm::vec3> positions, const uint32_t* t) {
  const glm::dvec3 a(positions[t[0]]), b(positions[t[1]]), c(positions[t[2]]);
  const glm::dvec3 ab = b - a, bc = c - b, ac = c - a, twice = glm::cross(ab, ac);
  return {glm::dot(twice, twice), std::max({glm::dot(ab, ab), glm::dot(bc, bc), glm::dot(ac, ac)})};
}

// The least that is a surface, as `twice_area2`.
double leastSurface(std::span<const glm::vec3> positions) {
  const glm::vec3 size = boundsOf(positions).size();
  const double longest = static_cast<double>(std::max({size.x, size.y, size.z}));
  const double least = 2e-12 * longest * longest;
  return least * least;
}

bool degenerate(const uint32_t* t, const Shape& shape, double least) {
  return t[0] == t[1] || t[1] == t[2] || t[0] == t[2] || shape.twice_area2 <= least;
}

}  // namespace

std::vector<uint32_t> degenerateTriangles(std::span<const glm::vec3> positions,
                                          std::span<const uint32_t> indices) {
  const double least = leastSurface(positions);
  std::vector<uint32_t> out;
  for (size_t i = 0; i + 2 < indices.size(); i += 3)
    if (degenerate(indices.data() + i, shapeOf(positions, indices.data() + i), least))
      out.push_back(static_cast<uint32_t>(i / 3));
  return out;
}

std::vector<uint32_t> needleTriangles(std::span<const glm::vec3> positions, std::span<const uint32_t> indices,
                                      float ratio) {
  std::vector<uint32_t> out;
  for (size_t i = 0; i + 2 < indices.size(); i += 3)
    if (shapeOf(positions, indices.data() + i).needle(ratio)) out.push_back(static_cast<uint32_t>(i / 3));
  return out;
}

Slivers sliversOf(std::span<const glm::vec3> positions, std::span<const uint32_t> indices, float ratio) {
  Slivers out;
  const double least = leastSurface(positions);
  for (size_t i = 0; i + 2 < indices.size(); i += 3) {
    const Shape shape = shapeOf(positions, indices.data() + i);
    if (std::isfinite(shape.twice_area2)) out.area += std::sqrt(shape.twice_area2) / 2;
    if (degenerate(indices.data() + i, shape, least))
      out.degenerate.push_back(static_cast<uint32_t>(i / 3));
    else if (shape.needle(ratio))
      out.needles.push_back(static_cast<uint32_t>(i / 3));
  }
  return out;
}

std::vector<uint32_t> nonFiniteVertices(std::span<const glm::vec3> values) {
  std::vector<uint32_t> out;
  for (size_t i = 0; i < values.size(); ++i)
    if (!finite(values[i])) out.push_back(static_cast<uint32_t>(i));
  return out;
}

}  // namespace rakugo::geometry
