#include "formats/pictures/picture_traits.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "support/made_pictures.h"

namespace rakugo::formats {
namespace {

TEST(PictureTraits, OfNoPixelsAreTheInitialOnes) {
  EXPECT_EQ(pictureTraits({}).least_alpha, 255);
  EXPECT_EQ(pictureTraits({}).directions, 0);
}

TEST(PictureTraits, SayHowMuchIsTransparent) {
  Picture p{4, 4, base::Bytes(64, std::byte{200})};
  for (size_t i = 3; i < 64; i += 4) p.pixels[i] = std::byte{255};
  EXPECT_EQ(pictureTraits(p).transparent, 0);
  EXPECT_TRUE(pictureTraits(p).grey);
  EXPECT_TRUE(pictureTraits(p).uniform);
  p.pixels[3] = std::byte{0};
  EXPECT_DOUBLE_EQ(pictureTraits(p).transparent, 1.0 / 16);
  EXPECT_EQ(pictureTraits(p).least_alpha, 0);
  // What compression leaves of opaque is opaque.
  p.pixels[3] = std::byte{252};
  EXPECT_EQ(pictureTraits(p).transparent, 0);
}

TEST(PictureTraits, KnowNormalMapsFromColoursAndFromGreys) {
  EXPECT_TRUE(isNormalMap(pictureTraits(test::dentedNormals(64, true))));
  EXPECT_TRUE(isNormalMap(pictureTraits(test::plainPicture(8, 128, 128, 255))));
  EXPECT_FALSE(isNormalMap(pictureTraits(test::plainPicture(8, 201, 201, 201)))) << "a grey of length one";
  EXPECT_FALSE(isNormalMap(pictureTraits(test::plainPicture(8, 255, 255, 255))));
  EXPECT_FALSE(isNormalMap(pictureTraits(test::plainPicture(8, 60, 90, 200))));
  std::mt19937 random(3);
  Picture noise{64, 64, base::Bytes(64 * 64 * 4)};
  for (std::byte& b : noise.pixels) b = static_cast<std::byte>(random());
  EXPECT_FALSE(isNormalMap(pictureTraits(noise)));
}

// The picture's own slopes tell: those of a surface have no curl.
TEST(PictureTraits, TellWhichWayGreenCounts) {
  for (const unsigned seed : {1U, 2U, 3U, 4U, 5U}) {
    EXPECT_GT(pictureTraits(test::dentedNormals(96, true, seed)).green_up, 0.8) << seed;
    EXPECT_LT(pictureTraits(test::dentedNormals(96, false, seed)).green_up, -0.8) << seed;
  }
  EXPECT_EQ(pictureTraits(test::plainPicture(64, 128, 128, 255)).green_up, 0) << "flat: nothing tells";
}

TEST(PictureTraits, OfAGrooveAlongAnAxisTellNothingOfGreen) {
  Picture p{64, 64, base::Bytes(size_t{64} * 64 * 4, std::byte{255})};
  for (size_t y = 0; y < 64; ++y)
    for (size_t x = 0; x < 64; ++x) {
      const double slope = std::sin(static_cast<double>(x) * 0.3);
      test::setNormal(p, x, y, -slope, 0, true);
    }
  EXPECT_LT(std::abs(pictureTraits(p).green_up), 0.2);
}

}  // namespace
}  // namespace rakugo::formats
