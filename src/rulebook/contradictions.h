// What a rulebook says whose keys are right one by one: rules that cannot hold together, rules without
// effect, and what is likely another unit.
#pragma once

#include "rulebook/key_reader.h"
#include "rulebook/rulebook.h"

namespace rakugo::rulebook {

/// Complains of limits that no model could keep together, of keys that can never act, and of chains, pairs
/// and bones that do not fit each other. Codes: rulebook.contradiction, rulebook.no_effect.
void findContradictions(const Rulebook& book, Mistakes& mistakes);

/// The same for skeletons, in skeleton_rules.cpp.
void findSkeletonContradictions(const Rulebook& book, Mistakes& mistakes);

/// Lengths that are probably not in metres: things hundreds of times as high as a person of the game or
/// thinner than a hair, bones far outside of the figure, seams as wide as a hand. Places listed in the
/// rulebook's `meant` are left out. Code: rulebook.doubt.
void findDoubts(const Rulebook& book, Mistakes& doubts);

}  // namespace rakugo::rulebook
