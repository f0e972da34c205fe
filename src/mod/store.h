// Loading and saving a mod folder, taking sources in, starting a mod.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "base/result.h"
#include "mod/documents.h"

namespace rakugo::mod {

/// Reads every document of a mod. Errors: mod.not_a_mod, mod.newer_format, json.*, with file and place. On
/// failure nothing is changed.
base::Result<ModState> loadMod(const std::filesystem::path& folder);

/// Writes what differs from disk: documents and icons, each atomically; removes documents and icons that
/// `before` had and `state` no longer has. Sources' own files are never written. Errors: file.unwritable;
/// what was written before stays whole.
base::Status saveMod(const std::filesystem::path& folder, const ModState& state, const ModState& before);

/// Makes a mod folder for a rulebook. The id is a slug of the title with a short random tail.
/// Errors: mod.exists (the folder is not empty), file.unwritable.
base::Result<ModState> newMod(const std::filesystem::path& folder, const std::string& title,
                              const std::string& rulebook, const std::string& rulebook_version);

/// Copies `file` and the files it names (paths relative to it, as `named`) into sources/<name>/ and describes
/// them. A named file that is missing, or has another letter case, is left out or copied under its own name;
/// the reader says so. The state's documents are not saved. The result is the source's name. Errors: file.*.
base::Result<std::string> takeSource(const std::filesystem::path& folder, ModState& state,
                                     const std::filesystem::path& file,
                                     const std::vector<std::string>& named);

/// A name that is not taken in `taken`: the slug of `wanted`, with "-2", "-3" as needed.
template <class Map>
std::string freeName(const Map& taken, const std::string& wanted) {
  std::string name = wanted;
  for (int n = 2; taken.count(name) != 0; ++n) name = wanted + "-" + std::to_string(n);
  return name;
}

/// All files of the mod but those under build/, relative, sorted.
std::vector<std::string> modFiles(const std::filesystem::path& folder);

}  // namespace rakugo::mod
