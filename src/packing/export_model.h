// A prepared model leaves as files of an open format.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "check/examiner.h"

namespace rakugo::packing {

struct WrittenModel {
  std::vector<std::filesystem::path> files;  ///< the model's own among them
  std::vector<std::string> lost;             ///< what the format cannot carry, for people
};

/// Writes the prepared model of that name to `file`, whose ending says the format, and what goes with it
/// (pictures, materials) beside it. Folders are made; files that are there are replaced, each at once.
/// Errors: export.no_model (with the models there are), those of formats::exportModel and of writing.
base::Result<WrittenModel> exportPrepared(const check::Examination& examination, const std::string& model,
                                          const std::filesystem::path& file,
                                          const base::Progress* progress = nullptr);

}  // namespace rakugo::packing
