// Bodies in water and on the ground: how deep they float, whether they stand.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <optional>
#include <span>

namespace rakugo::geometry {

/// What of a closed shape lies below a level.
struct Submerged {
  double volume = 0;     ///< cubed units
  glm::dvec3 center{0};  ///< of that volume; the origin where it is 0
};
/// Of closed triangles (3 x n, wound outward): what lies at or below `level` along `up` (a unit vector).
/// Exact but for rounding: the surface below is cut along the level, and what is between it and the level
/// summed (the divergence theorem). Triangles with a corner that is not finite are left out. Cost: linear.
Submerged submergedBelow(std::span<const glm::vec3> positions, std::span<const uint32_t> corners,
                         const glm::dvec3& up, double level);

/// How a body lies in still water, upright as it is.
struct Floating {
  double level = 0;        ///< where the water stands against the body, along up from the origin
  double draught = 0;      ///< how deep its lowest point lies
  glm::dvec3 buoyancy{0};  ///< centre of what it displaces
  /// Distances between the centre of mass and the metacentre, above it: for leaning to the sides (about
  /// `along`), and fore and aft. Below 0 it turns over.
  double righting_sides = 0, righting_ends = 0;
};
/// Nothing where it sinks, holds no volume, or weighs nothing. `displaced`: the volume of the water that is
/// as heavy as the body; `mass_center`: its centre of mass; `along`: a unit vector across `up`. The
/// metacentre lies the second moment of the water-plane over the displaced volume above the centre of
/// buoyancy (P. Bouguer, 1746). Cost: some fifty times linear.
std::optional<Floating> floatingOf(std::span<const glm::vec3> positions, std::span<const uint32_t> corners,
                                   const glm::dvec3& up, const glm::dvec3& along, double displaced,
                                   const glm::dvec3& mass_center);

/// How a body stands on level ground by its lowest points, those within `tolerance` of the lowest.
struct Standing {
  double height = 0;  ///< of the centre of mass above the ground
  double margin =
      0;  ///< from what is below it to the nearest side of what it stands on; below 0 it falls over
  double angle_rad = 0;  ///< how far the ground may lean before it does
};
/// Nothing for no points. It stands on the convex outline of its lowest points.
std::optional<Standing> standingOf(std::span<const glm::vec3> positions, const glm::dvec3& up,
                                   const glm::dvec3& mass_center, double tolerance);

}  // namespace rakugo::geometry
