// The harbour's own things, as the game has them: a market stall.
#pragma once

#include <filesystem>

#include "scene/model.h"

namespace rakugo::demo {

/// A stall of planks on trestles under a striped awning, with a crate of fish and a basket on its table: 2 m
/// wide, its front along +X. The first game's axes; `planks`: the picture that the boards name.
scene::Model marketStall(const std::string& planks);

/// Builds the harbour's own things into the bundle that the first game's rulebook names, and the same into
/// the stand-in game. `root`: of the source tree.
void writeHarbourThings(const std::filesystem::path& root);

}  // namespace rakugo::demo
