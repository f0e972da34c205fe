#include "geometry/welding.h"

#include <bit>
#include <cmath>

#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

uint64_t mixed(uint64_t a, uint64_t b, uint64_t c) {
  uint64_t h = a * 0x9E3779B97F4A7C15ull ^ (b + 0x7F4A7C15ull) * 0xC2B2AE3D27D4EB4Full ^
               (c + 0x165667B1ull) * 0xD6E8FEB86659FD93ull;
  h ^= h >> 29;
  return h * 0xBF58476D1CE4E5B9ull ^ h >> 32;
}

}  // namespace

Welding weldEqual(std::span<const glm::vec3> positions) {
  Welding out;
  out.of.resize(positions.size());
  size_t size = 16;
  while (size < positions.size() * 2) size *= 2;
  std::vector<uint32_t> slots(size, UINT32_MAX);
  for (uint32_t v = 0; v < positions.size(); ++v) {
    const glm::vec3 p = positions[v] + 0.0F;  // -0 becomes 0
    if (!finite(p)) {
      out.of[v] = static_cast<uint32_t>(out.first.size());
      out.first.push_back(v);
      continue;
    }
    size_t at =
        mixed(std::bit_cast<uint32_t>(p.x), std::bit_cast<uint32_t>(p.y), std::bit_cast<uint32_t>(p.z)) &
        (size - 1);
    while (slots[at] != UINT32_MAX && positions[out.first[slots[at]]] != positions[v])
      at = (at + 1) & (size - 1);
    if (slots[at] == UINT32_MAX) {
      slots[at] = static_cast<uint32_t>(out.first.size());
      out.first.push_back(v);
    }
    out.of[v] = slots[at];
  }
  return out;
}

Welding weldNear(std::span<const glm::vec3> positions, float tolerance) {
  // Cells are wider than the distance, so that most positions lie far enough from the sides of theirs to need
  // no look into the next one.
  constexpr double kWide = 8;
  const double cell = static_cast<double>(tolerance) * kWide;
  Welding out;
  out.of.resize(positions.size());
  size_t size = 16;
  while (size < positions.size() * 2) size *= 2;
  std::vector<uint32_t> slots(size,
                              UINT32_MAX);  // the newest place of a cell (or of several whose keys collide)
  std::vector<uint32_t> before;             // by place: the one that was there before it
  const auto fresh = [&](uint32_t v) {
    out.of[v] = static_cast<uint32_t>(out.first.size());
    out.first.push_back(v);
    before.push_back(UINT32_MAX);
  };
  for (uint32_t v = 0; v < positions.size(); ++v) {
    const glm::vec3 p = positions[v];
    const glm::dvec3 scaled = glm::dvec3(p) / cell;
    // Beyond this a cell's number is no whole number any more.
    if (!finite(p) || !(glm::length(scaled) < 1e15)) {
      fresh(v);
      continue;
    }
    const glm::dvec3 floor = glm::floor(scaled), within = (scaled - floor) * kWide;
    int64_t low[3], high[3];
    for (int i = 0; i < 3; ++i) {
      low[i] = static_cast<int64_t>(floor[i]) - (within[i] <= 1.000001 ? 1 : 0);
      high[i] = static_cast<int64_t>(floor[i]) + (within[i] >= kWide - 1.000001 ? 1 : 0);
    }
    const auto slotOf = [&](int64_t x, int64_t y, int64_t z) {
      return mixed(static_cast<uint64_t>(x), static_cast<uint64_t>(y), static_cast<uint64_t>(z)) & (size - 1);
    };
    uint32_t best = UINT32_MAX;
    float nearest = tolerance;
    for (int64_t x = low[0]; x <= high[0]; ++x)
      for (int64_t y = low[1]; y <= high[1]; ++y)
        for (int64_t z = low[2]; z <= high[2]; ++z)
          for (uint32_t at = slots[slotOf(x, y, z)]; at != UINT32_MAX; at = before[at]) {
            const float apart = glm::distance(positions[out.first[at]], p);
            if (apart < nearest || (apart == nearest && at < best)) nearest = apart, best = at;
          }
    if (best != UINT32_MAX) {
      out.of[v] = best;
      continue;
    }
    fresh(v);
    uint32_t& slot = slots[slotOf(static_cast<int64_t>(floor.x), static_cast<int64_t>(floor.y),
                                  static_cast<int64_t>(floor.z))];
    before[out.of[v]] = slot;
    slot = out.of[v];
  }
  return out;
}

}  // namespace rakugo::geometry
