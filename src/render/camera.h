// An orbit camera. Needs no context.
#pragma once

#include <glm/glm.hpp>
#include <optional>

namespace rakugo::render {

/// Looks at `target` from `distance_m` away. Yaw turns about up, pitch rises; both radians. Space:
/// right-handed with `up` and `forward` as the game has them; at yaw 0 the camera stands on the forward side
/// and looks back.
class Camera {
 public:
  glm::vec3 up{0, 0, 1}, forward{1, 0, 0};
  glm::vec3 target{0};
  float distance_m = 5, yaw_rad = 0.6F, pitch_rad = 0.3F;
  float field_of_view_rad = 0.6F;
  bool parallel = false;  ///< no perspective; the straight views use it

  [[nodiscard]] glm::vec3 position() const;
  [[nodiscard]] glm::mat4 view() const;
  [[nodiscard]] glm::mat4 projection(float aspect) const;
  /// Where a point appears in a picture of that size (pixels, y down), with depth 0..1; nothing when it is
  /// behind, or where it is beyond all numbers.
  [[nodiscard]] std::optional<glm::vec3> project(glm::vec3 point, glm::vec2 size) const;
  /// The ray through a pixel: origin and unit direction.
  void ray(glm::vec2 pixel, glm::vec2 size, glm::vec3& origin, glm::vec3& direction) const;
  /// Turns by pixels dragged.
  void orbit(glm::vec2 pixels);
  /// Moves the target with the picture.
  void pan(glm::vec2 pixels, glm::vec2 size);
  /// Nearer (factor < 1) or farther, keeping what is under `pixel` in place.
  void zoomAt(float factor, glm::vec2 pixel, glm::vec2 size);
  /// Looks at a box whole.
  void fit(glm::vec3 min, glm::vec3 max, float aspect);

 private:
  [[nodiscard]] glm::vec3 side() const { return glm::cross(up, forward); }
  /// Unit, from the target to the camera.
  [[nodiscard]] glm::vec3 back() const;
};

}  // namespace rakugo::render
