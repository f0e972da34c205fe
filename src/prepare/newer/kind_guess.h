// Which kind a model most likely is meant to be, so that nobody has to say it twice.
#pragma once

#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// The kind of `book` that a model as it was read fits best: its bones by name, its size in any common unit,
/// its proportions, the hints in its materials' names. Null only when the rulebook has no kinds. Cost: one
/// pass over the vertices.
const rulebook::Kind* likelyKind(const scene::Model& model, const rulebook::Rulebook& book);

}  // namespace rakugo::prepare
