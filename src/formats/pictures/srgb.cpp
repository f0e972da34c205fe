#include "formats/pictures/srgb.h"

#include <algorithm>
#include <cmath>

namespace rakugo::formats {

float lightOf(double srgb) {
  return static_cast<float>(srgb <= 0.04045 ? srgb / 12.92 : std::pow((srgb + 0.055) / 1.055, 2.4));
}

Srgb::Srgb() {
  for (size_t i = 0; i < 256; ++i) light_[i] = lightOf(static_cast<double>(i) / 255);
  for (size_t i = 0; i <= kPieces; ++i)
    first_[i] = static_cast<uint16_t>(
        std::lower_bound(light_.begin(), light_.end(), static_cast<float>(i) / kPieces) - light_.begin());
}

const Srgb& Srgb::tables() {
  static const Srgb kTables;
  return kTables;
}

}  // namespace rakugo::formats
