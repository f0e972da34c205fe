#include "geometry/nearest.h"

#include <algorithm>
#include <cmath>

#include "base/jobs.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

// Of a side from a to b, how far along it is nearest to p, 0 to 1.
float along(glm::vec3 p, glm::vec3 a, glm::vec3 b) {
  const glm::vec3 side = b - a;
  const float length2 = glm::dot(side, side);
  return length2 > 0 ? std::clamp(glm::dot(p - a, side) / length2, 0.0F, 1.0F) : 0;
}

}  // namespace

float distanceFromLine(glm::vec3 p, glm::vec3 a, glm::vec3 b) {
  const glm::vec3 d = b - a;
  const float length2 = glm::dot(d, d);
  const float t = length2 > 0 ? std::clamp(glm::dot(p - a, d) / length2, 0.0F, 1.0F) : 0;
  return glm::distance(p, a + d * t);
}

glm::vec3 nearestInTriangle(glm::vec3 p, glm::vec3 a, glm::vec3 b, glm::vec3 c) {
  const glm::vec3 ab = b - a, ac = c - a, n = glm::cross(ab, ac);
  const float area2 = glm::dot(n, n);
  if (area2 > 0) {
    const float u = glm::dot(glm::cross(c - b, p - b), n), v = glm::dot(glm::cross(a - c, p - c), n);
    const float w = area2 - u - v;
    if (u >= 0 && v >= 0 && w >= 0) return glm::vec3(u, v, w) / area2;
  }
  const float s = along(p, a, b), t = along(p, b, c), r = along(p, c, a);
  const glm::vec3 shares[3] = {{1 - s, s, 0}, {0, 1 - t, t}, {r, 0, 1 - r}};
  glm::vec3 best = shares[0];
  float best2 = std::numeric_limits<float>::max();
  for (const glm::vec3 share : shares) {
    const glm::vec3 d = share.x * a + share.y * b + share.z * c - p;
    if (glm::dot(d, d) < best2) {
      best2 = glm::dot(d, d);
      best = share;
    }
  }
  return best;
}

Surface::Surface(std::span<const glm::vec3> positions, std::span<const uint32_t> corners)
    : positions_(positions), corners_(corners), tree_(triangleBoxes(positions, corners)) {}

std::optional<Surface::Near> Surface::nearest(glm::vec3 p, float within) const {
  if (!finite(p)) return std::nullopt;
  std::optional<Near> best;
  float best2 = within * within;
  tree_.nearest(p, best2, [&](uint32_t t) {
    const glm::vec3 a = positions_[corners_[t * 3]], b = positions_[corners_[t * 3 + 1]],
                    c = positions_[corners_[t * 3 + 2]];
    const glm::vec3 share = nearestInTriangle(p, a, b, c);
    const glm::vec3 at = share.x * a + share.y * b + share.z * c;
    const float away2 = glm::dot(at - p, at - p);
    // Of several that are as near, the first, however the tree came to them.
    if (away2 < best2 || (away2 == best2 && (!best || t < best->triangle))) {
      best2 = away2;
      best = Near{t, share, at, 0};
    }
    return away2;
  });
  if (best) best->distance = std::sqrt(best2);
  return best;
}

Distances distancesFrom(const Surface& surface, std::span<const glm::vec3> places) {
  constexpr size_t kChunk = 4096;
  const size_t chunks = (places.size() + kChunk - 1) / kChunk;
  struct Part {
    double largest = 0, sum = 0;
    size_t count = 0;
  };
  std::vector<Part> of(chunks);
  base::parallelFor(chunks, [&](size_t chunk) {
    const size_t end = std::min(places.size(), (chunk + 1) * kChunk);
    for (size_t i = chunk * kChunk; i < end; ++i)
      if (const auto near = surface.nearest(places[i])) {
        of[chunk].largest = std::max(of[chunk].largest, double{near->distance});
        of[chunk].sum += near->distance;
        ++of[chunk].count;
      }
  });
  Distances out;
  double sum = 0;
  size_t count = 0;
  for (const Part& part : of) {
    out.largest = std::max(out.largest, part.largest);
    sum += part.sum;
    count += part.count;
  }
  if (count > 0) out.mean = sum / static_cast<double>(count);
  return out;
}

}  // namespace rakugo::geometry
