// How alike two shapes are under quarter turns, for telling which way a model looks.
#pragma once

#include <array>
#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// A coarse picture of where a surface lies: fractions of area in a 13 x 13 x 13 grid over a cube around the
/// shape's box.
class Occupancy {
 public:
  static constexpr int kSide = 13;  ///< odd, so that a sheet in the middle lies in a cell and not between two
  /// Adds the surface of some triangles (3 x n indices); the points are first turned by `turn`.
  /// `center` and `half` say where the cube lies after the turn. Degenerate and NaN triangles count nothing.
  void add(std::span<const glm::vec3> positions, std::span<const uint32_t> indices, const glm::mat4& turn,
           glm::vec3 center, float half);
  /// Sets the sum of all cells to 1; an empty one stays empty.
  void normalize();
  /// The same shape after a quarter turn about the cube's centre. `quarter` is a signed permutation matrix
  /// without a mirror (`quarterTurn`). Cells move as wholes: nothing is sampled again.
  [[nodiscard]] Occupancy turned(const glm::mat3& quarter) const;
  /// 1 for equal shapes, 0 for shapes that share no cell. Both must be normalised.
  [[nodiscard]] static double likeness(const Occupancy& a, const Occupancy& b);

 private:
  std::array<float, size_t{kSide} * kSide * kSide> cells_{};
};

}  // namespace rakugo::geometry
