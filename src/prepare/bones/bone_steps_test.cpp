// Steps on bones: what hangs on what, who follows whom, and that the skin stays where it is.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "prepare/bones/bone_ops.h"
#include "prepare/edit_steps.h"
#include "scene/bones.h"
#include "scene/rest_pose.h"
#include "scene/weights.h"
#include "support/applied_steps.h"
#include "support/made_rig.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::NodeIndex;
using test::applyStep;
using test::RigBone;
using testing::HasSubstr;

// A strip of points up the z axis from 0 to 2, each following the bones below and above it, on a skeleton;
// the bones turned by `turn` in the model's space.
scene::Model rigged(const std::vector<RigBone>& specs, glm::quat turn = glm::quat(1, 0, 0, 0),
                    int influences = 2) {
  scene::Model model = test::standingModel();
  test::addRig(model, specs, turn);
  scene::Primitive p;
  const auto joints = static_cast<int>(specs.size());
  for (int i = 0; i <= 20; ++i)
    for (const float side : {-0.05F, 0.05F}) {
      p.positions.emplace_back(0, side, 0.1F * static_cast<float>(i));
      glm::u16vec4 of(0), more_of(0);
      glm::vec4 weights(0), more(0);
      for (int k = 0; k < influences; ++k) {
        (k < 4 ? of : more_of)[k % 4] = static_cast<uint16_t>((i + k) % joints);
        (k < 4 ? weights : more)[k % 4] = 1.0F / static_cast<float>(influences);
      }
      p.joints.push_back(of);
      p.weights.push_back(weights);
      if (influences > 4) {
        p.more_joints.push_back(more_of);
        p.more_weights.push_back(more);
      }
    }
  for (uint32_t i = 0; i < 40; i += 2)
    p.indices.insert(p.indices.end(), {i, i + 1, i + 2, i + 1, i + 3, i + 2});
  test::wearRig(model, "skin", std::move(p));
  return model;
}

std::vector<RigBone> chain() {
  return {{"root", -1, {0, 0, 0}},
          {"low", 0, {0, 0, 0.5F}},
          {"mid", 1, {0, 0, 1}},
          {"top", 2, {0, 0, 1.5F}},
          {"top_end", 3, {0, 0, 2}}};
}

const rulebook::Rulebook& kelpwick() {
  static const rulebook::Rulebook kBook = std::move(rulebook::findRulebook("kelpwick")).value();
  return kBook;
}

NodeIndex named(const scene::Model& model, const char* name) {
  const auto all = scene::bonesByName(model);
  return all.count(name) != 0 ? all.at(name) : NodeIndex();
}
glm::vec3 placeOf(const scene::Model& model, NodeIndex i) {
  return glm::vec3(scene::worldMatrices(model)[i.value()][3]);
}
// Where the skin stands at rest.
std::vector<glm::vec3> skinOf(const scene::Model& model) {
  const auto world = scene::worldMatrices(model);
  for (const NodeIndex i : scene::reachedNodes(model))
    if (model.node(i).mesh.valid()) return scene::placedMesh(model, i, world).positions;
  return {};
}
void expectSame(const std::vector<glm::vec3>& a, const std::vector<glm::vec3>& b) {
  ASSERT_EQ(a.size(), b.size());
  for (size_t i = 0; i < a.size(); ++i) EXPECT_LT(glm::distance(a[i], b[i]), 1e-5F) << i;
}
// The sum of a vertex's weights on one bone.
float weightOf(const scene::Model& model, size_t v, NodeIndex bone) {
  const scene::Primitive& p = model.meshes.back()->primitives[0];
  const auto& joints = model.skins[0].joints;
  float out = 0;
  for (int k = 0; k < 4; ++k)
    if (p.joints[v][k] < joints.size() && joints[p.joints[v][k]] == bone) out += p.weights[v][k];
  return out;
}

TEST(NameBones, GivesTheGamesNamesAndNobodyElseKeepsOne) {
  scene::Model model = rigged(chain());
  model.nodes[0].name = "waist";  // what another is to be called
  const StepOutcome out =
      applyStep(model, "name_bones",
                Json{{"names", {{"waist", "root/low"}, {"chest", "root/low/mid"}, {"head", "gone"}}}});
  EXPECT_EQ(out.state, StepState::partly);
  EXPECT_THAT(out.misses.at(0), HasSubstr("\"gone\" is not in the model"));
  EXPECT_EQ(model.nodes[1].name, "waist");
  EXPECT_EQ(model.nodes[2].name, "chest");
  EXPECT_EQ(model.nodes[0].name, "waist (other)");
  EXPECT_EQ(applyStep(model, "name_bones", Json{{"names", Json::array()}}).state, StepState::wrong);
}

