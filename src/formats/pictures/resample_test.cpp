#include "formats/pictures/resample.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "support/made_pictures.h"

namespace rakugo::formats {
namespace {

constexpr PictureUse kUses[] = {PictureUse::color, PictureUse::data, PictureUse::normal};

TEST(Resample, AConstantStaysConstantThroughEverySize) {
  for (const PictureUse use : kUses) {
    const Picture flat = use == PictureUse::normal ? test::plainPicture(37, 128, 128, 255)
                                                   : test::plainPicture(37, 13, 90, 231, 77);
    for (const auto& [w, h] : {std::pair(1U, 1U), {16U, 64U}, {37U, 37U}, {100U, 3U}})
      for (const Resampling how : {Resampling::smooth, Resampling::pixels}) {
        const Picture out = resized(flat, w, h, use, how);
        ASSERT_EQ(out.pixels.size(), size_t{w} * h * 4);
        for (size_t i = 0; i < out.pixels.size(); ++i)
          ASSERT_EQ(out.pixels[i], flat.pixels[i % 4]) << w << " x " << h << ", channel " << i % 4;
      }
    for (Picture level = flat; level.width > 1; level = halved(level, use))
      for (size_t i = 0; i < level.pixels.size(); ++i) ASSERT_EQ(level.pixels[i], flat.pixels[i % 4]);
  }
}

TEST(Resample, EverySrgbValueComesBack) {
  for (int v = 0; v < 256; ++v) {
    const Picture out = halved(test::plainPicture(2, v, v, v), PictureUse::color);
    EXPECT_EQ(std::to_integer<int>(out.pixels[0]), v);
  }
}

TEST(Resample, HalvesColourAsLightAndDataAsNumbers) {
  Picture p{2, 1, base::Bytes(8, std::byte{255})};
  for (size_t i = 0; i < 3; ++i) p.pixels[i] = std::byte{0};
  // Half of full light is the sRGB value 188; half of 255 as data is 128.
  EXPECT_EQ(halved(p, PictureUse::color).pixels[0], std::byte{188});
  EXPECT_EQ(halved(p, PictureUse::data).pixels[0], std::byte{128});
}

TEST(Resample, NormalsStayOfLengthOne) {
  for (Picture level = test::dentedNormals(64, true); level.width > 1;
       level = halved(level, PictureUse::normal)) {
    for (size_t i = 0; i < level.pixels.size(); i += 4) {
      double length = 0;
      for (size_t c = 0; c < 3; ++c)
        length += std::pow(std::to_integer<int>(level.pixels[i + c]) / 127.5 - 1, 2);
      ASSERT_NEAR(std::sqrt(length), 1, 0.015) << level.width;
    }
  }
}

// Against averages that are worked out in double precision from the definition.
TEST(Resample, AgreesWithASlowReference) {
  std::mt19937 random(5);
  Picture p{23, 17, base::Bytes(size_t{23} * 17 * 4)};
  for (std::byte& b : p.pixels) b = static_cast<std::byte>(random());
  const auto light = [](int byte) {
    const double s = byte / 255.0;
    return s <= 0.04045 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4);
  };
  const auto encoded = [](double l) {
    return 255 * (l <= 0.0031308 ? l * 12.92 : 1.055 * std::pow(l, 1 / 2.4) - 0.055);
  };
  const uint32_t w = 7, h = 5;
  const Picture out = resized(p, w, h, PictureUse::color);
  for (uint32_t y = 0; y < h; ++y)
    for (uint32_t x = 0; x < w; ++x)
      for (size_t c = 0; c < 4; ++c) {
        double sum = 0, all = 0;
        for (uint32_t py = 0; py < p.height; ++py)
          for (uint32_t px = 0; px < p.width; ++px) {
            const auto overlap = [](double a0, double a1, double b0, double b1) {
              return std::max(0.0, std::min(a1, b1) - std::max(a0, b0));
            };
            const double part = overlap(x * 23.0 / w, (x + 1) * 23.0 / w, px, px + 1) *
                                overlap(y * 17.0 / h, (y + 1) * 17.0 / h, py, py + 1);
            const int byte = std::to_integer<int>(p.pixels[(size_t{py} * 23 + px) * 4 + c]);
            sum += part * (c < 3 ? light(byte) : byte / 255.0);
            all += part;
          }
        const double wanted = c < 3 ? encoded(sum / all) : sum / all * 255;
        EXPECT_NEAR(std::to_integer<int>(out.pixels[(size_t{y} * w + x) * 4 + c]), wanted, 0.52);
      }
}

TEST(Resample, PixelArtGrowsAndShrinksByWholeFactorsWithoutANewColour) {
  std::mt19937 random(9);
  Picture p{8, 8, base::Bytes(256)};
  for (std::byte& b : p.pixels) b = static_cast<std::byte>(random());
  const Picture large = resized(p, 24, 24, PictureUse::color, Resampling::pixels);
  for (size_t y = 0; y < 24; ++y)
    for (size_t x = 0; x < 24; ++x)
      for (size_t c = 0; c < 4; ++c)
        ASSERT_EQ(large.pixels[(y * 24 + x) * 4 + c], p.pixels[(y / 3 * 8 + x / 3) * 4 + c]);
  EXPECT_EQ(resized(large, 8, 8, PictureUse::color, Resampling::pixels).pixels, p.pixels);
}

TEST(AllowedSide, StaysWithinTheLimitAndNearTheSide) {
  EXPECT_EQ(allowedSide(300, 0, false), 300U);
  EXPECT_EQ(allowedSide(300, 128, false), 128U);
  EXPECT_EQ(allowedSide(300, 0, true), 256U);
  EXPECT_EQ(allowedSide(400, 0, true), 512U);
  EXPECT_EQ(allowedSide(400, 500, true), 256U) << "512 is not allowed";
  EXPECT_EQ(allowedSide(1, 0, true), 1U);
}

// A lattice: thin lines of alpha that would fade away when they are averaged.
TEST(KeepCoverage, ALatticeIsDrawnAsDenselyFarAwayAsNear) {
  Picture lattice{64, 64, base::Bytes(64 * 64 * 4, std::byte{200})};
  for (uint32_t y = 0; y < 64; ++y)
    for (uint32_t x = 0; x < 64; ++x)
      lattice.pixels[(y * 64 + x) * 4 + 3] =
          std::byte{static_cast<uint8_t>((x * 7 + y * 3) % 13 < 4 ? 255 : 0)};
  const double drawn = coverage(lattice.pixels, 0.5F);
  EXPECT_NEAR(drawn, 4.0 / 13, 0.01);
  for (Picture level = halved(lattice, PictureUse::color); level.width >= 8;
       level = halved(level, PictureUse::color)) {
    Picture kept = level;
    keepCoverage(kept.pixels, drawn, 0.5F);
    const double is = coverage(kept.pixels, 0.5F), before = coverage(level.pixels, 0.5F);
    EXPECT_LE(std::abs(is - drawn), std::abs(before - drawn)) << level.width;
    for (size_t i = 0; i < kept.pixels.size(); ++i)
      if (i % 4 != 3) {
        ASSERT_EQ(kept.pixels[i], level.pixels[i]) << "colour stays";
      }
  }
}

TEST(KeepCoverage, LeavesWholeAndEmptyPicturesAsTheyAre) {
  for (const int alpha : {0, 255}) {
    const Picture flat = test::plainPicture(8, 10, 20, 30, alpha);
    base::Bytes pixels = flat.pixels;
    keepCoverage(pixels, coverage(pixels, 0.5F), 0.5F);
    EXPECT_EQ(pixels, flat.pixels);
  }
  base::Bytes none;
  keepCoverage(none, 0.5, 0.5F);
  EXPECT_EQ(coverage(none, 0.5F), 0);
}

}  // namespace
}  // namespace rakugo::formats
