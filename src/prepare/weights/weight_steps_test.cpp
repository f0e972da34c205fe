// First weights, smoothing, mirroring, a donor's weights, a bone for what was picked, a bone turned at rest.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "formats/read_model.h"
#include "prepare/bones/bone_ops.h"
#include "prepare/edit_steps.h"
#include "prepare/movement/retarget.h"
#include "prepare/outfit/ghosts.h"
#include "prepare/picked/selection.h"
#include "prepare/weights/weight_ops.h"
#include "scene/influences.h"
#include "scene/rest_pose.h"
#include "scene/weights.h"
#include "support/applied_steps.h"
#include "support/kelpwick.h"
#include "support/made_rig.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::NodeIndex;

using test::book;

// The game's keeper without its bones: its mesh alone.
scene::Model bareKeeper() {
  scene::Model out = *weightDonor(book(), "keeper").value();
  out.frame.turned = true;
  scene::Model bare = test::standingModel();
  for (const NodeIndex i : scene::reachedNodes(out))
    if (out.node(i).mesh.valid()) {
      bare.meshes.push_back(out.meshes[out.node(i).mesh.value()]);
      auto mesh = std::make_shared<scene::Mesh>(*bare.meshes.back());
      for (scene::Primitive& p : mesh->primitives) {
        p.joints.clear();
        p.weights.clear();
        p.material = {};
      }
      bare.meshes.back() = mesh;
      scene::Node node;
      node.name = "body";
      node.mesh = scene::MeshIndex(bare.meshes.size() - 1);
      bare.roots.emplace_back(bare.nodes.size());
      bare.nodes.push_back(node);
    }
  scene::assignKeys(bare);
  return bare;
}

StepOutcome apply(scene::Model& model, const char* kind, const Json& values) {
  return test::applyStep(model, kind, values.is_object() ? values : Json::object(), book());
}

// Where the vertices of the part are in that movement of the game.
std::vector<glm::vec3> moved(const scene::Model& model, const char* movement, float at_s) {
  const rulebook::Skeleton& skeleton = book().skeletons[0];
  const auto figure = gameFigure(book(), skeleton).value();
  const Retarget retarget(model, bonesByGameName(model, skeleton), skeleton, book(), figure);
  const auto index = static_cast<size_t>(skeleton.findMovement(movement) - skeleton.movements.data());
  const auto world = scene::worldMatrices(model, retarget.at(index, at_s));
  std::vector<glm::vec3> out;
  for (const NodeIndex i : scene::reachedNodes(model))
    if (model.node(i).mesh.valid())
      for (const glm::vec3& p : scene::placedPositions(model, i, world)) out.push_back(p);
  return out;
}

double meanOff(const std::vector<glm::vec3>& a, const std::vector<glm::vec3>& b) {
  double sum = 0;
  for (size_t i = 0; i < a.size(); ++i) sum += double{glm::distance(a[i], b[i])};
  return sum / static_cast<double>(a.size());
}

TEST(FirstWeights, ABareMeshGetsTheGamesBonesAndMovesAlmostLikeTheHandWeightedOne) {
  scene::Model bare = bareKeeper();
  scene::Model hand = *weightDonor(book(), "keeper").value();
  hand.frame.turned = true;
  const auto before = moved(hand, "idle", 0);
  StepOutcome outcome = apply(bare, "first_weights", {});
  ASSERT_EQ(outcome.state, StepState::good) << (outcome.misses.empty() ? "" : outcome.misses[0]);
  EXPECT_THAT(outcome.did, testing::HasSubstr("the game's put in"));
  const scene::WeightReport report = scene::weightsOf(bare, 4);
  EXPECT_EQ(report.without_weight + report.sum_off + report.over_limit, 0u);
  // The mesh stands where it stood.
  const auto parts = scene::reachedNodes(bare);
  const scene::Model was = bareKeeper();
  EXPECT_LT(glm::distance(scene::boundsOf(bare).max, scene::boundsOf(was).max), 1e-4F);
  for (const char* movement : {"idle", "walk", "crouch", "reach-up"})
    EXPECT_LT(meanOff(moved(bare, movement, 0.8F), moved(hand, movement, 0.8F)), 0.025) << movement;
  // What has weights keeps them.
  outcome = apply(bare, "first_weights", {});
  EXPECT_EQ(outcome.state, StepState::missed);
  EXPECT_EQ(before.size(), moved(bare, "idle", 0).size());
}

TEST(FirstWeights, AModelWithoutVerticesIsLeftAlone) {
  scene::Model empty = test::standingModel();
  EXPECT_EQ(apply(empty, "first_weights", {}).state, StepState::missed);
  EXPECT_EQ(apply(empty, "first_weights", {{"skeleton", "octopus"}}).state, StepState::wrong);
  EXPECT_TRUE(empty.nodes.empty());
}

