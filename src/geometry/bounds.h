// Axis-aligned boxes.
#pragma once

#include <cmath>
#include <glm/glm.hpp>
#include <limits>
#include <span>

namespace rakugo::geometry {

/// An axis-aligned box. Empty until the first point: `min` is then above `max`.
struct Bounds {
  glm::vec3 min{std::numeric_limits<float>::max()};
  glm::vec3 max{std::numeric_limits<float>::lowest()};

  [[nodiscard]] bool empty() const { return min.x > max.x; }
  [[nodiscard]] glm::vec3 size() const { return empty() ? glm::vec3(0) : max - min; }
  [[nodiscard]] glm::vec3 center() const { return empty() ? glm::vec3(0) : (min + max) * 0.5F; }
  /// Takes in a point; a point that is not finite is ignored.
  void add(glm::vec3 p) {
    constexpr float kMost = std::numeric_limits<float>::max();
    if (!(std::abs(p.x) < kMost && std::abs(p.y) < kMost && std::abs(p.z) < kMost)) return;
    min = glm::min(min, p);
    max = glm::max(max, p);
  }
  void add(const Bounds& other) {
    if (other.empty()) return;
    add(other.min);
    add(other.max);
  }
  /// Whether all of the other box lies within this one.
  [[nodiscard]] bool contains(const Bounds& other) const {
    return glm::all(glm::lessThanEqual(min, other.min)) && glm::all(glm::greaterThanEqual(max, other.max));
  }
};

/// The box of `positions` (n x 3). NaN and infinite positions are ignored. Cost: linear.
Bounds boundsOf(std::span<const glm::vec3> positions);
/// The same, of positions moved by `matrix`.
Bounds boundsOf(std::span<const glm::vec3> positions, const glm::mat4& matrix);

}  // namespace rakugo::geometry
