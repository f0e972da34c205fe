// Which vertices stand at one place.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// Vertices told apart by where they stand alone. `of` gives each vertex the number of its place, `first`
/// each place the first vertex there.
struct Welding {
  std::vector<uint32_t> of;     ///< one a vertex
  std::vector<uint32_t> first;  ///< one a place
  [[nodiscard]] size_t places() const { return first.size(); }
};

/// Vertices with equal positions (n x 3, any space) share a place; 0 and -0 are equal, and a position that is
/// not finite has a place of its own. Places are numbered in the order of their first vertex. Cost: linear.
Welding weldEqual(std::span<const glm::vec3> positions);

/// Vertices no farther than `tolerance` (> 0, same unit) from the first vertex of a place share it; each goes
/// to the nearest such place that was there before it. Numbered as by weldEqual. Cost: linear while few
/// vertices crowd in a cell of that size.
Welding weldNear(std::span<const glm::vec3> positions, float tolerance);

}  // namespace rakugo::geometry
