#include "scene/pose.h"

#include <gtest/gtest.h>

#include <cmath>

namespace rakugo::scene {
namespace {

// Two nodes, one on the other.
Model pair() {
  Model out;
  out.nodes.resize(2);
  out.nodes[0].children = {NodeIndex(1)};
  out.nodes[1].parent = NodeIndex(0);
  out.nodes[1].local.position = {1, 0, 0};
  out.roots = {NodeIndex(0)};
  return out;
}

Channel moving(Interpolation how, std::vector<float> times, std::vector<float> values) {
  return {NodeIndex(1), AnimatedPath::position, how, std::move(times), std::move(values)};
}

glm::vec3 positionAt(const Channel& channel, float at_s) {
  Pose pose = restPose(pair());
  poseAt({"", {channel}, ""}, at_s, pose);
  return pose[1].position;
}

TEST(PoseAt, BlendsBetweenKeysAndHoldsBeyondThem) {
  const Channel way = moving(Interpolation::linear, {1, 2, 4}, {0, 0, 0, 2, 0, 0, 2, 4, 0});
  EXPECT_EQ(positionAt(way, 0), glm::vec3(0, 0, 0));
  EXPECT_EQ(positionAt(way, 1.5F), glm::vec3(1, 0, 0));
  EXPECT_EQ(positionAt(way, 3), glm::vec3(2, 2, 0));
  EXPECT_EQ(positionAt(way, 4), glm::vec3(2, 4, 0));
  EXPECT_EQ(positionAt(way, 99), glm::vec3(2, 4, 0));
  EXPECT_EQ(durationOf({"", {way}, ""}), 4);
}

TEST(PoseAt, StepsHoldUntilTheNextKey) {
  const Channel way = moving(Interpolation::step, {0, 1}, {1, 1, 1, 5, 5, 5});
  EXPECT_EQ(positionAt(way, 0.99F), glm::vec3(1));
  EXPECT_EQ(positionAt(way, 1), glm::vec3(5));
}

// Hermite with no tangents: a half of the way at half the time, 5/32 at a quarter (3t^2 - 2t^3).
TEST(PoseAt, CubicKeysFollowTheStandardsCurve) {
  std::vector<float> values(18, 0.0F);
  values[12] = 1;  // the second key's own value
  const Channel still = moving(Interpolation::cubic, {0, 2}, values);
  EXPECT_NEAR(positionAt(still, 1).x, 0.5, 1e-6);
  EXPECT_NEAR(positionAt(still, 0.5F).x, 5.0 / 32, 1e-6);
  // With tangents of the straight line it is the straight line.
  values[6] = 0.5F;  // out of the first
  values[9] = 0.5F;  // into the second
  EXPECT_NEAR(positionAt(moving(Interpolation::cubic, {0, 2}, values), 0.5F).x, 0.25, 1e-6);
}

TEST(PoseAt, TurnsTakeTheShortWay) {
  const float h = std::sqrt(0.5F);
  // A quarter turn about Z, stored with the other sign.
  const Channel turn{
      NodeIndex(0), AnimatedPath::turn, Interpolation::linear, {0, 1}, {0, 0, 0, 1, 0, 0, -h, -h}};
  Pose pose = restPose(pair());
  poseAt({"", {turn}, ""}, 0.5F, pose);
  const glm::quat eighth(std::cos(3.14159265F / 8), 0, 0, std::sin(3.14159265F / 8));
  EXPECT_NEAR(std::abs(glm::dot(pose[0].turn, eighth)), 1, 1e-6);
  const auto world = worldMatrices(pair(), pose);
  EXPECT_LT(glm::distance(glm::vec3(world[1][3]), glm::vec3(h, h, 0)), 1e-6F);
}

TEST(PoseAt, WhatDoesNotFitIsLeftOut) {
  const Pose rest = restPose(pair());
  for (const Channel& channel :
       {moving(Interpolation::linear, {}, {}), moving(Interpolation::linear, {0, 1}, {1, 2, 3}),
        moving(Interpolation::cubic, {0}, {1, 2, 3}),
        Channel{NodeIndex(7), AnimatedPath::position, Interpolation::linear, {0}, {9, 9, 9}},
        Channel{NodeIndex(), AnimatedPath::position, Interpolation::linear, {0}, {9, 9, 9}},
        Channel{NodeIndex(1), AnimatedPath::turn, Interpolation::linear, {0}, {1}},
        Channel{NodeIndex(1), AnimatedPath::weights, Interpolation::linear, {0}, {1}}}) {
    Pose pose = rest;
    poseAt({"", {channel}, ""}, 0.5F, pose);
    EXPECT_EQ(pose, rest);
  }
  // A turn of no length is none.
  Pose pose = rest;
  poseAt({"", {{NodeIndex(1), AnimatedPath::turn, Interpolation::linear, {0}, {0, 0, 0, 0}}}, ""}, 0, pose);
  EXPECT_EQ(pose[1].turn, glm::quat(1, 0, 0, 0));
}

TEST(PoseAt, MorphWeightsAreBlendedToo) {
  const Animation animation{
      "", {{NodeIndex(1), AnimatedPath::weights, Interpolation::linear, {0, 1}, {0, 1, 1, 0}}}, ""};
  EXPECT_EQ(morphWeightsAt(animation, NodeIndex(1), 0.25F), (std::vector<float>{0.25F, 0.75F}));
  EXPECT_TRUE(morphWeightsAt(animation, NodeIndex(0), 0.25F).empty());
}

TEST(WorldMatricesOfAPose, AtRestAreTheModelsOwn) {
  const Model model = pair();
  EXPECT_EQ(worldMatrices(model, restPose(model)), worldMatrices(model));
}

}  // namespace
}  // namespace rakugo::scene
