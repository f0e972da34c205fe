// Places that have a name and nothing else: attachment points, and the empties by which modelling programs
// carry them.
#pragma once

#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

struct NamedPlace {
  std::string name;
  glm::vec3 position{0};
  glm::quat turn{1, 0, 0, 0};  ///< unit
  bool operator==(const NamedPlace&) const = default;
};

/// The reached nodes of a model that hold nothing: no mesh, camera, light or child, and no bone. In the
/// model's space and unit, in the order of the tree.
std::vector<NamedPlace> emptiesOf(const Model& model);

}  // namespace rakugo::scene
