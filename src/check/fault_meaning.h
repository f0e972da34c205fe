// What each sort of fault of a mesh does in the game, and what cures it. Findings say it of those that a
// check looks for; the Shape station of all.
#pragma once

#include <string>

#include "rulebook/rulebook.h"
#include "scene/structure.h"

namespace rakugo::check {

struct FaultMeaning {
  std::string reason;  ///< what happens in the game
  std::string cure;    ///< what to do about it
  std::string fine;    ///< when it may be meant; empty: it never is
};

/// The words of the check that looks for it, the rulebook's own where it has some; else those kept here.
FaultMeaning meaningOf(scene::FaultCode fault, const rulebook::Rulebook& book);

}  // namespace rakugo::check
