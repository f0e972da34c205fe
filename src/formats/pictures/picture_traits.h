// What a picture is, told from its values: whether anything of it is transparent, whether it holds
// directions, and which way those count.
#pragma once

#include <array>

#include "formats/pictures/pictures.h"

namespace rakugo::formats {

/// All shares are of the pixels that were looked at: all of a picture of up to a million pixels, an even
/// sample of a larger one.
struct PictureTraits {
  uint8_t least_alpha = 255;
  double transparent = 0;       ///< share of pixels with an alpha below 250
  std::array<float, 3> mean{};  ///< of red, green and blue as stored, 0 to 1
  bool grey = false;            ///< red, green and blue differ by at most 4 everywhere
  bool uniform = false;         ///< all pixels are of one colour, within 2
  /// Share of pixels that are directions away from the surface: of length one, within 0.15, and with a blue
  /// above a half. 0 for a picture without pixels.
  double directions = 0;
  /// Which way the green of a normal map counts: 1 for certain up the picture, as glTF 2.0 (section 3.9.3)
  /// has it, -1 for certain down; 0 where it does not tell. The slopes of a surface have no curl: of
  /// the two readings the one with less is right. (1 - c) / (1 + c) is the ratio of the curls' squares.
  double green_up = 0;
};

/// For a picture of no pixels, the initial values. Linear in the pixels that are looked at.
PictureTraits pictureTraits(const Picture& picture);

/// Whether a picture with these traits is a normal map: hardly any pixel is no direction.
bool isNormalMap(const PictureTraits& traits);

}  // namespace rakugo::formats
