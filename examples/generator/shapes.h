// Building blocks of the demo's models: lathes, tubes, boxes. Metres, Z up, +X forward.
#pragma once

#include <cmath>
#include <functional>
#include <vector>

#include "scene/model.h"

namespace rakugo::demo {

inline constexpr float kPi = 3.14159265F;
/// A number that every library of mathematics gives alike: files made here are compared byte by byte.
inline float rounded(float v) { return std::round(v * 65536.0F) / 65536.0F; }

/// Collects triangles with smooth or sharp normals and UVs.
class Shape {
 public:
  /// Turns a profile of (radius, height) about the vertical axis through `center`. Neighbouring profile edges
  /// that bend less than `crease_deg` share normals. `u_repeat` pictures go round; one picture is `picture_m`
  /// high.
  void lathe(const std::vector<glm::vec2>& profile, int segments, glm::vec3 center, float u_repeat,
             float picture_m, float crease_deg = 30);
  /// A round pipe along a path; `radius(t)` for t in 0..1. Ends are closed.
  void tube(const std::vector<glm::vec3>& path, const std::function<float(float)>& radius, int segments,
            float u_repeat, float picture_m);
  /// A box with chamfered edges.
  void box(glm::vec3 min, glm::vec3 max, float chamfer, float picture_m);
  /// A skin over rows of points, each row of the same length; rows run along the thing, points across it.
  /// Normals are those of the surface, smooth; `flip` turns them to the other side.
  void sheet(const std::vector<std::vector<glm::vec3>>& rows, float picture_m, bool flip = false);
  /// A flat face with corners in order, seen counter-clockwise; all of it is seen from the first corner.
  void polygon(const std::vector<glm::vec3>& corners, float picture_m);
  /// Adds all of another shape.
  void add(const Shape& other);
  /// Moves what was built since vertex `from`.
  void move(size_t from, const glm::mat4& matrix);
  [[nodiscard]] size_t size() const { return primitive_.positions.size(); }
  /// The finished primitive, its vertices carried through `to_source`.
  [[nodiscard]] scene::Primitive finish(const glm::mat4& to_source, scene::MaterialIndex material) const;

 private:
  uint32_t vertex(glm::vec3 p, glm::vec3 n, glm::vec2 uv);
  void quad(uint32_t a, uint32_t b, uint32_t c, uint32_t d);
  scene::Primitive primitive_;
};

}  // namespace rakugo::demo
