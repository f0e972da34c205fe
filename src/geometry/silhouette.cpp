#include "geometry/silhouette.h"

#include <algorithm>
#include <cmath>

namespace rakugo::geometry {

void Occupancy::add(std::span<const glm::vec3> positions, std::span<const uint32_t> indices,
                    const glm::mat4& turn, glm::vec3 center, float half) {
  if (!(half > 0)) return;
  const float cell = 2 * half / kSide;
  for (size_t t = 0; t + 2 < indices.size(); t += 3) {
    std::array<glm::vec3, 3> p;
    for (size_t k = 0; k < 3; ++k) p[k] = glm::vec3(turn * glm::vec4(positions[indices[t + k]], 1));
    const float area = glm::length(glm::cross(p[1] - p[0], p[2] - p[0])) * 0.5F;
    if (!std::isfinite(area) || area <= 0) continue;
    // Enough samples that none is further from the next than half a cell, within reason.
    const float longest =
        std::max({glm::distance(p[0], p[1]), glm::distance(p[1], p[2]), glm::distance(p[2], p[0])});
    const int n = std::clamp(static_cast<int>(std::ceil(2 * longest / cell)), 1, 24);
    const float share = area / static_cast<float>(n * (n + 1) / 2);
    for (int i = 0; i < n; ++i)
      for (int j = 0; i + j < n; ++j) {
        const float u = (static_cast<float>(i) + 1.0F / 3) / static_cast<float>(n);
        const float v = (static_cast<float>(j) + 1.0F / 3) / static_cast<float>(n);
        const glm::vec3 at = (p[0] * (1 - u - v) + p[1] * u + p[2] * v - center) / half * 0.5F + 0.5F;
        const glm::ivec3 c = glm::clamp(glm::ivec3(at * static_cast<float>(kSide)), 0, kSide - 1);
        cells_[static_cast<size_t>((c.z * kSide + c.y) * kSide + c.x)] += share;
      }
  }
}

void Occupancy::normalize() {
  double sum = 0;
  for (const float c : cells_) sum += c;
  if (sum <= 0) return;
  for (float& c : cells_) c = static_cast<float>(c / sum);
}

Occupancy Occupancy::turned(const glm::mat3& quarter) const {
  Occupancy out;
  // Twice the place of a cell's middle from the centre: odd whole numbers, which turn exactly.
  const auto middle = [](int cell) { return 2 * cell - (kSide - 1); };
  const auto cellAt = [](float twice) { return (static_cast<int>(std::lround(twice)) + kSide - 1) / 2; };
  size_t i = 0;
  for (int z = 0; z < kSide; ++z)
    for (int y = 0; y < kSide; ++y)
      for (int x = 0; x < kSide; ++x, ++i) {
        const glm::vec3 to = quarter * glm::vec3(middle(x), middle(y), middle(z));
        out.cells_[static_cast<size_t>((cellAt(to.z) * kSide + cellAt(to.y)) * kSide + cellAt(to.x))] =
            cells_[i];
      }
  return out;
}

double Occupancy::likeness(const Occupancy& a, const Occupancy& b) {
  double shared = 0;
  for (size_t i = 0; i < a.cells_.size(); ++i) shared += std::min(a.cells_[i], b.cells_[i]);
  return shared;
}

}  // namespace rakugo::geometry
