// The demo mod about surfaces: a carved figure to carry, whose nine materials come from four makers.
#pragma once

#include <filesystem>

namespace rakugo::demo {

/// Writes the mod's folder below `mods`.
void writeLampbearer(const std::filesystem::path& mods);

}  // namespace rakugo::demo
