// The demo mod whose sources came in every other open format: COLLADA, OBJ in an archive, PLY.
#pragma once

#include <filesystem>

#include "rulebook/rulebook.h"

namespace rakugo::demo {

/// Writes the mod's folder below `mods`, and what its crate was taken from, an archive as download sites hand
/// them out, into `downloads`.
void writeChandlery(const std::filesystem::path& mods, const std::filesystem::path& downloads,
                    const rulebook::Rulebook& book);

}  // namespace rakugo::demo
