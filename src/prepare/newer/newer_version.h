// A newer version of a source: looked at before it is taken, taken with the preparation that stands on it.
#pragma once

#include "mod/documents.h"
#include "prepare/newer/incoming.h"
#include "prepare/newer/source_differences.h"

namespace rakugo::prepare {

/// A newer version beside the one in the mod.
struct NewerVersion {
  std::string source;
  Incoming incoming;
  NewerDifference difference;
  std::map<std::string, std::vector<Misfit>> misfits;  ///< by model that is made of the source
};

/// Reads `given` and compares it with the source of the mod. Errors: mod.no_source, those of `readIncoming`,
/// and source.no_model when either is a picture or a sound and the other is not.
base::Result<NewerVersion> readNewer(const std::filesystem::path& mod_folder, const mod::ModState& state,
                                     const std::string& source, const Given& given,
                                     base::Progress* progress = nullptr);

/// Copies the newer version into the mod's folder, beside the present one, and remembers where it is from;
/// files that a preparation takes pictures from are copied along. The result is the source's record with it.
/// The documents are as they were. Errors: file.*.
base::Result<mod::SourceDoc> copyNewer(const std::filesystem::path& mod_folder, const mod::ModState& state,
                                       const NewerVersion& newer, const base::Progress* progress = nullptr);

/// Puts the record in and lets the preparations name the proposals that are `adopted`; the others stay as
/// they are, and their steps say what they miss.
void takeNewer(mod::ModState& state, const NewerVersion& newer, const mod::SourceDoc& doc,
               const std::map<std::string, std::vector<Misfit>>& adopted);

}  // namespace rakugo::prepare
