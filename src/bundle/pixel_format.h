// How the pixels of a texture lie: plain bytes, or blocks that graphics cards read as they are. Formats that
// a bundle may hold stand in docs/bundle-format.md, section 7; the others are read from sources alone.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace rakugo::bundle {

enum class PixelFormat : unsigned char {
  rgba8,
  bc1,
  bc2,
  bc3,
  bc4,
  bc5,
  bc7,
  astc_4x4,
  astc_5x4,
  astc_5x5,
  astc_6x5,
  astc_6x6,
  astc_8x5,
  astc_8x6,
  astc_8x8
};

/// What a format is. Numbers are those of Vulkan (VkFormat), of DirectX (DXGI_FORMAT) and of the Khronos Data
/// Format Specification 1.3 (colour model); 0: there is none.
struct PixelFormatRow {
  PixelFormat format;
  const char* id;     ///< as rulebooks name it: "bc1", "astc6x6"
  const char* title;  ///< "BC1"
  uint32_t vulkan, vulkan_srgb;
  uint32_t dxgi, dxgi_srgb;
  uint32_t model;
  uint32_t block_width, block_height;  ///< pixels
  uint32_t block_bytes;
  uint32_t channels;  ///< how many of red, green, blue and alpha it holds
  bool written;       ///< a bundle may hold it
};

/// All formats, by their number.
std::span<const PixelFormatRow> pixelFormats();
const PixelFormatRow& rowOf(PixelFormat format);
/// The row of that id, or null.
const PixelFormatRow* findPixelFormat(std::string_view id);
/// The row of a Vulkan number, as colour or as data, or null.
const PixelFormatRow* pixelFormatOfVulkan(uint32_t number);
inline bool isAstc(PixelFormat format) { return format >= PixelFormat::astc_4x4; }

/// Bytes that width x height pixels take: whole blocks.
uint64_t levelBytes(PixelFormat format, uint64_t width, uint64_t height);
/// The same for a picture with all its mip levels down to 1 x 1, or with the first alone.
uint64_t pictureBytes(PixelFormat format, uint32_t width, uint32_t height, bool mip_levels = true);

}  // namespace rakugo::bundle
