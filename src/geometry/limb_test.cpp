#include "geometry/limb.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace rakugo::geometry {
namespace {

constexpr float kPi = 3.14159265F;

// Where the end of a limb comes to by its turns.
glm::vec3 endOf(glm::vec3 root, glm::vec3 middle, glm::vec3 end, const LimbTurns& turns) {
  const glm::vec3 joint = root + turns.first * (middle - root);
  return joint + turns.second * (turns.first * (end - middle));
}

TEST(TurnFromTo, TurnsTheOneIntoTheOther) {
  std::mt19937 random(3);
  std::normal_distribution<float> spread;
  for (int i = 0; i < 200; ++i) {
    const glm::vec3 a = glm::normalize(glm::vec3(spread(random), spread(random), spread(random)));
    const glm::vec3 b = glm::normalize(glm::vec3(spread(random), spread(random), spread(random)));
    EXPECT_LT(glm::distance(turnFromTo(a, b) * a, b), 1e-5F);
    EXPECT_LT(glm::distance(turnFromTo(a, -a) * a, -a), 1e-5F);
    EXPECT_LT(glm::distance(turnFromTo(a, a) * b, b), 1e-5F);
  }
}

// Bones of 3 and 4, a target 5 away: the joint is a right angle (on paper).
TEST(ReachWithLimb, KeepsTheTriangleOfItsLengths) {
  const LimbTurns turns = reachWithLimb({0, 0, 0}, {0, 0, -3}, {0, 0, -7}, {5, 0, 0}, {0, 0, 1});
  EXPECT_TRUE(turns.reached);
  const glm::vec3 joint = turns.first * glm::vec3(0, 0, -3);
  const glm::vec3 end = endOf({0, 0, 0}, {0, 0, -3}, {0, 0, -7}, turns);
  EXPECT_NEAR(glm::distance(end, glm::vec3(5, 0, 0)), 0, 1e-4);
  EXPECT_NEAR(glm::dot(joint, end - joint), 0, 1e-3);
  EXPECT_NEAR(glm::length(joint), 3, 1e-4);
}

TEST(ReachWithLimb, AStraightLimbBendsToTheSideItIsTold) {
  // A leg that hangs down, its foot lifted: the knee goes forward (+X).
  const LimbTurns turns = reachWithLimb({0, 0, 2}, {0, 0, 1}, {0, 0, 0}, {0, 0, 0.6F}, {1, 0, 0});
  const glm::vec3 knee = glm::vec3(0, 0, 2) + turns.first * glm::vec3(0, 0, -1);
  EXPECT_GT(knee.x, 0.5F);
  EXPECT_NEAR(knee.y, 0, 1e-5);
  // cos of the thigh's angle off the line is 0.7.
  EXPECT_NEAR(knee.z, 2 - 0.7, 1e-4);
}

TEST(ReachWithLimb, ABentOneStaysOnItsSideWhateverItIsTold) {
  const LimbTurns turns = reachWithLimb({0, 0, 2}, {-0.2F, 0, 1}, {0, 0, 0}, {0, 0, 0.6F}, {1, 0, 0});
  EXPECT_LT((glm::vec3(0, 0, 2) + turns.first * glm::vec3(-0.2F, 0, -1)).x, -0.3F);
}

TEST(ReachWithLimb, BeyondReachItPointsAtTheTarget) {
  const LimbTurns far = reachWithLimb({0, 0, 0}, {1, 0, 0}, {2, 0, 0}, {0, 10, 0}, {0, 0, 1});
  EXPECT_FALSE(far.reached);
  EXPECT_LT(glm::distance(endOf({0, 0, 0}, {1, 0, 0}, {2, 0, 0}, far), glm::vec3(0, 2, 0)), 1e-3F);
  // Nearer than it can fold: bones of 3 and 1 end at least 2 away.
  const LimbTurns near = reachWithLimb({0, 0, 0}, {3, 0, 0}, {4, 0, 0}, {0, 0.5F, 0}, {0, 0, 1});
  EXPECT_FALSE(near.reached);
  EXPECT_NEAR(glm::length(endOf({0, 0, 0}, {3, 0, 0}, {4, 0, 0}, near)), 2, 1e-3);
}

TEST(ReachWithLimb, LengthsStayAndWhatCanBeReachedIs) {
  std::mt19937 random(11);
  std::uniform_real_distribution<float> spread(-1, 1);
  const auto point = [&] { return glm::vec3(spread(random), spread(random), spread(random)); };
  for (int i = 0; i < 500; ++i) {
    const glm::vec3 root = point(), middle = root + point(), end = middle + point(), target = root + point();
    const LimbTurns turns = reachWithLimb(root, middle, end, target, point());
    const glm::vec3 joint = root + turns.first * (middle - root), reached = endOf(root, middle, end, turns);
    EXPECT_NEAR(glm::distance(root, joint), glm::distance(root, middle), 1e-4);
    EXPECT_NEAR(glm::distance(joint, reached), glm::distance(middle, end), 1e-4);
    if (turns.reached) {
      EXPECT_LT(glm::distance(reached, target), 2e-3F) << i;
    }
  }
}

TEST(ReachWithLimb, WhatIsNoLimbStaysAsItIs) {
  for (const LimbTurns& turns : {reachWithLimb({0, 0, 0}, {0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 0, 1}),
                                 reachWithLimb({0, 0, 0}, {1, 0, 0}, {2, 0, 0}, {0, 0, 0}, {0, 0, 1}),
                                 reachWithLimb({0, 0, 0}, {1, 0, 0}, {NAN, 0, 0}, {0, 1, 0}, {0, 0, 1})}) {
    EXPECT_FALSE(turns.reached);
    EXPECT_EQ(turns.first, glm::quat(1, 0, 0, 0));
    EXPECT_EQ(turns.second, glm::quat(1, 0, 0, 0));
  }
}

std::vector<glm::vec3> straight(int bones) {
  std::vector<glm::vec3> out;
  for (int i = 0; i <= bones; ++i) out.emplace_back(i, 0, 0);
  return out;
}

std::vector<glm::vec3> turned(const std::vector<glm::vec3>& joints, const ChainReach& reach) {
  std::vector<glm::vec3> out{joints[0]};
  for (size_t i = 0; i + 1 < joints.size(); ++i)
    out.push_back(out[i] + reach.turns[i] * (joints[i + 1] - joints[i]));
  return out;
}

TEST(ReachWithChain, ReachesWhatIsInReachAndKeepsLengths) {
  std::mt19937 random(5);
  std::uniform_real_distribution<float> spread(-1, 1);
  const auto joints = straight(5);
  for (int i = 0; i < 100; ++i) {
    const glm::vec3 target = 4.0F * spread(random) *
                             glm::normalize(glm::vec3(spread(random), spread(random), spread(random) + 1.1F));
    const ChainReach reach = reachWithChain(joints, target, {});
    const auto at = turned(joints, reach);
    EXPECT_LT(glm::distance(at.back(), target), 0.02F) << i;
    EXPECT_NEAR(reach.left, glm::distance(at.back(), target), 1e-4);
    for (size_t k = 0; k + 1 < at.size(); ++k) EXPECT_NEAR(glm::distance(at[k], at[k + 1]), 1, 1e-4);
  }
}

TEST(ReachWithChain, LimitsHold) {
  const auto joints = straight(4);
  const std::vector<JointLimit> limits(4, JointLimit{20 * kPi / 180});
  const ChainReach reach = reachWithChain(joints, {-3, 0.5F, 1}, limits);
  for (size_t i = 0; i < 4; ++i) {
    const glm::quat before = i == 0 ? glm::quat(1, 0, 0, 0) : reach.turns[i - 1];
    const glm::quat own = glm::conjugate(before) * reach.turns[i];
    EXPECT_LE(2 * std::acos(std::min(1.0F, std::abs(own.w))), 20.1F * kPi / 180) << i;
  }
  EXPECT_GT(reach.left, 1) << "four joints of twenty degrees do not turn about";
}

TEST(ReachWithChain, MirroredInputGivesMirroredOutput) {
  const std::vector<glm::vec3> joints = {{0, 0, 0}, {1, 0.2F, 0}, {2, 0.1F, 0.3F}, {3, 0, 0}};
  std::vector<glm::vec3> mirrored = joints;
  for (glm::vec3& p : mirrored) p.y = -p.y;
  const auto own = turned(joints, reachWithChain(joints, {1, 1.5F, 0.7F}, {}));
  const auto other = turned(mirrored, reachWithChain(mirrored, {1, -1.5F, 0.7F}, {}));
  for (size_t i = 0; i < own.size(); ++i)
    EXPECT_LT(glm::distance(own[i], glm::vec3(other[i].x, -other[i].y, other[i].z)), 1e-3F);
}

TEST(ReachWithChain, NothingToTurnIsNoHang) {
  EXPECT_TRUE(reachWithChain({}, {1, 0, 0}, {}).turns.empty());
  const std::vector<glm::vec3> one = {{1, 2, 3}}, same(4, glm::vec3(1));
  EXPECT_TRUE(reachWithChain(one, {1, 0, 0}, {}).turns.empty());
  EXPECT_EQ(reachWithChain(same, {1, 0, 0}, {}).turns.size(), 3u);
  const auto joints = straight(2);
  EXPECT_EQ(reachWithChain(joints, {NAN, 0, 0}, {}).turns[0], glm::quat(1, 0, 0, 0));
}

}  // namespace
}  // namespace rakugo::geometry
