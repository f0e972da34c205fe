#include <algorithm>

#include "packing/runtime.h"
#include "texture/block_encoder.h"

namespace rakugo::packing {

std::string PictureStoring::text() const {
  std::string out = bundle::rowOf(format).id;
  for (const int64_t v :
       {static_cast<int64_t>(use), int64_t{max_side}, int64_t{power_of_two}, int64_t{mip_levels},
        int64_t{pixels}, static_cast<int64_t>(cutoff ? std::lround(*cutoff * 100'000) : -1),
        int64_t{supercompressed}, int64_t{quick}})
    out += " " + std::to_string(v);
  return out;
}

PictureStoring storingOf(const rulebook::Rulebook& book, const rulebook::Target& target,
                         formats::PictureUse use, const prepare::PictureNeed& need) {
  PictureStoring out;
  out.use = use;
  out.max_side = book.pictureSide(target);
  out.power_of_two = book.picture_power_of_two;
  out.mip_levels = target.mip_levels;
  out.pixels = need.role == rulebook::PictureRole::pixels;
  out.cutoff = need.cutoff;
  out.format = target.formatOf(need.role);
  out.supercompressed = target.supercompressed;
  return out;
}

bundle::Ktx2Picture plainLevels(const formats::Picture& picture, const PictureStoring& how) {
  bundle::Ktx2Picture out;
  out.srgb = how.use == formats::PictureUse::color;
  out.width = formats::allowedSide(picture.width, how.max_side, how.power_of_two);
  out.height = formats::allowedSide(picture.height, how.max_side, how.power_of_two);
  const bool fits = out.width == picture.width && out.height == picture.height;
  formats::Picture level =
      fits ? picture
           : formats::resized(picture, out.width, out.height, how.use,
                              how.pixels ? formats::Resampling::pixels : formats::Resampling::smooth);
  const double drawn = how.cutoff ? formats::coverage(level.pixels, *how.cutoff) : 0;
  while (how.mip_levels && (level.width > 1 || level.height > 1)) {
    formats::Picture next = formats::halved(level, how.use);
    out.levels.push_back(std::move(level.pixels));
    level = std::move(next);
  }
  out.levels.push_back(std::move(level.pixels));
  // Each from its own values: alpha that was scaled is not averaged again.
  for (size_t i = 1; how.cutoff && i < out.levels.size(); ++i)
    formats::keepCoverage(out.levels[i], drawn, *how.cutoff);
  return out;
}

bundle::Ktx2Picture runtimePicture(const formats::Picture& picture, formats::PictureUse use,
                                   uint32_t max_side, bool power_of_two) {
  PictureStoring how;
  how.use = use;
  how.max_side = max_side;
  how.power_of_two = power_of_two;
  return plainLevels(picture, how);
}

bundle::Ktx2Picture storedPicture(const formats::Picture& picture, const PictureStoring& how) {
  bundle::Ktx2Picture out = plainLevels(picture, how);
  if (how.format != bundle::PixelFormat::rgba8)
    out = texture::encodedPicture(out, how.format,
                                  how.quick ? texture::BlockEffort::quick : texture::BlockEffort::usual);
  out.supercompressed = how.supercompressed;
  return out;
}

}  // namespace rakugo::packing
