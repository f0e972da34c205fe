// Rectangles packed into a sheet without turning or scaling them.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <optional>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// Where the lower corner of each rectangle (width and height, whole numbers) lies on a sheet, so that none
/// overlaps another; nothing when they do not all fit by this method. A rectangle without area lies at (0, 0)
/// and takes no room. Maximal rectangles, best short side first, the longest rectangles before the others (J.
/// Jylänki, "A Thousand Ways to Pack the Bin", 2010). Deterministic. Cost: rectangles x free rectangles,
/// quadratic at worst.
std::optional<std::vector<glm::uvec2>> packRects(std::span<const glm::uvec2> sizes, glm::uvec2 sheet);

}  // namespace rakugo::geometry
