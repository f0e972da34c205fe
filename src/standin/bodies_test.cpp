// Bodies against paper: how long a fall takes, how high a bounce reaches, how deep a thing floats.
#include "standin/bodies.h"

#include <gtest/gtest.h>

#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

namespace rakugo::standin {
namespace {

bundle::ObjectRecord thing(const char* form, glm::vec3 size, double mass_kg, float bounce = 0) {
  bundle::ObjectRecord out;
  out.card["mass"] = mass_kg;
  bundle::ObjectShape shape;
  shape.form = form;
  shape.size = {size.x, size.y, size.z};
  shape.friction = 0.8F;
  shape.bounce = bounce;
  out.shapes.push_back(shape);
  return out;
}
glm::mat4 at(float z) { return glm::translate(glm::mat4(1), {0, 0, z}); }
Bodies::Ground floorAtZero() { return {{{{-50, -50, -2}, {50, 50, 0}}}, std::nullopt}; }
Bodies::Ground waterAtZero() { return {{}, 0.0F}; }

TEST(Bodies, AFallTakesAsLongAsOnPaper) {
  Bodies bodies(floorAtZero());
  const size_t ball = bodies.add(thing("sphere", {0.3F, 0.3F, 0.3F}, 2), at(3.15F));
  float t = 0;
  while (bodies.struck(ball).times == 0 && t < 3) bodies.pass(1.0F / 240), t += 1.0F / 240;
  EXPECT_NEAR(t, std::sqrt(2 * 3 / 9.81), 0.012) << "its lowest point is 3 m above the floor";
  EXPECT_NEAR(bodies.struck(ball).speed, std::sqrt(2 * 9.81 * 3), 0.1);
}

TEST(Bodies, ABounceReachesTheSquareOfItsRestitution) {
  for (const float e : {0.5F, 0.8F}) {
    Bodies bodies(floorAtZero());
    const size_t ball = bodies.add(thing("sphere", {0.3F, 0.3F, 0.3F}, 2, e), at(2.15F));
    float t = 0, highest = 0;
    bool struck = false;
    for (; t < 3; t += 1.0F / 240) {
      bodies.pass(1.0F / 240);
      struck = struck || bodies.struck(ball).times > 0;
      if (bodies.struck(ball).times > 1) break;
      if (struck) highest = std::max(highest, glm::vec3(bodies.place(ball)[3]).z - 0.15F);
    }
    EXPECT_NEAR(highest / 2, e * e, 0.04) << e;
  }
}

TEST(Bodies, AThingFloatsAsDeepAsItIsHeavy) {
  for (const double density : {250.0, 500.0, 800.0}) {
    Bodies bodies(waterAtZero());
    // A flat raft: 2 x 2 x 0.4 m.
    const size_t raft = bodies.add(thing("box", {2, 2, 0.4F}, density * 1.6), at(0.6F));
    for (int i = 0; i < 400; ++i) bodies.pass(0.05F);
    EXPECT_EQ(bodies.settled(raft), Settled::floats);
    EXPECT_NEAR(bodies.depth(raft), 0.4 * density / 1025, 0.012) << density;
    EXPECT_NEAR(bodies.place(raft)[2].z, 1, 0.01) << "and level";
  }
}

TEST(Bodies, ABallFloatsAsArchimedesSays) {
  Bodies bodies(waterAtZero());
  // Half as dense as the water: half of it is under.
  const double volume = 4.0 / 3 * 3.14159265 * 0.15 * 0.15 * 0.15;
  const size_t ball = bodies.add(thing("sphere", {0.3F, 0.3F, 0.3F}, volume * 1025 / 2), at(1));
  for (int i = 0; i < 400; ++i) bodies.pass(0.05F);
  EXPECT_NEAR(bodies.depth(ball), 0.15, 0.01);
}

TEST(Bodies, WhatIsHeavierThanWaterSinksToTheBed) {
  Bodies bodies(waterAtZero());
  const size_t stone = bodies.add(thing("box", {0.4F, 0.4F, 0.4F}, 0.064 * 2600), at(1));
  for (int i = 0; i < 600; ++i) bodies.pass(0.05F);
  EXPECT_EQ(bodies.settled(stone), Settled::sunk);
  EXPECT_NEAR(glm::vec3(bodies.place(stone)[3]).z, -6 + 0.2, 0.05);
}

TEST(Bodies, ATallThingThatLeansFallsOverAndALowOneStands) {
  Bodies bodies(floorAtZero());
  const glm::mat4 leant = glm::rotate(at(0.8F), 0.35F, {1, 0, 0});
  const size_t post = bodies.add(thing("box", {0.2F, 0.2F, 1.4F}, 20), leant);
  const size_t slab = bodies.add(thing("box", {1.4F, 1.4F, 0.2F}, 20),
                                 glm::rotate(glm::translate(glm::mat4(1), {5, 0, 0.8F}), 0.35F, {1, 0, 0}));
  for (int i = 0; i < 200; ++i) bodies.pass(0.05F);
  EXPECT_LT(std::abs(bodies.place(post)[2].z), 0.1) << "it lies";
  EXPECT_GT(bodies.place(slab)[2].z, 0.98) << "it stands flat";
  EXPECT_EQ(bodies.settled(post), Settled::lies);
}

TEST(Bodies, ABallRollsDownAndABoxOfRubberDoesNot) {
  Bodies::Ground slope;
  slope.boxes.push_back({{-50, -50, -2}, {50, 50, 0}});
  Bodies bodies(slope);
  bundle::ObjectRecord ball = thing("sphere", {0.4F, 0.4F, 0.4F}, 3);
  const size_t rolls = bodies.add(ball, at(0.2F));
  for (int i = 0; i < 40; ++i) bodies.pass(0.05F);
  EXPECT_NEAR(glm::vec3(bodies.place(rolls)[3]).z, 0.2, 0.01);
  EXPECT_EQ(bodies.settled(rolls), Settled::lies);
}

TEST(Bodies, AreTheSameAgain) {
  std::vector<glm::mat4> ends;
  for (int run = 0; run < 2; ++run) {
    Bodies bodies(floorAtZero());
    const size_t a =
        bodies.add(thing("cylinder", {0.3F, 0.3F, 0.5F}, 4, 0.6F), glm::rotate(at(2), 0.4F, {1, 1, 0}));
    const size_t b = bodies.add(thing("capsule", {0.2F, 0.2F, 0.8F}, 1, 0.3F), at(3));
    for (int i = 0; i < 60; ++i) bodies.pass(0.05F);
    ends.push_back(bodies.place(a));
    ends.push_back(bodies.place(b));
  }
  EXPECT_EQ(ends[0], ends[2]);
  EXPECT_EQ(ends[1], ends[3]);
}

TEST(Bodies, WithoutShapesTheBoundingBoxFalls) {
  bundle::ObjectRecord plain;
  plain.bounds_min = {-0.5F, -0.5F, 0};
  plain.bounds_max = {0.5F, 0.5F, 2};
  Bodies bodies(floorAtZero());
  const size_t body = bodies.add(plain, at(0.5F));
  for (int i = 0; i < 100; ++i) bodies.pass(0.05F);
  EXPECT_NEAR(glm::vec3(bodies.place(body)[3]).z, 0, 0.02) << "its origin is at its foot";
  bodies.remove(body);
  bodies.pass(1);
}

TEST(Bodies, WhatIsFixedStaysAndHoldsWhatFallsUponIt) {
  Bodies bodies(floorAtZero());
  const size_t table = bodies.addFixed(thing("box", {1, 1, 1}, 5), at(0.5F));
  const size_t cup = bodies.add(thing("cylinder", {0.1F, 0.1F, 0.1F}, 0.2), at(2));
  for (int i = 0; i < 60; ++i) bodies.pass(0.05F);
  EXPECT_NEAR(glm::vec3(bodies.place(cup)[3]).z, 1.05, 0.01);
  EXPECT_EQ(bodies.place(table), at(0.5F));
}

}  // namespace
}  // namespace rakugo::standin
