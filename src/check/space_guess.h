// What size and shape say of a model's unit and direction. Internal to check.
#pragma once

#include <array>

#include "check/context.h"
#include "geometry/silhouette.h"
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

/// Where the surface of all reached parts lies in a cube around the model's box, in the model's axes;
/// normalised. Cost: linear in triangles.
geometry::Occupancy occupancyOf(const scene::Model& model);
/// The direction in which a model looks most like a ghost: its shape under the four quarter turns about its
/// up is held against the ghost's. The present direction unless another is distinctly better. `shape`:
/// `occupancyOf` the model. Nothing when there is no ghost.
std::optional<FacingGuess> guessFacing(const Ghost* ghost, const rulebook::Rulebook& book,
                                       const scene::Frame& frame, const geometry::Occupancy& shape);

/// "+X", "−Z": as people read it.
std::string sideName(geometry::Axis axis);

}  // namespace rakugo::check
