// Where something that is moved along a direction comes to rest: on a grid, or level with what is near.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "geometry/bounds.h"
#include "prepare/objects/collision_shapes.h"

namespace rakugo::prepare {

/// A place along the direction, in metres from the origin, and what is there, for people.
struct SnapTarget {
  double at_m = 0;
  std::string what;
};

struct SnapOptions {
  double step_m = 0;   ///< whole multiples of it; 0: no grid
  double reach_m = 0;  ///< targets nearer than this draw it; 0: none do
};
struct Snapped {
  double at_m = 0;
  std::string to;  ///< the target that drew it; empty: none
};
/// The nearest target within reach, of equal ones the first; else the grid; else the place itself. A place
/// that is not finite stays as it is.
Snapped snapped(double at_m, std::span<const SnapTarget> targets, const SnapOptions& options);

/// What a piece can be level with along a unit vector of the object's space: the object's origin, the origins
/// of its other pieces, and the ends and the middle of those that are models. What goes along with the piece
/// is left out: what it carries, and its pair.
std::vector<SnapTarget> levelsOf(const mod::ObjectDoc& object, const std::string& piece,
                                 const glm::dvec3& along, const ModelOf& model);

/// What a point of a model can be level with along a unit vector of the model's space: the origin, the other
/// points but its pair, and the ends and the middle of the model's box.
std::vector<SnapTarget> levelsOf(const mod::ModelDoc& doc, const std::string& point, const glm::dvec3& along,
                                 const geometry::Bounds& box_m, const rulebook::Kind* kind);

}  // namespace rakugo::prepare
