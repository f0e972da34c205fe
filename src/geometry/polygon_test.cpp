#include "geometry/polygon.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>

#include <cmath>
#include <limits>
#include <random>

namespace rakugo::geometry {
namespace {

std::vector<uint32_t> cut(const std::vector<glm::vec3>& corners) {
  std::vector<uint32_t> out;
  triangulatePolygon(corners, out);
  return out;
}

// The triangles' summed normals, and the sum of their areas: equal in length only when none is turned round.
std::pair<float, float> areas(const std::vector<glm::vec3>& c, const std::vector<uint32_t>& t) {
  glm::vec3 sum(0);
  float all = 0;
  for (size_t i = 0; i < t.size(); i += 3) {
    const glm::vec3 n = glm::cross(c[t[i + 1]] - c[t[i]], c[t[i + 2]] - c[t[i]]);
    sum += n;
    all += glm::length(n);
  }
  return {glm::length(sum), all};
}

TEST(TriangulatePolygon, AQuadIsCutAlongTheDiagonalThatLiesInside) {
  EXPECT_THAT(cut({{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}}), testing::ElementsAre(0, 1, 2, 0, 2, 3));
  // An arrow head: the inner corner is the third.
  EXPECT_THAT(cut({{0, 2, 0}, {-1, 0, 0}, {0, 0.7F, 0}, {1, 0, 0}}), testing::ElementsAre(0, 1, 2, 0, 2, 3));
  EXPECT_THAT(cut({{-1, 0, 0}, {0, 0.7F, 0}, {1, 0, 0}, {0, 2, 0}}), testing::ElementsAre(1, 2, 3, 1, 3, 0));
}

TEST(TriangulatePolygon, ConcaveShapesAreCoveredOnceWhateverWayTheyFace) {
  // A comb with three teeth.
  const std::vector<glm::vec2> comb = {{0, 0}, {5, 0}, {5, 3}, {4, 3}, {4, 1}, {3, 1},
                                       {3, 3}, {2, 3}, {2, 1}, {1, 1}, {1, 3}, {0, 3}};
  for (int side = 0; side < 6; ++side) {
    std::vector<glm::vec3> corners;
    for (const glm::vec2& p : comb) {
      glm::vec3 c(p, 7);
      for (int turn = 0; turn < side % 3; ++turn) c = {c.z, c.x, c.y};
      corners.push_back(c);
    }
    if (side >= 3) std::reverse(corners.begin(), corners.end());
    const auto triangles = cut(corners);
    ASSERT_EQ(triangles.size(), 3 * (comb.size() - 2));
    const auto [sum, all] = areas(corners, triangles);
    EXPECT_NEAR(sum, 2 * 11, 1e-3F) << "15 less two gaps of 2";
    EXPECT_NEAR(all, sum, 1e-3F) << "none lies on another";
    EXPECT_GT(glm::dot(newellNormal(corners), glm::cross(corners[triangles[1]] - corners[triangles[0]],
                                                         corners[triangles[2]] - corners[triangles[0]])),
              0);
  }
}

TEST(TriangulatePolygon, StarsOfAnyShapeKeepTheirArea) {
  std::mt19937 random(3);
  std::uniform_real_distribution<float> radius(0.2F, 1);
  for (int round = 0; round < 200; ++round) {
    const int n = 5 + round % 30;
    std::vector<glm::vec3> corners;
    for (int i = 0; i < n; ++i) {
      const float a = static_cast<float>(i) / static_cast<float>(n) * 6.2831853F, r = radius(random);
      corners.emplace_back(r * std::cos(a), r * std::sin(a), 0);
    }
    const auto [sum, all] = areas(corners, cut(corners));
    EXPECT_NEAR(all, glm::length(newellNormal(corners)), 1e-4F) << round;
    EXPECT_NEAR(sum, all, 1e-4F) << round;
  }
}

TEST(TriangulatePolygon, WhatIsNoPolygonBecomesAFanAndNothingWorse) {
  EXPECT_TRUE(cut({}).empty());
  EXPECT_TRUE(cut({{0, 0, 0}, {1, 0, 0}}).empty());
  const float nan = std::numeric_limits<float>::quiet_NaN();
  EXPECT_EQ(cut({{0, 0, 0}, {1, 0, 0}, {nan, 1, 0}, {0, 1, 0}, {0, 0.5F, 0}}).size(), 9u);
  EXPECT_EQ(cut(std::vector<glm::vec3>(6, glm::vec3(1))).size(), 12u);
  EXPECT_EQ(cut({{0, 0, 0}, {1, 1, 0}, {1, 0, 0}, {0, 1, 0}, {0.5F, 3, 0}}).size(), 9u) << "crosses itself";
  EXPECT_EQ(cut(std::vector<glm::vec3>(kMostEars + 1, glm::vec3(0))).size(), 3 * (kMostEars - 1));
}

// A square of four with square holes: the triangles must cover what is left, and nothing of a hole.
TEST(TriangulateWithHoles, CoversAllButTheHoles) {
  std::vector<glm::vec3> corners = {{0, 0, 0}, {4, 0, 0}, {4, 4, 0}, {0, 4, 0}};
  std::vector<size_t> holes;
  const auto hole = [&](float x, float y, float side, bool turned) {
    holes.push_back(corners.size());
    std::vector<glm::vec3> ring = {{x, y, 0}, {x + side, y, 0}, {x + side, y + side, 0}, {x, y + side, 0}};
    if (turned) std::reverse(ring.begin(), ring.end());
    corners.insert(corners.end(), ring.begin(), ring.end());
  };
  hole(0.5F, 0.5F, 1, false);
  hole(2.5F, 0.5F, 1, true);
  hole(0.5F, 2.5F, 1, true);
  hole(2.5F, 2.5F, 1, false);
  std::vector<uint32_t> cut;
  triangulateWithHoles(corners, holes, cut);
  float area = 0;
  for (size_t i = 0; i + 2 < cut.size(); i += 3) {
    const glm::vec3 a = corners[cut[i]], b = corners[cut[i + 1]], c = corners[cut[i + 2]];
    const float twice = glm::cross(b - a, c - a).z;
    EXPECT_GE(twice, 0);
    area += twice / 2;
    const glm::vec3 middle = (a + b + c) / 3.0F;
    for (size_t h = 0; h < 4; ++h) {
      const glm::vec3 low = glm::min(corners[holes[h]], corners[holes[h] + 2]),
                      high = glm::max(corners[holes[h]], corners[holes[h] + 2]);
      const bool within = middle.x > low.x && middle.x < high.x && middle.y > low.y && middle.y < high.y;
      EXPECT_FALSE(twice > 0 && within) << i;
    }
  }
  EXPECT_FLOAT_EQ(area, 16 - 4);
  // A hole that is none (outside, or of two corners) leaves the outline whole.
  cut.clear();
  const std::vector<size_t> short_hole = {4};
  triangulateWithHoles(std::span(corners).first(6), short_hole, cut);
  EXPECT_EQ(cut.size(), 6U);
}

}  // namespace
}  // namespace rakugo::geometry