TEST(DropBones, HandsWeightsToTheParentAndKeepsPlacesAndSkin) {
  scene::Model model = rigged(chain());
  const auto before = skinOf(model);
  const glm::vec3 top = placeOf(model, named(model, "top"));
  const StepOutcome out = applyStep(model, "drop_bones", Json{{"bones", {"root/low/mid"}}, {"to", "parent"}});
  EXPECT_EQ(out.state, StepState::good);
  EXPECT_THAT(out.did, HasSubstr("handed over"));
  EXPECT_FALSE(named(model, "mid").valid());
  EXPECT_EQ(model.node(named(model, "top")).parent, named(model, "low"));
  EXPECT_LT(glm::distance(placeOf(model, named(model, "top")), top), 1e-5F);
  expectSame(skinOf(model), before);
  const scene::WeightReport report = scene::weightsOf(model, 4);
  EXPECT_EQ(report.without_weight + report.sum_off + report.beyond, 0U);
  // Vertices 2 of the strip follow (1, 2) and (2, 3): the bone that went was 2, now it is 1.
  EXPECT_FLOAT_EQ(weightOf(model, 2, named(model, "low")), 1);
  // Again: it is not there.
  EXPECT_EQ(applyStep(model, "drop_bones", Json{{"bones", {"root/low/mid"}}, {"to", "parent"}}).state,
            StepState::missed);
}

TEST(DropBones, AWholeChainGoesAndTheNearestTakesOver) {
  scene::Model model = rigged(chain());
  const auto before = skinOf(model);
  applyStep(
      model, "drop_bones",
      Json{{"bones", {"root/low/mid", "root/low/mid/top", "root/low/mid/top/top_end"}}, {"to", "nearest"}});
  expectSame(skinOf(model), before);
  EXPECT_EQ(scene::usedJoints(model).size(), 2U);
  const scene::WeightReport report = scene::weightsOf(model, 4);
  EXPECT_EQ(report.without_weight + report.sum_off + report.beyond, 0U);
  // High up the line from the ground to the low bone is farther than the low bone itself.
  EXPECT_GT(weightOf(model, 41, named(model, "low")), 0.4F);
}

TEST(DropBones, TheFirstBoneGoesToWhoeverIsNear) {
  scene::Model model = rigged(chain());
  const auto before = skinOf(model);
  EXPECT_EQ(applyStep(model, "drop_bones", Json{{"bones", {"root"}}, {"to", "parent"}}).state,
            StepState::good);
  expectSame(skinOf(model), before);
  EXPECT_EQ(scene::weightsOf(model, 4).sum_off, 0U);
  EXPECT_FALSE(model.node(named(model, "low")).parent.valid());
  EXPECT_EQ(applyStep(model, "drop_bones", Json{{"bones", {"skin"}}, {"to", "parent"}}).state,
            StepState::missed)
      << "a part is no bone";
}

TEST(DropBones, AGroupThatOnlyCarriesTheBonesBecomesNone) {
  scene::Model model = rigged(chain());
  const NodeIndex group(model.nodes.size());
  scene::Node carrier;
  carrier.name = "figure";
  carrier.children = {NodeIndex(0)};
  model.nodes.push_back(carrier);
  model.nodes[0].parent = group;
  std::replace(model.roots.begin(), model.roots.end(), NodeIndex(0), group);
  scene::assignKeys(model);
  const auto before = skinOf(model);
  EXPECT_EQ(applyStep(model, "drop_bones", Json{{"bones", {"figure/root"}}, {"to", "parent"}}).state,
            StepState::good);
  const auto joints = scene::usedJoints(model);
  EXPECT_EQ(joints.size(), 4U);
  EXPECT_EQ(std::count(joints.begin(), joints.end(), group), 0);
  EXPECT_EQ(model.node(named(model, "low")).parent, group);
  expectSame(skinOf(model), before);
  EXPECT_EQ(scene::weightsOf(model, 4).sum_off, 0U);
}

