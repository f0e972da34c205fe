// Models of one maker share the names of their bones: what was done for one of them is offered to the next.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "prepare/habits.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// Keys of the bones of a source, sorted: what a habit remembers as its family. Empty where it has none.
std::vector<std::string> boneKeys(const scene::Model& source);

/// How well a source's bones are those that a habit was made for.
struct FamilyFit {
  size_t habit = 0;                  ///< in the list
  double alike = 0;                  ///< bones of both by all bones, by name: 0 to 1
  std::vector<std::string> missing;  ///< names that the habit knows and the source lacks
  std::vector<std::string> extra;    ///< names that the source has beside them
};

/// The family that a source's bones belong to: the habit of that game whose bones are most like them, if at
/// least four fifths are. Names are the last parts of keys, so that another root changes nothing.
std::optional<FamilyFit> familyOf(const scene::Model& source, const std::vector<Habit>& habits,
                                  const std::string& rulebook);

/// A habit's steps for a source of its family: keys of bones in their values are those of the source's bones
/// of the same names; bones that it lacks are left out.
std::vector<mod::StepDoc> stepsFor(const Habit& habit, const scene::Model& source);

}  // namespace rakugo::prepare
