#include "geometry/axes.h"

#include <cmath>

namespace rakugo::geometry {

std::string axisName(Axis axis) {
  static constexpr std::array<const char*, 6> kNames = {"+X", "-X", "+Y", "-Y", "+Z", "-Z"};
  return kNames[static_cast<size_t>(axis)];
}

std::optional<Axis> axisFromName(std::string_view name) {
  for (const Axis axis : kAxes)
    if (axisName(axis) == name) return axis;
  return std::nullopt;
}

glm::vec3 axisVector(Axis axis) {
  glm::vec3 out(0);
  const auto at = static_cast<int>(axis);
  out[at / 2] = at % 2 == 0 ? 1.0F : -1.0F;
  return out;
}

Axis nearestAxis(glm::vec3 direction) {
  Axis best = Axis::plus_x;
  for (const Axis axis : kAxes)
    if (glm::dot(axisVector(axis), direction) > glm::dot(axisVector(best), direction)) best = axis;
  return best;
}

bool parallel(Axis a, Axis b) { return static_cast<int>(a) / 2 == static_cast<int>(b) / 2; }

glm::mat3 quarterTurn(Axis forward, Axis up, Axis to_forward, Axis to_up) {
  if (parallel(forward, up) || parallel(to_forward, to_up)) return glm::mat3(1);
  const auto basis = [](Axis f, Axis u) {
    const glm::vec3 x = axisVector(f);
    const glm::vec3 z = axisVector(u);
    return glm::mat3(x, glm::cross(z, x), z);
  };
  const glm::mat3 turn = basis(to_forward, to_up) * glm::transpose(basis(forward, up));
  glm::mat3 exact;
  for (int c = 0; c < 3; ++c)
    for (int r = 0; r < 3; ++r) exact[c][r] = std::round(turn[c][r]);
  return exact;
}

}  // namespace rakugo::geometry
