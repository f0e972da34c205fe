// Changes of a picture's values: filled from neighbours, tinted, graded, channels copied. Pure functions.
#pragma once

#include <span>

#include "formats/pictures/resample.h"

namespace rakugo::formats {

/// Gives pixels that are not `known` (one flag a pixel, rows top to bottom) the red, green and blue of the
/// nearest known one, up to `steps` pixels away by rows, columns and diagonals (0: however far); alpha stays.
/// Of equally near ones the first in reading order counts. Nothing where none is known. Cost: linear in
/// pixels.
uint64_t fillAround(Picture& picture, std::span<const uint8_t> known, uint32_t steps);

/// The picture within `most` pixels a side (0: any), both sides shrunk alike so that nothing is drawn out;
/// with `power_of_two` each then as `allowedSide` says.
Picture resizedWithin(const Picture& picture, uint32_t most, bool power_of_two, PictureUse use,
                      Resampling how);

/// Multiplies red, green and blue by a colour (linear light, 0 to 1), `share` of it (0: nothing happens, 1:
/// whole).
void tint(Picture& picture, const std::array<float, 3>& color, float share);

/// Turns the hue by an angle, and scales saturation and lightness, in the space Oklab (B. Ottosson, "A
/// perceptual color space for image processing", 2020). 0, 1 and 1 change nothing but by rounding. Alpha
/// stays.
void grade(Picture& picture, float hue_rad, float saturation, float lightness);

/// Copies a channel (0 to 3) of `from` into one of `to`, resized as data where the sizes differ.
void copyChannel(const Picture& from, size_t from_channel, Picture& to, size_t to_channel);

}  // namespace rakugo::formats
