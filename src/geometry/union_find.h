// Union-find (disjoint sets; R. Tarjan, "Efficiency of a Good But Not Linear Set Union Algorithm", 1975).
#pragma once

#include <algorithm>
#include <cstdint>
#include <numeric>
#include <utility>
#include <vector>

namespace rakugo::geometry {

/// Disjoint sets of the numbers below `count`. At first every number is a set of its own.
class UnionFind {
 public:
  static constexpr uint32_t kNone = UINT32_MAX;
  explicit UnionFind(size_t count) : before_(count) { std::iota(before_.begin(), before_.end(), 0U); }
  /// The lowest number of the set that `i` is in. Cost: amortised nearly constant.
  [[nodiscard]] uint32_t first(uint32_t i) {
    while (before_[i] != i) i = before_[i] = before_[before_[i]];
    return i;
  }
  /// Joins the sets of `a` and `b`; returns the lowest number of the joined set.
  uint32_t join(uint32_t a, uint32_t b) {
    a = first(a);
    b = first(b);
    before_[std::max(a, b)] = std::min(a, b);
    return std::min(a, b);
  }
  /// The number of its set for each element, sets numbered by their lowest element; kNone for elements for
  /// which `counts(i)` is false (such an element must be alone in its set). `count` receives how many sets
  /// there are. Cost: linear.
  template <class Counts>
  [[nodiscard]] std::vector<uint32_t> numbers(uint32_t& count, Counts counts) && {
    count = 0;
    // What stands before an element in its set has its number already.
    for (uint32_t i = 0; i < before_.size(); ++i)
      if (!counts(i))
        before_[i] = kNone;
      else
        before_[i] = before_[i] == i ? count++ : before_[before_[i]];
    return std::move(before_);
  }

 private:
  std::vector<uint32_t> before_;  // one of the same set, not after it; the lowest has itself
};

}  // namespace rakugo::geometry
