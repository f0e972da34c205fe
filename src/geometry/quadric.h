// Squared distances from planes, added up.
#pragma once

#include <glm/glm.hpp>

namespace rakugo::geometry {

/// The weighted sum of squared distances from planes, as a function of a place measured from `the own
/// origin`: the vertex it belongs to. So close to where it is asked, single precision is enough.
struct Quadric {
  float xx = 0, yy = 0, zz = 0, xy = 0, xz = 0, yz = 0;
  glm::vec3 linear{0};
  float constant = 0, weight = 0;

  /// Adds a plane of unit normal `n` at `offset` (n . p + offset = 0, from the own origin). The weight of
  /// planes that only hold a line in place is not counted as surface.
  void addPlane(glm::vec3 n, float offset, float plane_weight, bool surface) {
    xx += plane_weight * n.x * n.x;
    yy += plane_weight * n.y * n.y;
    zz += plane_weight * n.z * n.z;
    xy += plane_weight * n.x * n.y;
    xz += plane_weight * n.x * n.z;
    yz += plane_weight * n.y * n.z;
    linear += plane_weight * offset * n;
    constant += plane_weight * offset * offset;
    if (surface) weight += plane_weight;
  }
  [[nodiscard]] glm::vec3 times(glm::vec3 p) const {
    return {xx * p.x + xy * p.y + xz * p.z, xy * p.x + yy * p.y + yz * p.z, xz * p.x + yz * p.y + zz * p.z};
  }
  /// The sum at `p`, not below 0.
  [[nodiscard]] float at(glm::vec3 p) const {
    return glm::max(0.0F, glm::dot(p, times(p)) + 2 * glm::dot(linear, p) + constant);
  }
  /// Adds another one whose origin lies at `from`, seen from this one's.
  void add(const Quadric& other, glm::vec3 from) {
    const glm::vec3 moved = other.times(from);
    xx += other.xx;
    yy += other.yy;
    zz += other.zz;
    xy += other.xy;
    xz += other.xz;
    yz += other.yz;
    linear += other.linear - moved;
    constant += glm::max(0.0F, other.constant - 2 * glm::dot(other.linear, from) + glm::dot(from, moved));
    weight += other.weight;
  }
};

}  // namespace rakugo::geometry
