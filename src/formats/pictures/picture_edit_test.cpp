#include "formats/pictures/picture_edit.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "support/made_pictures.h"

namespace rakugo::formats {
namespace {

int valueAt(const Picture& p, size_t x, size_t y, size_t c) {
  return std::to_integer<int>(p.pixels[(y * p.width + x) * 4 + c]);
}

TEST(FillAround, TakesTheNearestKnownColourAndLeavesAlpha) {
  Picture p = test::plainPicture(9, 0, 0, 0, 7);
  std::vector<uint8_t> known(81, 0);
  const auto know = [&](size_t x, size_t y, int red) {
    known[y * 9 + x] = 1;
    p.pixels[(y * 9 + x) * 4] = static_cast<std::byte>(red);
  };
  know(1, 4, 100);
  know(7, 4, 200);
  Picture near = p;
  EXPECT_EQ(fillAround(near, known, 1), 16U) << "eight round each";
  EXPECT_EQ(valueAt(near, 2, 3, 0), 100);
  EXPECT_EQ(valueAt(near, 3, 4, 0), 0) << "two pixels away";
  EXPECT_EQ(valueAt(near, 2, 3, 3), 7);
  fillAround(p, known, 0);
  for (size_t y = 0; y < 9; ++y)
    for (size_t x = 0; x < 9; ++x) {
      const auto away = [&](size_t at) {
        return std::max(std::max(x, at) - std::min(x, at), std::max<size_t>(y, 4) - std::min<size_t>(y, 4));
      };
      if (away(1) == away(7)) continue;  // as near to both: either
      EXPECT_EQ(valueAt(p, x, y, 0), away(1) < away(7) ? 100 : 200) << x << ", " << y;
    }
}

TEST(FillAround, DoesNothingWhereNothingOrAllIsKnown) {
  const Picture p = test::dentedNormals(16, true);
  for (const uint8_t flag : {0, 1}) {
    Picture filled = p;
    fillAround(filled, std::vector<uint8_t>(256, flag), 0);
    EXPECT_EQ(filled.pixels, p.pixels);
  }
}

TEST(Tint, MultipliesLight) {
  Picture p = test::plainPicture(2, 255, 188, 90, 40);
  Picture none = p;
  tint(none, {0.1F, 0.2F, 0.3F}, 0);
  EXPECT_EQ(none.pixels, p.pixels);
  tint(p, {0.5F, 0.5F, 1}, 1);
  EXPECT_EQ(valueAt(p, 0, 0, 0), 188) << "half of full light";
  EXPECT_EQ(valueAt(p, 0, 0, 2), 90);
  EXPECT_EQ(valueAt(p, 0, 0, 3), 40);
}

TEST(Grade, ByNothingChangesNothing) {
  std::mt19937 random(4);
  Picture p{32, 32, base::Bytes(32 * 32 * 4)};
  for (std::byte& b : p.pixels) b = static_cast<std::byte>(random());
  Picture graded = p;
  grade(graded, 0, 1, 1);
  for (size_t i = 0; i < p.pixels.size(); ++i)
    ASSERT_NEAR(std::to_integer<int>(graded.pixels[i]), std::to_integer<int>(p.pixels[i]), 1);
  grade(graded, 2 * static_cast<float>(M_PI), 1, 1);
  for (size_t i = 0; i < p.pixels.size(); ++i)
    ASSERT_NEAR(std::to_integer<int>(graded.pixels[i]), std::to_integer<int>(p.pixels[i]), 2);
}

TEST(Grade, WithoutSaturationIsGreyAndWithoutLightBlack) {
  Picture p = test::plainPicture(2, 200, 40, 90);
  Picture grey = p;
  grade(grey, 1, 0, 1);
  EXPECT_NEAR(valueAt(grey, 0, 0, 0), valueAt(grey, 0, 0, 1), 1);
  EXPECT_NEAR(valueAt(grey, 0, 0, 1), valueAt(grey, 0, 0, 2), 1);
  grade(p, 0, 1, 0);
  EXPECT_EQ(valueAt(p, 0, 0, 0), 0);
}

TEST(CopyChannel, ResizesWhereItMust) {
  const Picture from = test::plainPicture(8, 10, 20, 30, 40);
  for (const uint32_t side : {8U, 5U, 16U}) {
    Picture to = test::plainPicture(side, 1, 2, 3, 4);
    copyChannel(from, 3, to, 0);
    EXPECT_EQ(valueAt(to, side - 1, 0, 0), 40);
    EXPECT_EQ(valueAt(to, side - 1, 0, 1), 2);
  }
}

}  // namespace
}  // namespace rakugo::formats
