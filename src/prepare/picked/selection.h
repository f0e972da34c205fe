// What a person picked of a part in the bench, kept so that it finds its place again on a newer source: by
// part and position, never by vertex numbers.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/json_fwd.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// A vertex is picked when it belongs to the part and to everything else that is given here. Positions are in
/// the space of the model that the step sees, in its lengths. docs/mod-folder.md has the JSON.
struct Selection {
  std::string part;  ///< key
  /// The closed outline that was drawn, as places on a plane across the line of sight; at least three. A
  /// vertex is inside when it is seen inside: from `eye`, or along `toward` where there is no eye.
  std::vector<glm::vec3> outline;
  std::optional<glm::vec3> eye, toward;
  bool front_only = false;            ///< not what the part itself hides from where one looked
  std::optional<glm::vec3> piece_at;  ///< the loose piece that has a vertex nearest to this place
  std::string material;               ///< key; triangles of this material alone
  /// The box of the part when it was picked: a part that is the same but for its size or place has the
  /// selection carried along with it.
  geometry::Bounds seen;
};

base::Json toJson(const Selection& selection);
/// Nothing, and why, where the values are no selection.
std::optional<Selection> selectionFrom(const base::Json& values, std::string& why);

/// The selection as it is when everything it is drawn in moves by `shift`.
Selection shifted(const Selection& selection, glm::vec3 shift);

/// What is picked of the part's mesh, by vertex of the whole (`scene::placedMesh`).
struct Picked {
  scene::NodeIndex part;
  std::vector<glm::vec3> at;  ///< where each vertex stands, in the model's space
  std::vector<bool> vertices;
  uint64_t places = 0;  ///< vertices of equal position count once
};
/// Nothing, and why, when the part is gone, has no mesh, or nothing of it lies in the selection. Skinned
/// parts are picked as their bones put them at rest, which is how they are seen. Cost: linear; with
/// `front_only` a ray a vertex.
std::optional<Picked> pick(const scene::Model& model, const Selection& selection, std::string& why);

/// Falloff around the selection: 1 for the picked vertices, decreasing smoothly to 0 at the distance `radius`
/// (in the model's lengths) from the nearest picked vertex.
std::vector<float> softened(const Picked& picked, float radius);

/// The places of what is picked, each once.
std::vector<glm::vec3> pickedPlaces(const Picked& picked);

}  // namespace rakugo::prepare
