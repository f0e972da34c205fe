// One call from an examined mod to a verified bundle.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "check/examiner.h"

namespace rakugo::build {

/// The bundle's bytes. Equal mods and rulebooks give equal bytes, wherever they lie.
/// Errors: build.refused (names the first findings that stop), picture.*, bundle.*, job.cancelled.
base::Result<base::Bytes> buildBundle(const check::Examination& examination,
                                      base::Progress* progress = nullptr);

/// Where a build goes when nothing else is said: <mod>/build/<mod id>.rkb
std::filesystem::path defaultOutput(const check::Examination& examination);

/// Builds, verifies the bytes with the bundle's own reader, writes to a temporary file and renames it to
/// `output`. On any error `output` is as it was. Errors: as buildBundle, build.verify, file.unwritable.
base::Status buildToFile(const check::Examination& examination, const std::filesystem::path& output,
                         base::Progress* progress = nullptr);

struct Installed {
  std::filesystem::path path;      ///< of the installed bundle
  std::filesystem::path previous;  ///< where what was there is kept; empty when there was none
};

/// Verifies the bundle and copies it to <game>/mods/<mod id>.rkb; a different one that was there is kept
/// beside it as <mod id>.rkb.previous. Errors: build.verify, file.*, bundle.*.
base::Result<Installed> installBundle(const std::filesystem::path& bundle, const std::filesystem::path& game);

}  // namespace rakugo::build
