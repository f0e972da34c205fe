#include "render/lamps.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/quaternion.hpp>

namespace rakugo::render {
namespace {

// What one candela is in the renderer's light, whose sun is far dimmer than the real one.
constexpr float kPerCandela = 0.19F;

}  // namespace

std::optional<PointLight> lightOf(const bundle::ObjectLamp& lamp, const glm::mat4& matrix, glm::vec3 forward,
                                  float on, float night) {
  if (on <= 0 || lamp.strength <= 0 || lamp.reach <= 0) return std::nullopt;
  PointLight out;
  const float scale = glm::length(glm::vec3(matrix[0]));
  out.position = glm::vec3(matrix * glm::vec4(lamp.position[0], lamp.position[1], lamp.position[2], 1));
  const glm::vec3 tone(lamp.color[0], lamp.color[1], lamp.color[2]);
  out.color = tone * lamp.strength * kPerCandela * on * scale * scale;
  out.reach = lamp.reach * scale;
  constexpr float kAllRound = 6.28F;
  if (lamp.cone < kAllRound) {
    const glm::quat turn(lamp.turn[3], lamp.turn[0], lamp.turn[1], lamp.turn[2]);
    out.direction = glm::normalize(glm::mat3(matrix) * (turn * forward));
    const float half = lamp.cone / 2;
    out.cos_edge = std::cos(half);
    out.cos_full = std::cos(half * (1 - lamp.soft));
  }
  // By day a shine is hardly seen.
  const float most = std::max({tone.x, tone.y, tone.z, 1e-4F});
  for (int c = 0; c < 3; ++c) out.halo[c] = std::pow(tone[c] / most, 1 / 2.2F) * on * (0.12F + 0.88F * night);
  return out;
}

void keepNearest(std::vector<PointLight>& lights, glm::vec3 eye) {
  if (lights.size() <= kMostLights) return;
  const auto counts = [&](const PointLight& light) {
    const glm::vec3 to = light.position - eye;
    return (light.color.x + light.color.y + light.color.z) / (glm::dot(to, to) + 1);
  };
  std::stable_sort(lights.begin(), lights.end(),
                   [&](const PointLight& a, const PointLight& b) { return counts(a) > counts(b); });
  lights.resize(kMostLights);
}

}  // namespace rakugo::render
