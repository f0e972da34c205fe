// The demo mod of things as they come from their makers with faults of size and structure: a tug, a coat in
// two sizes, a pier block; and the body that coats are worn on.
#pragma once

#include <filesystem>

#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::demo {

/// The body under a coat, in the game's axes: head and hands are open where an outfit's seams are; the rest
/// are closed shells called as the regions they belong to.
scene::Model coatBody();

/// Writes the mod's folder below `mods`.
void writeSlipway(const std::filesystem::path& mods, const rulebook::Rulebook& book);

}  // namespace rakugo::demo
