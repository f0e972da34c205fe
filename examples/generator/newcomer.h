// The demo mod "Newcomer": a keeper by another maker, whose bones are called, hung and turned in another way
// than the game's.
#pragma once

#include <filesystem>

#include "rulebook/rulebook.h"

namespace rakugo::demo {

void writeNewcomer(const std::filesystem::path& mods, const rulebook::Rulebook& book);

}  // namespace rakugo::demo
