#include "geometry/bvh.h"

#include <algorithm>
#include <numeric>

#include "geometry/finite.h"

namespace rakugo::geometry {

Bvh::Bvh(std::span<const Bounds> boxes) {
  std::vector<glm::vec3> centers(boxes.size());
  for (uint32_t i = 0; i < boxes.size(); ++i) {
    centers[i] = boxes[i].center();
    if (!boxes[i].empty()) items_.push_back(i);
  }
  boxes_.assign(boxes.begin(), boxes.end());
  if (items_.empty()) return;
  nodes_.reserve(items_.size());
  build(centers, 0, static_cast<uint32_t>(items_.size()));
  std::vector<Bounds> sorted;
  sorted.reserve(items_.size());
  for (const uint32_t i : items_) sorted.push_back(boxes_[i]);
  boxes_ = std::move(sorted);
}

// The halves are equal in number, so that the tree is no deeper than the number of items has bits.
void Bvh::build(std::span<const glm::vec3> centers, uint32_t begin, uint32_t end) {
  struct Open {
    uint32_t begin, end, parent;
  };
  std::vector<Open> open = {{begin, end, UINT32_MAX}};
  while (!open.empty()) {
    const Open now = open.back();
    open.pop_back();
    const auto at = static_cast<uint32_t>(nodes_.size());
    if (now.parent != UINT32_MAX) nodes_[now.parent].begin = at;
    Node node;
    Bounds middle;
    for (uint32_t i = now.begin; i < now.end; ++i) {
      node.box.add(boxes_[items_[i]]);
      middle.add(centers[items_[i]]);
    }
    if (now.end - now.begin <= kLeaf) {
      node.begin = now.begin;
      node.count = now.end - now.begin;
      nodes_.push_back(node);
      continue;
    }
    nodes_.push_back(node);
    const glm::vec3 size = middle.size();
    const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    const uint32_t half = now.begin + (now.end - now.begin) / 2;
    std::nth_element(items_.begin() + now.begin, items_.begin() + half, items_.begin() + now.end,
                     [&](uint32_t a, uint32_t b) {
                       return centers[a][axis] < centers[b][axis] ||
                              (centers[a][axis] == centers[b][axis] && a < b);
                     });
    // The first child follows its parent; the second says where it lies once it is there.
    open.push_back({half, now.end, at});
    open.push_back({now.begin, half, UINT32_MAX});
  }
}

bool Bvh::hit(const Bounds& box, glm::vec3 origin, glm::vec3 inverse) {
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
  return near <= far * 1.000001F + 1e-30F;
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
