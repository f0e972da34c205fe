// What commands that change a mod share: it is loaded, changed and saved, or left as it was.
#pragma once

#include <functional>

#include "check/examiner.h"
#include "mod/documents.h"
#include "tool/tool.h"

namespace rakugo::tool {

/// A mod at hand, with its rulebook.
struct OpenMod {
  std::string folder;
  mod::ModState state;
  std::shared_ptr<const rulebook::Rulebook> book;
};
/// Errors: of mod::loadMod and rulebook::findRulebook.
base::Result<OpenMod> openMod(const std::string& folder);

/// Saves what differs from `before`, with all that follows what was changed. Errors: of mod::saveMod.
base::Status saveChanges(OpenMod& open, const mod::ModState& before);

/// "The mod has no model x." with the names there are.
base::Error unknownThing(const std::string& code, const char* what, const std::string& name,
                         const std::vector<std::string>& known, const std::string& folder);

/// The document of that name, not null; to write to, unless `things` is const. Errors: `code`, with the names
/// there are.
template <class Map>
auto named(Map& things, const std::string& name, const char* what, const std::string& code,
           const std::string& folder) -> base::Result<decltype(&things.at(name))> {
  if (things.contains(name)) return &things.at(name);
  std::vector<std::string> known;
  for (const auto& [one, doc] : things) known.push_back(one);
  return unknownThing(code, what, name, known, folder);
}

/// The examination of a model and of what hangs together with it: its objects, and models that give weights
/// to it.
base::Result<std::shared_ptr<const rakugo::check::Examination>> examineModel(const OpenMod& open,
                                                                             const std::string& model);

}  // namespace rakugo::tool
