#include "geometry/cluster.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <limits>

namespace rakugo::geometry {
namespace {

using testing::ElementsAre;

TEST(ClusterVertices, TheFirstOfACellStandsForAll) {
  const std::vector<glm::vec3> line = {{0, 0, 0}, {0.4F, 0, 0}, {0.6F, 0, 0}, {1, 0, 0}};
  EXPECT_THAT(clusterVertices(line, 2), ElementsAre(0, 0, 2, 2));
  EXPECT_THAT(clusterVertices(line, 1), ElementsAre(0, 0, 0, 0));
  EXPECT_THAT(clusterVertices(line, 1000), ElementsAre(0, 1, 2, 3));
}

TEST(ClusterVertices, WhatIsNotFiniteStandsForItself) {
  const float nan = std::numeric_limits<float>::quiet_NaN();
  const std::vector<glm::vec3> points = {{nan, 0, 0}, {1, 1, 1}, {1, 1, 1}, {0, INFINITY, 0}};
  EXPECT_THAT(clusterVertices(points, 8), ElementsAre(0, 1, 1, 3));
  EXPECT_TRUE(clusterVertices({}, 8).empty());
}

TEST(CoarseTriangles, LoseThoseThatCollapse) {
  const std::vector<uint32_t> triangles = {0, 1, 2, 1, 2, 3, 2, 3, 9};
  const std::vector<uint32_t> stands = {0, 0, 2, 3};
  EXPECT_THAT(coarseTriangles(triangles, stands), ElementsAre(0, 2, 3));
}

TEST(CoarseTriangles, AFineSheetKeepsItsOutlineWithFarFewerTriangles) {
  constexpr uint32_t kSide = 200;
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> triangles;
  for (uint32_t y = 0; y <= kSide; ++y)
    for (uint32_t x = 0; x <= kSide; ++x)
      positions.emplace_back(static_cast<float>(x), static_cast<float>(y), 0.0F);
  for (uint32_t y = 0; y < kSide; ++y)
    for (uint32_t x = 0; x < kSide; ++x) {
      const uint32_t a = y * (kSide + 1) + x, b = a + kSide + 1;
      triangles.insert(triangles.end(), {a, a + 1, b + 1, a, b + 1, b});
    }
  const auto coarse = coarseTriangles(triangles, clusterVertices(positions, 20));
  EXPECT_GT(coarse.size() / 3, 19u * 19);
  EXPECT_LT(coarse.size(), triangles.size() / 20);
  glm::vec3 high(0);
  for (const uint32_t v : coarse) high = glm::max(high, positions[v]);
  EXPECT_GE(high.x, 190);
  EXPECT_GE(high.y, 190);
}

}  // namespace
}  // namespace rakugo::geometry
