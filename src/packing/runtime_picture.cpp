#include <algorithm>

#include "packing/runtime.h"

namespace rakugo::packing {

bundle::Ktx2Picture runtimePicture(const formats::Picture& picture, formats::PictureUse use,
                                   uint32_t max_side, bool power_of_two) {
  bundle::Ktx2Picture out;
  out.srgb = use == formats::PictureUse::color;
  out.width = formats::allowedSide(picture.width, max_side, power_of_two);
  out.height = formats::allowedSide(picture.height, max_side, power_of_two);
  const bool fits = out.width == picture.width && out.height == picture.height;
  formats::Picture level = fits ? picture : formats::resized(picture, out.width, out.height, use);
  while (level.width > 1 || level.height > 1) {
    formats::Picture next = formats::halved(level, use);
    out.levels.push_back(std::move(level.pixels));
    level = std::move(next);
  }
  out.levels.push_back(std::move(level.pixels));
  return out;
}

}  // namespace rakugo::packing
