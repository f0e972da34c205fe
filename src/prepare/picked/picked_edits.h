// Putting steps on what was picked into a preparation.
#pragma once

#include "prepare/picked/selection.h"
#include "prepare/replay.h"

namespace rakugo::prepare {

/// Adds a step of `kind` on a selection that was drawn over the prepared model. Steps that stand behind it
/// and only move the model (an origin) are reckoned with, so that it picks in its own place what was picked
/// at the end. Returns the step's id.
std::string addPickedStep(mod::ModelDoc& doc, const Prepared& prepared, const std::string& kind,
                          base::Json values, const Selection& selection);

/// The places that a step picks, each once, where they lie in the prepared model when nothing but a shift
/// came after; none, and why, when the step picks nothing. Cost: that of `pick`.
std::vector<glm::vec3> placesPickedAt(const Prepared& prepared, size_t step, const Selection& selection,
                                      std::string& why);

/// The part that most of what lies in an outline belongs to, by key; empty when nothing does.
std::string partInOutline(const scene::Model& model, const Selection& outline);

}  // namespace rakugo::prepare
