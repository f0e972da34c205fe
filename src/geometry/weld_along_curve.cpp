#include <algorithm>
#include <array>

#include "geometry/bounds.h"
#include "geometry/finite.h"
#include "geometry/welding.h"

namespace rakugo::geometry {
namespace {

constexpr uint32_t kCells = 1024, kDigit = 1024, kPasses = 3;
constexpr uint32_t kNowhere = UINT32_MAX >> 1;  // after every cell: those are 30 bits

struct Item {
  uint32_t cell, vertex;
};

// Ten bits, each followed by two empty ones.
uint32_t spread(uint32_t v) {
  v = (v | v << 16) & 0x030000FF;
  v = (v | v << 8) & 0x0300F00F;
  v = (v | v << 4) & 0x030C30C3;
  return (v | v << 2) & 0x09249249;
}

// Vertices by cell, and within a cell by number.
std::vector<Item> alongCurve(std::span<const glm::vec3> positions) {
  Bounds box;
  for (const glm::vec3& p : positions) box.add(p);
  const glm::vec3 size = box.size();
  const float longest = std::max({size.x, size.y, size.z});
  // A box too large or too small for a float's reciprocal is one cell: any order is right, only slower.
  const float scale = longest > 1e-30F && longest < 1e30F ? static_cast<float>(kCells) / longest : 0;
  std::vector<Item> items(positions.size()), other(positions.size());
  std::array<std::array<uint32_t, kDigit>, kPasses> counts{};
  std::vector<Item> nowhere;
  uint32_t somewhere = 0;
  for (uint32_t v = 0; v < positions.size(); ++v) {
    if (!finite(positions[v])) {
      nowhere.push_back({kNowhere, v});
      continue;
    }
    const glm::vec3 at = (positions[v] - box.min) * scale;
    const auto along = [](float a) { return spread(std::min(static_cast<uint32_t>(a), kCells - 1)); };
    const uint32_t cell = scale == 0 ? 0 : along(at.x) | along(at.y) << 1 | along(at.z) << 2;
    items[somewhere++] = {cell, v};
    for (uint32_t pass = 0; pass < kPasses; ++pass) ++counts[pass][cell >> (10 * pass) & (kDigit - 1)];
  }
  for (uint32_t pass = 0; pass < kPasses; ++pass) {
    uint32_t begin = 0;
    for (uint32_t& count : counts[pass]) begin += std::exchange(count, begin);
    for (uint32_t i = 0; i < somewhere; ++i)
      other[counts[pass][items[i].cell >> (10 * pass) & (kDigit - 1)]++] = items[i];
    items.swap(other);
  }
  std::copy(nowhere.begin(), nowhere.end(), items.begin() + somewhere);
  return items;
}

}  // namespace

Welding weldAlongCurve(std::span<const glm::vec3> positions) {
  // More in one cell are sorted before they are compared.
  constexpr size_t kFew = 16;
  std::vector<Item> items = alongCurve(positions);
  Welding out;
  out.of.resize(positions.size());
  out.first.reserve(positions.size());
  const auto before = [&](const Item& a, const Item& b) {
    const glm::vec3 &p = positions[a.vertex], &q = positions[b.vertex];
    if (p.x != q.x) return p.x < q.x;
    if (p.y != q.y) return p.y < q.y;
    return p.z != q.z ? p.z < q.z : a.vertex < b.vertex;
  };
  for (size_t begin = 0, end = 0; begin < items.size(); begin = end) {
    end = begin + 1;
    while (end < items.size() && items[end].cell == items[begin].cell && items[begin].cell != kNowhere) ++end;
    const auto oldest = static_cast<uint32_t>(out.first.size());
    const bool many = end - begin > kFew;
    if (many) std::sort(items.begin() + begin, items.begin() + end, before);
    for (size_t i = begin; i < end; ++i) {
      const uint32_t v = items[i].vertex;
      uint32_t place = many && i > begin ? static_cast<uint32_t>(out.first.size()) - 1 : oldest;
      while (place < out.first.size() && positions[out.first[place]] != positions[v]) ++place;
      if (place == out.first.size()) out.first.push_back(v);
      out.of[v] = place;
    }
  }
  return out;
}

}  // namespace rakugo::geometry