TEST(DropBones, TheLastBoneOfASkinStays) {
  scene::Model model = rigged(chain());
  const auto before = skinOf(model);
  const StepOutcome out = applyStep(
      model, "drop_bones",
      Json{{"bones", {"root", "root/low", "root/low/mid", "root/low/mid/top", "root/low/mid/top/top_end"}},
           {"to", "parent"}});
  EXPECT_EQ(out.state, StepState::partly);
  EXPECT_THAT(out.misses, testing::ElementsAre(HasSubstr("root stays")));
  EXPECT_EQ(scene::usedJoints(model).size(), 1U);
  expectSame(skinOf(model), before);
  EXPECT_EQ(scene::weightsOf(model, 1).over_limit, 0U);
}

TEST(MendWeights, KeepsTheLargestAndMakesOneOfThem) {
  scene::Model model = rigged(chain(), glm::quat(1, 0, 0, 0), 5);
  auto& p = model.editMesh(scene::MeshIndex(0)).primitives[0];
  p.weights[0] = {0.5F, 0.3F, 0.1F, 0.06F};
  p.more_weights[0] = {0.04F, 0, 0, 0};
  p.weights[1] = p.more_weights[1] = glm::vec4(0);
  p.weights[2] = {0.4F, 0.4F, 0, 0};
  p.more_weights[2] = glm::vec4(0);
  p.joints[3][0] = 99;
  const glm::vec4 right(0.5F, 0.5F, 0, 0);
  p.weights[4] = right;
  p.more_weights[4] = glm::vec4(0);
  EXPECT_EQ(scene::weightsOf(model, 4).over_limit, 39U);
  const StepOutcome out = applyStep(model, "mend_weights", Json{{"most", 4.0}});
  EXPECT_EQ(out.state, StepState::good);
  EXPECT_THAT(out.did, HasSubstr("cut"));
  EXPECT_THAT(out.did, HasSubstr("1 vertex given the nearest bone"));
  const scene::WeightReport report = scene::weightsOf(model, 4);
  EXPECT_EQ(report.without_weight + report.sum_off + report.beyond + report.over_limit, 0U);
  EXPECT_LE(report.most_influences, 4);
  const auto& mended = model.meshes[0]->primitives[0];
  EXPECT_NEAR(mended.weights[0].x, 0.5F / 0.96F, 1e-6F);
  EXPECT_EQ(mended.weights[4], right) << "what was right stays to the bit";
  // The lonely one stands on the ground.
  EXPECT_EQ(weightOf(model, 1, named(model, "root")), 1);
  // The second time nothing is left to do.
  EXPECT_EQ(applyStep(model, "mend_weights", Json{{"most", 4.0}}).did, "nothing to mend");
  for (const double most : {0.0, 2.5, 9.0})
    EXPECT_EQ(applyStep(model, "mend_weights", Json{{"most", most}}).state, StepState::wrong);
}

TEST(StraightenBones, TurnsThemBackAndTheSkinAndItsMovementsStay) {
  const glm::quat turn = glm::angleAxis(1.5707963F, glm::vec3(1, 0, 0));
  scene::Model model = rigged(chain(), turn);
  // A movement that bends the middle bone by a third of a turn.
  scene::Animation bend;
  bend.channels.push_back(
      {NodeIndex(2), scene::AnimatedPath::turn, scene::Interpolation::linear, {0, 1}, {}});
  const glm::quat bent =
      model.nodes[2].local.turn * glm::angleAxis(0.7F, glm::normalize(glm::vec3(0.2F, 1, 0.3F)));
  for (const glm::quat& q : {model.nodes[2].local.turn, bent})
    bend.channels[0].values.insert(bend.channels[0].values.end(), {q.x, q.y, q.z, q.w});
  model.animations.push_back(bend);
  const auto posed = [](scene::Model posing) {
    const auto& v = posing.animations[0].channels[0].values;
    posing.nodes[2].local.turn = glm::quat(v[7], v[4], v[5], v[6]);
    return skinOf(posing);
  };
  const auto before = skinOf(model), moved = posed(model);
  const StepOutcome out = applyStep(model, "straighten_bones", Json::object());
  EXPECT_EQ(out.state, StepState::good);
  EXPECT_EQ(out.did, "5 bones, by up to 90 degrees");
  for (const NodeIndex joint : model.skins[0].joints)
    EXPECT_NEAR(std::abs(model.node(joint).local.turn.w), 1, 1e-6F);
  expectSame(skinOf(model), before);
  expectSame(posed(model), moved);
  EXPECT_EQ(applyStep(model, "straighten_bones", Json::object()).did, "0 bones");
}

