// Steps of a preparation as JSON. Model documents and habits hold them in the same way.
#pragma once

#include <vector>

#include "mod/documents.h"

namespace rakugo::mod {

/// Format of the files that hold steps: model documents and habits. Format 1 wrote a step's values beside its
/// id and kind; there a value called `kind` took the place of the step's own kind.
inline constexpr int kStepsFormat = 2;

/// Key that `stepsFrom` puts into `StepDoc::more` of a step that format 1 damaged: the other kinds of step
/// that it may have been, as a list of ids (empty when only one is possible). The person confirms or corrects
/// the guess.
inline constexpr const char* kRecoveredKey = "recovered";

/// The steps as a list of objects {id, kind, enabled when false, values}, in format 2.
base::Json stepsJson(const std::vector<StepDoc>& steps);

/// Reads the list "steps" of `in`, which was written in `format` 1 or 2. Keys that no one knows are kept in
/// `StepDoc::more` (format 1 cannot tell them from values). A step of format 1 whose kind was overwritten by
/// its value `kind` gets its kind back, guessed from the values it has; `kRecoveredKey` says so. A damaged
/// step that fits no guess stays as it is. Complains of missing ids and kinds, repeated ids and wrong types,
/// with their places.
std::vector<StepDoc> stepsFrom(base::JsonFields& in, int64_t format);

}  // namespace rakugo::mod
