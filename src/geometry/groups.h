// Things put together pair by pair (union and find; R. Tarjan, "Efficiency of a Good But Not Linear Set Union
// Algorithm", 1975).
#pragma once

#include <algorithm>
#include <cstdint>
#include <numeric>
#include <utility>
#include <vector>

namespace rakugo::geometry {

/// `count` things, each a group of its own to begin with. Any number below is below `count`.
class Groups {
 public:
  static constexpr uint32_t kNone = UINT32_MAX;
  explicit Groups(size_t count) : before_(count) { std::iota(before_.begin(), before_.end(), 0U); }
  /// The lowest of the group that a thing is in. Cost: next to nothing, on average.
  [[nodiscard]] uint32_t first(uint32_t i) {
    while (before_[i] != i) i = before_[i] = before_[before_[i]];
    return i;
  }
  /// Makes two groups one; returns its lowest.
  uint32_t join(uint32_t a, uint32_t b) {
    a = first(a);
    b = first(b);
    before_[std::max(a, b)] = std::min(a, b);
    return std::min(a, b);
  }
  /// By thing the number of its group, groups in the order of their lowest; kNone for those that `counts(i)`
  /// denies, each of which is alone. `count` receives how many groups there are. Cost: linear.
  template <class Counts>
  [[nodiscard]] std::vector<uint32_t> numbers(uint32_t& count, Counts counts) && {
    count = 0;
    // What stands before a thing in its group has its number already.
    for (uint32_t i = 0; i < before_.size(); ++i)
      if (!counts(i))
        before_[i] = kNone;
      else
        before_[i] = before_[i] == i ? count++ : before_[before_[i]];
    return std::move(before_);
  }

 private:
  std::vector<uint32_t> before_;  // one of the same group, not after it; the lowest has itself
};

}  // namespace rakugo::geometry
