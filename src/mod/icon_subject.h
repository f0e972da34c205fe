// What an object's icon shows, as far as the mod's documents say: by it an icon is known to be older than its
// object.
#pragma once

#include <string>

#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::mod {

/// Sixteen hexadecimal digits over all that changes how the object looks: its models, where they stand, their
/// steps and the files of their sources. Not its card, its lamps, its points, its sounds, nor what the game
/// shows apart from it. Empty for no such object.
std::string iconSubject(const ModState& mod, const std::string& object, const rulebook::Rulebook& book);

}  // namespace rakugo::mod
