// What holds for any body in any of the game's movements, on bodies made at random.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "prepare/bones/bone_ops.h"
#include "prepare/edit_steps.h"
#include "prepare/movement/pose_tests.h"
#include "prepare/movement/pulls.h"
#include "scene/rest_pose.h"
#include "support/game_rig.h"
#include "support/kelpwick.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

using test::book;
using test::keeper;

// Every bone a little elsewhere than the game's, of any size, its axes anyhow; one vertex a bone.
scene::Model randomBody(unsigned seed) {
  std::mt19937 random(seed);
  const auto real = [&](float low, float high) {
    return low + (high - low) * static_cast<float>(random() % 10'000) / 10'000;
  };
  const float size = real(0.5F, 1.6F);
  scene::Model out = test::standingModel();
  const auto bones = test::gameRig(keeper(), [&](const rulebook::Bone& bone, glm::vec3 at) {
    // Ankles stay where ankles are: what stands on the ground stands on it.
    const float stir = bone.id.rfind("foot", 0) == 0 ? 0 : 0.02F;
    return (at + glm::vec3(real(-stir, stir), real(-stir, stir), real(-stir, stir))) * size;
  });
  test::addRig(out, bones, glm::normalize(glm::quat(real(0.1F, 1), real(-1, 1), real(-1, 1), real(-1, 1))));
  scene::Primitive p;
  for (size_t b = 0; b < bones.size(); ++b) {
    p.positions.push_back(bones[b].at + glm::vec3(0.03F, 0, 0));
    p.joints.push_back({b, 0, 0, 0});
    p.weights.push_back({1, 0, 0, 0});
  }
  p.indices = {0, 1, 2};
  test::wearRig(out, "skin", std::move(p));
  return out;
}

glm::vec3 headOf(const std::vector<glm::mat4>& world, NodeIndex i) { return glm::vec3(world[i.value()][3]); }

TEST(AnyBody, KeepsTheLengthsOfItsBonesInEveryMovement) {
  const auto figure = gameFigure(book(), keeper()).value();
  for (unsigned seed = 1; seed <= 12; ++seed) {
    const scene::Model model = randomBody(seed);
    const Retarget retarget(model, bonesByGameName(model, keeper()), keeper(), book(), figure);
    const auto rest = scene::worldMatrices(model);
    for (size_t m = 0; m < keeper().movements.size(); ++m) {
      const auto now = scene::worldMatrices(model, retarget.at(m, 0.37F));
      for (const NodeIndex i : scene::reachedNodes(model)) {
        const NodeIndex parent = model.node(i).parent;
        // The hips go their own way.
        if (!parent.valid() || model.node(i).name == "ballast") continue;
        EXPECT_NEAR(glm::distance(headOf(now, i), headOf(now, parent)),
                    glm::distance(headOf(rest, i), headOf(rest, parent)), 2e-3)
            << seed << " " << keeper().movements[m].id << " " << model.node(i).name;
      }
    }
  }
}

TEST(AnyBody, FeetThatStandAreOnTheGround) {
  const auto figure = gameFigure(book(), keeper()).value();
  const auto idle = static_cast<size_t>(keeper().findMovement("idle") - keeper().movements.data());
  for (unsigned seed = 1; seed <= 12; ++seed) {
    const scene::Model model = randomBody(seed);
    const SlotBones bones = bonesByGameName(model, keeper());
    const Retarget retarget(model, bones, keeper(), book(), figure);
    const auto rest = scene::worldMatrices(model);
    for (const float at_s : {0.0F, 1.3F, 2.9F}) {
      const auto now = scene::worldMatrices(model, retarget.at(idle, at_s));
      for (size_t s = 0; s < bones.size(); ++s)
        if (keeper().bones[s].id.rfind("foot", 0) == 0) {
          EXPECT_NEAR(headOf(now, bones[s]).z, headOf(rest, bones[s]).z, 0.015) << seed;
        }
    }
  }
}

TEST(AnyBody, BonesSetStraightAndLaidInTheGamesPoseArePlayedRightly) {
  // The two mends that the checks offer, on any body: the game then turns every bone as it should.
  const auto figure = gameFigure(book(), keeper()).value();
  for (unsigned seed = 1; seed <= 8; ++seed) {
    scene::Model model = randomBody(seed);
    poseAsGame(model, keeper(), book(), 0);
    straightenBones(model, &keeper());
    for (const MomentOff& moment : momentsOff(model, keeper(), book(), figure))
      for (const BoneOff& bone : moment.bones) {
        // Legs are bent a little more or less to bring feet of other legs to the ground.
        const std::string& id = keeper().bones[bone.slot].id;
        const bool leg = id.rfind("leg", 0) == 0 || id.rfind("knee", 0) == 0 || id.rfind("foot", 0) == 0;
        EXPECT_LT(bone.turned_rad, leg ? 0.35 : 0.02) << seed << " " << id;
        EXPECT_FALSE(bone.bends_back) << seed << " " << id;
      }
  }
}

TEST(AnyBody, ATurnAndItsReverseLeaveTheSkinWhereItWas) {
  for (unsigned seed = 1; seed <= 12; ++seed) {
    const scene::Model was = randomBody(seed);
    scene::Model model = was;
    const auto bones = bonesByGameName(model, keeper());
    const NodeIndex bone = bones[seed % bones.size()];
    const glm::quat turn =
        glm::angleAxis(0.1F * static_cast<float>(seed), glm::normalize(glm::vec3(1, 2, 3)));
    turnBoneAtRest(model, bone, turn);
    turnBoneAtRest(model, bone, glm::conjugate(turn));
    for (const NodeIndex part : scene::reachedNodes(model)) {
      if (!model.node(part).mesh.valid()) continue;
      const auto now = scene::placedPositions(model, part, scene::worldMatrices(model)),
                 before = scene::placedPositions(was, part, scene::worldMatrices(was));
      for (size_t v = 0; v < now.size(); ++v) EXPECT_LT(glm::distance(now[v], before[v]), 1e-4F) << seed;
    }
  }
}

TEST(AnyBody, PulledEndsComeWhereTheyAreWantedOrAsNearAsTheLimbReaches) {
  const auto figure = gameFigure(book(), keeper()).value();
  std::mt19937 random(5);
  const auto real = [&] { return static_cast<float>(random() % 2000) / 1000 - 1; };
  for (unsigned seed = 1; seed <= 10; ++seed) {
    const scene::Model model = randomBody(seed);
    const SlotBones bones = bonesByGameName(model, keeper());
    const Retarget retarget(model, bones, keeper(), book(), figure);
    const scene::Pose rest = retarget.atRest();
    for (const size_t chain : chainsToPull(bones, keeper())) {
      if (keeper().chains[chain].bones.size() > 4) continue;
      const auto& ids = keeper().chains[chain].bones;
      const auto slot = [&](size_t from_end) {
        return bones[static_cast<size_t>(keeper().findBone(ids[ids.size() - from_end]) -
                                         keeper().bones.data())];
      };
      const auto before = scene::worldMatrices(model, rest);
      const glm::vec3 root = headOf(before, slot(3)),
                      target = root + glm::vec3(real(), real(), real()) * 0.9F;
      const float upper = glm::distance(root, headOf(before, slot(2))),
                  lower = glm::distance(headOf(before, slot(2)), headOf(before, slot(1)));
      const auto now =
          scene::worldMatrices(model, pulled(model, retarget, keeper(), rest, {{chain, target}}));
      const float away = glm::distance(root, target);
      const float left = std::max({away - upper - lower, std::abs(upper - lower) - away, 0.0F});
      EXPECT_NEAR(glm::distance(headOf(now, slot(1)), target), left, 3e-3) << seed << " " << ids.back();
    }
  }
}

TEST(AnglesOf, AreTheTurnAgain) {
  std::mt19937 random(2);
  const auto real = [&] { return static_cast<float>(random() % 2000) / 1000 - 1; };
  const GameAxes axes{{0, 0, 1}, {1, 0, 0}, {0, 1, 0}};
  for (int i = 0; i < 200; ++i) {
    const glm::quat turn = glm::normalize(glm::quat(real(), real(), real(), real()));
    const glm::dvec3 angles = anglesOf(axes, turn);
    const auto about = [](glm::vec3 axis, double degrees) {
      return glm::angleAxis(static_cast<float>(degrees * 3.14159265358979 / 180), axis);
    };
    const glm::quat again =
        about(axes.up, angles[2]) * about(axes.side, angles[1]) * about(axes.forward, angles[0]);
    EXPECT_NEAR(std::abs(glm::dot(turn, again)), 1, 1e-4);
  }
  EXPECT_LT(glm::length(anglesOf(axes, glm::quat(1, 0, 0, 0))), 1e-9);
}

}  // namespace
}  // namespace rakugo::prepare
