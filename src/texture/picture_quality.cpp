#include "texture/picture_quality.h"

#include <algorithm>
#include <bit>
#include <cmath>

#include "base/result.h"

namespace rakugo::texture {
namespace {

double decibels(uint64_t squares, uint64_t values) {
  if (squares == 0 || values == 0) return PictureQuality::kExact;
  return std::min(PictureQuality::kExact, 10 * std::log10(255.0 * 255.0 * static_cast<double>(values) /
                                                          static_cast<double>(squares)));
}

}  // namespace

PictureQuality pictureQuality(base::ByteSpan original, base::ByteSpan stored, uint32_t width, uint32_t height,
                              unsigned channels) {
  constexpr uint32_t kBlock = 8;
  if (std::min(original.size(), stored.size()) < size_t{width} * height * 4)
    base::brokenPromise("a picture without all its pixels");
  PictureQuality out{PictureQuality::kExact, 0, 0, PictureQuality::kExact};
  const auto counted = static_cast<uint64_t>(std::popcount(channels & kColorAlpha));
  uint64_t all = 0;
  for (uint32_t y = 0; y < height; y += kBlock)
    for (uint32_t x = 0; x < width; x += kBlock) {
      const uint32_t right = std::min(width, x + kBlock), bottom = std::min(height, y + kBlock);
      uint64_t squares = 0;
      for (uint32_t py = y; py < bottom; ++py)
        for (uint32_t px = x; px < right; ++px)
          for (uint32_t c = 0; c < 4; ++c) {
            if ((channels >> c & 1U) == 0) continue;
            const size_t at = (size_t{py} * width + px) * 4 + c;
            const int d = static_cast<int>(original[at]) - static_cast<int>(stored[at]);
            squares += static_cast<uint64_t>(d * d);
          }
      all += squares;
      const double here = decibels(squares, uint64_t{right - x} * (bottom - y) * counted);
      if (here < out.worst_psnr_db) out = {out.psnr_db, x, y, here};
    }
  out.psnr_db = decibels(all, uint64_t{width} * height * counted);
  return out;
}

}  // namespace rakugo::texture
