// Truevision TGA, file format specification 2.0 (1989, in the public domain): colour-mapped, true-colour and
// grey, plain and run-length encoded.
#include <algorithm>

#include "base/phrase.h"
#include "formats/pictures/picture_formats.h"

namespace rakugo::formats {
namespace {

struct TgaHeader {
  uint8_t id_bytes = 0, map_type = 0, kind = 0;
  uint16_t map_first = 0, map_count = 0;
  uint8_t map_bits = 0;
  uint16_t width = 0, height = 0;
  uint8_t bits = 0, descriptor = 0;
  [[nodiscard]] bool packed() const { return (kind & 8U) != 0; }
  [[nodiscard]] uint8_t plainKind() const { return kind & 7U; }
  [[nodiscard]] size_t pixelBytes() const { return (size_t{bits} + 7) / 8; }
};

TgaHeader headerOf(base::ByteReader& in) {
  TgaHeader h;
  h.id_bytes = in.read<uint8_t>();
  h.map_type = in.read<uint8_t>();
  h.kind = in.read<uint8_t>();
  h.map_first = in.read<uint16_t>();
  h.map_count = in.read<uint16_t>();
  h.map_bits = in.read<uint8_t>();
  in.read<uint16_t>();  // where the picture hangs on a screen
  in.read<uint16_t>();
  h.width = in.read<uint16_t>();
  h.height = in.read<uint16_t>();
  h.bits = in.read<uint8_t>();
  h.descriptor = in.read<uint8_t>();
  return h;
}

bool sound(const TgaHeader& h) {
  const auto color = [](uint8_t bits) { return bits == 15 || bits == 16 || bits == 24 || bits == 32; };
  if (h.map_type > 1 || (h.kind & ~0x0BU) != 0 || h.width == 0 || h.height == 0 ||
      (h.descriptor & 0xC0U) != 0)
    return false;
  switch (h.plainKind()) {
    case 1:
      return h.map_type == 1 && color(h.map_bits) && h.map_count > 0 && (h.bits == 8 || h.bits == 16);
    case 2:
      return color(h.bits);
    case 3:
      return h.bits == 8 || h.bits == 16;
    default:
      return false;
  }
}

using Pixel = std::array<uint8_t, 4>;

// One colour of 15 to 32 bits, or a grey of 8 (with 8 of alpha).
Pixel colorAt(base::ByteSpan bytes, size_t at, uint8_t bits, bool grey, bool alpha) {
  const auto byte = [&](size_t i) { return base::loadAt<uint8_t>(bytes, at + i); };
  if (grey) return {byte(0), byte(0), byte(0), bits == 16 ? byte(1) : uint8_t{255}};
  if (bits <= 16) {
    const auto v = base::loadAt<uint16_t>(bytes, at);
    const auto five = [](uint32_t c) { return static_cast<uint8_t>((c & 31U) << 3 | (c & 31U) >> 2); };
    return {five(v >> 10U), five(v >> 5U), five(v),
            static_cast<uint8_t>(alpha && (v & 0x8000U) == 0 ? 0 : 255)};
  }
  return {byte(2), byte(1), byte(0), bits == 32 && alpha ? byte(3) : uint8_t{255}};
}

}  // namespace

bool isTga(base::ByteSpan bytes) {
  base::ByteReader in(bytes);
  const TgaHeader h = headerOf(in);
  return in.ok() && sound(h);
}

base::Result<Picture> readTga(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                              const base::Limits& limits) {
  base::ByteReader in(bytes);
  const TgaHeader h = headerOf(in);
  if (!in.ok() || !sound(h))
    return damagedPicture(name, base::phrase("its header is not one of a TGA picture"));
  RAKUGO_TRY(checkPictureSize(h.width, h.height, name, limits));
  Picture out{h.width, h.height, {}};
  if (!pixels_too) return out;
  in.bytes(h.id_bytes);
  const size_t map_bytes = (size_t{h.map_bits} + 7) / 8;
  const base::ByteSpan map = h.map_type == 1 ? in.bytes(uint64_t{h.map_count} * map_bytes) : base::ByteSpan();
  // Some writers leave the count of alpha bits at zero and mean their alpha all the same; all of it zero
  // means none.
  const bool grey = h.plainKind() == 3, mapped = h.plainKind() == 1, alpha = (h.descriptor & 15U) != 0;
  const size_t each = h.pixelBytes(), count = size_t{h.width} * h.height;
  if (in.ok() && count > in.left() * 128) return damagedPicture(name, base::phrase("it is cut off"));
  out.pixels.resize(count * 4);
  const auto put = [&](size_t i, base::ByteSpan pixel) {
    Pixel p{};
    if (mapped) {
      const size_t index = h.bits == 8 ? base::loadAt<uint8_t>(pixel, 0) : base::loadAt<uint16_t>(pixel, 0);
      if (index < h.map_first || index - h.map_first >= h.map_count) return false;
      p = colorAt(map, (index - h.map_first) * map_bytes, h.map_bits, false, alpha);
    } else {
      p = colorAt(pixel, 0, h.bits, grey, alpha || (!grey && h.bits == 32));
    }
    size_t x = i % h.width, y = i / h.width;
    if ((h.descriptor & 0x10U) != 0) x = h.width - 1 - x;
    if ((h.descriptor & 0x20U) == 0) y = h.height - 1 - y;
    for (size_t c = 0; c < 4; ++c) out.pixels[(y * h.width + x) * 4 + c] = static_cast<std::byte>(p[c]);
    return true;
  };
  for (size_t i = 0; i < count && in.ok();) {
    size_t run = 1;
    bool same = false;
    if (h.packed()) {
      const auto head = in.read<uint8_t>();
      run = (head & 127U) + 1;
      same = (head & 128U) != 0;
    }
    run = std::min(run, count - i);
    base::ByteSpan pixel;
    for (size_t k = 0; k < run; ++k, ++i) {
      if (k == 0 || !same) pixel = in.bytes(each);
      if (!in.ok()) break;
      if (!put(i, pixel)) return damagedPicture(name, base::phrase("a pixel is outside its colour map"));
    }
  }
  if (!in.ok()) return damagedPicture(name, base::phrase("it is cut off"));
  if (!alpha && h.bits == 32) {
    bool any = false;
    for (size_t i = 3; i < out.pixels.size() && !any; i += 4) any = out.pixels[i] != std::byte{0};
    for (size_t i = 3; i < out.pixels.size() && !any; i += 4) out.pixels[i] = std::byte{255};
  }
  return out;
}

}  // namespace rakugo::formats
