#include "texture/block_encoder.h"

#include <squish.h>

#include <algorithm>
#include <array>

#include "base/jobs.h"
#include "texture/astc.h"

namespace rakugo::texture {
namespace {

using bundle::PixelFormat;

int squishFlags(PixelFormat format, BlockEffort effort) {
  const int fit = effort == BlockEffort::quick ? squish::kColourRangeFit : squish::kColourClusterFit;
  switch (format) {
    case PixelFormat::bc1:
      return squish::kDxt1 | fit;
    case PixelFormat::bc3:
      return squish::kDxt5 | fit;
    case PixelFormat::bc4:
      return squish::kBc4;
    case PixelFormat::bc5:
      return squish::kBc5;
    default:
      base::brokenPromise("no BC format that is written", bundle::rowOf(format).id);
  }
}

// The 16 pixels of a block, and which of them lie in the picture: bit i for pixel i.
int blockAt(base::ByteSpan pixels, uint32_t width, uint32_t height, uint32_t x, uint32_t y, bool opaque,
            std::array<uint8_t, 64>& out) {
  int mask = 0;
  const bool whole = x + 4 <= width && y + 4 <= height;
  for (uint32_t row = 0; whole && row < 4; ++row) {
    const std::byte* from = pixels.data() + (size_t{y + row} * width + x) * 4;
    std::transform(from, from + 16, out.begin() + row * 16, [](std::byte b) { return uint8_t(b); });
  }
  if (whole) {
    for (size_t i = 3; opaque && i < out.size(); i += 4) out[i] = 255;
    return 0xFFFF;
  }
  for (uint32_t i = 0; i < 16; ++i) {
    const uint32_t px = x + i % 4, py = y + i / 4;
    if (px >= width || py >= height) {
      std::fill_n(out.begin() + i * 4, 4, uint8_t{0});
      continue;
    }
    mask |= 1 << i;
    const size_t at = (size_t{py} * width + px) * 4;
    for (uint32_t c = 0; c < 4; ++c) out[i * 4 + c] = static_cast<uint8_t>(pixels[at + c]);
    if (opaque) out[i * 4 + 3] = 255;
  }
  return mask;
}

}  // namespace

base::Bytes encodeLevel(base::ByteSpan pixels, uint32_t width, uint32_t height, PixelFormat format, bool srgb,
                        BlockEffort effort) {
  if (pixels.size() < size_t{width} * height * 4) base::brokenPromise("a level without all its pixels");
  if (format == PixelFormat::rgba8) return {pixels.begin(), pixels.end()};
  if (bundle::isAstc(format))
    return encodeAstc(pixels, width, height, format, srgb, effort == BlockEffort::quick);
  base::Bytes out(bundle::levelBytes(format, width, height));
  const uint32_t across = (width + 3) / 4, down = (height + 3) / 4, each = bundle::rowOf(format).block_bytes;
  const int flags = squishFlags(format, effort);
  base::parallelFor(down, [&](size_t row) {
    std::array<uint8_t, 64> block{}, before{};
    int mask_before = 0;
    for (uint32_t column = 0; column < across; ++column) {
      const int mask = blockAt(pixels, width, height, column * 4, static_cast<uint32_t>(row) * 4,
                               format == PixelFormat::bc1, block);
      std::byte* to = out.data() + (row * across + column) * each;
      if (column > 0 && mask == mask_before && block == before)
        std::copy_n(to - each, each, to);  // large even areas cost next to nothing
      else
        squish::CompressMasked(block.data(), mask, to, flags);
      std::swap(block, before);
      mask_before = mask;
    }
  });
  return out;
}

bundle::Ktx2Picture encodedPicture(const bundle::Ktx2Picture& plain, PixelFormat format, BlockEffort effort) {
  bundle::Ktx2Picture out{plain.width, plain.height, plain.srgb, {}, format, plain.supercompressed};
  if (bundle::rowOf(format).vulkan_srgb == 0) out.srgb = false;
  for (size_t i = 0; i < plain.levels.size(); ++i)
    out.levels.push_back(encodeLevel(plain.levels[i], std::max(1U, plain.width >> i),
                                     std::max(1U, plain.height >> i), format, out.srgb, effort));
  return out;
}

}  // namespace rakugo::texture
