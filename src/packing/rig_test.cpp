#include "packing/rig.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "bundle/bundle_reader.h"
#include "packing/build_package.h"
#include "packing/package_plan.h"
#include "packing/runtime.h"
#include "prepare/edit_steps.h"
#include "prepare/step.h"
#include "scene/pose.h"
#include "scene/rest_pose.h"
#include "support/examined.h"
#include "support/made_rig.h"
#include "support/test_folder.h"

namespace rakugo::packing {
namespace {

using scene::NodeIndex;

// An arm of two bones with a sleeve, a ring that hangs on the second, and a sign that an animation turns.
scene::Model armed() {
  scene::Model model = test::standingModel();
  test::addRig(model, {{"arm", -1, {0, 0, 1}}, {"hand", 0, {0, 1, 1}}});
  scene::Primitive p;
  p.positions = {{0, 0, 1}, {0, 1, 1}, {0, 0.5F, 1.1F}};
  p.normals.assign(3, glm::vec3(1, 0, 0));
  p.indices = {0, 1, 2};
  // The second follows six bones' worth of weights in eight places, of which four are kept.
  p.joints = {{0, 0, 0, 0}, {0, 1, 0, 1}, {0, 1, 0, 0}};
  p.weights = {{1, 0, 0, 0}, {0.4F, 0.3F, 0.1F, 0.1F}, {0, 0, 0, 0}};
  p.more_joints.assign(3, glm::u16vec4(1));
  p.more_weights = {{0, 0, 0, 0}, {0.05F, 0.05F, 0, 0}, {0, 0, 0, 0}};
  test::wearRig(model, "sleeve", std::move(p));
  const auto add = [&](const char* name, NodeIndex parent, glm::vec3 at) {
    scene::Primitive flat;
    flat.positions = {{0, 0, 0}, {0.1F, 0, 0}, {0, 0.1F, 0}};
    flat.indices = {0, 1, 2};
    scene::Mesh mesh;
    mesh.primitives = {flat};
    model.meshes.push_back(std::make_shared<const scene::Mesh>(mesh));
    scene::Node node;
    node.name = name;
    node.parent = parent;
    node.local.position = at;
    node.mesh = scene::MeshIndex(model.meshes.size() - 1);
    (parent.valid() ? model.node(parent).children : model.roots).emplace_back(model.nodes.size());
    model.nodes.push_back(node);
    return NodeIndex(model.nodes.size() - 1);
  };
  add("ring", NodeIndex(1), {0, 0.2F, 0});
  const NodeIndex sign = add("sign", {}, {2, 0, 0});
  add("post", {}, {2, 0, 0});
  const float h = std::sqrt(0.5F);
  model.animations.push_back(
      {"swing",
       {{sign, scene::AnimatedPath::turn, scene::Interpolation::linear, {0, 1}, {0, 0, 0, 1, h, 0, 0, h}},
        {NodeIndex(0),
         scene::AnimatedPath::position,
         scene::Interpolation::linear,
         {0, 1, 1},
         {0, 0, 1, 0, 0, 2, 0, 0, 3}}},
       ""});
  scene::assignKeys(model);
  return model;
}

TEST(Rig, NumbersWhatMovesParentsFirst) {
  const scene::Model model = armed();
  const Rig rig = rigOf(model);
  std::vector<std::string> names;
  for (const NodeIndex i : rig.nodes) names.push_back(model.node(i).name);
  EXPECT_THAT(names, testing::ElementsAre("arm", "hand", "sign"));
  std::map<std::string, int> bone;
  for (const RuntimePart& part : runtimeParts(model)) bone[part.name] = part.bone;
  EXPECT_EQ(bone["ring"], 1) << "it goes with the hand";
  EXPECT_EQ(bone["sign"], 2);
  EXPECT_EQ(bone["post"], -1) << "it stands";
  EXPECT_EQ(bone["sleeve"], -1) << "its vertices say themselves";
  EXPECT_TRUE(rigOf(test::standingModel()).empty());
}

TEST(RuntimeMesh, CarriesFourWeightsThatSumToOne) {
  const scene::Model model = armed();
  const Rig rig = rigOf(model);
  bundle::MeshPayload mesh;
  for (const RuntimePart& part : runtimeParts(model))
    if (part.name == "sleeve") mesh = part.mesh;
  ASSERT_NE(mesh.find(bundle::Semantic::joints), nullptr);
  EXPECT_EQ(mesh.jointCount(), 2u);
  EXPECT_LE(mesh.stride, 64u);
  for (uint32_t v = 0; v < 3; ++v) {
    const auto shares = base::loadAt<std::array<uint16_t, 4>>(
        mesh.vertices, v * mesh.stride + mesh.find(bundle::Semantic::weights)->offset);
    EXPECT_EQ(shares[0] + shares[1] + shares[2] + shares[3], 65'535) << v;
  }
}

TEST(Rig, BonesAndKeysAreInTheGamesSpace) {
  const scene::Model model = armed();
  const Rig rig = rigOf(model);
  GameSpace space;
  space.unit_m = 0.01;  // centimetres
  space.mirrored = 1;   // left-handed
  const bundle::SkeletonRecord skeleton = skeletonRecord(model, rig, space);
  EXPECT_EQ(skeleton.bones[1].parent, 0);
  EXPECT_EQ(skeleton.bones[2].parent, -1);
  EXPECT_NEAR(skeleton.bones[1].position[1], -100, 1e-3);
  const bundle::AnimationPayload swing = runtimeAnimation(model, model.animations[0], rig, space);
  ASSERT_EQ(swing.tracks.size(), 2u);
  EXPECT_EQ(swing.tracks[0].bone, "sign");
  EXPECT_NEAR(swing.tracks[0].values[4], -std::sqrt(0.5F), 1e-6) << "about +X seen in the mirror of Y";
  EXPECT_EQ(swing.tracks[1].times_s.size(), 2u) << "a key that does not come later is left out";
  EXPECT_NEAR(swing.tracks[1].values[5], 200, 1e-3);
  EXPECT_EQ(swing.length_s, 1);
  EXPECT_TRUE(bundle::decodeAnimation(bundle::encodeAnimation(swing), "a"));
}

TEST(RigBuild, AKeeperIsBuiltWithItsSkeleton) {
  test::TestFolder own;
  const auto x = test::examined(own.copyOfMod("newcomer", "n"));
  const auto bytes = buildPackage(*x);
  ASSERT_TRUE(bytes) << bytes.error().text();
  const auto bundle = bundle::Bundle::parse(*bytes, "n.rkb");
  ASSERT_TRUE(bundle);
  EXPECT_TRUE(bundle->verify().empty());
  const auto object = bundle::decodeObject(*bundle->read(*bundle->find("object/boatswain")), "o");
  ASSERT_EQ(object->rigs.size(), 1u);
  const auto skeleton = bundle::decodeSkeleton(*bundle->read(*bundle->find(object->rigs[0].skeleton)), "s");
  EXPECT_GE(skeleton->bones.size(), 24u);
  const auto mesh = bundle::decodeMesh(*bundle->read(*bundle->find(object->pieces[0].mesh)), "m");
  EXPECT_NE(mesh->find(bundle::Semantic::weights), nullptr);
}

// What stands at rest and follows bones comes, by the bundle's own numbers, where the model itself has it.
TEST(RigBuild, TheBundlesNumbersPutVerticesWhereTheModelHasThem) {
  const scene::Model model = armed();
  const Rig rig = rigOf(model);
  scene::Pose pose = scene::restPose(model);
  pose[1].turn = glm::angleAxis(0.7F, glm::vec3(1, 0, 0));
  const auto rest = scene::worldMatrices(model), now = scene::worldMatrices(model, pose);
  for (const RuntimePart& part : runtimeParts(model)) {
    if (part.name != "sleeve") continue;
    const auto wanted = scene::placedMesh(model, part.node, now).positions;
    for (uint32_t v = 0; v < 2; ++v) {
      const auto p = base::loadAt<glm::vec3>(part.mesh.vertices, v * part.mesh.stride);
      const auto bones = base::loadAt<std::array<uint16_t, 4>>(
          part.mesh.vertices, v * part.mesh.stride + part.mesh.find(bundle::Semantic::joints)->offset);
      const auto shares = base::loadAt<std::array<uint16_t, 4>>(
          part.mesh.vertices, v * part.mesh.stride + part.mesh.find(bundle::Semantic::weights)->offset);
      glm::vec3 at(0);
      for (size_t k = 0; k < 4; ++k) {
        const NodeIndex node = rig.nodes[bones[k]];
        at += glm::vec3(now[node.value()] * glm::inverse(rest[node.value()]) * glm::vec4(p, 1)) *
              (static_cast<float>(shares[k]) / 65'535);
      }
      float nearest = 1;
      for (const glm::vec3& w : wanted) nearest = std::min(nearest, glm::distance(w, at));
      EXPECT_LT(nearest, 0.02F) << "but for the weights that were cut";
    }
  }
}

TEST(RigBuild, SizesOfACoatAreMorphTargets) {
  test::TestFolder own;
  const auto x = test::examined(own.copyOfMod("slipway", "s"), [](mod::ModState& state) {
    mod::ModelDoc& coat = state.models["sea-coat"];
    prepare::setOrAddStep(coat, "turn", base::Json{{"forward", "+Z"}, {"up", "+Y"}});
    prepare::setOrAddStep(coat, "like_first", base::Json::object());
    coat.variants["broad"] = "sea-coat-broad";
  });
  const check::ModelState& coat = x->context.models.at("sea-coat");
  ASSERT_TRUE(coat.variants.at("broad").report->same);
  const auto plan = planBundle(*x, {x->book->allTargets().front()});
  ASSERT_TRUE(plan);
  bool seen = false;
  for (const PlannedEntry& entry : *plan) {
    if (entry.kind != bundle::EntryKind::mesh || entry.id.rfind("mesh/sea-coat/", 0) != 0) continue;
    const auto mesh = bundle::decodeMesh(*entry.make(), entry.id);
    ASSERT_TRUE(mesh);
    ASSERT_EQ(mesh->morphs.size(), 1u) << entry.id;
    EXPECT_EQ(mesh->morphs[0].name, "broad");
    EXPECT_EQ(mesh->morphs[0].weight, 0);
    // Whole, it is the broad one: each vertex where the other source has one.
    const base::Bytes broad = bundle::morphed(*mesh, {1});
    const scene::Model& other = *coat.variants.at("broad").prepared.model;
    const auto world = scene::worldMatrices(other);
    std::vector<glm::vec3> places;
    for (const NodeIndex i : scene::reachedNodes(other))
      for (const glm::vec3& p : scene::placedMesh(other, i, world).positions) places.push_back(p);
    for (uint32_t v = 0; v < mesh->vertex_count; v += 37) {
      const auto p = base::loadAt<glm::vec3>(broad, v * mesh->stride);
      float nearest = 1;
      for (const glm::vec3& q : places) nearest = std::min(nearest, glm::distance(p, q));
      EXPECT_LT(nearest, 1e-4F);
    }
    seen = true;
  }
  EXPECT_TRUE(seen);
}

}  // namespace
}  // namespace rakugo::packing
