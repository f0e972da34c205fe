// A box that is moved, turned and scaled.
#pragma once

#include "geometry/bounds.h"

namespace rakugo::geometry {

/// The axis-aligned box of the eight corners of `box` moved by `matrix`; empty for an empty one.
inline Bounds movedBox(const Bounds& box, const glm::mat4& matrix) {
  Bounds out;
  if (box.empty()) return out;
  for (int corner = 0; corner < 8; ++corner) {
    const glm::vec3 at((corner & 1) != 0 ? box.max.x : box.min.x, (corner & 2) != 0 ? box.max.y : box.min.y,
                       (corner & 4) != 0 ? box.max.z : box.min.z);
    out.add(glm::vec3(matrix * glm::vec4(at, 1)));
  }
  return out;
}

}  // namespace rakugo::geometry
