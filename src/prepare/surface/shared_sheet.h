// One sheet for several models: each has its merged pictures in a quarter of it.
#pragma once

#include <string>

#include "base/result.h"
#include "mod/documents.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// The step by which a model's materials are merged last, or null where none is switched on.
const mod::StepDoc* sheetStep(const mod::ModelDoc& doc);

/// Pixels of a side of the sheet that the step made in the prepared model; 0 where it is not to be found.
uint32_t sheetSide(const scene::Model& prepared, const mod::StepDoc& step);

/// Lets `with` share the sheet of `model`: the steps of all that share it name the same sheet and size, and a
/// quarter each; a model that shares one already keeps its quarter. Up to four models share one. `side`: of
/// the sheet, pixels; 0: as the step of `model` says. Errors: sheet.none where one of them merges no
/// materials, sheet.full.
base::Status shareSheet(mod::ModState& mod, const std::string& model, const std::string& with,
                        uint32_t side = 0);

/// How large a sheet must be whose quarters hold what both models have on sheets of their own, or share
/// already; at most `most` where that is not 0.
uint32_t sideToShare(const scene::Model& prepared, const mod::ModelDoc& doc, const scene::Model& other,
                     const mod::ModelDoc& other_doc, uint32_t most);

}  // namespace rakugo::prepare
