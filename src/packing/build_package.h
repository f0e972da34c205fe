// One call from an examined mod to a verified package of the sort that its game takes.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "check/examiner.h"
#include "packing/package_cache.h"

namespace rakugo::packing {

struct BuildOptions {
  base::Progress* progress = nullptr;  ///< says each item; cancelling leaves no trace
  BuildCache* cache = nullptr;         ///< null: everything is made
  bool despite_findings = false;  ///< for tests of what the game does with a mod that should not be built
  std::string target;             ///< an id of the rulebook's targets; empty: the usual one
  /// Pictures are stored in block formats many times quicker, and a little worse: for trying out, not for
  /// what is given to others.
  bool quick_pictures = false;
};

/// The package's bytes. Equal mods and rulebooks give equal bytes, wherever they lie and whatever the cache
/// holds. Entries are made on all cores. Errors: build.refused (names the first findings that stop),
/// build.target, picture.*, bundle.*, zip.*, job.cancelled.
base::Result<base::Bytes> buildPackage(const check::Examination& examination,
                                       const BuildOptions& options = {});

/// Where a build goes when nothing else is said: <mod>/build/<mod id>.rkb or .zip, for another target than
/// the usual one <mod id>-<target>.rkb.
std::filesystem::path defaultOutput(const check::Examination& examination, const std::string& target = {});
/// The folder of a mod's cache: <mod>/build/cache
std::filesystem::path cacheFolder(const std::filesystem::path& mod);

struct Built {
  size_t entries = 0, reused = 0;
  uint64_t bytes = 0;
};

/// Builds, reads the bytes with the package's own reader, writes to a temporary file and renames it to
/// `output`. Entries are compared with their content when they are made, and with their SHA-256 when they
/// come from the cache. On any error `output` is as it was. Errors: as buildPackage, build.verify,
/// file.unwritable.
base::Result<Built> buildToFile(const check::Examination& examination, const std::filesystem::path& output,
                                const BuildOptions& options = {});

}  // namespace rakugo::packing
