#include "prepare/movement/retarget.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "prepare/movement/pose_tests.h"
#include "prepare/movement/pulls.h"
#include "support/game_rig.h"
#include "support/kelpwick.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

using test::book;
using test::keeper;
std::shared_ptr<const GameFigure> figure() { return std::move(gameFigure(book(), keeper())).value(); }
size_t movement(const char* id) {
  return static_cast<size_t>(keeper().findMovement(id) - keeper().movements.data());
}
size_t slot(const char* id) { return static_cast<size_t>(keeper().findBone(id) - keeper().bones.data()); }

// A body with the game's bones: every place through `place` (metres, the game's axes), all bones turned.
template <class Place>
scene::Model bodyWith(const Place& place, glm::quat turn = glm::quat(1, 0, 0, 0)) {
  scene::Model out = test::standingModel();
  test::addRig(out, test::gameRig(keeper(), place), turn);
  scene::Primitive skin;
  skin.positions = {{0, 0, 0}, {0, 0, 1}, {0, 1, 0}};
  skin.joints.assign(3, glm::u16vec4(0));
  skin.weights.assign(3, glm::vec4(1, 0, 0, 0));
  skin.indices = {0, 1, 2};
  test::wearRig(out, "skin", std::move(skin));
  return out;
}
scene::Model sameBody(glm::quat turn = glm::quat(1, 0, 0, 0)) {
  return bodyWith([](const rulebook::Bone&, glm::vec3 at) { return at; }, turn);
}

Retarget retargetTo(const scene::Model& model) {
  return Retarget(model, bonesByGameName(model, keeper()), keeper(), book(), figure());
}

glm::vec3 headAt(const scene::Model& model, const scene::Pose& pose, const char* id) {
  return glm::vec3(scene::worldMatrices(model, pose)[bonesByGameName(model, keeper())[slot(id)].value()][3]);
}

TEST(GameFigure, HasEveryMovementThatTheRulebookNames) {
  const auto own = figure();
  EXPECT_EQ(own->bones.size(), 20u);
  ASSERT_EQ(own->animations.size(), keeper().movements.size());
  for (size_t m = 0; m < keeper().movements.size(); ++m)
    for (const double moment : keeper().movements[m].moments_s)
      EXPECT_LE(moment, double{scene::durationOf(own->animation(m))}) << keeper().movements[m].id;
  rulebook::Skeleton none = keeper();
  none.movements_file.clear();
  EXPECT_EQ(gameFigure(book(), none).error().code, "movements.none");
  rulebook::Skeleton other = keeper();
  other.id = "other";
  other.movements.push_back({"somersault", "Somersault", false, {}});
  EXPECT_EQ(gameFigure(book(), other).error().code, "movements.animation");
  other.id = "another";
  other.bones.push_back({"tail", "Tail", "ballast", rulebook::Side::centre, false, {0, 0, 1}, {}});
  EXPECT_EQ(gameFigure(book(), other).error().code, "movements.bone");
}

TEST(Retarget, OntoTheFigureItselfChangesNothing) {
  const auto own = figure();
  scene::Model model = own->model;
  Retarget retarget(model, own->bones, keeper(), book(), own);
  EXPECT_NEAR(retarget.scale(), 1, 1e-6);
  for (size_t m = 0; m < keeper().movements.size(); ++m)
    for (const float at_s : {0.0F, 0.33F, 1.21F}) {
      scene::Pose wanted = scene::restPose(model);
      scene::poseAt(own->animation(m), at_s, wanted);
      const auto a = scene::worldMatrices(model, wanted),
                 b = scene::worldMatrices(model, retarget.at(m, at_s));
      for (const NodeIndex bone : own->bones)
        for (int c = 0; c < 4; ++c)
          EXPECT_LT(glm::distance(a[bone.value()][c], b[bone.value()][c]), 2e-4F)
              << keeper().movements[m].id << " " << model.node(bone).name;
    }
}

