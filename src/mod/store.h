// Loading and saving a mod folder, starting a mod.
#pragma once

#include <filesystem>
#include <set>
#include <string>
#include <vector>

#include "base/jobs.h"
#include "base/result.h"
#include "mod/documents.h"

namespace rakugo::mod {

/// What the files of a mod's documents held when we last read or wrote them: path -> SHA-256 in hex.
using Footprint = std::map<std::string, std::string>;

/// Paths of the documents and icons that lie in a mod folder, sorted. Links are not followed: one could bring
/// in any file of the machine.
std::vector<std::string> documentFiles(const std::filesystem::path& folder);

/// Reads every document of a mod, and what the files held into `footprint` when one is given. Errors:
/// mod.not_a_mod, mod.newer_format, json.*, with file and place; job.cancelled. On failure nothing is
/// changed.
base::Result<ModState> loadMod(const std::filesystem::path& folder, Footprint* footprint = nullptr,
                               const base::Progress* progress = nullptr);

/// Writes what differs from disk: documents and icons, each atomically; removes documents and icons that
/// `before` had and `state` no longer has. Sources' own files are never written. With a `footprint`, a file
/// that another program changed since is not written over: nothing is written then; after a save the
/// footprint is that of the files written. Errors: mod.changed_on_disk, file.unwritable; what was written
/// before stays whole.
base::Status saveMod(const std::filesystem::path& folder, const ModState& state, const ModState& before,
                     Footprint* footprint = nullptr);

/// Makes a mod folder for a rulebook. The id is a slug of the title with a short random tail and in none of
/// `taken`. Errors: mod.exists (the folder is not empty), file.unwritable.
base::Result<ModState> newMod(const std::filesystem::path& folder, const std::string& title,
                              const std::string& rulebook, const std::string& rulebook_version,
                              const std::set<std::string>& taken = {});

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
