// Which values in a mod's documents name things of the mod, as `mod::planCopy` asks.
#pragma once

#include "mod/copy.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// What names things by that rulebook and by the table of steps. `book` must outlive the result.
mod::NamingValues namingValues(const rulebook::Rulebook& book);

}  // namespace rakugo::prepare
