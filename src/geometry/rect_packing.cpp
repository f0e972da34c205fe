#include "geometry/rect_packing.h"

#include <algorithm>
#include <numeric>

namespace rakugo::geometry {
namespace {

struct Rect {
  uint32_t x = 0, y = 0, w = 0, h = 0;
};

bool overlap(const Rect& a, const Rect& b) {
  return a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h;
}

bool within(const Rect& a, const Rect& b) {
  return a.x >= b.x && a.y >= b.y && a.x + a.w <= b.x + b.w && a.y + a.h <= b.y + b.h;
}

// What is left of the free rectangles once `used` is taken: maximal ones, none within another.
void take(std::vector<Rect>& free, const Rect& used) {
  std::vector<Rect> fresh;
  std::erase_if(free, [&](const Rect& one) {
    if (!overlap(one, used)) return false;
    if (used.x > one.x) fresh.push_back({one.x, one.y, used.x - one.x, one.h});
    if (used.x + used.w < one.x + one.w)
      fresh.push_back({used.x + used.w, one.y, one.x + one.w - used.x - used.w, one.h});
    if (used.y > one.y) fresh.push_back({one.x, one.y, one.w, used.y - one.y});
    if (used.y + used.h < one.y + one.h)
      fresh.push_back({one.x, used.y + used.h, one.w, one.y + one.h - used.y - used.h});
    return true;
  });
  for (size_t i = 0; i < fresh.size(); ++i) {
    const bool covered =
        std::any_of(free.begin(), free.end(), [&](const Rect& one) { return within(fresh[i], one); }) ||
        std::any_of(fresh.begin() + static_cast<std::ptrdiff_t>(i) + 1, fresh.end(),
                    [&](const Rect& one) { return within(fresh[i], one); });
    if (!covered) free.push_back(fresh[i]);
  }
}

}  // namespace

std::optional<std::vector<glm::uvec2>> packRects(std::span<const glm::uvec2> sizes, glm::uvec2 sheet) {
  std::vector<glm::uvec2> out(sizes.size(), glm::uvec2(0));
  std::vector<size_t> order(sizes.size());
  std::iota(order.begin(), order.end(), size_t{0});
  std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) {
    const auto key = [&](size_t i) {
      return std::pair(std::max(sizes[i].x, sizes[i].y), std::min(sizes[i].x, sizes[i].y));
    };
    return key(a) > key(b);
  });
  std::vector<Rect> free{{0, 0, sheet.x, sheet.y}};
  for (const size_t i : order) {
    const glm::uvec2 size = sizes[i];
    if (size.x == 0 || size.y == 0) continue;
    const Rect* best = nullptr;
    std::pair<uint32_t, uint32_t> least{UINT32_MAX, UINT32_MAX};
    for (const Rect& one : free) {
      if (one.w < size.x || one.h < size.y) continue;
      const uint32_t across = one.w - size.x, up = one.h - size.y;
      const std::pair score(std::min(across, up), std::max(across, up));
      if (best == nullptr || score < least ||
          (score == least && std::pair(one.y, one.x) < std::pair(best->y, best->x))) {
        best = &one;
        least = score;
      }
    }
    if (best == nullptr) return std::nullopt;
    const Rect used{best->x, best->y, size.x, size.y};
    out[i] = {used.x, used.y};
    take(free, used);
  }
  return out;
}

}  // namespace rakugo::geometry