TEST(Retarget, BonesThatLieOtherwiseMoveTheSame) {
  // Every bone of the model turned by some odd angle: nothing of that is seen.
  const scene::Model plain = sameBody(), odd = sameBody(glm::normalize(glm::quat(0.3F, 0.5F, -0.7F, 0.2F)));
  const Retarget a = retargetTo(plain), b = retargetTo(odd);
  for (const char* id : {"walk", "crouch", "reach-up"})
    for (const rulebook::Bone& bone : keeper().bones)
      EXPECT_LT(glm::distance(headAt(plain, a.at(movement(id), 0.9F), bone.id.c_str()),
                              headAt(odd, b.at(movement(id), 0.9F), bone.id.c_str())),
                1e-4F)
          << id << " " << bone.id;
}

TEST(Retarget, ArmsThatHangAtRestAreLaidOut) {
  // An A pose: arms turned down by 45 degrees about the shoulder.
  const glm::vec3 shoulder(-0.02F, 0.19F, 1.4F);
  const float h = std::sqrt(0.5F);
  const scene::Model model = bodyWith([&](const rulebook::Bone& bone, glm::vec3 at) {
    if (bone.id.rfind("elbow.port", 0) != 0 && bone.id.rfind("hand.port", 0) != 0) return at;
    const glm::vec3 d = at - shoulder;
    return shoulder + glm::vec3(d.x, h * d.y + h * d.z, -h * d.y + h * d.z);
  });
  const Retarget retarget = retargetTo(model);
  EXPECT_LT(headAt(model, scene::restPose(model), "hand.port").z, 1.1F);
  const glm::vec3 hand = headAt(model, retarget.atRest(), "hand.port");
  EXPECT_LT(glm::distance(hand, glm::vec3(-0.01F, 0.71F, 1.39F)), 2e-3F);
}

// In the walk a standing foot goes back with the ground, at the pace: no slide, whatever the legs' length.
TEST(Retarget, AFootThatStandsDoesNotSlide) {
  for (const float size : {0.7F, 1.0F, 1.3F}) {
    const scene::Model model = bodyWith([&](const rulebook::Bone&, glm::vec3 at) { return at * size; });
    const Retarget retarget = retargetTo(model);
    EXPECT_NEAR(retarget.scale(), size, 1e-3);
    for (const float at_s : {0.1F, 0.3F, 0.5F}) {
      const glm::vec3 now = headAt(model, retarget.at(movement("walk"), at_s), "foot.port");
      EXPECT_NEAR(now.z, 0.09F * size, 2e-3) << "on the ground";
      EXPECT_NEAR(now.y, 0.11F * size, 2e-3);
      EXPECT_NEAR(now.x, (0.42F - 1.4F * at_s - 0.02F) * size, 4e-3) << size << " at " << at_s;
    }
  }
}

TEST(Retarget, ShorterLegsCrouchAsDeepForTheirLength) {
  // Legs of half the length, the trunk as the game's.
  const scene::Model model = bodyWith([](const rulebook::Bone& bone, glm::vec3 at) {
    const bool leg =
        bone.id.rfind("leg", 0) == 0 || bone.id.rfind("knee", 0) == 0 || bone.id.rfind("foot", 0) == 0;
    if (bone.id == "stand") return at;
    return leg ? glm::vec3(at.x, at.y, 0.09F + (at.z - 0.09F) * 0.5F) : at - glm::vec3(0, 0, 0.405F);
  });
  const Retarget retarget = retargetTo(model);
  EXPECT_NEAR(retarget.scale(), 0.5, 0.01);
  const scene::Pose pose = retarget.at(movement("crouch"), 1.2F);
  EXPECT_NEAR(headAt(model, pose, "foot.port").z, 0.09, 3e-3);
  const float rest = headAt(model, scene::restPose(model), "ballast").z,
              down = headAt(model, pose, "ballast").z;
  EXPECT_NEAR(rest - down, 0.372 * 0.5, 5e-3);
  // The knee goes forward.
  EXPECT_GT(headAt(model, pose, "knee.port").x, headAt(model, pose, "leg.port").x + 0.05F);
}

