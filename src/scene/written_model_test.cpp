#include "scene/written_model.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "scene/rest_pose.h"
#include "support/made_model.h"

namespace rakugo::scene {
namespace {

// Every point that is drawn, in the model's space, sorted.
std::vector<std::array<float, 3>> drawn(const Model& model) {
  std::vector<std::array<float, 3>> out;
  const auto world = worldMatrices(model);
  for (const NodeIndex i : reachedNodes(model))
    for (const glm::vec3& p : placedPositions(model, i, world)) out.push_back({p.x, p.y, p.z});
  std::sort(out.begin(), out.end());
  return out;
}

TEST(ReachedModel, LeavesOutWhatNothingUsesAndDrawsTheSame) {
  for (uint32_t seed = 0; seed < 60; ++seed) {
    Model model = test::ModelMaker(seed).make(true);
    if (model.roots.empty()) continue;
    const size_t nodes = model.nodes.size();
    // One branch is dropped, as a step does.
    const NodeIndex gone = model.roots.back();
    model.roots.pop_back();
    const Model out = reachedModel(model);
    EXPECT_EQ(drawn(out), drawn(model)) << seed;
    EXPECT_TRUE(gone.valid());
    EXPECT_LE(out.nodes.size(), nodes) << seed;
    std::set<uint32_t> used;
    for (const Node& node : out.nodes) {
      if (node.mesh.valid()) used.insert(node.mesh.value());
      for (const LighterMesh& far : node.lighter) used.insert(far.mesh.value());
    }
    EXPECT_EQ(used.size(), out.meshes.size()) << seed << ": no mesh that nothing wears";
    EXPECT_EQ(reachedModel(out).nodes.size(), out.nodes.size()) << seed;
  }
}

TEST(ReachedModel, KeepsNumbersThatTheSourcesExtensionsMayName) {
  Model model;
  model.nodes.resize(3);
  model.roots = {NodeIndex(2)};
  model.materials.resize(2);
  EXPECT_EQ(reachedModel(model).nodes.size(), 1u);
  EXPECT_TRUE(reachedModel(model).materials.empty());
  model.kept = R"({"extensions":{"EX_own":{"node":2,"material":1}}})";
  const Model out = reachedModel(model);
  EXPECT_EQ(out.nodes.size(), 3u);
  EXPECT_EQ(out.materials.size(), 2u);
  EXPECT_EQ(out.roots, model.roots);
}

TEST(SkinnedToRoots, TakesSkinnedPartsOutOfTheTreeAndLeavesTheirChildrenWhereTheyAre) {
  for (uint32_t seed = 0; seed < 60; ++seed) {
    const Model model = test::ModelMaker(seed).make(true);
    Model out = model;
    skinnedToRoots(out);
    for (const Node& node : out.nodes)
      EXPECT_FALSE(node.skin.valid() && node.mesh.valid() && node.parent.valid()) << seed;
    EXPECT_EQ(drawn(out), drawn(model)) << seed;
    EXPECT_EQ(reachedNodes(out).size() >= reachedNodes(model).size(), true);
  }
}

TEST(ValidAttributes, WeightsSumToOneAndNormalsAreUnitOrLeftOut) {
  Primitive p;
  p.positions.assign(3, glm::vec3(0));
  p.indices = {0, 1, 2};
  p.joints.assign(3, glm::u16vec4(0, 1, 0, 0));
  p.weights = {{0.5F, 0.25F, 0, 0}, {0, 0, 0, 0}, {NAN, 2, 0, 0}};
  p.normals = {{0, 0, 3}, {0, 1, 0}, {1, 1, 0}};
  p.tangents = {{2, 0, 0, -0.5F}, {1, 0, 0, 1}, {0, 0, 1, 1}};
  Primitive out = validAttributes(p);
  EXPECT_FLOAT_EQ(out.weights[0].x, 2.0F / 3);
  EXPECT_EQ(out.weights[1], glm::vec4(1, 0, 0, 0));
  EXPECT_EQ(out.weights[2], glm::vec4(0, 1, 0, 0));
  for (const glm::vec3& n : out.normals) EXPECT_NEAR(glm::length(n), 1, 1e-6F);
  EXPECT_EQ(out.tangents[0], glm::vec4(1, 0, 0, -1));
  p.normals[1] = {0, 0, 0};
  out = validAttributes(p);
  EXPECT_TRUE(out.normals.empty());
  EXPECT_TRUE(out.tangents.empty()) << "they mean nothing without normals";
  p.normals = {{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  p.tangents[2].x = INFINITY;
  EXPECT_TRUE(validAttributes(p).tangents.empty());
  EXPECT_EQ(validAttributes(p).normals, p.normals);
}

TEST(WrittenModel, LeavesOutPrimitivesWithoutATriangle) {
  Model model;
  auto mesh = std::make_shared<Mesh>();
  mesh->primitives.resize(2);
  mesh->primitives[0].positions.assign(3, glm::vec3(0));
  mesh->primitives[0].indices = {0, 1, 2};
  model.meshes = {mesh, std::make_shared<Mesh>()};
  model.nodes.resize(2);
  model.nodes[0].mesh = MeshIndex(0);
  model.nodes[1].mesh = MeshIndex(1);
  model.roots = {NodeIndex(0), NodeIndex(1)};
  const Model out = writtenModel(model);
  ASSERT_EQ(out.meshes.size(), 1u);
  EXPECT_EQ(out.meshes[0]->primitives.size(), 1u);
  EXPECT_FALSE(out.nodes[1].mesh.valid());
}

TEST(BoundsOf, OneMeshUsedAHundredThousandTimesIsLookedAtFewTimes) {
  Model model;
  auto mesh = std::make_shared<Mesh>();
  mesh->primitives.resize(1);
  Primitive& p = mesh->primitives[0];
  for (int i = 0; i < 20'000; ++i) {
    const auto a = static_cast<float>(i) * 0.1F;
    p.positions.emplace_back(std::sin(a), std::cos(a), static_cast<float>(i) * 1e-5F);
  }
  p.indices = {0, 1, 2};
  model.meshes = {mesh};
  geometry::Bounds expected;
  for (int i = 0; i < 100'000; ++i) {
    Node node;
    node.mesh = MeshIndex(0);
    node.local.position = {static_cast<float>(i % 316), static_cast<float>(i / 316), 0};
    node.local.turn =
        glm::angleAxis(static_cast<float>(i), glm::normalize(glm::vec3(1, 2, static_cast<float>(i % 7))));
    model.roots.emplace_back(model.nodes.size());
    model.nodes.push_back(node);
  }
  // By the slow way, for the parts at the border alone: no other can reach as far.
  const auto world = worldMatrices(model);
  for (int i = 0; i < 100'000; ++i) {
    const int x = i % 316, y = i / 316;
    if (x < 2 || x > 313 || y < 2 || y > 313) expected.add(partBounds(model, NodeIndex(i), world));
    if (x > 100 && x < 110 && y > 100 && y < 110) expected.add(partBounds(model, NodeIndex(i), world));
  }
  const geometry::Bounds box = boundsOf(model);
  EXPECT_EQ(box.min.x, expected.min.x);
  EXPECT_EQ(box.max.y, expected.max.y);
  EXPECT_EQ(box.min.y, expected.min.y);
  EXPECT_EQ(box.max.x, expected.max.x);
  EXPECT_EQ(countsOf(model).vertices, 2'000'000'000u);
  const base::Status within = drawnWithin(model, base::Limits{});
  ASSERT_FALSE(within);
  EXPECT_EQ(within.error().code, "model.too_large");
  EXPECT_THAT(within.error().message, testing::HasSubstr("100,000 parts"));
}

TEST(BoundsOf, PositionsThatAreNotFiniteCountForNothing) {
  Model model;
  auto mesh = std::make_shared<Mesh>();
  mesh->primitives.resize(1);
  mesh->primitives[0].positions.assign(9, glm::vec3(NAN, INFINITY, -INFINITY));
  mesh->primitives[0].indices = {0, 1, 2};
  model.meshes = {mesh};
  model.nodes.resize(1);
  model.nodes[0].mesh = MeshIndex(0);
  model.roots = {NodeIndex(0)};
  EXPECT_TRUE(boundsOf(model).empty());
  EXPECT_EQ(boundsOf(model).size(), glm::vec3(0));
  EXPECT_TRUE(unbentBounds(model).empty());
}

}  // namespace
}  // namespace rakugo::scene
