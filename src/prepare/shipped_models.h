// The models that a rulebook ships: ghosts, bodies, the figures of skeletons.
#pragma once

#include <memory>
#include <string>

#include "base/result.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// The model in `file`, a path inside of the rulebook. Read once and kept for as long as the file stays as it
/// is; safe to call from any thread. Errors: those of reading a model, with the file.
base::Result<std::shared_ptr<const scene::Model>> shippedModel(const rulebook::Rulebook& book,
                                                               const std::string& file);

}  // namespace rakugo::prepare
