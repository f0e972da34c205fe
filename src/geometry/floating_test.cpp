// Floating and standing against the closed forms of boxes, balls and cones.
#include "geometry/floating.h"

#include <gtest/gtest.h>

#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <random>

#include "geometry/hull.h"
#include "geometry/mass.h"

namespace rakugo::geometry {
namespace {

constexpr double kHalfTurn = 3.14159265358979323846;
const glm::dvec3 kUp(0, 0, 1), kAlong(1, 0, 0);

Hull boxOf(glm::vec3 size, glm::vec3 at = {}, const glm::mat3& turn = glm::mat3(1)) {
  std::vector<glm::vec3> points;
  for (int i = 0; i < 8; ++i)
    points.push_back(at + turn * (glm::vec3((i & 1) != 0 ? 0.5F : -0.5F, (i & 2) != 0 ? 0.5F : -0.5F,
                                            (i & 4) != 0 ? 0.5F : -0.5F) *
                                  size));
  return convexHull(points);
}

Hull ballOf(double radius) {
  std::mt19937 random(2);
  std::normal_distribution<float> any;
  std::vector<glm::vec3> points;
  for (int i = 0; i < 40'000; ++i)
    points.push_back(glm::normalize(glm::vec3(any(random), any(random), any(random))) *
                     static_cast<float>(radius));
  return convexHull(points);
}

TEST(Submerged, IsThatOfABoxABallAndOfTheWholeAboveIt) {
  const Hull box = boxOf({4, 2, 1}, {7, -3, 5});
  const Submerged half = submergedBelow(box.corners, box.triangles, kUp, 4.75);
  EXPECT_NEAR(half.volume, 4 * 2 * 0.25, 1e-12);
  EXPECT_LT(glm::distance(half.center, glm::dvec3(7, -3, 4.625)), 1e-12);
  EXPECT_EQ(submergedBelow(box.corners, box.triangles, kUp, 4).volume, 0);
  EXPECT_NEAR(submergedBelow(box.corners, box.triangles, kUp, 99).volume, 8, 1e-9);
  // A spherical cap of height h: pi h^2 (3 r - h) / 3, its centre 3 (2 r - h)^2 / (4 (3 r - h)) from the
  // middle.
  const Hull ball = ballOf(1);
  for (const double h : {0.3, 1.0, 1.6}) {
    const Submerged cap = submergedBelow(ball.corners, ball.triangles, kUp, h - 1);
    EXPECT_NEAR(cap.volume, kHalfTurn * h * h * (3 - h) / 3, 3e-3);
    EXPECT_NEAR(cap.center.z, -3 * (2 - h) * (2 - h) / (4 * (3 - h)), 2e-3);
  }
  // Whatever is up: the same of a turned box along its own axis.
  const glm::mat3 turn(glm::rotate(glm::mat4(1), 0.8F, glm::normalize(glm::vec3(1, 2, -1))));
  const Hull turned = boxOf({4, 2, 1}, {}, turn);
  EXPECT_NEAR(
      submergedBelow(turned.corners, turned.triangles, glm::normalize(glm::dvec3(turn[2])), -0.25).volume, 2,
      1e-5);
}

TEST(Floating, ABoxLiesAsDeepAsItsWeightAndRightsItselfByItsWidth) {
  const Hull box = boxOf({4, 2, 1});
  const auto floats = floatingOf(box.corners, box.triangles, kUp, kAlong, 8 * 0.6, {0, 0, 0});
  ASSERT_TRUE(floats);
  EXPECT_NEAR(floats->draught, 0.6, 1e-9);
  EXPECT_NEAR(floats->level, 0.1, 1e-9);
  EXPECT_LT(glm::distance(floats->buoyancy, glm::dvec3(0, 0, -0.2)), 1e-9);
  // BM = I / V: l b^3 / 12 / V for the sides, b l^3 / 12 / V fore and aft; GM = BM + B - G.
  EXPECT_NEAR(floats->righting_sides, 4 * 8.0 / 12 / 4.8 - 0.2, 1e-9);
  EXPECT_NEAR(floats->righting_ends, 2 * 64.0 / 12 / 4.8 - 0.2, 1e-9);
  // Across: what was the side is the end.
  const auto across = floatingOf(box.corners, box.triangles, kUp, {0, 1, 0}, 4.8, {0, 0, 0});
  EXPECT_NEAR(across->righting_sides, floats->righting_ends, 1e-9);
  EXPECT_LT(floatingOf(box.corners, box.triangles, kUp, kAlong, 4.8, {0, 0, 0.5})->righting_sides, 0)
      << "top-heavy";
  EXPECT_FALSE(floatingOf(box.corners, box.triangles, kUp, kAlong, 8.1, {0, 0, 0})) << "it sinks";
  EXPECT_FALSE(floatingOf(box.corners, box.triangles, kUp, kAlong, 0, {0, 0, 0}));
  EXPECT_FALSE(floatingOf({}, {}, kUp, kAlong, 1, {0, 0, 0}));
}

TEST(Floating, ABallRightsItselfNeitherWay) {
  // The metacentre of a ball is its middle.
  const Hull ball = ballOf(1);
  const auto floats = floatingOf(ball.corners, ball.triangles, kUp, kAlong, 2, {0, 0, 0});
  ASSERT_TRUE(floats);
  EXPECT_NEAR(floats->righting_sides, 0, 5e-3);
  EXPECT_NEAR(floats->righting_ends, 0, 5e-3);
}

TEST(Standing, IsByTheNearestSideOfWhatItStandsOn) {
  const Hull box = boxOf({4, 2, 1}, {0, 0, 0.5F});
  const auto stands = standingOf(box.corners, kUp, {0.5, 0.25, 0.5}, 1e-3);
  ASSERT_TRUE(stands);
  EXPECT_NEAR(stands->margin, 0.75, 1e-9);
  EXPECT_NEAR(stands->height, 0.5, 1e-9);
  EXPECT_NEAR(stands->angle_rad, std::atan2(0.75, 0.5), 1e-9);
  EXPECT_NEAR(standingOf(box.corners, kUp, {3, 0, 0.5}, 1e-3)->margin, -1, 1e-9) << "beyond its edge";
  // On a corner.
  const std::vector<glm::vec3> top = {{0, 0, 0}, {1, 0, 1}, {-1, 1, 1}, {-1, -1, 1}};
  EXPECT_NEAR(standingOf(top, kUp, {0.3, 0, 1}, 1e-3)->margin, -0.3, 1e-9);
  EXPECT_FALSE(standingOf({}, kUp, {0, 0, 0}, 1e-3));
}

}  // namespace
}  // namespace rakugo::geometry