TEST(CopyWeights, ABareMeshTakesThoseOfTheGamesExample) {
  scene::Model bare = bareKeeper();
  scene::Model hand = *weightDonor(book(), "").value();
  hand.frame.turned = true;
  const StepOutcome outcome = apply(bare, "copy_weights", {{"kind", "keeper"}, {"most_mm", 5.0}});
  ASSERT_EQ(outcome.state, StepState::good) << (outcome.misses.empty() ? "" : outcome.misses[0]);
  EXPECT_THAT(outcome.did, testing::HasSubstr("bones added"));
  // The same surface, so the same weights: nothing is off.
  for (const char* movement : {"walk", "crouch"})
    EXPECT_LT(meanOff(moved(bare, movement, 0.8F), moved(hand, movement, 0.8F)), 1e-4) << movement;
  EXPECT_EQ(apply(bare, "copy_weights", {{"kind", "craft"}}).state, StepState::missed);
}

// Two bones along x and a strip of vertices between them, in the first game's axes.
scene::Model strip(bool weights = true) {
  scene::Model model = test::standingModel();
  test::addRig(model, {{"arm.port", -1, {0, 0.2F, 1}},
                       {"elbow.port", 0, {0, 0.5F, 1}},
                       {"arm.starboard", -1, {0, -0.2F, 1}},
                       {"elbow.starboard", 2, {0, -0.5F, 1}}});
  scene::Primitive p;
  for (int side : {1, -1})
    for (int i = 0; i <= 10; ++i)
      for (float z : {0.95F, 1.05F}) {
        const float y = 0.2F + 0.06F * static_cast<float>(i);
        p.positions.push_back({0, y * static_cast<float>(side), z});
        const auto arm = static_cast<uint16_t>(side > 0 ? 0 : 2);
        p.joints.push_back({arm, arm + 1, 0, 0});
        // The left is sharp, the right follows the arm alone.
        const float own = side > 0 ? (y < 0.5F ? 1.0F : 0.0F) : 1.0F;
        p.weights.push_back({own, 1 - own, 0, 0});
      }
  for (uint32_t s = 0; s < 2; ++s)
    for (uint32_t i = 0; i < 10; ++i) {
      const uint32_t a = s * 22 + i * 2;
      for (const uint32_t k : {a, a + 1, a + 2, a + 1, a + 3, a + 2}) p.indices.push_back(k);
    }
  if (!weights) p.joints.clear(), p.weights.clear();
  test::wearRig(model, "sleeves", std::move(p));
  return model;
}

const scene::Primitive& sleeves(const scene::Model& model) {
  return model.mesh(model.node(scene::findPart(model, "sleeves")).mesh).primitives[0];
}
float shareOf(const scene::Primitive& p, size_t v, uint32_t joint) {
  float out = 0;
  scene::eachInfluence(p, v, [&](uint32_t j, float w) { out += j == joint ? w : 0; });
  return out;
}

TEST(SmoothWeights, SoftensWhatIsSharpAndKeepsSums) {
  scene::Model model = strip();
  EXPECT_EQ(apply(model, "smooth_weights", {{"rounds", 4.0}}).state, StepState::good);
  const scene::Primitive& p = sleeves(model);
  float last = 2;
  for (size_t v = 0; v < 22; v += 2) {
    const float own = shareOf(p, v, 0);
    EXPECT_LE(own, last + 1e-4F) << "less and less along the arm";
    last = own;
  }
  EXPECT_GT(shareOf(p, 10, 0), 0.3F);
  EXPECT_LT(shareOf(p, 10, 0), 0.7F);
  EXPECT_EQ(scene::weightsOf(model, 4).sum_off, 0u);
  // Nothing to soften where all follow one bone.
  EXPECT_EQ(shareOf(p, 30, 2), 1);
  EXPECT_EQ(apply(model, "smooth_weights", {{"rounds", 0.0}}).state, StepState::wrong);
  EXPECT_EQ(apply(model, "smooth_weights", {{"percent", 200.0}}).state, StepState::wrong);
}

TEST(MirrorWeights, TheOtherSideFollowsTheOtherBones) {
  scene::Model model = strip();
  EXPECT_EQ(apply(model, "mirror_weights", {{"from", "left"}}).state, StepState::good);
  const scene::Primitive& p = sleeves(model);
  for (size_t v = 0; v < 22; ++v) {
    EXPECT_NEAR(shareOf(p, v, 0), shareOf(p, v + 22, 2), 1e-4);
    EXPECT_NEAR(shareOf(p, v, 1), shareOf(p, v + 22, 3), 1e-4);
  }
  // Once more changes nothing, and the other way brings the same back.
  const auto weights = p.weights;
  EXPECT_EQ(apply(model, "mirror_weights", {{"from", "right"}}).state, StepState::good);
  for (size_t v = 0; v < 44; ++v)
    for (uint32_t joint = 0; joint < 4; ++joint)
      EXPECT_NEAR(shareOf(sleeves(model), v, joint),
                  weights[v][0] * (p.joints[v][0] == joint ? 1.0F : 0.0F) +
                      weights[v][1] * (p.joints[v][1] == joint ? 1.0F : 0.0F),
                  1e-3);
  EXPECT_EQ(apply(model, "mirror_weights", {{"from", "above"}}).state, StepState::wrong);
}