TEST(GamePose, ArmsThatHangAreHeldOutAndTheSkinFollows) {
  // An arm of the keeper's, hanging straight down from the shoulder; in the game it points to the left.
  const std::vector<RigBone> hanging = {{"stand", -1, {0, 0, 0}},
                                        {"chest", 0, {0, 0, 1.2F}},
                                        {"collar.port", 1, {0, 0.05F, 1.4F}},
                                        {"arm.port", 2, {0, 0.2F, 1.4F}},
                                        {"elbow.port", 3, {0, 0.2F, 1.1F}},
                                        {"hand.port", 4, {0, 0.2F, 0.8F}}};
  scene::Model model = rigged(hanging);
  // The strip hangs along the arm, each vertex on one bone.
  scene::Primitive& p = model.editMesh(scene::MeshIndex(0)).primitives[0];
  for (size_t v = 0; v < p.positions.size(); ++v) {
    p.positions[v] = {p.positions[v].y, 0.2F, 1.4F - 0.015F * static_cast<float>(v)};
    p.joints[v] = glm::u16vec4(p.positions[v].z > 1.1F ? 3 : 4, 0, 0, 0);
    p.weights[v] = {1, 0, 0, 0};
    p.normals.emplace_back(0, 1, 0);
  }
  const auto off = [&] {
    double most = 0;
    for (const PoseOff& one : poseOff(model, *kelpwick().findSkeleton("keeper"), kelpwick()))
      most = std::max(most, one.angle_rad);
    return most;
  };
  EXPECT_NEAR(off(), 1.55, 0.1);
  const StepOutcome out =
      applyStep(model, "game_pose", Json{{"skeleton", "keeper"}, {"least_deg", 0.0}}, kelpwick());
  EXPECT_EQ(out.state, StepState::good);
  EXPECT_LT(off(), 1e-3);
  const glm::vec3 shoulder = placeOf(model, named(model, "arm.port")),
                  elbow = placeOf(model, named(model, "elbow.port")),
                  hand = placeOf(model, named(model, "hand.port"));
  EXPECT_NEAR(glm::distance(shoulder, elbow), 0.3F, 1e-5F) << "lengths stay";
  EXPECT_NEAR(glm::distance(elbow, hand), 0.3F, 1e-5F);
  EXPECT_GT(hand.y, shoulder.y + 0.55F);
  EXPECT_NEAR(hand.z, shoulder.z, 0.05F);
  // Each vertex lies by its bone as it did: the strip runs out along the arm, its normals turned with it.
  const auto now = skinOf(model);
  for (size_t v = 0; v < now.size(); ++v) {
    const float along = 0.015F * static_cast<float>(v);
    const glm::vec3 from = along < 0.3F ? shoulder : elbow, to = along < 0.3F ? elbow : hand;
    const glm::vec3 wanted = from + glm::normalize(to - from) * (along < 0.3F ? along : along - 0.3F);
    EXPECT_NEAR(glm::distance(now[v], wanted), 0.05F, 2e-3F) << v;
  }
  EXPECT_NEAR(model.meshes[0]->primitives[0].normals[3].z, 1, 0.05F)
      << "from the outside of a hanging arm to its top";
  expectSame(skinOf(model), now);
  EXPECT_EQ(applyStep(model, "game_pose", Json{{"skeleton", "keeper"}}, kelpwick()).did, "0 bones");
  scene::Model strange = rigged(chain());
  EXPECT_EQ(applyStep(strange, "game_pose", Json{{"skeleton", "keeper"}}, kelpwick()).state,
            StepState::missed);
  EXPECT_EQ(applyStep(strange, "game_pose", Json{{"least_deg", 200.0}}, kelpwick()).state, StepState::wrong);
}

