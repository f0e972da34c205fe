#include "geometry/welding.h"

#include <bit>
#include <cmath>
#include <unordered_map>

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
  Welding out;
  out.of.resize(positions.size());
  std::unordered_multimap<uint64_t, uint32_t> cells;  // of places
  cells.reserve(positions.size());
  const auto cellOf = [&](float value) {
    return static_cast<int64_t>(std::floor(static_cast<double>(value) / static_cast<double>(tolerance)));
  };
  const auto key = [](int64_t x, int64_t y, int64_t z) {
    return mixed(static_cast<uint64_t>(x), static_cast<uint64_t>(y), static_cast<uint64_t>(z));
  };
  const auto fresh = [&](uint32_t v) {
    out.of[v] = static_cast<uint32_t>(out.first.size());
    out.first.push_back(v);
  };
  for (uint32_t v = 0; v < positions.size(); ++v) {
    const glm::vec3 p = positions[v];
    // Beyond this a cell's number is no whole number any more.
    if (!finite(p) || !(glm::length(p) / tolerance < 1e15F)) {
      fresh(v);
      continue;
    }
    const int64_t x = cellOf(p.x), y = cellOf(p.y), z = cellOf(p.z);
    uint32_t best = UINT32_MAX;
    float nearest = tolerance;
    for (int64_t dx = -1; dx <= 1; ++dx)
      for (int64_t dy = -1; dy <= 1; ++dy)
        for (int64_t dz = -1; dz <= 1; ++dz) {
          const auto [begin, end] = cells.equal_range(key(x + dx, y + dy, z + dz));
          for (auto at = begin; at != end; ++at) {
            const float apart = glm::distance(positions[out.first[at->second]], p);
            if (apart < nearest || (apart == nearest && at->second < best))
              nearest = apart, best = at->second;
          }
        }
    if (best != UINT32_MAX) {
      out.of[v] = best;
    } else {
      fresh(v);
      cells.emplace(key(x, y, z), out.of[v]);
    }
  }
  return out;
}

}  // namespace rakugo::geometry
