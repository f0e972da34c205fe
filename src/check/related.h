// The part of a mod that hangs together with one place in it.
#pragma once

#include "check/finding.h"

namespace rakugo::check {

/// The models and objects that an edit at that place can change: objects of the models, models of those
/// objects, and models that give something to them by their steps. The whole mod where the place names none
/// of them.
mod::ModState relatedTo(const mod::ModState& mod, const FindingPlace& place);

}  // namespace rakugo::check