Json picked(float from, float to) {
  Selection selection;
  selection.part = "sleeves";
  selection.outline = {{0, from, 0.9F}, {0, to, 0.9F}, {0, to, 1.1F}, {0, from, 1.1F}};
  selection.toward = glm::vec3(1, 0, 0);
  return toJson(selection);
}

TEST(GiveToBone, WhatWasPickedFollowsItAndTheEdgeIsSoft) {
  scene::Model model = strip();
  const std::string key = model.node(NodeIndex(1)).key;
  ASSERT_EQ(
      apply(model, "give_to_bone", {{"pick", picked(0.19F, 0.27F)}, {"bone", key}, {"soft_mm", 120.0}}).state,
      StepState::good);
  const scene::Primitive& p = sleeves(model);
  EXPECT_NEAR(shareOf(p, 0, 1), 1, 1e-4);
  EXPECT_NEAR(shareOf(p, 2, 1), 1, 1e-4);
  EXPECT_GT(shareOf(p, 4, 1), 0.2F);
  EXPECT_LT(shareOf(p, 4, 1), 0.9F);
  EXPECT_EQ(shareOf(p, 8, 1), 0);
  EXPECT_EQ(scene::weightsOf(model, 4).sum_off, 0u);
  EXPECT_EQ(apply(model, "give_to_bone", {{"pick", picked(0.19F, 0.27F)}, {"bone", "gone"}}).state,
            StepState::missed);
  EXPECT_EQ(apply(model, "give_to_bone", {{"pick", picked(3, 4)}, {"bone", key}}).state, StepState::missed);
  EXPECT_EQ(apply(model, "give_to_bone", {{"pick", 7}, {"bone", key}}).state, StepState::wrong);
}

TEST(GiveToBone, AHalfLeavesTheOtherHalfAsItWas) {
  scene::Model model = strip();
  const std::string key = model.node(NodeIndex(3)).key;
  ASSERT_EQ(
      apply(model, "give_to_bone", {{"pick", picked(0.19F, 0.27F)}, {"bone", key}, {"percent", 50.0}}).state,
      StepState::good);
  EXPECT_NEAR(shareOf(sleeves(model), 0, 3), 0.5, 1e-4);
  EXPECT_NEAR(shareOf(sleeves(model), 0, 0), 0.5, 1e-4);
}

TEST(TurnBone, TurnsTheSkinAndLeavesTheAxes) {
  scene::Model model = strip();
  const scene::Model was = model;
  const std::string key = model.node(NodeIndex(0)).key;
  // Down by 30 degrees about the game's forward.
  ASSERT_EQ(apply(model, "turn_bone", {{"bone", key}, {"forward_deg", -30.0}}).state, StepState::good);
  const auto world = scene::worldMatrices(model), before = scene::worldMatrices(was);
  for (int c = 0; c < 3; ++c) EXPECT_LT(glm::distance(world[1][c], before[1][c]), 1e-5F) << "the axes stay";
  const glm::vec3 elbow(world[1][3]);
  EXPECT_LT(glm::distance(elbow, glm::vec3(0, 0.2F + 0.3F * std::cos(0.5236F), 1 - 0.15F)), 1e-5F);
  // The end of the sleeve has gone down with it; the other has not.
  const auto placed = scene::placedMesh(model, scene::findPart(model, "sleeves"), world).positions;
  const auto other = scene::placedMesh(was, scene::findPart(was, "sleeves"), before).positions;
  EXPECT_NEAR(placed[20].z, 1 - 0.6F * 0.5F - 0.05F * std::cos(0.5236F), 1e-4);
  for (size_t v = 22; v < 44; ++v) EXPECT_LT(glm::distance(placed[v], other[v]), 1e-6F);
  // What the skin does when the game turns the bone is the same turn more.
  scene::Pose pose = scene::restPose(model);
  pose[0].turn = glm::angleAxis(0.5236F, glm::vec3(1, 0, 0));
  const auto raised =
      scene::placedMesh(model, scene::findPart(model, "sleeves"), scene::worldMatrices(model, pose));
  EXPECT_LT(glm::distance(raised.positions[20], other[20]), 1e-4F) << "turned back up";
  EXPECT_EQ(apply(model, "turn_bone", {{"bone", "gone"}}).state, StepState::missed);
  EXPECT_EQ(apply(model, "turn_bone", {{"bone", key}, {"up_deg", 500.0}}).state, StepState::wrong);
}

TEST(TurnBone, AnAngleIsSetInOneStepAndGoesWithIt) {
  mod::ModelDoc doc;
  turnBone(doc, "rig/arm", "up_deg", 5);
  turnBone(doc, "rig/arm", "side_deg", -3);
  ASSERT_EQ(doc.steps.size(), 1u);
  EXPECT_EQ(boneTurn(doc, "rig/arm")->values["up_deg"], 5.0);
  turnBone(doc, "rig/leg", "up_deg", 0);
  EXPECT_EQ(doc.steps.size(), 1u) << "nothing to turn is no step";
  turnBone(doc, "rig/arm", "up_deg", 0);
  turnBone(doc, "rig/arm", "side_deg", 0);
  EXPECT_TRUE(doc.steps.empty());
}

}  // namespace
}  // namespace rakugo::prepare
