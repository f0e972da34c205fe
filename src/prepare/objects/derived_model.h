// A model of an object that is made from another of its models by steps, and follows it: the carried version
// of a large thing.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "base/result.h"
#include "mod/documents.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// The piece of the object that is what `model` is made from (rulebook, `made_from`). Null where the object
/// has none, or `model` is made by itself.
const mod::PieceDoc* pieceMadeFrom(const mod::ObjectDoc& object, const rulebook::KindModel& model);

/// Whether the first step that is on begins as `from`, a model of the mod.
bool beginsAs(const mod::ModelDoc& doc, const std::string& from);
/// The model that the first such step names; empty: the model is made of its own source.
std::string beginningOf(const mod::ModelDoc& doc);

/// The steps that make what `rules` ask for from `from`, which is `prepared` in the game's axes and metres:
/// it begins as that, is scaled as a whole until it is no larger than the kind's sizes or its cells,
/// simplified to its triangles (without its smallest loose pieces where it would not get there else), and put
/// at its origin. What fits already gets no step. Cost: that of simplifying, up to four times.
std::vector<mod::StepDoc> stepsToDerive(const rulebook::Rulebook& book, const rulebook::Kind& rules,
                                        const std::string& from, const scene::Model& prepared);

/// The steps for a model of that kind, made from that model of the mod.
using StepsFor =
    std::function<std::vector<mod::StepDoc>(const rulebook::Kind& rules, const std::string& from)>;

/// Adds to the object a piece that is the kind's `model`, and to the mod a model of its own, made from the
/// piece that the rulebook says, by `steps` (of `stepsToDerive`, which may take a while). Returns the new
/// piece's name. Errors: mod.no_object, object.kind, model.unknown (the kind has no such model, it is made by
/// itself, or what it is made from is not there), piece.most.
base::Result<std::string> addDerivedModel(mod::ModState& state, const rulebook::Rulebook& book,
                                          const std::string& object, const std::string& model,
                                          const StepsFor& steps);

}  // namespace rakugo::prepare
