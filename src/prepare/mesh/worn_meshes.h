// Meshes as parts wear them with a skin.
#pragma once

#include <functional>

#include "scene/model.h"

namespace rakugo::prepare {

/// Calls edit(mesh, part) once for each mesh that parts wear with a skin, on a copy that is kept when it
/// returns true; all those parts then wear it. A mesh that is worn with two skins, or without one too,
/// becomes two.
void eachWorn(scene::Model& model, scene::SkinIndex skin,
              const std::function<bool(scene::Mesh& mesh, scene::NodeIndex part)>& edit);

}  // namespace rakugo::prepare
