// The rulebook that a mod names.
#pragma once

#include "base/result.h"
#include "rulebook/rulebook.h"

namespace rakugo::tool {

/// rulebook::findRulebook; says on stderr when the one that is taken hides another of the same id.
base::Result<rulebook::Rulebook> findBook(const std::string& id);

}  // namespace rakugo::tool