TEST(Retarget, TheOtherHalfOfAWalkIsTheMirrorImage) {
  const scene::Model model = bodyWith([](const rulebook::Bone&, glm::vec3 at) { return at * 1.1F; });
  const Retarget retarget = retargetTo(model);
  const scene::Pose a = retarget.at(movement("walk"), 0.15F), b = retarget.at(movement("walk"), 0.65F);
  for (const char* stem : {"leg", "knee", "foot", "arm", "elbow", "hand", "collar"}) {
    const glm::vec3 left = headAt(model, a, (std::string(stem) + ".port").c_str());
    glm::vec3 right = headAt(model, b, (std::string(stem) + ".starboard").c_str());
    right.y = -right.y;
    EXPECT_LT(glm::distance(left, right), 3e-3F) << stem;
  }
}

TEST(Retarget, ABodyWithoutSomeBonesMovesWithTheOthers) {
  scene::Model model = sameBody();
  SlotBones bones = bonesByGameName(model, keeper());
  for (const char* id : {"neck", "collar.port", "stand", "foot.starboard", "knee.starboard"})
    bones[slot(id)] = NodeIndex();
  const Retarget retarget(model, bones, keeper(), book(), figure());
  const scene::Pose pose = retarget.at(movement("walk"), 0.3F);
  for (const scene::Placement& place : pose) {
    EXPECT_TRUE(std::isfinite(place.position.x) && std::isfinite(place.turn.w));
  }
  EXPECT_NEAR(headAt(model, pose, "foot.port").z, 0.09, 5e-3);
  const Retarget none(model, SlotBones(), keeper(), book(), figure());
  EXPECT_EQ(none.at(movement("walk"), 0.3F), scene::restPose(model));
}

TEST(PlayedByGame, IsRightWhereBonesLieAsTheGames) {
  const scene::Model model = sameBody();
  for (const MomentOff& moment : momentsOff(model, keeper(), book(), figure()))
    for (const BoneOff& bone : moment.bones) {
      EXPECT_LT(bone.turned_rad, 0.01) << keeper().movements[moment.movement].id;
      EXPECT_LT(bone.moved_m, 2e-3);
      EXPECT_FALSE(bone.bends_back);
    }
}

TEST(PlayedByGame, AQuarterTurnOfAllBonesIsSeenInEveryOne) {
  const scene::Model model = sameBody(glm::quat(std::sqrt(0.5F), std::sqrt(0.5F), 0, 0));
  const auto moments = momentsOff(model, keeper(), book(), figure());
  ASSERT_FALSE(moments.empty());
  for (const MomentOff& moment : moments)
    for (const BoneOff& bone : moment.bones) EXPECT_NEAR(bone.turned_rad, 1.5708, 0.05);
}

TEST(PlayedByGame, ShortLegsHangInTheAirWhenTheGameCrouches) {
  const scene::Model model = bodyWith([](const rulebook::Bone&, glm::vec3 at) { return at * 0.7F; });
  const Retarget retarget = retargetTo(model);
  const MomentOff off =
      momentOff(model, retarget, keeper(), *figure(), retarget.bones(), movement("crouch"), 1.2);
  for (const BoneOff& bone : off.bones)
    if (keeper().bones[bone.slot].id == "foot.port") {
      // The game lowers the hips by its own 372 mm, three tenths more than these legs fold away.
      EXPECT_NEAR(bone.risen_m, -0.372 * 0.3, 0.03);
    }
}

TEST(PlayedByGame, AKneeThatIsTurnedAboutBendsBackwards) {
  // The thigh's axes turned half about its length: what bends forward in the game bends back.
  scene::Model model = sameBody();
  const NodeIndex leg = bonesByGameName(model, keeper())[slot("leg.port")];
  scene::Model turned = model;
  turned.node(leg).local.turn = glm::quat(0, 0, 0, 1);
  for (const NodeIndex child : turned.node(leg).children) {
    scene::Placement& place = turned.node(child).local;
    place.position = {-place.position.x, -place.position.y, place.position.z};
    place.turn = glm::quat(0, 0, 0, 1);
  }
  const Retarget retarget = retargetTo(turned);
  const MomentOff off =
      momentOff(turned, retarget, keeper(), *figure(), retarget.bones(), movement("crouch"), 1.2);
  bool back = false, right = true;
  for (const BoneOff& bone : off.bones) {
    if (keeper().bones[bone.slot].id == "knee.port") back = bone.turned_rad < 0.1 || bone.bends_back;
    if (keeper().bones[bone.slot].id == "leg.port") right = bone.turned_rad < 0.1;
  }
  EXPECT_TRUE(back);
  EXPECT_FALSE(right);
}

