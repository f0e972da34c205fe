// Weights that are well formed and still wrong, and what a skin does in the game's movements.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "prepare/outfit/ghosts.h"
#include "prepare/weights/skin_faults.h"
#include "prepare/weights/weight_faults.h"
#include "scene/influences.h"
#include "scene/rest_pose.h"
#include "scene/weights.h"
#include "support/applied_steps.h"
#include "support/game_rig.h"
#include "support/kelpwick.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

using test::book;
using test::keeper;

// The game's bones, and along both arms a strip of quads; what each vertex follows is asked for.
template <class Follow>
scene::Model arms(const Follow& follow) {
  const std::vector<test::RigBone> bones = test::gameRig(keeper());
  const auto number = [&](const std::string& name) {
    for (size_t i = 0; i < bones.size(); ++i)
      if (bones[i].name == name) return static_cast<uint16_t>(i);
    return uint16_t{0};
  };
  scene::Model out = test::standingModel();
  test::addRig(out, bones);
  scene::Primitive p;
  for (int side : {1, -1}) {
    const auto first = static_cast<uint32_t>(p.positions.size());
    for (int i = 0; i <= 20; ++i)
      for (float z : {1.35F, 1.43F}) {
        const float y = 0.2F + 0.025F * static_cast<float>(i);
        const std::string end = side > 0 ? ".port" : ".starboard";
        const auto vertex = static_cast<uint32_t>(p.positions.size());
        p.positions.push_back({-0.02F, y * static_cast<float>(side), z});
        glm::u16vec4 joints(number((y < 0.46F ? "arm" : "elbow") + end), 0, 0, 0);
        glm::vec4 weights(1, 0, 0, 0);
        follow(vertex, number, joints, weights);
        p.joints.push_back(joints);
        p.weights.push_back(weights);
      }
    for (uint32_t i = 0; i < 20; ++i) {
      const uint32_t a = first + i * 2;
      for (const uint32_t k : {a, a + 1, a + 2, a + 1, a + 3, a + 2}) p.indices.push_back(k);
    }
  }
  // The body's height, so that far is far.
  for (float z : {0.0F, 1.74F}) {
    p.positions.push_back({0, 0, z});
    p.joints.push_back({number(z > 1 ? "head" : "stand"), 0, 0, 0});
    p.weights.push_back({1, 0, 0, 0});
  }
  test::wearRig(out, "sleeves", std::move(p));
  return out;
}
constexpr auto kPlain = [](uint32_t, const auto&, glm::u16vec4&, glm::vec4&) {};

std::vector<SkinFault> faultsOf(const scene::Model& model, const SkinFaultLimits& limits = {}) {
  const auto figure = gameFigure(book(), keeper()).value();
  const Retarget retarget(model, bonesByGameName(model, keeper()), keeper(), book(), figure);
  return skinFaults(model, retarget, keeper(), limits);
}

TEST(WeightFaults, APlainArmHasNone) {
  const WeightFaults found = weightFaults(arms(kPlain), keeper(), book());
  EXPECT_TRUE(found.stray.empty());
  EXPECT_TRUE(found.islands.empty());
  EXPECT_EQ(found.mirrored, 84u);
  EXPECT_EQ(found.lopsided, 0u);
}

TEST(WeightFaults, AFootThatPullsAtAHandIsStray) {
  scene::Model model = arms([](uint32_t v, const auto& number, glm::u16vec4& joints, glm::vec4& weights) {
    if (v != 40) return;
    joints[1] = number("foot.port");
    weights = {0.8F, 0.2F, 0, 0};
  });
  const WeightFaults found = weightFaults(model, keeper(), book());
  ASSERT_EQ(found.stray.size(), 1u);
  EXPECT_EQ(found.stray[0].vertex, 40u);
  EXPECT_NEAR(found.stray[0].place_m.y, 0.7, 1e-5);
  EXPECT_EQ(dropLooseWeights(model, keeper(), book()), 1u);
  EXPECT_TRUE(weightFaults(model, keeper(), book()).stray.empty());
  EXPECT_EQ(scene::weightsOf(model, 4).sum_off, 0u);
  EXPECT_EQ(dropLooseWeights(model, keeper(), book()), 0u) << "once is enough";
}

TEST(WeightFaults, APatchThatNothingJoinsIsAnIsland) {
  // Near the wrist one vertex follows the upper arm, as the shoulder does.
  scene::Model model = arms([](uint32_t v, const auto& number, glm::u16vec4& joints, glm::vec4& weights) {
    if (v != 34) return;
    joints[1] = number("arm.port");
    weights = {0.7F, 0.3F, 0, 0};
  });
  const WeightFaults found = weightFaults(model, keeper(), book());
  ASSERT_EQ(found.islands.size(), 1u);
  EXPECT_EQ(found.islands[0].vertex, 34u);
  EXPECT_EQ(test::applyStep(model, "drop_loose_weights", base::Json::object(), book()).did, "1 vertex");
  EXPECT_TRUE(weightFaults(model, keeper(), book()).islands.empty());
}

TEST(WeightFaults, TheLargestWeightOfAVertexStays) {
  // It follows the foot more than anything: taking that away would leave it with less than half.
  scene::Model model = arms([](uint32_t v, const auto& number, glm::u16vec4& joints, glm::vec4& weights) {
    if (v != 40) return;
    joints = {number("foot.port"), joints[0], 0, 0};
    weights = {0.6F, 0.4F, 0, 0};
  });
  EXPECT_EQ(weightFaults(model, keeper(), book()).stray.size(), 1u);
  EXPECT_EQ(dropLooseWeights(model, keeper(), book()), 0u);
}

