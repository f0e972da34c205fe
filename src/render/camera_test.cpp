#include "render/camera.h"
#include "render/detail.h"

#include <gtest/gtest.h>

#include <cmath>

namespace rakugo::render {
namespace {

constexpr glm::vec2 kSize(800, 600);

void expectNear(glm::vec3 a, glm::vec3 b, float e) {
  for (int i = 0; i < 3; ++i) EXPECT_NEAR(a[i], b[i], e);
}

TEST(Camera, StandsOnTheForwardSideAtYawZero) {
  Camera c;
  c.yaw_rad = c.pitch_rad = 0;
  expectNear(c.position(), {5, 0, 0}, 1e-5F);
  c.yaw_rad = 1.57079633F;
  expectNear(c.position(), {0, 5, 0}, 1e-5F);
  c.up = {0, 1, 0};
  c.forward = {0, 0, 1};
  c.yaw_rad = 0;
  expectNear(c.position(), {0, 0, 5}, 1e-5F);
}

TEST(Camera, FindsBackFromBeyondAllNumbers) {
  Camera fresh, lost;
  fresh.fit({-1, -1, 0}, {1, 1, 2}, 1.3F);
  lost.fit(glm::vec3(-1e30F), glm::vec3(1e30F), 1.3F);
  EXPECT_FALSE(lost.project({1, 2, 3}, kSize) && !std::isfinite(lost.project({1, 2, 3}, kSize)->x));
  lost.fit({-1, -1, 0}, {1, 1, 2}, 1.3F);
  expectNear(lost.position(), fresh.position(), 1e-5F);
}

TEST(Camera, KnowsItsDirectionHoweverFarFromTheOriginItStands) {
  Camera near, far;
  far.target = glm::vec3(1e30F, -1e30F, 1e12F);
  const glm::mat3 want(near.view()), got(far.view());
  for (int i = 0; i < 3; ++i)
    for (int k = 0; k < 3; ++k) EXPECT_NEAR(want[i][k], got[i][k], 1e-6F) << i << ' ' << k;
}

TEST(Camera, ProjectsItsTargetToTheMiddle) {
  Camera c;
  c.target = {1, 2, 3};
  for (const bool parallel : {false, true}) {
    c.parallel = parallel;
    const auto p = c.project(c.target, kSize);
    ASSERT_TRUE(p);
    EXPECT_NEAR(p->x, 400, 0.01);
    EXPECT_NEAR(p->y, 300, 0.01);
  }
  c.parallel = false;
  EXPECT_FALSE(c.project(c.position() + (c.position() - c.target), kSize))
      << "what is behind is not in the picture";
}

TEST(Camera, ARayThroughAPointsPixelMeetsThePoint) {
  Camera c;
  const glm::vec3 point(0.4F, -0.3F, 0.9F);
  for (const bool parallel : {false, true}) {
    c.parallel = parallel;
    const auto pixel = c.project(point, kSize);
    glm::vec3 origin, direction;
    c.ray({pixel->x, pixel->y}, kSize, origin, direction);
    EXPECT_NEAR(glm::length(glm::cross(point - origin, direction)), 0, 2e-3);
  }
}

TEST(Camera, FitBringsEveryCornerIntoThePicture) {
  for (const float yaw : {0.0F, 0.7F, 2.5F})
    for (const glm::vec3 size : {glm::vec3(1, 1, 1), glm::vec3(0.1F, 0.1F, 40), glm::vec3(300, 2, 2)}) {
      Camera c;
      c.yaw_rad = yaw;
      c.fit(-size, size, kSize.x / kSize.y);
      float reach = 0;
      for (int k = 0; k < 8; ++k) {
        const glm::vec3 corner((k & 1) != 0 ? size.x : -size.x, (k & 2) != 0 ? size.y : -size.y,
                               (k & 4) != 0 ? size.z : -size.z);
        const auto p = c.project(corner, kSize);
        ASSERT_TRUE(p);
        reach = std::max({reach, std::abs(p->x - 400) / 400, std::abs(p->y - 300) / 300});
      }
      EXPECT_LE(reach, 0.87F);
      EXPECT_GE(reach, 0.6F) << "not needlessly far away";
    }
}

TEST(Camera, ZoomKeepsWhatIsUnderThePointerInPlace) {
  Camera c;
  const glm::vec3 point(0, 0.5F, 0.4F);
  c.parallel = true;
  const auto before = c.project(point, kSize);
  c.zoomAt(0.7F, {before->x, before->y}, kSize);
  const auto after = c.project(point, kSize);
  EXPECT_NEAR(after->x, before->x, 0.5);
  EXPECT_NEAR(after->y, before->y, 0.5);
  EXPECT_NEAR(c.distance_m, 3.5F, 1e-4);
}

TEST(Camera, OrbitStopsAtThePolesAndTheViewStaysWhole) {
  Camera c;
  c.orbit({0, 10'000});
  EXPECT_LE(c.pitch_rad, 1.5708F);
  const glm::mat4 v = c.view();
  for (int i = 0; i < 4; ++i)
    for (int k = 0; k < 4; ++k) EXPECT_TRUE(std::isfinite(v[i][k]));
}

TEST(Detail, FewerPixelsWhileFramesAreSlowAndAllAgainWhenTheyAreQuick) {
  Detail detail;
  detail.frameTook(200);
  EXPECT_FLOAT_EQ(detail.share(), 0.8F);
  for (int i = 0; i < 20; ++i) detail.frameTook(200);
  EXPECT_FLOAT_EQ(detail.share(), 0.4F) << "no fewer than can still be read";
  detail.frameTook(30);
  EXPECT_FLOAT_EQ(detail.share(), 0.4F) << "neither slow nor quick: it stays";
  for (int i = 0; i < 20; ++i) detail.frameTook(5);
  EXPECT_FLOAT_EQ(detail.share(), 1);
}

}  // namespace
}  // namespace rakugo::render
