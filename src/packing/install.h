// The game's mods folder: putting a package in, taking it out again, and saying what lies there.
//
// Invariants:
//  1. What another program put there is kept under mods/.rakugo/kept before a package of ours takes its
//  place, and
//     is put back when ours is taken out.
//  2. mods/.rakugo/ledger.json says which files are ours, by SHA-256. It is written before a file is, so that
//  a kill
//     at any moment leaves either the old file or the new one, and never one of ours taken for another's.
//  3. A file that is not the one we installed is not removed.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "check/context.h"
#include "packing/package.h"

namespace rakugo::packing {

struct Installed {
  std::filesystem::path path;  ///< of the installed package
  std::filesystem::path kept;  ///< where another's file that was there is kept; empty when there was none
};

/// Verifies the package and copies it to <game>/mods/<mod id>.<suffix>. Errors: build.verify, file.*,
/// bundle.*, zip.*, install.ledger, job.cancelled (until the first byte is written; then it goes on).
base::Result<Installed> installPackage(const std::filesystem::path& package,
                                       const std::filesystem::path& game, base::Progress* progress = nullptr);

/// Takes a mod that Rakugo installed out again and puts back what was there before. The result is what was
/// put back, or an empty path. Errors: install.unknown (no such mod of ours there), install.changed (another
/// program has replaced it), file.*, install.ledger.
base::Result<std::filesystem::path> uninstallMod(const std::string& mod_id,
                                                 const std::filesystem::path& game);

/// One package in a game's mods folder.
struct InstalledPackage {
  std::filesystem::path path;
  bool ours = false;  ///< put there by Rakugo, and unchanged since
  bundle::Manifest manifest;
  uint64_t bytes = 0;
  std::string problem;  ///< why it cannot be read; then the manifest is empty
};

/// Everything in the mods folder, in the order in which the game loads it: bytewise by file name. A missing
/// folder gives an empty list.
std::vector<InstalledPackage> listInstalled(const std::filesystem::path& game);

/// The same for the checks of a mod: what can be read, with the ids of what it defines.
std::vector<check::InstalledMod> installedMods(const std::filesystem::path& game);

/// A thing that several installed mods define: the last in the game's order wins.
struct Contest {
  std::string object;             ///< entry id
  std::vector<std::string> mods;  ///< ids, in the game's order; the last one wins
};
std::vector<Contest> contests(const std::vector<InstalledPackage>& installed);

}  // namespace rakugo::packing
