#include "standin/harbour_points.h"

#include <gtest/gtest.h>

#include <glm/gtc/matrix_transform.hpp>

namespace rakugo::standin {
namespace {

bundle::ObjectRecord launch() {
  bundle::ObjectRecord out;
  out.id = "launch";
  out.kind = "craft";
  out.points = {{"nav-port", {1, 0.8F, 1}}, {"nav-starboard", {1, -0.8F, 1}}, {"funnel", {0, 0, 2}},
                {"screw", {-3, 0, -0.4F}},  {"mooring-bow", {3, 0, 0.6F}},    {"helm", {-1, 0, 1.5F}}};
  return out;
}

TEST(HarbourPoints, LightsSmokeAndWashComeByThemselves) {
  bundle::ObjectRecord boat = launch();
  hangAtPoints(boat);
  ASSERT_EQ(boat.lamps.size(), 2U);
  EXPECT_GT(boat.lamps[0].color[0], boat.lamps[0].color[1]) << "red on the left";
  EXPECT_GT(boat.lamps[1].color[1], boat.lamps[1].color[0]) << "green on the right";
  EXPECT_EQ(boat.lamps[0].lit, "night");
  ASSERT_EQ(boat.emitters.size(), 2U);
  EXPECT_EQ(boat.emitters[0].look, "smoke");
  EXPECT_EQ(boat.emitters[1].look, "spray");
  EXPECT_EQ(boat.emitters[1].position, (std::array<float, 3>{-3, 0, -0.4F}));
}

TEST(HarbourPoints, WhatTheBoatBringsItselfIsLeftAlone) {
  bundle::ObjectRecord boat = launch();
  bundle::ObjectLamp own;
  own.position = {1.1F, 0.8F, 1};
  boat.lamps = {own};
  bundle::ObjectEmitter steam;
  steam.position = {0, 0, 2.1F};
  boat.emitters = {steam};
  hangAtPoints(boat);
  EXPECT_EQ(boat.lamps.size(), 2U) << "the green one alone is added";
  EXPECT_EQ(boat.emitters.size(), 2U) << "the wash alone is added";
  bundle::ObjectRecord lamp = launch();
  lamp.kind = "fitting";
  hangAtPoints(lamp);
  EXPECT_TRUE(lamp.lamps.empty());
}

TEST(HarbourPoints, ABoatIsMadeFastToTheQuayWhereItReaches) {
  const bundle::ObjectRecord boat = launch();
  const glm::mat4 beside =
      glm::translate(glm::mat4(1), {5, 2, -1.3F}) * glm::rotate(glm::mat4(1), 1.5707963F, {0, 0, 1});
  const auto lines = mooringLines(boat, beside);
  ASSERT_EQ(lines.size(), 1U);
  EXPECT_NEAR(lines[0].from.y, 5, 1e-4F) << "the bow points along the quay";
  EXPECT_EQ(lines[0].to.y, 6) << "the nearest bollard";
  EXPECT_LT(lines[0].to.x, 3);
  EXPECT_TRUE(mooringLines(boat, glm::translate(glm::mat4(1), {40, 0, 0})).empty()) << "too far";
}

}  // namespace
}  // namespace rakugo::standin
