#include "geometry/welding.h"

#include <algorithm>
#include <bit>
#include <unordered_map>
#include <utility>

#include "geometry/bounds.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

uint64_t mixed(uint64_t a, uint64_t b, uint64_t c) {
  uint64_t h = a * 0x9E3779B97F4A7C15ull ^ (b + 0x7F4A7C15ull) * 0xC2B2AE3D27D4EB4Full ^
               (c + 0x165667B1ull) * 0xD6E8FEB86659FD93ull;
  h ^= h >> 29;
  return h * 0xBF58476D1CE4E5B9ull ^ h >> 32;
}

// A grid whose cells are wider than the distance asked for, so that most positions lie far enough from the
// sides of theirs to need no look into the next one.
class WeldCells {
 public:
  WeldCells(std::span<const glm::vec3> positions, float tolerance)
      : per_cell_(1 / (static_cast<double>(tolerance) * kWide)) {
    Bounds box;
    for (const glm::vec3& p : positions) box.add(p);
    corner_ = glm::dvec3(box.empty() ? glm::vec3(0) : box.min);
  }
  // Whether a position has a cell: beyond this its number is no whole number any more.
  [[nodiscard]] bool has(glm::vec3 p) const {
    const glm::dvec3 at = (glm::dvec3(p) - corner_) * per_cell_;
    return finite(p) && std::max({at.x, at.y, at.z}) < 1e15;
  }
  [[nodiscard]] uint64_t own(glm::vec3 p) const {
    const glm::dvec3 at = (glm::dvec3(p) - corner_) * per_cell_;
    return key(static_cast<int64_t>(at.x), static_cast<int64_t>(at.y), static_cast<int64_t>(at.z));
  }
  // Calls visit(key) for its own cell and those that reach within the distance.
  template <class Visit>
  void around(glm::vec3 p, Visit visit) const {
    const glm::dvec3 at = (glm::dvec3(p) - corner_) * per_cell_;
    // None is negative: what is cut off is the fraction.
    const auto x0 = static_cast<int64_t>(at.x), y0 = static_cast<int64_t>(at.y),
               z0 = static_cast<int64_t>(at.z);
    const glm::dvec3 within =
        (at - glm::dvec3(static_cast<double>(x0), static_cast<double>(y0), static_cast<double>(z0))) * kWide;
    constexpr double kLow = 1.000001, kHigh = kWide - 1.000001;
    if (std::min({within.x, within.y, within.z}) > kLow && std::max({within.x, within.y, within.z}) < kHigh)
      return visit(key(x0, y0, z0));
    const int64_t cell[3] = {x0, y0, z0};
    int64_t low[3], high[3];
    for (int i = 0; i < 3; ++i) {
      low[i] = cell[i] - (within[i] <= kLow ? 1 : 0);
      high[i] = cell[i] + (within[i] >= kHigh ? 1 : 0);
    }
    for (int64_t z = low[2]; z <= high[2]; ++z)
      for (int64_t y = low[1]; y <= high[1]; ++y)
        for (int64_t x = low[0]; x <= high[0]; ++x) visit(key(x, y, z));
  }

 private:
  static constexpr double kWide = 32;
  // Keys of different cells may be equal: then positions are compared that lie far apart, no more.
  static uint64_t key(int64_t x, int64_t y, int64_t z) {
    return mixed(static_cast<uint64_t>(x), static_cast<uint64_t>(y), static_cast<uint64_t>(z));
  }
  double per_cell_;
  glm::dvec3 corner_;
};

// Flags of vertices that have no other in their own cell or in one that reaches within the distance: most, in
// most models. By two bits for each of the keys' last bits, which may only flag too few; those without a cell
// are alone too.
std::vector<uint8_t> aloneInCells(std::span<const glm::vec3> positions, const WeldCells& cells) {
  size_t size = 1024;
  while (size < positions.size() * 16) size *= 2;
  std::vector<uint64_t> any(size / 64, 0), many(size / 64, 0);
  const auto word = [&](uint64_t key) { return (key & (size - 1)) / 64; };
  const auto bit = [](uint64_t key) { return uint64_t{1} << (key & 63); };
  for (const glm::vec3& p : positions) {
    if (!cells.has(p)) continue;
    const uint64_t key = cells.own(p);
    many[word(key)] |= any[word(key)] & bit(key);
    any[word(key)] |= bit(key);
  }
  std::vector<uint8_t> out(positions.size(), 1);
  for (size_t v = 0; v < positions.size(); ++v) {
    if (!cells.has(positions[v])) continue;
    const uint64_t own = cells.own(positions[v]);
    cells.around(positions[v], [&](uint64_t key) {
      const auto& taken = key == own ? many : any;
      if ((taken[word(key)] & bit(key)) != 0) out[v] = 0;
    });
  }
  return out;
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
  const WeldCells cells(positions, tolerance);
  const std::vector<uint8_t> alone = aloneInCells(positions, cells);
  Welding out;
  out.of.resize(positions.size());
  out.first.reserve(positions.size());
  std::unordered_map<uint64_t, uint32_t> newest;  // by cell's key: its newest place
  std::vector<uint32_t> before;                   // by place: the one that was there before it
  before.reserve(positions.size());
  for (uint32_t v = 0; v < positions.size(); ++v) {
    uint32_t best = UINT32_MAX;
    if (alone[v] == 0) {
      float nearest = tolerance;
      cells.around(positions[v], [&](uint64_t key) {
        const auto found = newest.find(key);
        for (uint32_t at = found == newest.end() ? UINT32_MAX : found->second; at != UINT32_MAX;
             at = before[at]) {
          const float apart = glm::distance(positions[out.first[at]], positions[v]);
          if (apart < nearest || (apart == nearest && at < best)) nearest = apart, best = at;
        }
      });
    }
    if (best == UINT32_MAX) {
      best = static_cast<uint32_t>(out.first.size());
      out.first.push_back(v);
      before.push_back(UINT32_MAX);
      if (alone[v] == 0) {
        const auto [at, fresh] = newest.try_emplace(cells.own(positions[v]), best);
        if (!fresh) before[best] = std::exchange(at->second, best);
      }
    }
    out.of[v] = best;
  }
  return out;
}

}  // namespace rakugo::geometry
