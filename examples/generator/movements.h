// What the harbour's keepers do: the game's own skeleton with its movements.
#pragma once

#include "base/bytes.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::demo {

/// The bones of a skeleton as nodes in the game's axes, at rest, with one animation for each of the harbour's
/// movements. No mesh.
scene::Model keeperMovements(const rulebook::Skeleton& skeleton);

/// The same as the stand-in game holds it: a bundle of a skeleton and animations, nothing packed, so that its
/// bytes do not depend on a compressor.
base::Bytes movementsBundle(const scene::Model& movements);

}  // namespace rakugo::demo
