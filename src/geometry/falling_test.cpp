// A falling body against what is known of it on paper.
#include "geometry/falling.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

#include <glm/gtc/matrix_transform.hpp>

namespace rakugo::geometry {
namespace {

const glm::dvec3 kSky(0, 0, 1);

FallingBody boxBody(const glm::dvec3& size, double mass_kg = 10) {
  FallingBody out;
  for (int i = 0; i < 8; ++i)
    out.corners.emplace_back(
        glm::dvec3((i & 1) != 0 ? 0.5 : -0.5, (i & 2) != 0 ? 0.5 : -0.5, (i & 4) != 0 ? 0.5 : -0.5) * size);
  out.mass_kg = mass_kg;
  const glm::dvec3 s = size * size * (mass_kg / 12);
  out.inertia = glm::dmat3(0);
  out.inertia[0][0] = s.y + s.z;
  out.inertia[1][1] = s.x + s.z;
  out.inertia[2][2] = s.x + s.y;
  return out;
}

// When it first meets the floor.
double landing(Fall& fall) {
  while (!fall.touched() && fall.time_s() < 10) fall.advance(0.001);
  return fall.time_s();
}

TEST(Fall, TakesTheTimeThatTheHeightTells) {
  for (const double height : {0.5, 2.0, 8.0}) {
    Fall fall(boxBody({1, 1, 1}), kSky, height);
    EXPECT_NEAR(landing(fall), std::sqrt(2 * height / 9.81), 0.01) << height;
  }
}

TEST(Fall, BouncesToTheSquareOfItsRestitution) {
  for (const double bounce : {0.0, 0.3, 0.5, 0.8}) {
    FallingBody body = boxBody({1, 1, 1});
    body.bounce = bounce;
    Fall fall(body, kSky, 2);
    landing(fall);
    fall.advance(2 * std::sqrt(2 * 2 / 9.81) * bounce);
    EXPECT_NEAR(fall.bounced_m(), bounce * bounce * 2, 0.03) << bounce;
  }
}

TEST(Fall, ComesToRestOnItsBaseWhichWasLevel) {
  Fall fall(boxBody({2, 1, 0.5}), kSky, 1);
  fall.advance(10);
  EXPECT_TRUE(fall.atRest());
  EXPECT_LT(fall.time_s(), 3);
  EXPECT_NEAR(fall.lowest_m(), 0, 1e-3);
  EXPECT_NEAR(fall.lean_rad(), 0, 1e-2);
}

TEST(Fall, TipsOverWhereItsWeightLiesBesideWhatItStandsOn) {
  // A box whose weight is near its front: it stands, or falls on its face.
  for (const double off : {0.3, 0.6}) {
    FallingBody body = boxBody({1, 1, 3});
    body.center_m = {off, 0, 0};
    Fall fall(body, kSky, 0.01);
    fall.advance(20);
    EXPECT_TRUE(fall.atRest()) << off;
    EXPECT_EQ(fall.lean_rad() > 1, off > 0.5) << off;
    EXPECT_NEAR(fall.lowest_m(), 0, 2e-3);
  }
}

TEST(Fall, NeverHasMoreEnergyThanItFellWithAndKeepsAllAbove) {
  FallingBody body = boxBody({1, 0.4, 0.7});
  body.bounce = 1;
  for (glm::vec3& corner : body.corners)
    corner = glm::mat3(glm::rotate(glm::mat4(1), 0.7F, glm::normalize(glm::vec3(1, 2, 3)))) * corner;
  Fall fall(body, kSky, 1);
  for (int i = 0; i < 400; ++i) {
    fall.advance(0.01);
    EXPECT_GT(fall.lowest_m(), -1e-3);
    EXPECT_LT(fall.lowest_m(), 1.02);
  }
}

TEST(Fall, OfNothingIsAtRest) {
  EXPECT_TRUE(Fall(FallingBody(), kSky, 1).atRest());
  FallingBody odd = boxBody({1, 1, 1});
  odd.mass_kg = 0;
  EXPECT_TRUE(Fall(odd, kSky, 1).atRest());
  odd = boxBody({1, 1, 1});
  odd.inertia = glm::dmat3(0);
  EXPECT_TRUE(Fall(odd, kSky, 1).atRest());
  odd = boxBody({1, 1, 1});
  odd.corners[0].x = std::numeric_limits<float>::quiet_NaN();
  Fall fall(odd, kSky, 1);
  fall.advance(5);
  EXPECT_TRUE(std::isfinite(fall.place()[3].z));
  Fall high(boxBody({1, 1, 1}), kSky, std::numeric_limits<double>::infinity());
  EXPECT_TRUE(high.atRest());
}

TEST(Fall, IsSeenFromWhereTheBodyStands) {
  FallingBody body = boxBody({1, 1, 1});
  for (glm::vec3& corner : body.corners) corner += glm::vec3(5, 0, 2);
  body.center_m = {5, 0, 2};
  const Fall fall(body, kSky, 3);
  const glm::mat4 place = fall.place();
  EXPECT_NEAR(place[3].x, 0, 1e-6);
  EXPECT_NEAR(place[3].z, 3 - 1.5, 1e-6) << "its lowest corner was at 1.5";
}

}  // namespace
}  // namespace rakugo::geometry
