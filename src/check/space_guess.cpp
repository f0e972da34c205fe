#include "check/space_guess.h"

#include <algorithm>
#include <cmath>

#include "geometry/silhouette.h"
#include "prepare/edit_steps.h"

namespace rakugo::check {

std::array<std::optional<rulebook::Band>, 3> bandsOf(const rulebook::Kind& kind) {
  return {kind.length_m, kind.width_m, kind.height_m};
}
// How far a size is from its bands: 0 inside; otherwise the largest |log10| of the ratio to the nearest
// limit.
double misfit(glm::dvec3 extents, const rulebook::Kind& kind) {
  double worst = 0;
  const auto bands = bandsOf(kind);
  for (int i = 0; i < 3; ++i) {
    if (!bands[static_cast<size_t>(i)] || extents[i] <= 0) continue;
    const auto& band = *bands[static_cast<size_t>(i)];
    if (extents[i] > band.max && band.max > 0) worst = std::max(worst, std::log10(extents[i] / band.max));
    if (extents[i] < band.min) worst = std::max(worst, std::log10(band.min / extents[i]));
  }
  return worst;
}

// The unit whose reading brings the size into the kind's bands, when the present one is off by more than
// threefold.
const prepare::LengthUnit* betterUnit(const scene::Model& model, const rulebook::Kind& kind,
                                      const rulebook::Rulebook& book) {
  const glm::dvec3 extents = prepare::gameExtents(model, book);
  if (misfit(extents, kind) < std::log10(3.0)) return nullptr;
  const prepare::LengthUnit* best = nullptr;
  double best_misfit = 0.02;
  for (const prepare::LengthUnit& unit : prepare::lengthUnits()) {
    const double factor = unit.metres / model.frame.read_unit_m;
    if (const double m = misfit(extents * factor, kind); m < best_misfit) {
      // Of two that fit, the commoner unit: centimetres and metres before inches and feet.
      const bool rare = std::string(unit.id) == "in" || std::string(unit.id) == "ft";
      if (best != nullptr && rare) continue;
      best = &unit;
      best_misfit = std::max(m, 1e-9);
    }
  }
  return best;
}

geometry::Occupancy occupancyOf(const scene::Model& model) {
  geometry::Bounds box;
  const auto world = scene::worldMatrices(model);
  const std::vector<scene::NodeIndex> reached = scene::reachedNodes(model);
  for (const auto i : reached) {
    if (!model.node(i).mesh.valid()) continue;
    for (const auto& p : model.mesh(model.node(i).mesh).primitives)
      box.add(geometry::boundsOf(p.positions, world[i.value()]));
  }
  geometry::Occupancy out;
  // The half side of the cube is the larger half extent, so that another size does not count as another
  // shape.
  const glm::vec3 size = box.size();
  const float half = std::max({size.x, size.y, size.z}) * 0.5F;
  for (const auto i : reached) {
    if (!model.node(i).mesh.valid()) continue;
    for (const auto& p : model.mesh(model.node(i).mesh).primitives)
      out.add(p.positions, p.indices, world[i.value()], box.center(), half);
  }
  out.normalize();
  return out;
}

std::optional<FacingGuess> guessFacing(const Ghost* ghost, const rulebook::Rulebook& book,
                                       const scene::Frame& frame, const geometry::Occupancy& shape) {
  if (ghost == nullptr || !ghost->shape) return std::nullopt;
  const geometry::Axis up = frame.turned ? book.up : frame.up;
  const geometry::Axis present = frame.turned ? book.forward : frame.forward;
  FacingGuess best{present, -1, 0};
  for (const geometry::Axis forward : geometry::kAxes) {
    if (geometry::parallel(forward, up)) continue;
    const double likeness = geometry::Occupancy::likeness(
        *ghost->shape, shape.turned(geometry::quarterTurn(forward, up, book.forward, book.up)));
    if (forward == present) best.present = likeness;
    if (likeness > best.likeness) best.likeness = likeness, best.forward = forward;
  }
  // The guess must be distinctly better than the present direction, or it is no guess but noise.
  if (best.likeness < best.present * 1.15 + 0.05) best.forward = present, best.likeness = best.present;
  return best;
}

std::string sideName(geometry::Axis axis) {
  const std::string name = geometry::axisName(axis);
  return name[0] == '-' ? "−" + name.substr(1) : name;
}

}  // namespace rakugo::check
