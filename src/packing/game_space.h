// From Rakugo's space (metres, right-handed, axes as the game's) to the game's own units and handedness.
#pragma once

#include <array>
#include <cmath>
#include <glm/glm.hpp>
#include <glm/gtc/quaternion.hpp>

#include "rulebook/rulebook.h"

namespace rakugo::packing {

/// The first N components of a vector, as records hold them.
template <size_t N, class V>
std::array<float, N> arrayOf(const V& v) {
  std::array<float, N> out;
  for (size_t i = 0; i < N; ++i) out[i] = v[static_cast<int>(i)];
  return out;
}

/// In a left-handed game the axis to the side is turned round: what is left stays left, and its coordinate
/// changes sign. Triangles then wind the other way.
struct GameSpace {
  double unit_m = 1;
  int mirrored = -1;  ///< 0, 1 or 2: that coordinate changes sign; -1: none

  GameSpace() = default;
  explicit GameSpace(const rulebook::Rulebook& book) : unit_m(book.unit_m) {
    if (book.right_handed) return;
    const glm::vec3 side = book.side();
    mirrored = std::abs(side.x) > 0.5F ? 0 : std::abs(side.y) > 0.5F ? 1 : 2;
  }
  [[nodiscard]] glm::vec3 direction(glm::vec3 v) const {
    if (mirrored >= 0) v[mirrored] = -v[mirrored];
    return v;
  }
  [[nodiscard]] glm::vec3 position(glm::vec3 v_m) const {
    return direction(v_m) / static_cast<float>(unit_m);
  }
  /// The same rotation seen in the mirror: of its axis the part along the normal stays, the rest changes
  /// sign.
  [[nodiscard]] glm::quat turn(glm::quat q) const {
    for (int c = 0; c < 3; ++c)
      if (mirrored >= 0 && c != mirrored) q[c] = -q[c];
    return q;
  }
};

}  // namespace rakugo::packing
