// Lamps as lights, and particles against the closed form of a throw.
#include <gtest/gtest.h>

#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

#include "render/lamps.h"
#include "render/particles.h"

namespace rakugo::render {
namespace {

const glm::vec3 kUp(0, 0, 1);

TEST(LightOfALamp, PointsWhereItIsTurnedAndIsDarkWhereNothingShines) {
  bundle::ObjectLamp lamp;
  lamp.position = {1, 0, 2};
  lamp.strength = 10;
  lamp.reach = 5;
  lamp.cone = 1.5707964F;
  lamp.soft = 0.5F;
  lamp.turn = {0, 0, 0.70710678F, 0.70710678F};  // forward +X becomes +Y
  const glm::mat4 at = glm::translate(glm::mat4(1), {0, 0, 3});
  const auto light = lightOf(lamp, at, {1, 0, 0}, 1, 1);
  ASSERT_TRUE(light);
  EXPECT_LT(glm::distance(light->position, glm::vec3(1, 0, 5)), 1e-5F);
  EXPECT_LT(glm::distance(light->direction, glm::vec3(0, 1, 0)), 1e-5F);
  EXPECT_NEAR(light->cos_edge, std::cos(0.7853982F), 1e-5F);
  EXPECT_NEAR(light->cos_full, std::cos(0.3926991F), 1e-5F);
  EXPECT_EQ(light->reach, 5);
  // Twice as large, the thing is lit as before: four times the strength, twice the reach.
  const auto large = lightOf(lamp, glm::scale(at, glm::vec3(2)), {1, 0, 0}, 1, 1);
  EXPECT_NEAR(large->color.x, light->color.x * 4, 1e-3F);
  EXPECT_NEAR(large->reach, 10, 1e-4F);
  EXPECT_FALSE(lightOf(lamp, at, {1, 0, 0}, 0, 1)) << "it is not lit";
  lamp.strength = 0;
  EXPECT_FALSE(lightOf(lamp, at, {1, 0, 0}, 1, 1));
  lamp.strength = 1;
  lamp.cone = 6.2831855F;
  EXPECT_EQ(lightOf(lamp, at, {1, 0, 0}, 1, 1)->direction, glm::vec3(0)) << "all round";
}

TEST(Lights, ThoseThatCountMostAtTheEyeAreKept) {
  std::vector<PointLight> lights(20);
  for (size_t i = 0; i < lights.size(); ++i) {
    lights[i].position = {static_cast<float>(i), 0, 0};
    lights[i].color = glm::vec3(1);
  }
  keepNearest(lights, {19, 0, 0});
  ASSERT_EQ(lights.size(), kMostLights);
  for (const PointLight& light : lights) EXPECT_GE(light.position.x, 12);
}

bundle::ObjectEmitter fountain() {
  bundle::ObjectEmitter e;
  e.look = "spray";
  e.rate = 10;
  e.life = 2;
  e.speed = 6;
  e.gravity = 1;
  e.size = {0.2F, 0.4F};
  e.opacity = {1, 0};
  return e;
}

TEST(Particles, FlyAsAThrownThingDoes) {
  // Straight up, without spread: after t seconds at 6 t - 9.81 t^2 / 2.
  ParticleCloud cloud;
  const std::vector<RunningEmitter> running = {{"a", fountain(), glm::mat4(1), 1}};
  for (int i = 0; i < 300; ++i) cloud.pass(running, kUp, 0.01F);
  const auto seen = cloud.sprites();
  EXPECT_NEAR(static_cast<double>(seen.size()), 20, 1) << "rate times life";
  for (const ParticleSprite& sprite : seen) {
    // Its age from its size, which grows evenly.
    const float t = (sprite.radius * 2 - 0.2F) / 0.2F * 2;
    EXPECT_NEAR(sprite.position.z, 6 * t - 9.81F * t * t / 2, 0.02F);
    EXPECT_NEAR(glm::length(glm::vec2(sprite.position)), 0, 1e-4F);
  }
}

TEST(Particles, LeaveWithinTheSpreadAlongTheTurnedUp) {
  bundle::ObjectEmitter e = fountain();
  e.gravity = 0;
  e.rate = 400;
  e.spread = 0.5F;
  e.turn = {0, 0.70710678F, 0, 0.70710678F};  // up +Z becomes +X
  ParticleCloud cloud;
  for (int i = 0; i < 100; ++i) cloud.pass({{"a", e, glm::mat4(1), 1}}, kUp, 0.01F);
  float widest = 0;
  glm::vec3 sum(0);
  for (const ParticleSprite& sprite : cloud.sprites()) {
    if (glm::length(sprite.position) < 0.5F) continue;
    const glm::vec3 way = glm::normalize(sprite.position);
    widest = std::max(widest, std::acos(std::min(1.0F, way.x)));
    sum += way;
  }
  EXPECT_LE(widest, 0.5F + 1e-3F);
  EXPECT_GT(widest, 0.45F) << "the whole spread is used";
  EXPECT_GT(glm::normalize(sum).x, 0.999F) << "evenly to all sides";
}

TEST(Particles, AreBoundedStopWhenNothingRunsAndEqualStepsGiveEqualClouds) {
  std::vector<RunningEmitter> many;
  bundle::ObjectEmitter e = fountain();
  e.rate = 500;
  e.life = 60;
  for (int i = 0; i < 40; ++i) many.push_back({std::to_string(i), e, glm::mat4(1), 1});
  ParticleCloud cloud;
  for (int i = 0; i < 20; ++i) cloud.pass(many, kUp, 0.1F);
  EXPECT_EQ(cloud.size(), ParticleCloud::kMost);
  for (RunningEmitter& one : many) one.runs = 0;
  for (int i = 0; i < 61; ++i) cloud.pass(many, kUp, 1);
  EXPECT_EQ(cloud.size(), 0U);

  ParticleCloud a, b;
  for (int i = 0; i < 50; ++i)
    for (ParticleCloud* one : {&a, &b}) one->pass({{"x", fountain(), glm::mat4(1), 1}}, kUp, 0.03F);
  const auto first = a.sprites(), second = b.sprites();
  ASSERT_EQ(first.size(), second.size());
  for (size_t i = 0; i < first.size(); ++i) EXPECT_EQ(first[i].position, second[i].position);
}

}  // namespace
}  // namespace rakugo::render
