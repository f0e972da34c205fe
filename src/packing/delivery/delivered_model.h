// A prepared model as a game wants it in its files: which parts, in which coordinates, with which names.
#pragma once

#include <string>
#include <vector>

#include "rulebook/rulebook.h"
#include "scene/changed_space.h"

namespace rakugo::packing {

struct ModelWanted {
  /// Keys of parts, or their names; with all below them. Empty: the whole model.
  std::vector<std::string> parts;
  /// The first of the parts lies at the origin, unturned, as its mesh is stored: a wheel that the game places
  /// itself.
  bool at_own_origin = false;
  scene::SpaceChange space;  ///< from metres in the rulebook's axes
  bool clockwise = false;    ///< triangles are seen from outside with their corners clockwise
  bool v_up = false;         ///< the second texture coordinate counts from the picture's lower edge
};

/// The model with those parts, in those coordinates. Materials that have a role are called what the game
/// reads for it
/// (`kind` may be null: its id), further ones of the same role "-2", "-3" behind it; others keep their names,
/// made unique. Bones that no wanted part follows are left out. Cost: linear. Errors: delivery.part, with the
/// parts there are.
base::Result<scene::Model> modelAsWanted(const scene::Model& prepared, const rulebook::Kind* kind,
                                         const ModelWanted& wanted);

}  // namespace rakugo::packing
