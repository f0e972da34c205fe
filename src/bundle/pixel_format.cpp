#include "bundle/pixel_format.h"

#include <algorithm>
#include <array>

namespace rakugo::bundle {
namespace {

using F = PixelFormat;
constexpr uint32_t kRgbsda = 1, kAstc = 162;
constexpr std::array<PixelFormatRow, 15> kRows = {
    {{F::rgba8, "rgba8", "RGBA8", 37, 43, 28, 29, kRgbsda, 1, 1, 4, 4, true},
     {F::bc1, "bc1", "BC1", 131, 132, 71, 72, 128, 4, 4, 8, 3, true},
     {F::bc2, "bc2", "BC2", 135, 136, 74, 75, 129, 4, 4, 16, 4, false},
     {F::bc3, "bc3", "BC3", 137, 138, 77, 78, 130, 4, 4, 16, 4, true},
     {F::bc4, "bc4", "BC4", 139, 0, 80, 0, 131, 4, 4, 8, 1, true},
     {F::bc5, "bc5", "BC5", 141, 0, 83, 0, 132, 4, 4, 16, 2, true},
     {F::bc7, "bc7", "BC7", 145, 146, 98, 99, 134, 4, 4, 16, 4, false},
     {F::astc_4x4, "astc4x4", "ASTC 4 × 4", 157, 158, 0, 0, kAstc, 4, 4, 16, 4, true},
     {F::astc_5x4, "astc5x4", "ASTC 5 × 4", 159, 160, 0, 0, kAstc, 5, 4, 16, 4, true},
     {F::astc_5x5, "astc5x5", "ASTC 5 × 5", 161, 162, 0, 0, kAstc, 5, 5, 16, 4, true},
     {F::astc_6x5, "astc6x5", "ASTC 6 × 5", 163, 164, 0, 0, kAstc, 6, 5, 16, 4, true},
     {F::astc_6x6, "astc6x6", "ASTC 6 × 6", 165, 166, 0, 0, kAstc, 6, 6, 16, 4, true},
     {F::astc_8x5, "astc8x5", "ASTC 8 × 5", 167, 168, 0, 0, kAstc, 8, 5, 16, 4, true},
     {F::astc_8x6, "astc8x6", "ASTC 8 × 6", 169, 170, 0, 0, kAstc, 8, 6, 16, 4, true},
     {F::astc_8x8, "astc8x8", "ASTC 8 × 8", 171, 172, 0, 0, kAstc, 8, 8, 16, 4, true}}};

}  // namespace

std::span<const PixelFormatRow> pixelFormats() { return kRows; }

const PixelFormatRow& rowOf(PixelFormat format) { return kRows[static_cast<size_t>(format)]; }

const PixelFormatRow* findPixelFormat(std::string_view id) {
  const auto found =
      std::find_if(kRows.begin(), kRows.end(), [&](const PixelFormatRow& row) { return row.id == id; });
  return found == kRows.end() ? nullptr : &*found;
}

const PixelFormatRow* pixelFormatOfVulkan(uint32_t number) {
  const auto found = std::find_if(kRows.begin(), kRows.end(), [&](const PixelFormatRow& row) {
    return number != 0 && (row.vulkan == number || row.vulkan_srgb == number);
  });
  return found == kRows.end() ? nullptr : &*found;
}

uint64_t levelBytes(PixelFormat format, uint64_t width, uint64_t height) {
  const PixelFormatRow& row = rowOf(format);
  return (width + row.block_width - 1) / row.block_width *
         ((height + row.block_height - 1) / row.block_height) * row.block_bytes;
}

uint64_t pictureBytes(PixelFormat format, uint32_t width, uint32_t height, bool mip_levels) {
  uint64_t out = levelBytes(format, width, height);
  while (mip_levels && (width > 1 || height > 1)) {
    width = std::max(1U, width / 2);
    height = std::max(1U, height / 2);
    out += levelBytes(format, width, height);
  }
  return out;
}

}  // namespace rakugo::bundle