TEST(WeightFaults, ASideThatFollowsOtherBonesIsCounted) {
  const scene::Model model =
      arms([](uint32_t v, const auto& number, glm::u16vec4& joints, glm::vec4& weights) {
        // On the right the elbow begins later.
        if (v >= 42 && v < 84 && joints[0] == number("elbow.starboard") && v < 74) {
          joints[1] = number("arm.starboard");
          weights = {0.5F, 0.5F, 0, 0};
        }
      });
  const WeightFaults found = weightFaults(model, keeper(), book());
  EXPECT_EQ(found.mirrored, 84u);
  EXPECT_GT(found.lopsided, 4u);
  rulebook::Skeleton without = keeper();
  for (rulebook::Bone& bone : without.bones) bone.side = rulebook::Side::centre;
  EXPECT_EQ(weightFaults(model, without, book()).lopsided, 0u) << "the game knows no sides";
}

TEST(SkinFaults, AWellWeightedBodyIsWhole) {
  scene::Model hand = *weightDonor(book(), "keeper").value();
  hand.frame.turned = true;
  for (const SkinFault& fault : faultsOf(hand, {8, 400, 4, 0.3, 10}))
    ADD_FAILURE() << sortName(fault.sort) << " " << fault.much << " in "
                  << keeper().movements[fault.movement].id;
}

TEST(SkinFaults, AVertexThatStaysBehindIsStretchedAndNamedWithItsMoment) {
  const scene::Model model = arms([](uint32_t v, const auto& number, glm::u16vec4& joints, glm::vec4&) {
    if (v == 30) joints[0] = number("stand");
  });
  const std::vector<SkinFault> found = faultsOf(model);
  ASSERT_FALSE(found.empty());
  bool stretched = false, behind = false;
  for (const SkinFault& fault : found) {
    const bool near = glm::distance(fault.rest_m, glm::vec3(-0.02F, 0.2F + 0.375F, 1.35F)) < 0.06F;
    stretched = stretched || (fault.sort == SkinFaultSort::stretched && near && fault.much > 5);
    behind = behind || (fault.sort == SkinFaultSort::left_behind && near && fault.much > 0.3);
  }
  EXPECT_TRUE(stretched);
  EXPECT_TRUE(behind);
  EXPECT_LE(found.size(), 10u);
  EXPECT_EQ(faultsOf(model, {3, 25, 1.8, 0.12, 1}).size(), 1u) << "as many as are asked for";
}

TEST(SkinFaults, EachSortIsFoundByItsOwnLimit) {
  scene::Model hand = *weightDonor(book(), "keeper").value();
  hand.frame.turned = true;
  constexpr double kNever = 1e9;
  // Where a knee folds, triangles lose surface; where an arm swings, it turns against the collarbone.
  const auto collapsed = faultsOf(hand, {kNever, 1.5, kNever, kNever, 10});
  ASSERT_FALSE(collapsed.empty());
  for (const SkinFault& fault : collapsed) EXPECT_EQ(fault.sort, SkinFaultSort::collapsed);
  for (size_t i = 1; i < collapsed.size(); ++i) EXPECT_LE(collapsed[i].much, collapsed[i - 1].much);
}

// A sleeve round the elbow that follows both bones by halves: turned half about, it is wrung to nothing.
TEST(SkinFaults, ATwistedSleeveIsWrungThin) {
  scene::Model model = arms(kPlain);
  scene::Primitive p;
  const glm::vec3 elbow(-0.03F, 0.46F, 1.39F), hand(-0.01F, 0.71F, 1.39F),
      along = glm::normalize(hand - elbow);
  const glm::vec3 up = glm::normalize(glm::cross(along, glm::vec3(1, 0, 0))), side = glm::cross(up, along);
  for (int i = 0; i < 12; ++i) {
    const float a = static_cast<float>(i) / 12 * 6.2831853F;
    p.positions.push_back(elbow + (up * std::cos(a) + side * std::sin(a)) * 0.05F);
    p.joints.push_back({7, 8, 0, 0});
    p.weights.push_back({0.5F, 0.5F, 0, 0});
  }
  ASSERT_EQ(keeper().bones[7].id, "arm.port");
  ASSERT_EQ(keeper().bones[8].id, "elbow.port");
  p.indices = {0, 1, 2};
  test::wearRig(model, "cuff", std::move(p));
  // A game whose only movement turns the forearm by 150 degrees about its length.
  const auto own = gameFigure(book(), keeper()).value();
  auto figure = std::make_shared<GameFigure>(*own);
  rulebook::Skeleton skeleton = keeper();
  skeleton.movements = {{"wring", "Wring", false, {0}}};
  const glm::quat turn = glm::angleAxis(2.618F, along);
  figure->model.animations = {{"wring",
                               {{figure->bones[8],
                                 scene::AnimatedPath::turn,
                                 scene::Interpolation::linear,
                                 {0},
                                 {turn.x, turn.y, turn.z, turn.w}}},
                               ""}};
  figure->animations = {0};
  const Retarget retarget(model, bonesByGameName(model, skeleton), skeleton, book(), figure);
  const auto found = skinFaults(model, retarget, skeleton);
  ASSERT_FALSE(found.empty());
  // Half of a turn by 150 degrees: the radius shrinks by the cosine of 75.
  bool wrung = false;
  for (const SkinFault& fault : found)
    if (fault.sort == SkinFaultSort::twisted) {
      wrung = true;
      EXPECT_NEAR(fault.much, 1 / std::cos(1.309), 0.1);
      EXPECT_LT(glm::distance(fault.place_m, elbow), 1e-3F);
    }
  EXPECT_TRUE(wrung);
}

TEST(SkinFaults, WithoutASkinOrBonesThereIsNothingToSay) {
  scene::Model empty = test::standingModel();
  EXPECT_TRUE(faultsOf(empty).empty());
}

}  // namespace
}  // namespace rakugo::prepare
