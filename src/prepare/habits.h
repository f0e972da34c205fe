// Habits: preparations kept under a name, to be replayed on the next model of the same family.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "base/result.h"
#include "mod/documents.h"

namespace rakugo::prepare {

/// Steps under a name. docs/mod-folder.md has the file.
struct Habit {
  std::string name;
  std::string rulebook;  ///< id of the game it was made for
  std::vector<mod::StepDoc> steps;
  /// Keys of the bones of the source that they were made for, sorted (`families.h`); empty: it had none.
  std::vector<std::string> bones;
};

/// Steps that mean something in another mod: those that pick by place alone, or take something from another
/// model of their mod, are left out.
std::vector<mod::StepDoc> portableSteps(const std::vector<mod::StepDoc>& steps);

/// Adds steps to a preparation, each by its rank, with ids of its own. A step that stands there already with
/// the same values is not added twice. Returns how many were added.
size_t addSteps(mod::ModelDoc& doc, const std::vector<mod::StepDoc>& steps);

/// Where a person's habits lie: below `base::dataHome()`.
std::filesystem::path habitsFolder();

/// One habit from its file's JSON. Never throws. Errors: habit.unknown with the place when a field is missing
/// or of another type, or the format is newer.
base::Result<Habit> habitFrom(const base::Json& json, const std::string& file);
/// Habits of a folder, by name. Files that are no habits are left out. A folder that is not there has none.
std::vector<Habit> loadHabits(const std::filesystem::path& folder);
/// Writes one, in place of another of the same name. Errors: those of writing files; habit.name when the name
/// is empty, longer than 80 bytes or not printable.
base::Status saveHabit(const std::filesystem::path& folder, const Habit& habit);
/// Takes one away; nothing happens when there is none of that name.
base::Status forgetHabit(const std::filesystem::path& folder, const std::string& name);

}  // namespace rakugo::prepare
