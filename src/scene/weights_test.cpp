// What vertices follow, and which nodes are bones.
#include "scene/weights.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <limits>

#include "scene/bones.h"
#include "scene/influences.h"
#include "support/made_model.h"
#include "support/made_rig.h"

namespace rakugo::scene {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

// Three bones in a row and one at the end; `weights` and `joints` a vertex.
Model rig(std::vector<glm::u16vec4> joints, std::vector<glm::vec4> weights) {
  Model model = test::standingModel();
  test::addRig(
      model,
      {{"root", -1, {0, 0, 0}}, {"low", 0, {0, 0, 1}}, {"high", 1, {0, 0, 2}}, {"high_end", 2, {0, 0, 3}}});
  Primitive p;
  for (size_t v = 0; v < joints.size(); ++v) p.positions.emplace_back(0, 0, static_cast<float>(v));
  p.indices = {0, 0, 0};
  p.joints = std::move(joints);
  p.weights = std::move(weights);
  test::wearRig(model, "skin", std::move(p));
  return model;
}

TEST(WeightsOf, CountsEachSortOfFault) {
  const Model model = rig({{1, 2, 0, 0}, {1, 0, 0, 0}, {0, 0, 0, 0}, {9, 0, 0, 0}, {0, 1, 2, 0}},
                          {
                              {0.5F, 0.5F, 0, 0},      // right
                              {0.75F, 0, 0, 0},        // not one
                              {0, 0, 0, 0},            // none
                              {1, 0, 0, 0},            // of a bone that is not there
                              {0.5F, 0.25F, 0.25F, 0}  // three
                          });
  const WeightReport r = weightsOf(model, 2);
  EXPECT_EQ(r.vertices, 5u);
  EXPECT_EQ(r.sum_off, 1u);
  EXPECT_EQ(r.without_weight, 1u);
  EXPECT_EQ(r.beyond, 1u);
  EXPECT_EQ(r.over_limit, 1u);
  EXPECT_EQ(r.most_influences, 3);
  EXPECT_EQ(weightsOf(model, 0).over_limit, 0u) << "no limit";
}

TEST(WeightsOf, ABoneThatOnlyCarriesOthersIsNeeded) {
  const Model model = rig({{2, 0, 0, 0}}, {{1, 0, 0, 0}});
  const WeightReport r = weightsOf(model, 4);
  // "root" and "low" carry "high", which is followed; the end is not.
  EXPECT_THAT(r.bones_without_weight, ElementsAre(NodeIndex(3)));
  EXPECT_THAT(r.end_bones, ElementsAre(NodeIndex(3)));
  const WeightReport none = weightsOf(rig({{0, 0, 0, 0}}, {{1, 0, 0, 0}}), 4);
  EXPECT_EQ(none.bones_without_weight.size(), 3u);
  EXPECT_EQ(none.end_bones.size(), 1u) << "the others are not at an end";
}

TEST(WeightsOf, RoundingOfABytesWeightsIsNoFault) {
  // 255ths, as a file stores them, each rounded.
  const auto byte = [](int n) { return static_cast<float>(n) / 255.0F; };
  EXPECT_EQ(weightsOf(rig({{0, 1, 2, 0}}, {{byte(85), byte(85), byte(85), 0}}), 4).sum_off, 0u);
  EXPECT_EQ(weightsOf(rig({{0, 1, 2, 0}}, {{byte(85), byte(85), byte(84), 0}}), 4).sum_off, 1u);
  EXPECT_EQ(
      weightsOf(rig({{0, 0, 0, 0}}, {{std::numeric_limits<float>::quiet_NaN(), 0, 0, 0}}), 4).without_weight,
      1u)
      << "what is no number is no weight";
}

TEST(WeightsOf, NothingIsCountedWhereNothingFollowsBones) {
  const Model model = test::standingModel();
  EXPECT_EQ(weightsOf(model, 4).vertices, 0u);
  EXPECT_THAT(weightsOf(model, 4).bones_without_weight, IsEmpty());
  for (uint32_t seed = 1; seed < 40; ++seed) {
    const Model any = test::ModelMaker(seed).make();
    const WeightReport r = weightsOf(any, 4);
    EXPECT_LE(r.without_weight + r.sum_off, r.vertices);
    EXPECT_LE(r.end_bones.size(), r.bones_without_weight.size());
    EXPECT_LE(r.bones_without_weight.size(), usedJoints(any).size());
  }
}

TEST(EachInfluence, TakesBothListsAndSkipsWhatIsNothing) {
  Primitive p;
  p.positions.resize(2);
  p.joints = {{1, 2, 3, 4}, {5, 0, 0, 0}};
  p.weights = {{0.5F, 0, -1, 0.25F}, {1, 0, 0, 0}};
  p.more_joints = {{6, 0, 0, 0}};
  p.more_weights = {{0.25F, 0, 0, 0}};
  std::vector<std::pair<uint32_t, float>> said;
  const auto note = [&](uint32_t joint, float weight) { said.emplace_back(joint, weight); };
  eachInfluence(p, 0, note);
  EXPECT_THAT(said, ElementsAre(std::pair(1U, 0.5F), std::pair(4U, 0.25F), std::pair(6U, 0.25F)));
  said.clear();
  eachInfluence(p, 1, note);
  EXPECT_THAT(said, ElementsAre(std::pair(5U, 1.0F))) << "the second list is shorter";
  said.clear();
  eachInfluence(p, 2, note);
  EXPECT_THAT(said, IsEmpty());
}

TEST(BoneNodes, AreJointsAndWhatCarriesThemUpToAPart) {
  Model model = rig({{0, 0, 0, 0}}, {{1, 0, 0, 0}});
  // The whole rig hangs on a group, and that on a part with a mesh.
  const NodeIndex part(model.nodes.size() - 1), group(model.nodes.size());
  Node carrier;
  carrier.name = "group";
  carrier.parent = part;
  carrier.children = {NodeIndex(0)};
  model.nodes.push_back(carrier);
  model.node(NodeIndex(0)).parent = group;
  model.node(part).children = {group};
  model.roots = {part};
  const std::vector<bool> bones = boneNodes(model);
  for (uint32_t i = 0; i < 4; ++i) EXPECT_TRUE(bones[i]);
  EXPECT_TRUE(bones[group.value()]);
  EXPECT_FALSE(bones[part.value()]) << "it draws something: it is a part";
  // Two of a name: the first in the tree.
  model.nodes[3].name = "low";
  EXPECT_EQ(bonesByName(model).at("low"), NodeIndex(1));
  EXPECT_EQ(bonesByName(model).count("skin"), 0u);
  EXPECT_EQ(bonesByName(model).size(), 4u);
}

}  // namespace
}  // namespace rakugo::scene