TEST(HangBones, EachOnTheBoneThatTheGameHasAndInPlace) {
  // The head hangs on the hips.
  scene::Model model = rigged({{"stand", -1, {0, 0, 0}},
                               {"ballast", 0, {0, 0, 0.5F}},
                               {"waist", 1, {0, 0, 0.8F}},
                               {"chest", 2, {0, 0, 1}},
                               {"neck", 3, {0, 0, 1.5F}},
                               {"head", 1, {0, 0, 1.8F}}});
  const auto before = skinOf(model);
  const glm::vec3 head = placeOf(model, named(model, "head"));
  EXPECT_EQ(applyStep(model, "hang_bones", Json{{"skeleton", "keeper"}}, kelpwick()).did,
            "1 bone hung elsewhere");
  EXPECT_EQ(model.node(named(model, "head")).parent, named(model, "neck"));
  EXPECT_LT(glm::distance(placeOf(model, named(model, "head")), head), 1e-5F);
  expectSame(skinOf(model), before);
  EXPECT_EQ(applyStep(model, "hang_bones", Json{{"skeleton", "crab"}}, kelpwick()).state, StepState::wrong);
}

TEST(AddBones, StandBetweenTheirNeighboursAndTakeTheirShareOfTheSkin) {
  scene::Model model = rigged({{"stand", -1, {0, 0, 0}},
                               {"ballast", 0, {0, 0, 0.5F}},
                               {"chest", 1, {0, 0, 1}},
                               {"head", 2, {0, 0, 1.8F}}});
  const auto before = skinOf(model);
  const StepOutcome out =
      applyStep(model, "add_bones",
                Json{{"skeleton", "keeper"}, {"slots", {"neck", "waist", "elbow.port", "crab"}}}, kelpwick());
  EXPECT_EQ(out.state, StepState::partly);
  EXPECT_THAT(out.misses, testing::Contains(HasSubstr("No neighbour of the bone elbow.port")));
  EXPECT_THAT(out.misses, testing::Contains(HasSubstr("The game has no bone \"crab\"")));
  const NodeIndex neck = named(model, "neck"), waist = named(model, "waist");
  ASSERT_TRUE(neck.valid() && waist.valid());
  EXPECT_EQ(model.node(neck).parent, named(model, "chest"));
  EXPECT_EQ(model.node(named(model, "head")).parent, neck);
  EXPECT_EQ(model.node(waist).parent, named(model, "ballast"));
  // The game's neck is 0.21 above the chest and 0.09 below the head: so far along.
  EXPECT_NEAR(placeOf(model, neck).z, 1 + 0.8F * 0.21F / 0.30F, 0.02F);
  expectSame(skinOf(model), before);
  const scene::WeightReport report = scene::weightsOf(model, 8);
  EXPECT_EQ(report.without_weight + report.sum_off + report.beyond, 0U);
  // High up, where the chest was followed, the neck is; low down it is not.
  float high = 0, low = 0;
  for (size_t v = 0; v < 42; ++v) (v > 34 ? high : low) += v > 34 || v < 24 ? weightOf(model, v, neck) : 0;
  EXPECT_GT(high, 0.9F);
  EXPECT_EQ(low, 0);
  EXPECT_THAT(
      applyStep(model, "add_bones", Json{{"skeleton", "keeper"}, {"slots", {"neck"}}}, kelpwick()).did,
      "0 bones");
}

TEST(NameBonesEdit, ABoneHasOneNameAndANameOneBone) {
  mod::ModelDoc doc;
  nameBones(doc, {{"waist", "a"}, {"chest", "b"}});
  nameBones(doc, {{"neck", "b"}});
  ASSERT_EQ(doc.steps.size(), 1U);
  EXPECT_EQ(doc.steps[0].values["names"], (Json{{"waist", "a"}, {"neck", "b"}}));
  nameBones(doc, {{"waist", "c"}, {"neck", ""}});
  EXPECT_EQ(doc.steps[0].values["names"], (Json{{"waist", "c"}}));
  nameBones(doc, {{"waist", ""}});
  EXPECT_TRUE(doc.steps.empty());
}

TEST(RotateBy, AddsUpAboutOneAxisAndGoesWhenNothingIsLeft) {
  mod::ModelDoc doc;
  rotateBy(doc, "up", 90);
  rotateBy(doc, "up", 180);
  ASSERT_EQ(doc.steps.size(), 1U);
  EXPECT_EQ(doc.steps[0].values["degrees"], -90.0);
  rotateBy(doc, "side", 90);
  rotateBy(doc, "up", 90);
  ASSERT_EQ(doc.steps.size(), 3U) << "turns about different axes do not change places";
  rotateBy(doc, "up", -90);
  EXPECT_EQ(doc.steps.size(), 2U);
}

}  // namespace
}  // namespace rakugo::prepare
