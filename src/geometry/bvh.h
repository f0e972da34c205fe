// A tree of boxes, for questions about what is near, crossed or hit.
#pragma once

#include <algorithm>
#include <cstdint>
#include <glm/glm.hpp>
#include <limits>
#include <span>
#include <vector>

#include "geometry/bounds.h"

namespace rakugo::geometry {

/// Boxes sorted into a binary tree by the middle of their centres along the longest side (a k-d order; Wald,
/// Boulos and Shirley, "Ray tracing deformable scenes using dynamic bounding volume hierarchies", 2007,
/// section 2, for the bounds). The halves are equal in number, so that the tree is no deeper than the number
/// of items has bits. Items with an empty box are in no leaf.
class Bvh {
 public:
  Bvh() = default;
  /// One item a box. On all cores. Cost: n log n.
  explicit Bvh(std::span<const Bounds> boxes);

  /// Calls visit(item) for every item whose box meets `box` (touching counts); visit returns false to end.
  template <class Visit>
  void within(const Bounds& box, Visit visit) const {
    walk([&](const Bounds& node) { return meet(node, box); }, visit);
  }
  /// Calls visit(item) for every item whose box a ray from `origin` along `direction` (any length but zero)
  /// enters; visit returns false to end.
  template <class Visit>
  void along(glm::vec3 origin, glm::vec3 direction, Visit visit) const {
    const glm::vec3 inverse = 1.0F / direction;
    walk([&](const Bounds& node) { return hit(node, origin, inverse); }, visit);
  }
  /// Calls measure(item), how far along the ray the nearest of what was met so far lies, in lengths of
  /// `direction`, for items whose box the ray enters nearer than that; at first, than `most`. Nearer boxes
  /// come first, so that few are looked at.
  template <class Measure>
  void first(glm::vec3 origin, glm::vec3 direction, float most, Measure measure) const {
    if (nodes_.empty()) return;
    const glm::vec3 inverse = 1.0F / direction;
    struct Open {
      uint32_t node;
      float enters;
    };
    Open stack[64];
    int depth = 0;
    stack[depth++] = {0, entry(nodes_[0].box, origin, inverse)};
    while (depth > 0) {
      const Open now = stack[--depth];
      if (!(now.enters <= most)) continue;
      const Node& node = nodes_[now.node];
      if (node.second != 0) {
        Open a{now.node + 1, entry(nodes_[now.node + 1].box, origin, inverse)};
        Open b{node.second, entry(nodes_[node.second].box, origin, inverse)};
        if (a.enters < b.enters) std::swap(a, b);
        stack[depth++] = a;
        stack[depth++] = b;
        continue;
      }
      for (uint32_t i = node.begin; i < node.end; ++i)
        if (entry(boxes_[i], origin, inverse) <= most) most = std::min(most, measure(items_[i]));
    }
  }
  /// How far along the ray the tree's box begins, in lengths of `direction`; 0 from inside of it, infinity
  /// where the ray misses it or the tree is empty.
  [[nodiscard]] float entersAt(glm::vec3 origin, glm::vec3 direction) const {
    constexpr float kNever = std::numeric_limits<float>::infinity();
    if (nodes_.empty()) return kNever;
    const float at = entry(nodes_[0].box, origin, 1.0F / direction);
    return at >= 0 ? at : kNever;
  }
  /// Calls measure(item), the squared distance of an item from `point`, for items whose box could hold a
  /// nearer one than what was measured so far; at first, than `within2`. Nearer boxes come first, so that few
  /// are looked at.
  template <class Measure>
  void nearest(glm::vec3 point, float within2, Measure measure) const {
    if (nodes_.empty()) return;
    struct Open {
      uint32_t node;
      float far2;
    };
    Open stack[64];
    int depth = 0;
    stack[depth++] = {0, away2(nodes_[0].box, point)};
    while (depth > 0) {
      const Open now = stack[--depth];
      if (!(now.far2 <= within2)) continue;
      const Node& node = nodes_[now.node];
      if (node.second != 0) {
        Open a{now.node + 1, away2(nodes_[now.node + 1].box, point)};
        Open b{node.second, away2(nodes_[node.second].box, point)};
        if (a.far2 < b.far2) std::swap(a, b);
        stack[depth++] = a;
        stack[depth++] = b;
        continue;
      }
      for (uint32_t i = node.begin; i < node.end; ++i)
        if (away2(boxes_[i], point) <= within2) within2 = std::min(within2, measure(items_[i]));
    }
  }
  /// How many items are in leaves; `pairs` takes them in the tree's own order, neighbours close together.
  [[nodiscard]] size_t items() const { return items_.size(); }
  /// Calls visit(one, other) once for each pair of items whose boxes meet, of which the one is among the
  /// tree's items [begin, end) and the other comes later in its order. visit returns false to hear of no more
  /// pairs of that one.
  template <class Visit>
  void pairs(size_t begin, size_t end, Visit visit) const {
    for (size_t first = begin; first < end; first += kLeaf) {
      // A few neighbours at once: they meet nearly the same boxes.
      const size_t last = std::min(end, first + kLeaf);
      Bounds around;
      for (size_t i = first; i < last; ++i) around.add(boxes_[i]);
      uint32_t over = 0;
      const auto all_over = (1U << (last - first)) - 1;
      const auto later = [&](size_t k) {
        for (size_t i = first; i < std::min(last, k); ++i)
          if ((over >> (i - first) & 1U) == 0 && meet(boxes_[i], boxes_[k]) && !visit(items_[i], items_[k]))
            over |= 1U << (i - first);
        return over != all_over;
      };
      uint32_t stack[64];
      int depth = 0;
      stack[depth++] = 0;
      while (depth > 0 && over != all_over) {
        const uint32_t at = stack[--depth];
        const Node& node = nodes_[at];
        if (node.end <= first + 1 || !meet(node.box, around)) continue;
        if (node.second != 0) {
          stack[depth++] = node.second;
          stack[depth++] = at + 1;
          continue;
        }
        for (size_t k = node.begin; k < node.end && later(k);) ++k;
      }
    }
  }
  [[nodiscard]] bool empty() const { return nodes_.empty(); }

