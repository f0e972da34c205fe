#include <gtest/gtest.h>

#include <random>

#include "formats/pictures/pictures.h"
#include "support/made_pictures.h"

namespace rakugo::formats {
namespace {

TEST(EncodePicture, ComesBackAsItWasWhereTheFormatLosesNothing) {
  std::mt19937 random(2);
  for (const auto& [w, h] : {std::pair(1U, 1U), {7U, 3U}, {64U, 64U}, {300U, 2U}}) {
    Picture p{w, h, base::Bytes(size_t{w} * h * 4)};
    for (std::byte& b : p.pixels) b = static_cast<std::byte>(random());
    p.pixels[3] = std::byte{0};  // the colour below a transparent pixel stays too
    for (const char* format : {"png", "tga", "webp"}) {
      const auto bytes = encodePicture(p, format);
      ASSERT_TRUE(bytes) << format;
      const auto back = decodePicture(*bytes, std::string("x.") + format);
      ASSERT_TRUE(back) << format << ": " << back.error().text();
      EXPECT_EQ(back->width, w);
      EXPECT_EQ(back->pixels, p.pixels) << format << " " << w << " x " << h;
    }
  }
}

TEST(EncodePicture, AsJpegIsNearAndOpaque) {
  const Picture p = test::plainPicture(40, 200, 90, 30, 100);
  const auto back = decodePicture(*encodePicture(p, "jpg"), "x.jpg");
  ASSERT_TRUE(back);
  for (size_t i = 0; i < back->pixels.size(); i += 4) {
    for (size_t c = 0; c < 3; ++c)
      ASSERT_NEAR(std::to_integer<int>(back->pixels[i + c]), std::to_integer<int>(p.pixels[i + c]), 3);
    ASSERT_EQ(back->pixels[i + 3], std::byte{255});
  }
}

TEST(EncodePicture, RefusesWhatAFormatCannotHold) {
  EXPECT_EQ(encodePicture({}, "png").error().code, "picture.failed");
  EXPECT_EQ(encodePicture(test::plainPicture(2, 0, 0, 0), "bmp").error().code, "picture.unknown_format");
  const Picture wide{70'000, 1, base::Bytes(size_t{70'000} * 4)};
  for (const char* format : {"jpg", "tga", "webp"})
    EXPECT_EQ(encodePicture(wide, format).error().code, "picture.too_large") << format;
}

TEST(EncodePng, IsTheSamePictureWhateverTheEffort) {
  const Picture p = test::dentedNormals(50, true);
  EXPECT_EQ(decodePicture(encodePng(p, PngEffort::quick), "x")->pixels, p.pixels);
  EXPECT_EQ(decodePicture(encodePng(p), "x")->pixels, p.pixels);
}

}  // namespace
}  // namespace rakugo::formats
