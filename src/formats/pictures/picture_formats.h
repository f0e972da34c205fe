// The picture formats one by one; `pictures.h` chooses among them. Private to this library.
#pragma once

#include <optional>

#include "bundle/pixel_format.h"
#include "formats/pictures/pictures.h"

namespace rakugo::formats {

/// Each: recognised by its first bytes (TGA, which has no mark, by a sound header), and read; without
/// `pixels_too` only the size is looked at. Errors: picture.damaged, picture.too_large,
/// picture.unknown_format for kinds of pixels that Rakugo does not show.
bool isPng(base::ByteSpan bytes);
base::Result<Picture> readPng(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                              const base::Limits& limits);
bool isTga(base::ByteSpan bytes);
base::Result<Picture> readTga(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                              const base::Limits& limits);
bool isWebp(base::ByteSpan bytes);
base::Result<Picture> readWebp(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                               const base::Limits& limits);
bool isDds(base::ByteSpan bytes);
base::Result<Picture> readDds(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                              const base::Limits& limits);
bool isKtx2(base::ByteSpan bytes);
base::Result<Picture> readKtx2(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                               const base::Limits& limits);

/// How the pixels of a texture file lie: in a format of graphics cards, or bytes of channels in some order.
struct PixelLayout {
  std::optional<bundle::PixelFormat> blocks;
  uint32_t bytes = 0;  ///< a pixel, where there are no blocks
  std::array<int8_t, 4> from = {-1, -1, -1,
                                -1};  ///< the byte of red, green, blue, alpha; -1: 0, or 255 for alpha
  bool grey = false;                  ///< one channel stands for all three colours
};
/// The layout of a Vulkan format number, which KTX2 names; nothing for those that are not shown.
std::optional<PixelLayout> layoutOfVulkan(uint32_t format);
/// Bytes that the first level takes.
uint64_t levelBytes(const PixelLayout& layout, uint32_t width, uint32_t height);
/// The first level as plain pixels; `level` holds at least `levelBytes`.
Picture plainPixels(base::ByteSpan level, uint32_t width, uint32_t height, const PixelLayout& layout);

base::Error damagedPicture(const std::string& name, const std::string& why);
base::Status checkPictureSize(uint64_t width, uint64_t height, const std::string& name,
                              const base::Limits& limits);

}  // namespace rakugo::formats
