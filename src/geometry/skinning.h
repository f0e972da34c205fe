// Vertices put where their bones are, on the processor.
#pragma once

#include <glm/glm.hpp>
#include <span>

namespace rakugo::geometry {

/// Adds to each of `out` (n places) what up to four bones make of a vertex: the sum of weight x (matrix x
/// position). `positions` n x 3; `joints` n x 4 numbers into `matrices`, `weights` n x 4; numbers beyond the
/// matrices, and weights of 0 or below, count nothing. All in any one space and unit; only the upper three
/// rows of the matrices are used. Cost: linear, on all cores.
void addSkinned(std::span<const glm::vec3> positions, std::span<const glm::u16vec4> joints,
                std::span<const glm::vec4> weights, std::span<const glm::mat4> matrices,
                std::span<glm::vec3> out);

}  // namespace rakugo::geometry
