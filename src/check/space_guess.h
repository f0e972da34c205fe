// What size and shape say of a model's unit and direction. Internal to check.
#pragma once

#include <array>

#include "check/context.h"
#include "prepare/step.h"

namespace rakugo::check {

/// Length, width and height that a kind may have, in the game's axes.
std::array<std::optional<rulebook::Band>, 3> bandsOf(const rulebook::Kind& kind);
/// How far a size is from its bands: 0 inside; otherwise the largest |log10| of the ratio to the nearest
/// limit.
double misfit(glm::dvec3 extents_m, const rulebook::Kind& kind);
/// The unit whose reading brings the size into the kind's bands, when the present one is off by more than
/// threefold; else null.
const prepare::LengthUnit* betterUnit(const scene::Model& model, const rulebook::Kind& kind,
                                      const rulebook::Rulebook& book);

struct FacingGuess {
  geometry::Axis forward;
  double likeness = 0, present = 0;
};
/// The direction in which the model looks most like the kind's ghost; nothing when there is none. The present
/// direction unless another is distinctly better.
std::optional<FacingGuess> guessFacing(const Context& context, const rulebook::Kind& kind,
                                       const scene::Model& model);

/// "+X", "−Z": as people read it.
std::string sideName(geometry::Axis axis);

}  // namespace rakugo::check
