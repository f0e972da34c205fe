// Blocks of graphics cards, both ways: against hand-made blocks, against decoders that are not ours, and by
// what must hold for every picture.
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <squish.h>

#include <cmath>
#include <map>
#include <random>

#include "support/block_pictures.h"
#include "texture/block_decoder.h"
#include "texture/block_encoder.h"
#include "texture/dds.h"
#include "texture/picture_quality.h"

namespace rakugo::texture {
namespace {

using base::Bytes;
using bundle::PixelFormat;

Bytes fromHex(const std::string& text) {
  Bytes out;
  for (size_t i = 0; i + 1 < text.size(); i += 2)
    out.push_back(static_cast<std::byte>(std::stoi(text.substr(i, 2), nullptr, 16)));
  return out;
}

Bytes octets(std::initializer_list<int> values) {
  Bytes out;
  for (const int v : values) out.push_back(static_cast<std::byte>(v));
  return out;
}

// Slow waves in every channel with a little noise: what pictures are like.
Bytes waves(uint32_t width, uint32_t height, unsigned seed, bool opaque = false) {
  std::mt19937 random(seed);
  Bytes out(size_t{width} * height * 4);
  for (uint32_t y = 0; y < height; ++y)
    for (uint32_t x = 0; x < width; ++x)
      for (uint32_t c = 0; c < 4; ++c) {
        const double v = 128 + 90 * std::sin(0.07 * x * (c + 1) + 0.05 * y + seed) + random() % 9;
        out[(size_t{y} * width + x) * 4 + c] =
            static_cast<std::byte>(c == 3 && opaque ? 255 : static_cast<int>(v));
      }
  return out;
}

unsigned channelsOf(PixelFormat format) {
  switch (bundle::rowOf(format).channels) {
    case 1:
      return kRed;
    case 2:
      return kRedGreen;
    case 3:
      return kColor;
    default:
      return kColorAlpha;
  }
}

TEST(BlockDecoder, MatchesAnIndependentDecoder) {
  for (const test::BlockPictures& golden : test::kBlockPictures) {
    const Bytes blocks = fromHex(golden.blocks), pixels = fromHex(golden.pixels);
    const std::string format = golden.format;
    const Bytes is = decodeLevel(blocks, 32, 4, bundle::findPixelFormat(format)->format);
    ASSERT_EQ(is.size(), pixels.size());
    const int near = format == "bc7" ? 0 : 2;
    for (size_t i = 0; i < is.size(); ++i) {
      // One and two channels fill the rest in their own way.
      if ((format == "bc4" && i % 4 != 0) || (format == "bc5" && i % 4 > 1)) continue;
      ASSERT_NEAR(static_cast<int>(is[i]), static_cast<int>(pixels[i]), near) << format << " byte " << i;
    }
  }
}

TEST(BlockDecoder, AgreesWithSquishOnWhatSquishWrote) {
  const Bytes picture = waves(64, 64, 3);
  for (const auto& [format, flags] :
       {std::pair(PixelFormat::bc1, squish::kDxt1), std::pair(PixelFormat::bc3, squish::kDxt5)}) {
    const Bytes blocks = encodeLevel(picture, 64, 64, format, true);
    Bytes theirs(picture.size());
    squish::DecompressImage(reinterpret_cast<squish::u8*>(theirs.data()), 64, 64, blocks.data(), flags);
    const Bytes ours = decodeLevel(blocks, 64, 64, format);
    for (size_t i = 0; i < ours.size(); ++i)
      ASSERT_NEAR(static_cast<int>(ours[i]), static_cast<int>(theirs[i]), 1) << i;
  }
}

// BC1 by hand: ends red (0xF800) and blue (0x001F), indices 0, 1, 2, 3 along each row.
TEST(BlockDecoder, AHandMadeBlock) {
  const Bytes block = octets({0x00, 0xF8, 0x1F, 0x00, 0xE4, 0xE4, 0xE4, 0xE4});
  EXPECT_EQ(Bytes(decodeLevel(block, 4, 1, PixelFormat::bc1)),
            octets({255, 0, 0, 255, 0, 0, 255, 255, 170, 0, 85, 255, 85, 0, 170, 255}));
  // ASTC by hand: a void-extent block (specification, section 23.22): a constant of four 16-bit channels.
  const Bytes constant = octets(
      {0xFC, 0xFD, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0x00, 0x80, 0xFF, 0xFF, 0x00, 0x00, 0xFF, 0xFF});
  const Bytes pixels = decodeLevel(constant, 2, 1, PixelFormat::astc_6x6);
  ASSERT_EQ(pixels.size(), 8U);
  EXPECT_NEAR(static_cast<int>(pixels[0]), 128, 1);
  EXPECT_EQ(pixels[1], std::byte{255});
  EXPECT_EQ(pixels[2], std::byte{0});
  EXPECT_EQ(pixels[3], std::byte{255});
}

TEST(BlockEncoder, AConstantStaysConstantInEveryFormat) {
  for (const bundle::PixelFormatRow& row : bundle::pixelFormats()) {
    if (!row.written) continue;
    for (const auto& [w, h] : {std::pair(1U, 1U), std::pair(7U, 5U), std::pair(64U, 16U)}) {
      Bytes picture;
      // Values that five and six bits hold exactly.
      for (uint32_t i = 0; i < w * h; ++i)
        for (const int v : {0x84, 0x82, 0x4A, 255}) picture.push_back(static_cast<std::byte>(v));
      const Bytes level = encodeLevel(picture, w, h, row.format, false);
      ASSERT_EQ(level.size(), bundle::levelBytes(row.format, w, h)) << row.id;
      const Bytes back = decodeLevel(level, w, h, row.format);
      for (size_t i = 0; i < back.size(); ++i)
        if ((channelsOf(row.format) >> i % 4 & 1U) != 0) {
          ASSERT_NEAR(static_cast<int>(back[i]), static_cast<int>(picture[i]), 1) << row.id << " " << i;
        }
    }
  }
}

TEST(BlockEncoder, PicturesComeBackNearTheirOriginalAndTheSameEachTime) {
  const std::map<std::string, double> least = {
      {"rgba8", 99},   {"bc1", 33},     {"bc3", 33},     {"bc4", 38},     {"bc5", 38},
      {"astc4x4", 34}, {"astc5x4", 32}, {"astc5x5", 31}, {"astc6x5", 30}, {"astc6x6", 29},
      {"astc8x5", 28}, {"astc8x6", 27}, {"astc8x8", 26}};
  const Bytes picture = waves(90, 70, 11);
  for (const auto& [id, decibels] : least) {
    const PixelFormat format = bundle::findPixelFormat(id)->format;
    const Bytes level = encodeLevel(picture, 90, 70, format, false);
    EXPECT_EQ(level, encodeLevel(picture, 90, 70, format, false)) << id;
    const PictureQuality quality =
        pictureQuality(picture, decodeLevel(level, 90, 70, format), 90, 70, channelsOf(format));
    EXPECT_GE(quality.psnr_db, decibels) << id;
    EXPECT_LE(quality.worst_psnr_db, quality.psnr_db) << id;
    const Bytes quick = encodeLevel(picture, 90, 70, format, false, BlockEffort::quick);
    const double loss =
        quality.psnr_db -
        pictureQuality(picture, decodeLevel(quick, 90, 70, format), 90, 70, channelsOf(format)).psnr_db;
    EXPECT_LT(loss, 3) << id;
  }
}

TEST(BlockEncoder, AWholePictureKeepsItsLevelsAndWhatItIs) {
  bundle::Ktx2Picture plain{20, 12, true, {}};
  for (const auto& [w, h] : {std::pair(20U, 12U), std::pair(10U, 6U), std::pair(5U, 3U)})
    plain.levels.push_back(waves(w, h, w));
  const bundle::Ktx2Picture bc1 = encodedPicture(plain, PixelFormat::bc1);
  EXPECT_TRUE(bc1.srgb);
  EXPECT_EQ(bc1.levels[2].size(), 2U * 1 * 8);
  EXPECT_TRUE(bundle::decodeKtx2(bundle::encodeKtx2(bc1), "p"));
  EXPECT_FALSE(encodedPicture(plain, PixelFormat::bc5).srgb) << "BC5 knows no sRGB";
  const bundle::Ktx2Picture back = plainPicture(bc1);
  EXPECT_EQ(back.format, PixelFormat::rgba8);
  EXPECT_EQ(back.levels[1].size(), 10U * 6 * 4);
  EXPECT_EQ(plainPicture(plain).levels, plain.levels);
}

// Any bytes are pixels: no block makes a decoder fall.
TEST(BlockDecoder, TakesAnyBytes) {
  std::mt19937 random(5);
  for (const bundle::PixelFormatRow& row : bundle::pixelFormats())
    for (int n = 0; n < 40; ++n) {
      const uint32_t w = 1 + random() % 30, h = 1 + random() % 30;
      Bytes level(bundle::levelBytes(row.format, w, h));
      for (std::byte& b : level) b = static_cast<std::byte>(random());
      EXPECT_EQ(decodeLevel(level, w, h, row.format).size(), size_t{w} * h * 4) << row.id;
    }
}

TEST(PictureQuality, FromPaper) {
  // One value of 256 (8 x 8 pixels of 4 channels) off by 16: mean squared error 1, so 10 log10(65025).
  Bytes a(8 * 8 * 4), b = a;
  b[5] = std::byte{16};
  EXPECT_NEAR(pictureQuality(a, b, 8, 8, kColorAlpha).psnr_db, 48.1308, 1e-3);
  EXPECT_EQ(pictureQuality(a, b, 8, 8, kRed).psnr_db, PictureQuality::kExact) << "it is in green";
  Bytes c(16 * 16 * 4), d = c;
  d[(9 * 16 + 8) * 4] = std::byte{255};
  const PictureQuality worst = pictureQuality(c, d, 16, 16, kColor);
  EXPECT_EQ(worst.worst_x, 8U);
  EXPECT_EQ(worst.worst_y, 8U);
  EXPECT_NEAR(worst.worst_psnr_db, 10 * std::log10(8 * 8 * 3), 1e-3);
  EXPECT_EQ(pictureQuality({}, {}, 0, 0, kColor).psnr_db, PictureQuality::kExact);
}

TEST(Dds, TheHeaderStandsByTheLetter) {
  bundle::Ktx2Picture plain{8, 4, true, {waves(8, 4, 1), waves(4, 2, 2)}};
  const Bytes file = encodeDds(encodedPicture(plain, PixelFormat::bc3)).value();
  const auto word = [&](size_t at) { return base::loadAt<uint32_t>(file, at); };
  EXPECT_EQ(word(0), 0x20534444U);  // "DDS "
  EXPECT_EQ(word(4), 124U);
  EXPECT_EQ(word(12), 4U) << "height";
  EXPECT_EQ(word(16), 8U) << "width";
  EXPECT_EQ(word(20), 32U) << "two blocks of 16";
  EXPECT_EQ(word(28), 2U) << "levels";
  EXPECT_EQ(word(84), 0x30315844U);  // "DX10"
  EXPECT_EQ(word(128), 78U) << "DXGI_FORMAT_BC3_UNORM_SRGB";
  EXPECT_EQ(file.size(), 148U + 32 + 16);
  EXPECT_EQ(encodeDds(encodedPicture(plain, PixelFormat::astc_4x4)).error().code, "picture.unknown_format");
}

}  // namespace
}  // namespace rakugo::texture
