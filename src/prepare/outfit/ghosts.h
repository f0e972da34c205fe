// Models of the game's own that weights can be taken from.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/result.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// The example of a kind, whose vertices follow bones that bear the game's names; the first kind that has
/// such a one when `kind` is empty. Read once and kept; safe to call from any thread. Errors: donor.none, and
/// those of reading a model.
base::Result<std::shared_ptr<const scene::Model>> weightDonor(const rulebook::Rulebook& book,
                                                              const std::string& kind);

/// Ids of the kinds that ask for a skeleton and have an example.
std::vector<std::string> donorKinds(const rulebook::Rulebook& book);

}  // namespace rakugo::prepare
