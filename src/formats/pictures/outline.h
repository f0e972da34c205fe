// A line round what a picture shows.
#pragma once

#include <array>

#include "formats/pictures/pictures.h"

namespace rakugo::formats {

/// The picture over a line that reaches `width_px` pixels out from all that is not clear: a pixel counts as
/// seen from an alpha of a half on, and a line of 1 covers its neighbours whole. The line's edge is smooth;
/// what was seen already stays as it is, and what is half seen lets the line through. A width of 0 or less
/// gives the picture itself. Distances are exact (Euclidean), by two passes. Cost: pixels x width.
Picture outlined(const Picture& picture, double width_px, const std::array<uint8_t, 3>& color);

}  // namespace rakugo::formats
