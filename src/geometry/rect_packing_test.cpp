#include "geometry/rect_packing.h"

#include <gtest/gtest.h>

#include <random>

namespace rakugo::geometry {
namespace {

void expectApart(const std::vector<glm::uvec2>& sizes, const std::vector<glm::uvec2>& places,
                 glm::uvec2 sheet) {
  for (size_t i = 0; i < sizes.size(); ++i) {
    EXPECT_LE(places[i].x + sizes[i].x, sheet.x);
    EXPECT_LE(places[i].y + sizes[i].y, sheet.y);
    for (size_t k = i + 1; k < sizes.size(); ++k)
      EXPECT_TRUE(places[i].x + sizes[i].x <= places[k].x || places[k].x + sizes[k].x <= places[i].x ||
                  places[i].y + sizes[i].y <= places[k].y || places[k].y + sizes[k].y <= places[i].y)
          << i << " and " << k;
  }
}

TEST(PackRects, FillsASheetThatTheyJustFill) {
  const std::vector<glm::uvec2> sizes(16, glm::uvec2(4));
  const auto places = packRects(sizes, {16, 16});
  ASSERT_TRUE(places);
  expectApart(sizes, *places, {16, 16});
  EXPECT_FALSE(packRects(std::vector<glm::uvec2>(17, glm::uvec2(4)), {16, 16}));
}

TEST(PackRects, RefusesWhatIsLargerAndTakesNothing) {
  EXPECT_FALSE(packRects(std::vector<glm::uvec2>{{5, 1}}, {4, 4}));
  EXPECT_TRUE(packRects({}, {4, 4}));
  EXPECT_EQ(*packRects(std::vector<glm::uvec2>{{0, 9}, {4, 4}}, {4, 4}),
            (std::vector<glm::uvec2>{{0, 0}, {0, 0}}));
}

TEST(PackRects, RandomOnesLieApartAndFillFourFifths) {
  for (unsigned seed = 1; seed <= 12; ++seed) {
    std::mt19937 random(seed);
    std::vector<glm::uvec2> sizes;
    uint64_t area = 0;
    const uint32_t side = 512;
    while (area < uint64_t{side} * side * 82 / 100) {
      sizes.push_back({4 + random() % 60, 4 + random() % 60});
      area += uint64_t{sizes.back().x} * sizes.back().y;
    }
    const auto places = packRects(sizes, {side, side});
    ASSERT_TRUE(places) << seed;
    expectApart(sizes, *places, {side, side});
    EXPECT_EQ(*packRects(sizes, {side, side}), *places);
  }
}

}  // namespace
}  // namespace rakugo::geometry
