#include "geometry/bvh.h"

#include <algorithm>

#include "base/jobs.h"
#include "geometry/finite.h"

namespace rakugo::geometry {

namespace {

// How many nodes a tree of so many items has: with halves, only two sizes a level differ.
uint32_t nodesOf(uint32_t items, uint32_t leaf) {
  uint32_t out = 0, small = items, of_small = 1, of_large = 0;  // `large` is one more than `small`
  while (of_small + of_large > 0) {
    out += of_small + of_large;
    const uint32_t split_small = small > leaf ? of_small : 0, split_large = small + 1 > leaf ? of_large : 0;
    // An even number halves into two of its half, an odd one into its half and one more.
    const bool even = small % 2 == 0;
    of_small = even ? 2 * split_small + split_large : split_small;
    of_large = even ? split_large : split_small + 2 * split_large;
    small /= 2;
  }
  return out;
}

}  // namespace

Bvh::Bvh(std::span<const Bounds> boxes) {
  std::vector<Item> items;
  items.reserve(boxes.size());
  for (uint32_t i = 0; i < boxes.size(); ++i)
    if (!boxes[i].empty()) items.push_back({boxes[i].center(), i});
  if (items.empty()) return;
  const auto count = static_cast<uint32_t>(items.size());
  nodes_.resize(nodesOf(count, kLeaf));
  split(items, 0, 0, count, 4);
  items_.reserve(count);
  boxes_.reserve(count);
  for (const Item& item : items) {
    items_.push_back(item.number);
    boxes_.push_back(boxes[item.number]);
  }
  // From the last to the first, for children come after their parents.
  for (size_t at = nodes_.size(); at-- > 0;) {
    Node& node = nodes_[at];
    if (node.second != 0) {
      node.box = nodes_[at + 1].box;
      node.box.add(nodes_[node.second].box);
    } else {
      for (uint32_t i = node.begin; i < node.end; ++i) node.box.add(boxes_[i]);
    }
  }
}

void Bvh::split(std::vector<Item>& items, uint32_t node, uint32_t begin, uint32_t end, int parallel_levels) {
  struct Open {
    uint32_t node, begin, end;
  };
  std::vector<Open> open = {{node, begin, end}};
  while (!open.empty()) {
    const Open now = open.back();
    open.pop_back();
    nodes_[now.node].begin = now.begin;
    nodes_[now.node].end = now.end;
    if (now.end - now.begin <= kLeaf) continue;
    glm::vec3 low = items[now.begin].center, high = low;
    for (uint32_t i = now.begin + 1; i < now.end; ++i) {
      low = glm::min(low, items[i].center);
      high = glm::max(high, items[i].center);
    }
    const glm::vec3 size = high - low;
    const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    const uint32_t half = now.begin + (now.end - now.begin) / 2;
    std::nth_element(items.begin() + now.begin, items.begin() + half, items.begin() + now.end,
                     [axis](const Item& a, const Item& b) {
                       return a.center[axis] < b.center[axis] ||
                              (a.center[axis] == b.center[axis] && a.number < b.number);
                     });
    nodes_[now.node].second = now.node + 1 + nodesOf(half - now.begin, kLeaf);
    const Open children[] = {{now.node + 1, now.begin, half}, {nodes_[now.node].second, half, now.end}};
    if (parallel_levels > 0 && now.end - now.begin > 4096) {
      base::parallelFor(2, [&](size_t k) {
        split(items, children[k].node, children[k].begin, children[k].end, parallel_levels - 1);
      });
    } else {
      open.push_back(children[1]);
      open.push_back(children[0]);
    }
  }
}

float Bvh::entry(const Bounds& box, glm::vec3 origin, glm::vec3 inverse) {
  float near = 0, far = std::numeric_limits<float>::max();
  for (int i = 0; i < 3; ++i) {
    float a = (box.min[i] - origin[i]) * inverse[i], b = (box.max[i] - origin[i]) * inverse[i];
    // 0 times infinity, of either sign: the ray runs within a side's plane, and so between the two.
    if (a != a || b != b) continue;
    if (a > b) std::swap(a, b);
    near = std::max(near, a);
    far = std::min(far, b);
  }
  // A little longer than the box, for the two products are rounded.
  return near <= far * 1.000001F + 1e-30F ? near : std::numeric_limits<float>::quiet_NaN();
}

std::vector<Bounds> triangleBoxes(std::span<const glm::vec3> positions, std::span<const uint32_t> corners) {
  std::vector<Bounds> out(corners.size() / 3);
  for (size_t t = 0; t < out.size(); ++t) {
    const glm::vec3 a = positions[corners[t * 3]], b = positions[corners[t * 3 + 1]],
                    c = positions[corners[t * 3 + 2]];
    if (!finite(a) || !finite(b) || !finite(c)) continue;
    out[t].add(a);
    out[t].add(b);
    out[t].add(c);
  }
  return out;
}

}  // namespace rakugo::geometry
