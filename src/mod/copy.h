// A mod made from another one: every name inside, and every reference to it, renamed consistently.
//
// Two mods that define a thing of the same name fight over it in the game, and one forgotten reference makes
// a mod that does not load. So a copy is planned first, shown, and then made in one go.
#pragma once

#include <filesystem>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "mod/renaming.h"
#include "mod/store.h"

namespace rakugo::mod {

/// A mod id made from a title: its slug and a short random tail, and in none of `taken`.
std::string freshModId(const std::string& title, const std::set<std::string>& taken = {});

/// One name that changes, and how often it is written.
struct Rename {
  enum class Sort : unsigned char { id, title, source, model, object, file };
  Sort sort = Sort::object;
  std::string from, to;
  size_t places = 0;  ///< files and references that say it
};
/// "source", "model", ...
const char* renameSortName(Rename::Sort sort);

struct CopyPlan {
  std::string title, id;
  std::map<std::string, std::string> sources, models, objects;  ///< old name -> new name
  std::vector<Rename> renames;                                  ///< what to show; all that change
  ModState state;                                               ///< the copy's documents
  std::map<std::string, std::string> files;                     ///< every file to copy: old path -> new path
  std::vector<base::Error> mistakes;  ///< chosen names that cannot be; empty for a plan that can be made
};

/// Plans a copy called `title` with that id. Names that hold the old mod's name get the new one in its place;
/// a mod's only object gets the new name itself; others get it in front. `chosen` (object's old name -> new
/// name) overrides that. Every reference follows: of models, pieces, icons, steps and findings set aside;
/// texts of cards and steps' values where `naming` says so; what stands under keys that no one knows.
CopyPlan planCopy(const std::filesystem::path& folder, const ModState& from, const std::string& title,
                  const std::string& id, const NamingValues& naming,
                  const std::map<std::string, std::string>& chosen = {});

/// Makes the planned copy of `from` at `to`, which must be new or empty: it is there whole or not at all.
/// Errors: mod.exists, the plan's first mistake, file.*.
base::Status makeCopy(const std::filesystem::path& from, const std::filesystem::path& to,
                      const CopyPlan& plan, const base::Progress* progress = nullptr);

}  // namespace rakugo::mod
