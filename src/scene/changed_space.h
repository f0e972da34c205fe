// A model written down in other coordinates: another unit, other axes, another handedness.
#pragma once

#include "scene/model.h"

namespace rakugo::scene {

/// Coordinates after a change: coordinate i is the old coordinate `from[i]`, times `sign[i]`, lengths times
/// `scale`.
struct SpaceChange {
  std::array<int, 3> from{0, 1, 2};    ///< each of 0, 1, 2 once
  std::array<float, 3> sign{1, 1, 1};  ///< 1 or -1
  float scale = 1;                     ///< above 0
  /// Whether it turns left into right.
  [[nodiscard]] bool mirrors() const;
  [[nodiscard]] glm::vec3 direction(const glm::vec3& v) const;
  [[nodiscard]] glm::vec3 position(const glm::vec3& v) const { return direction(v) * scale; }
  /// The same rotation in the new coordinates; also the rate of change of one.
  [[nodiscard]] glm::quat turn(const glm::quat& q) const;
  /// The same map between points in the new coordinates.
  [[nodiscard]] glm::mat4 matrix(const glm::mat4& m) const;
  /// Takes back what this does.
  [[nodiscard]] SpaceChange reversed() const;
};

/// From metres with those axes, right-handed, to units of `unit_m` metres. In a left-handed space what was to
/// the left stays to the left of what looks forward. `up` and `forward` are not on one line, nor are the
/// other two.
SpaceChange spaceChange(geometry::Axis up, geometry::Axis forward, geometry::Axis to_up,
                        geometry::Axis to_forward, bool to_right_handed, double unit_m);

/// The model in the new coordinates: meshes with normals, tangents and morph targets, nodes, skins,
/// animations. Where the change mirrors, triangles are turned round, so that (b - a) x (c - a) still points
/// out of what is closed. Cameras and lights look along an axis of their own node, which the change may not
/// keep: they are left out. Distances of LODs stay metres. Cost: linear.
Model inSpace(const Model& model, const SpaceChange& change);

}  // namespace rakugo::scene
