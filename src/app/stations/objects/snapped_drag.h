// A drag in the bench that comes to rest on the grid or level with what is near, and says with what.
#pragma once

#include <functional>

#include "app/bench/bench.h"
#include "app/stations/objects/place_editor.h"

namespace rakugo::app {

/// Targets along a unit vector, in the space of the position.
using LevelsAlong = std::function<std::vector<prepare::SnapTarget>(const glm::dvec3& along)>;

/// Where a drag by `by_m` (along one axis, as the arrows drag) takes a position: metres, to a millimetre.
/// What it is level with is written beside it in the bench; `to_scene` takes positions to the scene's space.
std::array<double, 3> snappedDrag(Bench& bench, const PlaceEditor& editor,
                                  const std::array<double, 3>& from_m, const glm::vec3& by_m,
                                  const LevelsAlong& levels, const glm::mat4& to_scene = glm::mat4(1));

/// Adds the places at which a line through a place meets the scene's own model, nearest to it and farthest.
void addSurfaces(const BenchScene& scene, const std::array<double, 3>& through_m, const glm::dvec3& along,
                 std::vector<prepare::SnapTarget>& levels);

/// Where a click on the surface puts something: the vertex, or the middle of an edge or face, that lies near
/// on the picture while the editor draws to what is near; else the place itself. In the scene's space;
/// metres.
glm::vec3 putPlace(Bench& bench, const PlaceEditor& editor, const BenchHit& hit);

}  // namespace rakugo::app
