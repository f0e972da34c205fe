// What is wrong with a rulebook beyond its text: checks that there are not, and models that it ships.
#pragma once

#include <vector>

#include "base/result.h"
#include "rulebook/rulebook.h"

namespace rakugo::check {

/// Mistakes of a rulebook that was loaded, each with its place in rulebook.json: `outcomes` and `reasons` of
/// checks that Rakugo does not have, ghosts and bodies that cannot be read, ghosts that break the size and
/// the budgets of their own kind, bodies without a part named after a region, movements without the
/// skeleton's bones or animations. Reads all models that the rulebook ships. Codes: rulebook.check,
/// rulebook.file, rulebook.contradiction, and those of reading a model.
std::vector<base::Error> rulebookFaults(const rulebook::Rulebook& book);

}  // namespace rakugo::check
