// Taking sources in: what was given is read side by side, copied into the mod's folder, and made models and
// objects of. The window and the tool do the same.
#pragma once

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

#include "prepare/newer/incoming.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// A source that lies in the mod's folder and is not yet in its documents.
struct TakenSource {
  std::string name;    ///< in the mod
  std::string kind;    ///< that an object made of it most likely is; empty for what is no model
  std::string called;  ///< the file, as it is called where it came from
  Given given;
  mod::SourceDoc doc;
  SourceSort sort = SourceSort::model;
  size_t others = 0;  ///< models of the archive that were not taken
};

struct TakenIn {
  std::vector<TakenSource> sources;
  std::vector<base::Error> problems;  ///< one for each that could not be read or copied
};

/// Reads each of what was given, some at a time and side by side, and copies it under a name that is free in
/// `state`. What cannot be read is refused before it is copied. Cancelled: what was copied until then is
/// taken away again, and job.cancelled is the only problem.
TakenIn takeIn(const std::filesystem::path& folder, const mod::ModState& state,
               const rulebook::Rulebook& book, const std::vector<Given>& given,
               base::Progress* progress = nullptr);

/// Puts what was taken in into the documents: each source, and of each model a model and an object placed
/// with it. The result is the first model and object made; empty where there is none.
std::pair<std::string, std::string> putTaken(mod::ModState& state, const TakenIn& taken);

}  // namespace rakugo::prepare
