#include "geometry/bounds.h"

namespace rakugo::geometry {

Bounds boundsOf(std::span<const glm::vec3> positions) {
  Bounds out;
  for (const glm::vec3& p : positions) out.add(p);
  return out;
}

Bounds boundsOf(std::span<const glm::vec3> positions, const glm::mat4& matrix) {
  Bounds out;
  for (const glm::vec3& p : positions) out.add(glm::vec3(matrix * glm::vec4(p, 1)));
  return out;
}

}  // namespace rakugo::geometry
