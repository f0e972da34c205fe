#include "geometry/curve_order.h"

#include <algorithm>
#include <array>
#include <utility>

#include "base/jobs.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

constexpr uint32_t kDigit = 1024, kPasses = 3;
constexpr size_t kManyItems = 1 << 15;  // enough to be worth a core of its own
// More in one cell are not compared each with each.
constexpr size_t kFew = 16;

// Ten bits, each followed by two empty ones.
uint32_t spread(uint32_t v) {
  v = (v | v << 16) & 0x030000FF;
  v = (v | v << 8) & 0x0300F00F;
  v = (v | v << 4) & 0x030C30C3;
  return (v | v << 2) & 0x09249249;
}
uint32_t cellOf(uint32_t x, uint32_t y, uint32_t z) { return spread(x) | spread(y) << 1 | spread(z) << 2; }

}  // namespace

uint32_t CurveOrder::along(float from, float at) const {
  if (scale_ == 0) return 0;
  return static_cast<uint32_t>(std::clamp((at - from) * scale_, 0.0F, static_cast<float>(kCells - 1)));
}

CurveOrder::CurveOrder(std::span<const glm::vec3> positions, const Bounds& box)
    : positions_(positions), corner_(box.min) {
  const glm::vec3 size = box.size();
  const float longest = std::max({size.x, size.y, size.z});
  // A box too large or too small for a float's reciprocal is one cell: any order is right, only slower.
  if (longest > 1e-30F && longest < 1e30F) scale_ = static_cast<float>(kCells) / longest;
  std::vector<Item> cells(positions.size());
  base::parallelPieces(positions.size(), kManyItems, [&](size_t, size_t begin, size_t end) {
    for (size_t v = begin; v < end; ++v) {
      const glm::vec3 p = positions[v];
      const uint32_t cell =
          finite(p) ? cellOf(along(corner_.x, p.x), along(corner_.y, p.y), along(corner_.z, p.z)) : kNowhere;
      cells[v] = {cell, static_cast<uint32_t>(v)};
    }
  });
  const auto digit = [](const Item& item, uint32_t pass) { return item.cell >> (10 * pass) & (kDigit - 1); };
  std::array<std::array<uint32_t, kDigit>, kPasses> counts{};
  std::vector<Item> nowhere;
  for (const Item& item : cells) {
    if (item.cell == kNowhere) {
      nowhere.push_back(item);
      continue;
    }
    for (uint32_t pass = 0; pass < kPasses; ++pass) ++counts[pass][digit(item, pass)];
  }
  if (!nowhere.empty()) std::erase_if(cells, [](const Item& item) { return item.cell == kNowhere; });
  items_.resize(cells.size());
  for (uint32_t pass = 0; pass < kPasses; ++pass) {
    uint32_t begin = 0;
    for (uint32_t& count : counts[pass]) begin += std::exchange(count, begin);
    for (const Item& item : cells) items_[counts[pass][digit(item, pass)]++] = item;
    items_.swap(cells);
  }
  items_ = std::move(cells);
  items_.insert(items_.end(), nowhere.begin(), nowhere.end());
  // Those at one place follow each other, the lowest first, where there are too many to look for them.
  for (size_t begin = 0, end = 0; begin < items_.size(); begin = end) {
    end = endOfCell(begin);
    if (end - begin <= kFew) continue;
    std::sort(items_.begin() + static_cast<ptrdiff_t>(begin), items_.begin() + static_cast<ptrdiff_t>(end),
              [&](const Item& a, const Item& b) {
                const glm::vec3 &p = positions_[a.vertex], &q = positions_[b.vertex];
                if (p.x != q.x) return p.x < q.x;
                if (p.y != q.y) return p.y < q.y;
                return p.z != q.z ? p.z < q.z : a.vertex < b.vertex;
              });
  }
}

size_t CurveOrder::endOfCell(size_t begin) const {
  const uint32_t cell = items_[begin].cell;
  size_t end = begin + 1;
  while (end < items_.size() && items_[end].cell == cell && cell != kNowhere) ++end;
  return end;
}

