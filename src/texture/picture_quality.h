// How near a stored picture is to the one that it was made of.
#pragma once

#include <cstdint>

#include "base/bytes.h"

namespace rakugo::texture {

/// Which channels count: bit 0 for red up to bit 3 for alpha.
enum ChannelMask : unsigned { kRed = 1, kRedGreen = 3, kColor = 7, kColorAlpha = 15 };

struct PictureQuality {
  /// Peak signal-to-noise ratio: 10 log10(255² / mean squared error), in decibels; `kExact` where nothing
  /// differs.
  double psnr_db = 0;
  uint32_t worst_x = 0, worst_y = 0;  ///< top left of the block of 8 x 8 pixels that differs most
  double worst_psnr_db = 0;           ///< of that block
  static constexpr double kExact = 99;
};

/// Both are width x height RGBA8 pixels. Linear in them; for no pixels, exact.
PictureQuality pictureQuality(base::ByteSpan original, base::ByteSpan stored, uint32_t width, uint32_t height,
                              unsigned channels);

}  // namespace rakugo::texture
