#include "texture/block_decoder.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/jobs.h"
#include "texture/astc.h"

namespace rakugo::texture {
namespace {

using bundle::PixelFormat;

using Pixel = std::array<uint8_t, 4>;
using Block = std::array<Pixel, 16>;

// Bits of a block, lowest first.
class Bits {
 public:
  Bits(base::ByteSpan bytes, size_t at)
      : low_(base::loadAt<uint64_t>(bytes, at)), high_(base::loadAt<uint64_t>(bytes, at + 8)) {}
  uint32_t take(unsigned count) {
    const auto out = static_cast<uint32_t>(low_ & ((uint64_t{1} << count) - 1));
    if (count > 0) low_ = low_ >> count | high_ << (64 - count);
    high_ >>= count;
    return out;
  }

 private:
  uint64_t low_, high_;
};

// --- BC1 to BC5

Pixel from565(uint16_t c) {
  const auto five = [](uint32_t v) { return static_cast<uint8_t>(v << 3 | v >> 2); };
  const auto six = [](uint32_t v) { return static_cast<uint8_t>(v << 2 | v >> 4); };
  return {five(c >> 11), six(c >> 5 & 63U), five(c & 31U), 255};
}

// `transparent`: three colours and nothing where the first end is not the greater (BC1 alone).
void colors(base::ByteSpan bytes, size_t at, bool transparent, Block& out) {
  const auto first = base::loadAt<uint16_t>(bytes, at), second = base::loadAt<uint16_t>(bytes, at + 2);
  const auto indices = base::loadAt<uint32_t>(bytes, at + 4);
  std::array<Pixel, 4> palette = {from565(first), from565(second), Pixel{0, 0, 0, 255}, Pixel{0, 0, 0, 255}};
  const bool three = transparent && first <= second;
  for (size_t c = 0; c < 3; ++c) {
    const int a = palette[0][c], b = palette[1][c];
    palette[2][c] = static_cast<uint8_t>(three ? (a + b) / 2 : (2 * a + b) / 3);
    palette[3][c] = static_cast<uint8_t>(three ? 0 : (a + 2 * b) / 3);
  }
  if (three) palette[3][3] = 0;
  for (size_t i = 0; i < 16; ++i) {
    const uint8_t alpha = out[i][3];
    out[i] = palette[indices >> (2 * i) & 3U];
    if (!transparent) out[i][3] = alpha;
  }
}

void channel(base::ByteSpan bytes, size_t at, size_t c, Block& out) {
  const int a = base::loadAt<uint8_t>(bytes, at), b = base::loadAt<uint8_t>(bytes, at + 1);
  uint64_t indices = 0;
  for (size_t i = 0; i < 6; ++i) indices |= uint64_t{base::loadAt<uint8_t>(bytes, at + 2 + i)} << (8 * i);
  std::array<uint8_t, 8> palette{};
  palette[0] = static_cast<uint8_t>(a);
  palette[1] = static_cast<uint8_t>(b);
  for (int i = 1; i < (a > b ? 7 : 5); ++i) {
    const int n = a > b ? 7 : 5;
    palette[static_cast<size_t>(i) + 1] = static_cast<uint8_t>(((n - i) * a + i * b) / n);
  }
  if (a <= b) palette[6] = 0, palette[7] = 255;
  for (size_t i = 0; i < 16; ++i) out[i][c] = palette[indices >> (3 * i) & 7U];
}

void flatAlpha(base::ByteSpan bytes, size_t at, Block& out) {
  const auto bits = base::loadAt<uint64_t>(bytes, at);
  for (size_t i = 0; i < 16; ++i) out[i][3] = static_cast<uint8_t>((bits >> (4 * i) & 15U) * 17);
}

// --- BC7 (BPTC)

// To which of two parts each pixel belongs: bit i for pixel i.
constexpr std::array<uint16_t, 64> kTwo = {
    0xCCCC, 0x8888, 0xEEEE, 0xECC8, 0xC880, 0xFEEC, 0xFEC8, 0xEC80, 0xC800, 0xFFEC, 0xFE80, 0xE800, 0xFFE8,
    0xFF00, 0xFFF0, 0xF000, 0xF710, 0x008E, 0x7100, 0x08CE, 0x008C, 0x7310, 0x3100, 0x8CCE, 0x088C, 0x3110,
    0x6666, 0x366C, 0x17E8, 0x0FF0, 0x718E, 0x399C, 0xAAAA, 0xF0F0, 0x5A5A, 0x33CC, 0x3C3C, 0x55AA, 0x9696,
    0xA55A, 0x73CE, 0x13C8, 0x324C, 0x3BDC, 0x6996, 0xC33C, 0x9966, 0x0660, 0x0272, 0x04E4, 0x4E40, 0x2720,
    0xC936, 0x936C, 0x39C6, 0x639C, 0x9336, 0x9CC6, 0x817E, 0xE718, 0xCCF0, 0x0FCC, 0x7744, 0xEE22};
// To which of three: two bits a pixel.
constexpr std::array<uint32_t, 64> kThree = {
    0xAA685050, 0x6A5A5040, 0x5A5A4200, 0x5450A0A8, 0xA5A50000, 0xA0A05050, 0x5555A0A0, 0x5A5A5050,
    0xAA550000, 0xAA555500, 0xAAAA5500, 0x90909090, 0x94949494, 0xA4A4A4A4, 0xA9A59450, 0x2A0A4250,
    0xA5945040, 0x0A425054, 0xA5A5A500, 0x55A0A0A0, 0xA8A85454, 0x6A6A4040, 0xA4A45000, 0x1A1A0500,
    0x0050A4A4, 0xAAA59090, 0x14696914, 0x69691400, 0xA08585A0, 0xAA821414, 0x50A4A450, 0x6A5A0200,
    0xA9A58000, 0x5090A0A8, 0xA8A09050, 0x24242424, 0x00AA5500, 0x24924924, 0x24499224, 0x50A50A50,
    0x500AA550, 0xAAAA4444, 0x66660000, 0xA5A0A5A0, 0x50A050A0, 0x69286928, 0x44AAAA44, 0x66666600,
    0xAA444444, 0x54A854A8, 0x95809580, 0x96969600, 0xA85454A8, 0x80959580, 0xAA141414, 0x96960000,
    0xAAAA1414, 0xA05050A0, 0xA0A5A5A0, 0x96000000, 0x40804080, 0xA9A8A9A8, 0xAAAAAA44, 0x2A4A5254};
// Pixels whose index has its highest bit left out, besides the first: of the second of two parts, and of the
// second and third of three.
constexpr std::array<uint8_t, 64> kAnchorOfTwo = {
    15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 2,  8, 2, 2, 8,
    8,  15, 2,  8,  2,  2,  8,  8,  2,  2,  15, 15, 6,  8,  2,  8,  15, 15, 2, 8, 2, 2,
    2,  15, 15, 6,  6,  2,  6,  8,  15, 15, 2,  2,  15, 15, 15, 15, 15, 2,  2, 15};
constexpr std::array<uint8_t, 64> kSecondOfThree = {
    3,  3,  15, 15, 8, 3,  15, 15, 8,  8,  6, 6,  6, 5,  3, 3,  3,  3,  8,  15, 3,  3,
    6,  10, 5,  8,  8, 6,  8,  5,  15, 15, 8, 15, 3, 5,  6, 10, 8,  15, 15, 3,  15, 5,
    15, 15, 15, 15, 3, 15, 5,  5,  5,  8,  5, 10, 5, 10, 8, 13, 15, 12, 3,  3};
constexpr std::array<uint8_t, 64> kThirdOfThree = {
    15, 8, 8, 3,  15, 15, 3,  8,  15, 15, 15, 15, 15, 15, 15, 8,  15, 8,  15, 3,  15, 8,
    15, 8, 3, 15, 6,  10, 15, 15, 10, 8,  15, 3,  15, 10, 10, 8,  9,  10, 6,  15, 8,  15,
    3,  6, 6, 8,  15, 3,  15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 3,  15, 15, 8};

struct Mode {
  unsigned parts, partition, rotation, selection, color, alpha, end_bit, shared_bit, index, second_index;
};
// The specification's table of modes.
constexpr std::array<Mode, 8> kModes = {{{3, 4, 0, 0, 4, 0, 1, 0, 3, 0},
                                         {2, 6, 0, 0, 6, 0, 0, 1, 3, 0},
                                         {3, 6, 0, 0, 5, 0, 0, 0, 2, 0},
                                         {2, 6, 0, 0, 7, 0, 1, 0, 2, 0},
                                         {1, 0, 2, 1, 5, 6, 0, 0, 2, 3},
                                         {1, 0, 2, 0, 7, 8, 0, 0, 2, 2},
                                         {1, 0, 0, 0, 7, 7, 1, 0, 4, 0},
                                         {2, 6, 0, 0, 5, 5, 1, 0, 2, 0}}};
constexpr std::array<uint8_t, 4> kWeights2 = {0, 21, 43, 64};
constexpr std::array<uint8_t, 8> kWeights3 = {0, 9, 18, 27, 37, 46, 55, 64};
constexpr std::array<uint8_t, 16> kWeights4 = {0, 4, 9, 13, 17, 21, 26, 30, 34, 38, 43, 47, 51, 55, 60, 64};

uint32_t weight(unsigned bits, uint32_t index) {
  return bits == 2 ? kWeights2[index] : bits == 3 ? kWeights3[index] : kWeights4[index];
}

size_t partOf(unsigned parts, uint32_t partition, size_t pixel) {
  if (parts == 2) return kTwo[partition] >> pixel & 1U;
  if (parts == 3) return kThree[partition] >> (2 * pixel) & 3U;
  return 0;
}

bool isAnchor(unsigned parts, uint32_t partition, size_t pixel) {
  if (pixel == 0) return true;
  if (parts == 2) return pixel == kAnchorOfTwo[partition];
  return parts == 3 && (pixel == kSecondOfThree[partition] || pixel == kThirdOfThree[partition]);
}

void bptc(base::ByteSpan bytes, size_t at, Block& out) {
  Bits in(bytes, at);
  unsigned number = 0;
  while (number < 8 && in.take(1) == 0) ++number;
  if (number == 8) {  // reserved: nothing
    out.fill({0, 0, 0, 0});
    return;
  }
  const Mode& mode = kModes[number];
  const uint32_t partition = in.take(mode.partition), rotation = in.take(mode.rotation),
                 selection = in.take(mode.selection);
  std::array<std::array<uint32_t, 4>, 6> ends{};
  const size_t count = size_t{mode.parts} * 2;
  for (size_t c = 0; c < 3; ++c)
    for (size_t e = 0; e < count; ++e) ends[e][c] = in.take(mode.color);
  for (size_t e = 0; e < count; ++e) ends[e][3] = in.take(mode.alpha);
  unsigned color_bits = mode.color, alpha_bits = mode.alpha;
  if (mode.end_bit != 0 || mode.shared_bit != 0) {
    std::array<uint32_t, 6> low{};
    for (size_t e = 0; e < count; ++e) low[e] = mode.end_bit != 0 || e % 2 == 0 ? in.take(1) : low[e - 1];
    for (size_t e = 0; e < count; ++e)
      for (size_t c = 0; c < 4; ++c) ends[e][c] = ends[e][c] << 1 | low[e];
    ++color_bits;
    if (alpha_bits > 0) ++alpha_bits;
  }
  // Spread over eight bits by repeating the highest.
  for (size_t e = 0; e < count; ++e)
    for (size_t c = 0; c < 4; ++c) {
      const unsigned bits = c < 3 ? color_bits : alpha_bits;
      if (bits == 0)
        ends[e][c] = 255;
      else
        ends[e][c] = (ends[e][c] << (8 - bits) | ends[e][c] >> (2 * bits - 8)) & 255U;
    }
  std::array<uint32_t, 16> first{}, second{};
  for (size_t i = 0; i < 16; ++i)
    first[i] = in.take(mode.index - (isAnchor(mode.parts, partition, i) ? 1 : 0));
  if (mode.second_index != 0)
    for (size_t i = 0; i < 16; ++i) second[i] = in.take(mode.second_index - (i == 0 ? 1 : 0));
  for (size_t i = 0; i < 16; ++i) {
    const size_t part = partOf(mode.parts, partition, i);
    const auto &a = ends[part * 2], &b = ends[part * 2 + 1];
    uint32_t for_color = weight(mode.index, first[i]), for_alpha = for_color;
    if (mode.second_index != 0) for_alpha = weight(mode.second_index, second[i]);
    if (selection != 0) std::swap(for_color, for_alpha);
    for (size_t c = 0; c < 4; ++c) {
      const uint32_t w = c < 3 ? for_color : for_alpha;
      out[i][c] = static_cast<uint8_t>((a[c] * (64 - w) + b[c] * w + 32) >> 6);
    }
    if (rotation != 0) std::swap(out[i][3], out[i][rotation - 1]);
  }
}

// The third part of a unit vector whose first two are stored.
uint8_t third(uint8_t x, uint8_t y) {
  const float a = static_cast<float>(x) / 127.5F - 1, b = static_cast<float>(y) / 127.5F - 1;
  const float c = std::sqrt(std::max(0.0F, 1 - a * a - b * b));
  return static_cast<uint8_t>(std::lround((c + 1) * 127.5F));
}

void decodeBlock(base::ByteSpan bytes, size_t at, PixelFormat format, Block& out) {
  out.fill({0, 0, 0, 255});
  switch (format) {
    case PixelFormat::bc1:
      return colors(bytes, at, true, out);
    case PixelFormat::bc2:
      flatAlpha(bytes, at, out);
      return colors(bytes, at + 8, false, out);
    case PixelFormat::bc3:
      channel(bytes, at, 3, out);
      return colors(bytes, at + 8, false, out);
    case PixelFormat::bc4:
      channel(bytes, at, 0, out);
      for (Pixel& p : out) p[1] = p[2] = p[0];
      return;
    case PixelFormat::bc5:
      channel(bytes, at, 0, out);
      channel(bytes, at + 8, 1, out);
      for (Pixel& p : out) p[2] = third(p[0], p[1]);
      return;
    case PixelFormat::bc7:
      return bptc(bytes, at, out);
    default:
      return;  // not in 4 x 4 blocks of this family
  }
}

}  // namespace

base::Bytes decodeLevel(base::ByteSpan level, uint32_t width, uint32_t height, PixelFormat format,
                        bool srgb) {
  if (level.size() < bundle::levelBytes(format, width, height))
    base::brokenPromise("a level shorter than its blocks");
  if (format == PixelFormat::rgba8) {
    const base::ByteSpan pixels = level.first(bundle::levelBytes(format, width, height));
    return {pixels.begin(), pixels.end()};
  }
  if (bundle::isAstc(format)) return decodeAstc(level, width, height, format, srgb);
  base::Bytes out(size_t{width} * height * 4);
  const size_t across = (size_t{width} + 3) / 4, down = (size_t{height} + 3) / 4,
               each = bundle::rowOf(format).block_bytes;
  base::parallelFor(down, [&](size_t row) {
    Block block{};
    for (size_t column = 0; column < across; ++column) {
      decodeBlock(level, (row * across + column) * each, format, block);
      for (size_t i = 0; i < 16; ++i) {
        const size_t x = column * 4 + i % 4, y = row * 4 + i / 4;
        if (x >= width || y >= height) continue;
        for (size_t c = 0; c < 4; ++c) out[(y * width + x) * 4 + c] = static_cast<std::byte>(block[i][c]);
      }
    }
  });
  return out;
}

bundle::Ktx2Picture plainPicture(const bundle::Ktx2Picture& picture) {
  bundle::Ktx2Picture out{picture.width, picture.height, picture.srgb, {}};
  for (size_t i = 0; i < picture.levels.size(); ++i)
    out.levels.push_back(decodeLevel(picture.levels[i], std::max(1U, picture.width >> i),
                                     std::max(1U, picture.height >> i), picture.format, picture.srgb));
  return out;
}

}  // namespace rakugo::texture
