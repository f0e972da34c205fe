// The body that a kind of outfit is worn on, as the rulebook ships it.
#pragma once

#include <memory>

#include "base/result.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// The body of that kind, or of the first kind that has one when `kind` is empty. It is read once and kept;
/// safe to call from any thread. Errors: body.none, and those of reading a model.
base::Result<std::shared_ptr<const scene::Model>> gameBody(const rulebook::Rulebook& book,
                                                           const std::string& kind);

}  // namespace rakugo::prepare
