// The six sides of a box, and the quarter turns between two orientations.
#pragma once

#include <array>
#include <glm/glm.hpp>
#include <optional>
#include <string>
#include <string_view>

namespace rakugo::geometry {

/// One of the six axis directions.
enum class Axis : unsigned char { plus_x, minus_x, plus_y, minus_y, plus_z, minus_z };
inline constexpr std::array<Axis, 6> kAxes = {Axis::plus_x,  Axis::minus_x, Axis::plus_y,
                                              Axis::minus_y, Axis::plus_z,  Axis::minus_z};

/// "+X", "-Z"; the spelling of files.
std::string axisName(Axis axis);
/// Reads what `axisName` writes.
std::optional<Axis> axisFromName(std::string_view name);
/// The unit vector.
glm::vec3 axisVector(Axis axis);
/// The axis nearest to a direction; +X for a zero vector.
Axis nearestAxis(glm::vec3 direction);
/// True when the two lie on one line.
bool parallel(Axis a, Axis b);

/// The proper rotation (determinant +1) that turns (`forward`, `up`) of the one space into (`to_forward`,
/// `to_up`). Both pairs must not be parallel; the identity otherwise. Entries are exactly -1, 0 or 1.
glm::mat3 quarterTurn(Axis forward, Axis up, Axis to_forward, Axis to_up);

}  // namespace rakugo::geometry
