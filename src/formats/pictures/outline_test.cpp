// A line round what a picture shows, held against distances worked out pixel by pixel.
#include "formats/pictures/outline.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace rakugo::formats {
namespace {

Picture clear(uint32_t width, uint32_t height) {
  return {width, height, base::Bytes(size_t{width} * height * 4)};
}

void paint(Picture& picture, uint32_t x, uint32_t y, std::array<uint8_t, 4> color) {
  for (size_t c = 0; c < 4; ++c)
    picture.pixels[(size_t{y} * picture.width + x) * 4 + c] = std::byte{color[c]};
}
uint8_t at(const Picture& picture, uint32_t x, uint32_t y, size_t c) {
  return std::to_integer<uint8_t>(picture.pixels[(size_t{y} * picture.width + x) * 4 + c]);
}

TEST(Outlined, ReachesAsFarAsItsWidthFromEveryPixelThatIsSeen) {
  std::mt19937 random(3);
  for (const double width : {1.0, 2.5, 7.0}) {
    Picture picture = clear(37, 23);
    std::vector<std::pair<int, int>> seen;
    for (int i = 0; i < 6; ++i) {
      seen.emplace_back(random() % 37, random() % 23);
      paint(picture, static_cast<uint32_t>(seen.back().first), static_cast<uint32_t>(seen.back().second),
            {200, 10, 10, 255});
    }
    const Picture out = outlined(picture, width, {1, 2, 3});
    for (int y = 0; y < 23; ++y)
      for (int x = 0; x < 37; ++x) {
        double nearest = 1e9;
        for (const auto& [sx, sy] : seen) nearest = std::min(nearest, std::hypot(sx - x, sy - y));
        const double line = nearest == 0 ? 1 : std::clamp(width + 1 - nearest, 0.0, 1.0);
        EXPECT_NEAR(at(out, static_cast<uint32_t>(x), static_cast<uint32_t>(y), 3), line * 255, 1);
        if (nearest == 0) {
          EXPECT_EQ(at(out, static_cast<uint32_t>(x), static_cast<uint32_t>(y), 0), 200);
        } else if (line > 0) {
          EXPECT_EQ(at(out, static_cast<uint32_t>(x), static_cast<uint32_t>(y), 2), 3);
        }
      }
  }
}

TEST(Outlined, LetsTheLineThroughWhatIsHalfSeenAndLeavesTheRest) {
  Picture picture = clear(3, 1);
  paint(picture, 0, 0, {255, 255, 255, 255});
  paint(picture, 1, 0, {255, 255, 255, 64});
  const Picture out = outlined(picture, 1, {0, 0, 0});
  EXPECT_EQ(at(out, 1, 0, 3), 255);
  EXPECT_NEAR(at(out, 1, 0, 0), 64, 1);
  EXPECT_EQ(outlined(picture, 0, {0, 0, 0}).pixels, picture.pixels);
  EXPECT_EQ(outlined(clear(4, 4), 3, {0, 0, 0}).pixels, clear(4, 4).pixels) << "nothing to go round";
  EXPECT_TRUE(outlined(Picture{}, 2, {0, 0, 0}).pixels.empty());
}

}  // namespace
}  // namespace rakugo::formats