 private:
  // Its items, and of one that is no leaf its second child; the first follows it.
  struct Node {
    Bounds box;
    uint32_t begin = 0, end = 0, second = 0;
  };
  struct Item {
    glm::vec3 center;
    uint32_t number;
  };
  static constexpr uint32_t kLeaf = 8;

  static bool meet(const Bounds& a, const Bounds& b) {
    // All six at once: which of them fails cannot be foretold, and a wrong guess costs more than the rest.
    return ((a.min.x <= b.max.x) & (b.min.x <= a.max.x) & (a.min.y <= b.max.y) & (b.min.y <= a.max.y) &
            (a.min.z <= b.max.z) & (b.min.z <= a.max.z)) != 0;
  }
  /// Where the ray enters the box, in lengths of its direction, 0 from inside; NaN when it does not.
  static float entry(const Bounds& box, glm::vec3 origin, glm::vec3 inverse);
  static bool hit(const Bounds& box, glm::vec3 origin, glm::vec3 inverse) {
    return entry(box, origin, inverse) >= 0;
  }
  static float away2(const Bounds& box, glm::vec3 point) {
    const glm::vec3 d = glm::max(glm::max(box.min - point, point - box.max), glm::vec3(0));
    return glm::dot(d, d);
  }
  template <class Enter, class Visit>
  void walk(Enter enter, Visit visit) const {
    if (nodes_.empty()) return;
    uint32_t stack[64];
    int depth = 0;
    stack[depth++] = 0;
    while (depth > 0) {
      const uint32_t at = stack[--depth];
      const Node& node = nodes_[at];
      if (!enter(node.box)) continue;
      if (node.second != 0) {
        stack[depth++] = node.second;
        stack[depth++] = at + 1;
        continue;
      }
      for (uint32_t i = node.begin; i < node.end; ++i)
        if (enter(boxes_[i]) && !visit(items_[i])) return;
    }
  }
  void split(std::vector<Item>& items, uint32_t node, uint32_t begin, uint32_t end, int parallel_levels);

  std::vector<Node> nodes_;
  std::vector<uint32_t> items_;
  std::vector<Bounds> boxes_;  // by place in `items_`
};

/// The boxes of triangles (3 x n places) over positions; empty for one with a corner that is not finite.
std::vector<Bounds> triangleBoxes(std::span<const glm::vec3> positions, std::span<const uint32_t> corners);

}  // namespace rakugo::geometry
