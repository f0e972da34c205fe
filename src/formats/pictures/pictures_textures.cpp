// Texture files for graphics cards: KTX 2.0 (Khronos, revision 3) and DirectDraw surfaces. The first level of
// the first face is read.
#include <algorithm>

#include <zstd.h>

#include "base/phrase.h"
#include "formats/pictures/picture_formats.h"
#include "texture/block_decoder.h"

namespace rakugo::formats {
namespace {

using bundle::PixelFormat;

constexpr PixelLayout blocks(PixelFormat format) { return {format, 0, {-1, -1, -1, -1}, false}; }

base::Error unshown(const std::string& name, const std::string& what) {
  return {"picture.unknown_format",
          base::phrase("The texture's pixels are stored in a way that Rakugo does not show ({0}).", what),
          base::Place{name}, base::phrase("Save the picture as PNG.")};
}

constexpr uint32_t fourCc(const char (&text)[5]) {
  uint32_t out = 0;
  for (int i = 3; i >= 0; --i) out = out << 8 | static_cast<uint8_t>(text[i]);
  return out;
}

// DXGI_FORMAT numbers of the extended header.
std::optional<PixelLayout> layoutOfDxgi(uint32_t format) {
  switch (format) {
    case 28:  // R8G8B8A8
    case 29:
      return PixelLayout{std::nullopt, 4, {0, 1, 2, 3}, false};
    case 87:  // B8G8R8A8
    case 91:
      return PixelLayout{std::nullopt, 4, {2, 1, 0, 3}, false};
    case 88:  // B8G8R8X8
    case 93:
      return PixelLayout{std::nullopt, 4, {2, 1, 0, -1}, false};
    case 61:  // R8
      return PixelLayout{std::nullopt, 1, {0, 0, 0, -1}, true};
    case 49:  // R8G8
      return PixelLayout{std::nullopt, 2, {0, 1, -1, -1}, false};
    case 71:
    case 72:
      return blocks(PixelFormat::bc1);
    case 74:
    case 75:
      return blocks(PixelFormat::bc2);
    case 77:
    case 78:
      return blocks(PixelFormat::bc3);
    case 80:
      return blocks(PixelFormat::bc4);
    case 83:
      return blocks(PixelFormat::bc5);
    case 98:
    case 99:
      return blocks(PixelFormat::bc7);
    default:
      return std::nullopt;
  }
}

// The byte that a mask selects; -1 where it selects none or no whole byte.
int8_t byteOf(uint32_t mask) {
  for (int8_t i = 0; i < 4; ++i)
    if (mask == 0xFFU << (8 * i)) return i;
  return -1;
}

}  // namespace

std::optional<PixelLayout> layoutOfVulkan(uint32_t format) {
  switch (format) {
    case 9:  // R8
    case 15:
      return PixelLayout{std::nullopt, 1, {0, 0, 0, -1}, true};
    case 16:  // R8G8
    case 22:
      return PixelLayout{std::nullopt, 2, {0, 1, -1, -1}, false};
    case 23:  // R8G8B8
    case 29:
      return PixelLayout{std::nullopt, 3, {0, 1, 2, -1}, false};
    case 30:  // B8G8R8
    case 36:
      return PixelLayout{std::nullopt, 3, {2, 1, 0, -1}, false};
    case 37:  // R8G8B8A8
    case 43:
      return PixelLayout{std::nullopt, 4, {0, 1, 2, 3}, false};
    case 44:  // B8G8R8A8
    case 50:
      return PixelLayout{std::nullopt, 4, {2, 1, 0, 3}, false};
    case 133:  // BC1 with its one bit of alpha
    case 134:
      return blocks(PixelFormat::bc1);
    default:
      const bundle::PixelFormatRow* row = bundle::pixelFormatOfVulkan(format);
      return row == nullptr ? std::nullopt : std::optional(blocks(row->format));
  }
}

uint64_t levelBytes(const PixelLayout& layout, uint32_t width, uint32_t height) {
  if (!layout.blocks) return uint64_t{width} * height * layout.bytes;
  return bundle::levelBytes(*layout.blocks, width, height);
}

Picture plainPixels(base::ByteSpan level, uint32_t width, uint32_t height, const PixelLayout& layout) {
  Picture out{width, height, {}};
  if (layout.blocks) {
    out.pixels = texture::decodeLevel(level, width, height, *layout.blocks);
    return out;
  }
  const size_t count = size_t{width} * height;
  out.pixels.resize(count * 4);
  for (size_t i = 0; i < count; ++i)
    for (size_t c = 0; c < 4; ++c) {
      const int8_t from = layout.from[c];
      out.pixels[i * 4 + c] = from >= 0 ? level[i * layout.bytes + static_cast<size_t>(from)]
                                        : std::byte{static_cast<uint8_t>(c == 3 ? 255 : 0)};
    }
  return out;
}

bool isDds(base::ByteSpan bytes) {
  return bytes.size() >= 4 && base::loadAt<uint32_t>(bytes, 0) == fourCc("DDS ");
}

base::Result<Picture> readDds(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                              const base::Limits& limits) {
  base::ByteReader in(bytes);
  in.bytes(12);  // mark, size of the header, flags
  const auto height = in.read<uint32_t>(), width = in.read<uint32_t>();
  in.bytes(4 * 3 + 44 + 4);  // pitch, depth, levels, reserved, size of the pixel format
  const auto flags = in.read<uint32_t>(), code = in.read<uint32_t>(), bits = in.read<uint32_t>();
  const auto red = in.read<uint32_t>(), green = in.read<uint32_t>(), blue = in.read<uint32_t>(),
             alpha = in.read<uint32_t>();
  in.bytes(20);
  if (!in.ok()) return damagedPicture(name, base::phrase("it ends inside its header"));
  RAKUGO_TRY(checkPictureSize(width, height, name, limits));
  std::optional<PixelLayout> layout;
  std::string what = base::phrase("bit masks");
  if ((flags & 4U) != 0) {
    what = base::phrase("code {0}", code);
    if (code == fourCc("DXT1")) layout = blocks(PixelFormat::bc1);
    if (code == fourCc("DXT2") || code == fourCc("DXT3")) layout = blocks(PixelFormat::bc2);
    if (code == fourCc("DXT4") || code == fourCc("DXT5")) layout = blocks(PixelFormat::bc3);
    if (code == fourCc("ATI1") || code == fourCc("BC4U")) layout = blocks(PixelFormat::bc4);
    if (code == fourCc("ATI2") || code == fourCc("BC5U")) layout = blocks(PixelFormat::bc5);
    if (code == fourCc("DX10")) {
      const auto format = in.read<uint32_t>();
      in.bytes(16);
      if (!in.ok()) return damagedPicture(name, base::phrase("it ends inside its header"));
      layout = layoutOfDxgi(format);
      what = base::phrase("format {0}", format);
    }
  } else if (bits == 8 || bits == 16 || bits == 24 || bits == 32) {
    PixelLayout plain{
        std::nullopt, bits / 8, {byteOf(red), byteOf(green), byteOf(blue), byteOf(alpha)}, false};
    // Luminance is given by the mask of red alone.
    if ((flags & 0x20000U) != 0) plain.from = {plain.from[0], plain.from[0], plain.from[0], plain.from[3]};
    const bool whole = std::all_of(plain.from.begin(), plain.from.end(),
                                   [&](int8_t b) { return b < static_cast<int8_t>(plain.bytes); });
    if (whole && plain.from[0] >= 0) layout = plain;
  }
  if (!layout) return unshown(name, what);
  if (!pixels_too) return Picture{width, height, {}};
  if (levelBytes(*layout, width, height) > in.left())
    return damagedPicture(name, base::phrase("it is cut off"));
  return plainPixels(in.bytes(levelBytes(*layout, width, height)), width, height, *layout);
}

bool isKtx2(base::ByteSpan bytes) {
  return bytes.size() >= 12 && base::loadAt<uint64_t>(bytes, 0) == 0xBB30322058544BABull &&
         base::loadAt<uint32_t>(bytes, 8) == 0x0A1A0A0D;
}

base::Result<Picture> readKtx2(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                               const base::Limits& limits) {
  base::ByteReader in(bytes);
  in.bytes(12);
  const auto format = in.read<uint32_t>();
  in.read<uint32_t>();  // size of a type
  const auto width = in.read<uint32_t>();
  const uint32_t height = std::max(in.read<uint32_t>(), 1U);
  in.bytes(4 * 4);  // depth, layers, faces, levels
  const auto packing = in.read<uint32_t>();
  in.bytes(4 * 4 + 8 * 2);  // indices of descriptors
  const auto offset = in.read<uint64_t>(), length = in.read<uint64_t>(), raw = in.read<uint64_t>();
  if (!in.ok()) return damagedPicture(name, base::phrase("it ends inside its header"));
  RAKUGO_TRY(checkPictureSize(width, height, name, limits));
  const auto layout = layoutOfVulkan(format);
  if (!layout || (packing != 0 && packing != 2))
    return unshown(name, base::phrase("format {0}, packing {1}", format, packing));
  if (!pixels_too) return Picture{width, height, {}};
  if (offset > bytes.size() || length > bytes.size() - offset)
    return damagedPicture(name, base::phrase("its first level lies outside the file"));
  base::ByteSpan level = bytes.subspan(offset, length);
  const uint64_t needed = levelBytes(*layout, width, height);
  base::Bytes unpacked;
  if (packing == 2) {
    if (raw < needed || raw > needed * 64)
      return damagedPicture(name, base::phrase("its first level has another size than its pixels"));
    unpacked.resize(raw);
    const size_t got = ZSTD_decompress(unpacked.data(), unpacked.size(), level.data(), level.size());
    if (ZSTD_isError(got) != 0 || got != raw)
      return damagedPicture(name, base::phrase("its first level cannot be decompressed"));
    level = unpacked;
  }
  if (level.size() < needed) return damagedPicture(name, base::phrase("its first level is too short"));
  return plainPixels(level, width, height, *layout);
}

}  // namespace rakugo::formats
