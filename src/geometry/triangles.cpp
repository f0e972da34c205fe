#include "geometry/triangles.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/jobs.h"
#include "base/memory.h"
#include "geometry/bounds.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

// Enough to be worth a core of its own.
constexpr size_t kManyTriangles = 1 << 15;

// Squares, for a root costs more than the rest. Twice the area is the longest side times the least height.
struct Shape {
  glm::dvec3 normal;  // as long as twice the area
  double twice_area2, longest2;
  [[nodiscard]] bool needle(float ratio) const {
    const double most = static_cast<double>(ratio) * longest2;
    return twice_area2 < most * most;
  }
};
Shape shapeOf(std::span<const glm::vec3> positions, const uint32_t* t) {
  const glm::dvec3 a(positions[t[0]]), b(positions[t[1]]), c(positions[t[2]]);
  const glm::dvec3 ab = b - a, bc = c - b, ac = c - a, twice = glm::cross(ab, ac);
  return {twice, glm::dot(twice, twice), std::max({glm::dot(ab, ab), glm::dot(bc, bc), glm::dot(ac, ac)})};
}

glm::vec3 unitNormal(const Shape& shape) {
  if (!(shape.twice_area2 > 0) || !std::isfinite(shape.twice_area2)) return glm::vec3(0);
  return shape.normal * (1 / std::sqrt(shape.twice_area2));
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

std::vector<glm::vec3> unitNormals(std::span<const glm::vec3> positions, std::span<const uint32_t> indices) {
  std::vector<glm::vec3> out(indices.size() / 3);
  for (size_t t = 0; t < out.size(); ++t) out[t] = unitNormal(shapeOf(positions, indices.data() + t * 3));
  return out;
}

Slivers sliversOf(std::span<const glm::vec3> positions, std::span<const uint32_t> indices, float ratio) {
  const size_t n = indices.size() / 3;
  const double least = leastSurface(positions);
  Slivers out;
  base::reserveLarge(out.normals, n);
  out.normals.resize(n);
  std::vector<Slivers> pieces(base::piecesOf(n, kManyTriangles));
  base::parallelPieces(n, kManyTriangles, [&](size_t piece, size_t begin, size_t end) {
    Slivers own;
    for (size_t t = begin; t < end; ++t) {
      const Shape shape = shapeOf(positions, indices.data() + t * 3);
      if (std::isfinite(shape.twice_area2)) own.area += std::sqrt(shape.twice_area2) / 2;
      out.normals[t] = unitNormal(shape);
      if (degenerate(indices.data() + t * 3, shape, least))
        own.degenerate.push_back(static_cast<uint32_t>(t));
      else if (shape.needle(ratio))
        own.needles.push_back(static_cast<uint32_t>(t));
    }
    pieces[piece] = std::move(own);
  });
  for (const Slivers& piece : pieces) {
    out.area += piece.area;
    out.degenerate.insert(out.degenerate.end(), piece.degenerate.begin(), piece.degenerate.end());
    out.needles.insert(out.needles.end(), piece.needles.begin(), piece.needles.end());
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