Welding CurveOrder::weld() const {
  Welding out;
  out.of.resize(positions_.size());
  out.first.reserve(positions_.size());
  for (size_t begin = 0, end = 0; begin < items_.size(); begin = end) {
    end = endOfCell(begin);
    const auto oldest = static_cast<uint32_t>(out.first.size());
    const bool many = end - begin > kFew;
    for (size_t i = begin; i < end; ++i) {
      const uint32_t v = items_[i].vertex;
      uint32_t place = many && i > begin ? static_cast<uint32_t>(out.first.size()) - 1 : oldest;
      while (place < out.first.size() && positions_[out.first[place]] != positions_[v]) ++place;
      if (place == out.first.size()) out.first.push_back(v);
      out.of[v] = place;
    }
  }
  return out;
}

bool CurveOrder::nearInCell(size_t begin, size_t end, uint32_t vertex, float tolerance) const {
  if (end - begin > kFew) return true;
  for (size_t i = begin; i < end; ++i)
    if (const uint32_t other = items_[i].vertex;
        other != vertex && glm::distance(positions_[other], positions_[vertex]) <= tolerance)
      return true;
  return false;
}

// Whether one may have company in another cell than its own.
bool CurveOrder::nearBeyond(size_t item, float tolerance) const {
  const glm::vec3 p = positions_[items_[item].vertex];
  // Most lie far enough from the sides of their cell, which is seen at once; a thousandth of it is more than
  // the arithmetic is off.
  const glm::vec3 in_cells = (p - corner_) * scale_, within = in_cells - glm::floor(in_cells);
  const float side = tolerance * scale_ + 1e-3F;
  if (std::min({within.x, within.y, within.z}) > side && std::max({within.x, within.y, within.z}) < 1 - side)
    return false;
  uint32_t low[3], high[3];
  bool own = true;
  for (int i = 0; i < 3; ++i) {
    low[i] = along(corner_[i], p[i] - tolerance);
    high[i] = along(corner_[i], p[i] + tolerance);
    if (high[i] - low[i] > 1) return true;  // no small distance in this grid
    own = own && low[i] == high[i];
  }
  if (own) return false;
  for (uint32_t z = low[2]; z <= high[2]; ++z)
    for (uint32_t y = low[1]; y <= high[1]; ++y)
      for (uint32_t x = low[0]; x <= high[0]; ++x) {
        const uint32_t cell = cellOf(x, y, z);
        const auto [begin, end] = itemsOf(cell, item);
        if (cell != items_[item].cell && nearInCell(begin, end, items_[item].vertex, tolerance)) return true;
      }
  return false;
}

// The items of a cell: looked for in growing steps from where it is not far, mostly.
std::pair<size_t, size_t> CurveOrder::itemsOf(uint32_t cell, size_t from) const {
  const auto before = [&](size_t i) { return items_[i].cell < cell; };
  // All before `low` are before the cell, `high` and all after it are not.
  size_t low = from, high = from, step = 1;
  if (before(from)) {
    while (high < items_.size() && before(high)) low = high, high += std::exchange(step, step * 2);
    high = std::min(high, items_.size());
  } else {
    while (low > 0 && !before(low)) high = low, low -= std::min(low, std::exchange(step, step * 2));
  }
  while (low < high) {
    const size_t middle = low + (high - low) / 2;
    if (before(middle))
      low = middle + 1;
    else
      high = middle;
  }
  return {low, low < items_.size() && items_[low].cell == cell ? endOfCell(low) : low};
}

std::vector<uint32_t> CurveOrder::withNeighbour(float tolerance) const {
  // What a sum of floats loses is small beside this.
  tolerance *= 1.001F;
  std::vector<uint8_t> has(positions_.size(), 0);
  base::parallelPieces(items_.size(), kManyItems, [&](size_t, size_t first, size_t last) {
    // From the first cell that begins in this piece to the end of the last one that does.
    while (first > 0 && first < last && items_[first].cell == items_[first - 1].cell) ++first;
    for (size_t begin = first, end = 0; begin < last && items_[begin].cell != kNowhere; begin = end) {
      end = endOfCell(begin);
      for (size_t i = begin; i < end; ++i) {
        const uint32_t v = items_[i].vertex;
        has[v] = nearInCell(begin, end, v, tolerance) || nearBeyond(i, tolerance) ? 1 : 0;
      }
    }
  });
  std::vector<uint32_t> out;
  for (uint32_t v = 0; v < has.size(); ++v)
    if (has[v] != 0) out.push_back(v);
  return out;
}

}  // namespace rakugo::geometry
