// Where a program keeps what is not a person's own work: the folders of the XDG Base Directory Specification
// 0.8.
#pragma once

#include <filesystem>

namespace rakugo::base {

/// $XDG_STATE_HOME/rakugo, else ~/.local/state/rakugo: journals of unsaved edits, logs. Not made here.
std::filesystem::path stateFolder();
/// $XDG_CACHE_HOME/rakugo, else ~/.cache/rakugo: what can be made again.
std::filesystem::path cacheFolder();
/// $XDG_DATA_HOME, else ~/.local/share; the folder of all programs' data.
std::filesystem::path dataHome();

}  // namespace rakugo::base