TEST(Pulls, AHandComesWhereItIsPulledAndTheElbowGoesBack) {
  const scene::Model model = sameBody();
  const Retarget retarget = retargetTo(model);
  const scene::Pose rest = retarget.atRest();
  size_t arm = 0;
  while (keeper().chains[arm].id != "arm-left") ++arm;
  EXPECT_EQ(chainsToPull(retarget.bones(), keeper()).size(), keeper().chains.size());
  const glm::vec3 target(0.3F, 0.3F, 1.2F);
  const scene::Pose pose = pulled(model, retarget, keeper(), rest, {{arm, target}});
  EXPECT_LT(glm::distance(headAt(model, pose, "hand.port"), target), 2e-3F);
  // Behind the straight line from shoulder to hand.
  const glm::vec3 a = headAt(model, pose, "arm.port"), b = headAt(model, pose, "elbow.port"),
                  c = headAt(model, pose, "hand.port");
  const glm::vec3 line = glm::normalize(c - a);
  EXPECT_LT((b - a - line * glm::dot(b - a, line)).x, 0);
  // The rest of the body stays.
  EXPECT_LT(glm::distance(headAt(model, pose, "hand.starboard"), headAt(model, rest, "hand.starboard")),
            1e-5F);
  EXPECT_LT(glm::distance(headAt(model, pose, "collar.port"), headAt(model, rest, "collar.port")), 1e-5F);
}

TEST(Pulls, HipsGoDownAndFeetStay) {
  const scene::Model model = sameBody();
  const Retarget retarget = retargetTo(model);
  EXPECT_EQ(model.node(hipsOf(retarget.bones(), keeper())).name, "ballast");
  const scene::Pose pose =
      pulled(model, retarget, keeper(), retarget.atRest(), {{kPullHips, {0.05F, 0, 0.7F}}});
  EXPECT_LT(glm::distance(headAt(model, pose, "ballast"), glm::vec3(0.05F, 0, 0.7F)), 1e-4F);
  for (const char* foot : {"foot.port", "foot.starboard"})
    EXPECT_LT(glm::distance(headAt(model, pose, foot), headAt(model, retarget.atRest(), foot)), 3e-3F)
        << foot;
  EXPECT_GT(headAt(model, pose, "knee.port").x, 0.1F) << "knees go forward";
  rulebook::Skeleton floating = keeper();
  for (rulebook::Chain& chain : floating.chains) chain.plants = false;
  EXPECT_FALSE(hipsOf(retarget.bones(), floating).valid());
}

TEST(Pulls, AHeadIsFollowedByTheBackWithinItsLimits) {
  const scene::Model model = sameBody();
  const Retarget retarget = retargetTo(model);
  size_t back = 0;
  while (keeper().chains[back].id != "back") ++back;
  const glm::vec3 rest = headAt(model, retarget.atRest(), "head");
  const scene::Pose pose =
      pulled(model, retarget, keeper(), retarget.atRest(), {{back, rest + glm::vec3(0.2F, 0.1F, -0.05F)}});
  const glm::vec3 head = headAt(model, pose, "head");
  EXPECT_LT(glm::distance(head, rest + glm::vec3(0.2F, 0.1F, -0.05F)), 0.02F);
  // What lies far beyond is not reached, and nothing breaks.
  const scene::Pose far =
      pulled(model, retarget, keeper(), retarget.atRest(), {{back, glm::vec3(5, 0, 0)}}, 0.2F);
  EXPECT_LT(headAt(model, far, "head").x, 0.6F);
}

}  // namespace
}  // namespace rakugo::prepare
