#include "render/camera.h"

#include <algorithm>
#include <cmath>

#include <glm/gtc/matrix_transform.hpp>

namespace rakugo::render {

glm::vec3 Camera::back() const {
  return (forward * std::cos(yaw_rad) + side() * std::sin(yaw_rad)) * std::cos(pitch_rad) +
         up * std::sin(pitch_rad);
}

glm::vec3 Camera::position() const { return target + back() * distance_m; }

glm::mat4 Camera::view() const {
  // Straight down, "up" on the screen is the way the camera would tilt.
  const glm::vec3 level = -(forward * std::cos(yaw_rad) + side() * std::sin(yaw_rad));
  const glm::vec3 screen_up = glm::normalize(level * std::sin(pitch_rad) + up * std::cos(pitch_rad));
  // The rotation does not come from the position: far from the origin a float has no room for the difference.
  return glm::lookAt(glm::vec3(0), -back(), screen_up) * glm::translate(glm::mat4(1), -position());
}

glm::mat4 Camera::projection(float aspect) const {
  const float near = distance_m * 0.02F, far = distance_m * 60;
  if (parallel) {
    const float half = distance_m * std::tan(field_of_view_rad / 2);
    return glm::ortho(-half * aspect, half * aspect, -half, half, -far, far);
  }
  return glm::perspective(field_of_view_rad, aspect, near, far);
}

std::optional<glm::vec3> Camera::project(glm::vec3 point, glm::vec2 size) const {
  const glm::vec4 clip = projection(size.x / size.y) * view() * glm::vec4(point, 1);
  if (clip.w <= 1e-6F) return std::nullopt;
  const glm::vec3 ndc = glm::vec3(clip) / clip.w;
  if (!std::isfinite(ndc.x) || !std::isfinite(ndc.y) || !std::isfinite(ndc.z)) return std::nullopt;
  return glm::vec3((ndc.x * 0.5F + 0.5F) * size.x, (0.5F - ndc.y * 0.5F) * size.y, ndc.z * 0.5F + 0.5F);
}

void Camera::ray(glm::vec2 pixel, glm::vec2 size, glm::vec3& origin, glm::vec3& direction) const {
  const glm::mat4 back = glm::inverse(projection(size.x / size.y) * view());
  const glm::vec2 ndc(pixel.x / size.x * 2 - 1, 1 - pixel.y / size.y * 2);
  glm::vec4 a = back * glm::vec4(ndc, -1, 1), b = back * glm::vec4(ndc, 1, 1);
  a /= a.w;
  b /= b.w;
  origin = glm::vec3(a);
  direction = glm::normalize(glm::vec3(b) - glm::vec3(a));
}

void Camera::orbit(glm::vec2 pixels) {
  yaw_rad -= pixels.x * 0.008F;
  pitch_rad = std::clamp(pitch_rad + pixels.y * 0.008F, -1.5707F, 1.5707F);
  parallel = false;
}

void Camera::pan(glm::vec2 pixels, glm::vec2 size) {
  const glm::mat4 v = view();
  const glm::vec3 right(v[0][0], v[1][0], v[2][0]), top(v[0][1], v[1][1], v[2][1]);
  const float scale = 2 * distance_m * std::tan(field_of_view_rad / 2) / size.y;
  target += (-right * pixels.x + top * pixels.y) * scale;
}

void Camera::zoomAt(float factor, glm::vec2 pixel, glm::vec2 size) {
  const float wanted = std::clamp(distance_m * factor, 0.01F, 5000.0F);
  const float real = wanted / distance_m;
  const glm::vec2 off = pixel - size * 0.5F;
  pan(-off * (1 - real), size);
  distance_m = wanted;
}

void Camera::fit(glm::vec3 min, glm::vec3 max, float aspect) {
  target = min + (max - min) * 0.5F;
  distance_m = 1;  // the way it looks is what matters; from beyond all numbers it would look nowhere
  // Each corner asks for a distance at which it lies inside the middle 86 % of the picture; the largest wins.
  constexpr float kInside = 0.86F;
  const glm::mat4 v = view();
  const glm::vec3 right(v[0][0], v[1][0], v[2][0]), top(v[0][1], v[1][1], v[2][1]),
      towards(v[0][2], v[1][2], v[2][2]);
  const float half_y = std::tan(field_of_view_rad / 2) * kInside, half_x = half_y * aspect;
  float wanted = 0.01F;
  for (int corner = 0; corner < 8; ++corner) {
    const glm::vec3 p = glm::vec3((corner & 1) != 0 ? max.x : min.x, (corner & 2) != 0 ? max.y : min.y,
                                  (corner & 4) != 0 ? max.z : min.z) -
                        target;
    const float nearer = parallel ? 0 : glm::dot(p, towards);
    wanted = std::max({wanted, std::abs(glm::dot(p, right)) / half_x + nearer,
                       std::abs(glm::dot(p, top)) / half_y + nearer});
  }
  distance_m = wanted;
}

}  // namespace rakugo::render
