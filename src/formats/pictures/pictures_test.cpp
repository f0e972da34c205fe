// Pictures of every format: written by hand, by the letter, and held against an independent decoder.
#include "formats/pictures/pictures.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <webp/encode.h>

#include <random>

#include "formats/pictures/picture_formats.h"
#include "formats/sounds.h"

namespace rakugo::formats {
namespace {

using base::Bytes;

Bytes bytes(std::initializer_list<int> values) {
  Bytes out;
  for (const int v : values) out.push_back(static_cast<std::byte>(v));
  return out;
}

Bytes unhex(const std::string& text) {
  Bytes out;
  for (size_t i = 0; i + 1 < text.size(); i += 2)
    out.push_back(static_cast<std::byte>(std::stoi(text.substr(i, 2), nullptr, 16)));
  return out;
}

std::vector<int> pixel(const Picture& p, uint32_t x, uint32_t y) {
  std::vector<int> out;
  for (size_t c = 0; c < 4; ++c) out.push_back(static_cast<int>(p.pixels[(size_t{y} * p.width + x) * 4 + c]));
  return out;
}

using testing::ElementsAre;

// Two by two: the lower row is stored first unless the descriptor says otherwise.
Bytes tga(int kind, int bits, int descriptor, const Bytes& rest, int map_count = 0, int map_bits = 0) {
  Bytes out = bytes({0, map_count > 0 ? 1 : 0, kind, 0, 0, map_count, 0, map_bits, 0, 0, 0, 0, 2, 0, 2, 0,
                     bits, descriptor});
  out.insert(out.end(), rest.begin(), rest.end());
  return out;
}

TEST(Tga, TrueColourRowsAndChannels) {
  const auto p = decodePicture(tga(2, 24, 0, bytes({1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})), "a.tga");
  ASSERT_TRUE(p) << p.error().text();
  EXPECT_THAT(pixel(*p, 0, 1), ElementsAre(3, 2, 1, 255)) << "blue comes first, the lowest row too";
  EXPECT_THAT(pixel(*p, 1, 0), ElementsAre(12, 11, 10, 255));
  EXPECT_EQ(pictureInfo(tga(2, 24, 0, Bytes(12)), "a.tga")->format, "TGA");
  const auto down = decodePicture(
      tga(2, 32, 0x28, bytes({1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16})), "a.tga");
  EXPECT_THAT(pixel(*down, 0, 0), ElementsAre(3, 2, 1, 4));
}

TEST(Tga, RunLengthsGreyMapsAndFifteenBits) {
  const auto runs = decodePicture(tga(10, 24, 0x20, bytes({0x82, 1, 2, 3, 0x00, 9, 8, 7})), "a.tga");
  ASSERT_TRUE(runs) << runs.error().text();
  EXPECT_THAT(pixel(*runs, 0, 1), ElementsAre(3, 2, 1, 255));
  EXPECT_THAT(pixel(*runs, 1, 1), ElementsAre(7, 8, 9, 255));
  const auto grey = decodePicture(tga(3, 8, 0x20, bytes({0, 50, 100, 200})), "a.tga");
  EXPECT_THAT(pixel(*grey, 1, 1), ElementsAre(200, 200, 200, 255));
  const auto mapped = decodePicture(tga(1, 8, 0x20, bytes({1, 2, 3, 4, 5, 6, 0, 1, 1, 0}), 2, 24), "a.tga");
  ASSERT_TRUE(mapped) << mapped.error().text();
  EXPECT_THAT(pixel(*mapped, 1, 0), ElementsAre(6, 5, 4, 255));
  const auto outside = decodePicture(tga(1, 8, 0x20, bytes({1, 2, 3, 4, 5, 6, 0, 1, 2, 0}), 2, 24), "a.tga");
  EXPECT_EQ(outside.error().code, "picture.damaged");
  const auto small = decodePicture(tga(2, 16, 0x20, bytes({0x1F, 0, 0, 0x7C, 0, 0, 0xFF, 0x7F})), "a.tga");
  EXPECT_THAT(pixel(*small, 0, 0), ElementsAre(0, 0, 255, 255));
  EXPECT_THAT(pixel(*small, 1, 0), ElementsAre(255, 0, 0, 255));
}

TEST(Png, EveryKindOfPixelGivesTheValuesThatAreStored) {
  // Written by the letter of the specification: a palette of two bits with transparency, sixteen bits of grey
  // with a gamma that is left alone, a colour that stands for nothing in two chunks, seven passes, all
  // filters.
  const auto read = [](const std::string& hex) { return decodePicture(unhex(hex), "a.png"); };
  const auto palette = read(
      "89504e470d0a1a0a0000000d49484452000000020000000202030000000fd8e5b700000009504c5445ff000000"
      "ff000000ff2d4acd8a0000000274524e53ff80080fb36a0000000c4944415478da63906068000000cc00990c9b"
      "ba8a0000000049454e44ae426082");
  ASSERT_TRUE(palette) << palette.error().text();
  EXPECT_THAT(pixel(*palette, 0, 0), ElementsAre(255, 0, 0, 255));
  EXPECT_THAT(pixel(*palette, 1, 0), ElementsAre(0, 255, 0, 128));
  EXPECT_THAT(pixel(*palette, 0, 1), ElementsAre(0, 0, 255, 255));
  EXPECT_THAT(pixel(*palette, 1, 1), ElementsAre(255, 0, 0, 255));
  const auto grey = read(
      "89504e470d0a1a0a0000000d494844520000000200000001100000000081d9fc150000000467414d41000186a0"
      "31e8965f0000000d4944415478da63686010320100025d00c700987d090000000049454e44ae426082");
  ASSERT_TRUE(grey) << grey.error().text();
  EXPECT_THAT(pixel(*grey, 0, 0), ElementsAre(128, 128, 128, 255));
  EXPECT_THAT(pixel(*grey, 1, 0), ElementsAre(18, 18, 18, 255));
  const auto key = read(
      "89504e470d0a1a0a0000000d49484452000000020000000108020000007b40e8dd0000000674524e5300010002"
      "0003c94babf5000000044944415478da6360c7d486ae0000000b4944415464626661650300003f0016eef751ae"
      "0000000049454e44ae426082");
  ASSERT_TRUE(key) << key.error().text();
  EXPECT_THAT(pixel(*key, 0, 0), ElementsAre(1, 2, 3, 0));
  EXPECT_THAT(pixel(*key, 1, 0), ElementsAre(4, 5, 6, 255));
  const auto passes = read(
      "89504e470d0a1a0a0000000d494844520000000200000002080600000105b13db20000001b4944415478da6360"
      "64626661606563e760e0e4e2e6e1e5e31700000371008973658d4f0000000049454e44ae426082");
  ASSERT_TRUE(passes) << passes.error().text();
  EXPECT_THAT(pixel(*passes, 0, 0), ElementsAre(1, 2, 3, 4));
  EXPECT_THAT(pixel(*passes, 1, 0), ElementsAre(5, 6, 7, 8));
  EXPECT_THAT(pixel(*passes, 1, 1), ElementsAre(13, 14, 15, 16));
  const auto filters = read(
      "89504e470d0a1a0a0000000d4948445200000003000000050800000000a51a097e0000001c4944415478da63e0"
      "129163d4e0e262929393637614116191e3e202000e8d0178147e0d8f0000000049454e44ae426082");
  ASSERT_TRUE(filters) << filters.error().text();
  for (uint32_t y = 0; y < 5; ++y)
    for (uint32_t x = 0; x < 3; ++x)
      EXPECT_EQ(pixel(*filters, x, y)[0], static_cast<int>(y * 30 + x * 10 + 10)) << x << ", " << y;
}

TEST(Png, AChecksumThatIsWrongIsDamage) {
  Bytes png = unhex(
      "89504e470d0a1a0a0000000d4948445200000003000000050800000000a51a097e0000001c4944415478da63e0"
      "129163d4e0e262929393637614116191e3e202000e8d0178147e0d8f0000000049454e44ae426082");
  for (size_t i = 41; i < png.size() - 16; ++i) {  // within the packed pixels and their checksum
    Bytes damaged = png;
    damaged[i] ^= std::byte{0x10};
    const auto read = decodePicture(damaged, "a.png");
    ASSERT_FALSE(read) << i;
    EXPECT_EQ(read.error().code, "picture.damaged");
  }
}

TEST(Webp, ReadsWhatItsLibraryWroteWithoutLoss) {
  Bytes pixels(5 * 3 * 4);
  for (size_t i = 0; i < pixels.size(); ++i) pixels[i] = static_cast<std::byte>(i % 4 == 3 ? 255 : i * 7);
  uint8_t* encoded = nullptr;
  const size_t size =
      WebPEncodeLosslessRGBA(reinterpret_cast<const uint8_t*>(pixels.data()), 5, 3, 20, &encoded);
  const auto span = base::ByteSpan(reinterpret_cast<const std::byte*>(encoded), size);
  const auto p = decodePicture(span, "a.webp");
  ASSERT_TRUE(p) << p.error().text();
  EXPECT_EQ(p->pixels, pixels);
  for (size_t n = 12; n < size; ++n) EXPECT_FALSE(decodePicture(span.first(n), "a.webp")) << n;
  WebPFree(encoded);
}

Bytes dds(uint32_t flags, const char* code, uint32_t bits, std::array<uint32_t, 4> masks, const Bytes& rest,
          uint32_t width = 4, uint32_t height = 4) {
  base::ByteWriter out;
  out.bytes(base::asBytes("DDS "));
  out.write<uint32_t>(124);
  out.write<uint32_t>(0x1007);
  out.write<uint32_t>(height);
  out.write<uint32_t>(width);
  out.zeros(12 + 44);
  out.write<uint32_t>(32);
  out.write<uint32_t>(flags);
  out.bytes(base::asBytes(std::string(code).empty() ? std::string(4, '\0') : std::string(code)));
  out.write<uint32_t>(bits);
  for (const uint32_t m : masks) out.write<uint32_t>(m);
  out.zeros(20);
  out.bytes(rest);
  return out.take();
}

TEST(Dds, MasksAndBlocks) {
  // One red block: both ends 565 red, all indices 0.
  const Bytes red = bytes({0, 0xF8, 0, 0xF8, 0, 0, 0, 0});
  const auto p = decodePicture(dds(4, "DXT1", 0, {}, red), "a.dds");
  ASSERT_TRUE(p) << p.error().text();
  EXPECT_THAT(pixel(*p, 3, 3), ElementsAre(255, 0, 0, 255));
  const auto plain = decodePicture(
      dds(0x41, "", 32, {0xFF0000, 0xFF00, 0xFF, 0xFF000000}, bytes({1, 2, 3, 4}), 1, 1), "a.dds");
  ASSERT_TRUE(plain) << plain.error().text();
  EXPECT_THAT(pixel(*plain, 0, 0), ElementsAre(3, 2, 1, 4));
  EXPECT_EQ(decodePicture(dds(4, "DXT1", 0, {}, Bytes(7)), "a.dds").error().code, "picture.damaged");
  EXPECT_EQ(decodePicture(dds(4, "WHAT", 0, {}, red), "a.dds").error().code, "picture.unknown_format");
  EXPECT_EQ(decodePicture(dds(4, "DXT1", 0, {}, red, 1u << 30, 1u << 30), "a.dds").error().code,
            "picture.too_large");
}

Bytes ktx2(uint32_t format, uint32_t width, uint32_t height, const Bytes& level) {
  base::ByteWriter out;
  for (const int b : {0xAB, 0x4B, 0x54, 0x58, 0x20, 0x32, 0x30, 0xBB, 0x0D, 0x0A, 0x1A, 0x0A})
    out.write<uint8_t>(static_cast<uint8_t>(b));
  for (const uint32_t v : {format, 1u, width, height, 0u, 0u, 1u, 1u, 0u}) out.write<uint32_t>(v);
  out.zeros(16 + 16);
  out.write<uint64_t>(104);
  out.write<uint64_t>(level.size());
  out.write<uint64_t>(level.size());
  out.bytes(level);
  return out.take();
}

TEST(Ktx2, ReadsPlainAndBlockPixels) {
  const auto plain = decodePicture(ktx2(44, 2, 1, bytes({1, 2, 3, 4, 5, 6, 7, 8})), "a.ktx2");
  ASSERT_TRUE(plain) << plain.error().text();
  EXPECT_THAT(pixel(*plain, 1, 0), ElementsAre(7, 6, 5, 8));
  const auto red = decodePicture(ktx2(131, 3, 2, bytes({0, 0xF8, 0, 0xF8, 0, 0, 0, 0})), "a.ktx2");
  ASSERT_TRUE(red);
  EXPECT_THAT(pixel(*red, 2, 1), ElementsAre(255, 0, 0, 255));
  EXPECT_EQ(decodePicture(ktx2(44, 4, 4, Bytes(63)), "a.ktx2").error().code, "picture.damaged");
  EXPECT_EQ(decodePicture(ktx2(0, 4, 4, Bytes(64)), "a.ktx2").error().code, "picture.unknown_format");
}

TEST(Pictures, EveryFormatSurvivesDamage) {
  const Bytes files[] = {tga(10, 24, 0x20, bytes({0x82, 1, 2, 3, 0x00, 9, 8, 7})),
                         dds(4, "DXT5", 0, {}, Bytes(16)), ktx2(145, 4, 4, Bytes(16, std::byte{0x55}))};
  std::mt19937 random(3);
  for (const Bytes& file : files) {
    for (size_t n = 0; n < file.size(); ++n) (void)decodePicture(base::ByteSpan(file).first(n), "x");
    for (int i = 0; i < 3000; ++i) {
      Bytes bad = file;
      bad[random() % bad.size()] ^= static_cast<std::byte>(1u << random() % 8);
      base::Limits limits;
      limits.picture_pixels = 1 << 20;
      const auto p = decodePicture(bad, "x", limits);
      if (p) {
        ASSERT_EQ(p->pixels.size(), size_t{p->width} * p->height * 4);
      }
    }
  }
}

// A WAV of 16-bit samples: a header of 44 bytes by the book.
Bytes wav(const std::vector<int16_t>& samples, uint16_t channels, uint32_t rate) {
  base::ByteWriter out;
  const auto data = static_cast<uint32_t>(samples.size() * 2);
  out.bytes(base::asBytes("RIFF"));
  out.write<uint32_t>(36 + data);
  out.bytes(base::asBytes("WAVEfmt "));
  out.write<uint32_t>(16);
  out.write<uint16_t>(1);
  out.write<uint16_t>(channels);
  out.write<uint32_t>(rate);
  out.write<uint32_t>(rate * channels * 2);
  out.write<uint16_t>(static_cast<uint16_t>(channels * 2));
  out.write<uint16_t>(16);
  out.bytes(base::asBytes("data"));
  out.write<uint32_t>(data);
  for (const int16_t s : samples) out.write<int16_t>(s);
  return out.take();
}

TEST(Sounds, WavIsMeasuredAndDrawn) {
  const Bytes file = wav({0, 0, 16384, -8192, -32768, 0, 0, 0}, 2, 8000);
  EXPECT_TRUE(isSound(file));
  const auto sound = decodeSound(file, "a.wav");
  ASSERT_TRUE(sound) << sound.error().text();
  EXPECT_EQ(sound->info.format, "WAV");
  EXPECT_EQ(sound->info.channels, 2U);
  EXPECT_EQ(sound->info.rate_hz, 8000U);
  EXPECT_EQ(sound->info.frames, 4U);
  EXPECT_DOUBLE_EQ(sound->info.seconds(), 4.0 / 8000);
  EXPECT_FLOAT_EQ(sound->info.peak, 1);
  EXPECT_THAT(waveOf(*sound, 2), ElementsAre(std::pair(-0.25F, 0.5F), std::pair(-1.0F, 0.0F)));
  EXPECT_EQ(decodeSound(base::asBytes("MThd"), "a.mid").error().code, "sound.unknown_format");
  for (size_t n = 0; n < 44; ++n) {
    const auto cut = decodeSound(base::ByteSpan(file).first(n), "a.wav");
    if (cut) {
      EXPECT_EQ(cut->info.frames, 0U) << n;
    }
  }
}

}  // namespace
}  // namespace rakugo::formats
