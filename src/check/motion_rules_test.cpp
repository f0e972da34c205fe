// Checks of what the game's movements make of a model.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "check/checks.h"
#include "prepare/edit_steps.h"
#include "prepare/outfit/ghosts.h"
#include "scene/bones.h"
#include "support/applied_steps.h"
#include "support/broken_mod.h"
#include "support/examined.h"
#include "support/game_rig.h"
#include "support/test_folder.h"

namespace rakugo::check {
namespace {

using scene::NodeIndex;
using testing::HasSubstr;

const rulebook::Rulebook& book() {
  static const std::shared_ptr<const rulebook::Rulebook> kBook = test::shippedBook("kelpwick");
  return *kBook;
}

// The findings of one check for a model that was made here, a keeper.
Findings run(const char* check, const scene::Model& model) {
  mod::ModState state;
  state.models["twin"].source = "twin";
  Context context;
  context.mod = &state;
  context.book = &book();
  ModelState& made = context.models["twin"];
  made.prepared.model = std::make_shared<const scene::Model>(model);
  made.kind = book().findKind("keeper");
  const rulebook::Skeleton& skeleton = *book().findSkeleton(made.kind->skeleton);
  made.bones = std::make_shared<const prepare::BoneMatch>(prepare::matchBones(model, skeleton, book()));
  made.moments = std::make_shared<const std::vector<prepare::MomentOff>>(
      prepare::momentsOff(model, skeleton, book(), prepare::gameFigure(book(), skeleton).value()));
  Findings out;
  for (const CheckRow& row : checkTable())
    if (row.id == std::string(check)) row.run(context, row, out);
  return out;
}

// A body with the game's bones, so much larger.
scene::Model body(float size = 1) {
  scene::Model out = test::standingModel();
  test::addRig(out, test::gameRig(book().skeletons[0], size));
  scene::Primitive skin;
  skin.positions = {{0, 0, 0}, {0, 0, 1}, {0, 1, 0}};
  skin.joints.assign(3, glm::u16vec4(16, 0, 0, 0));
  skin.weights.assign(3, glm::vec4(1, 0, 0, 0));
  skin.indices = {0, 1, 2};
  test::wearRig(out, "skin", std::move(skin));
  return out;
}

TEST(MotionRules, ABodyAsTheGamesIsInOrder) {
  for (const char* check : {"bones.bends", "bones.aims", "bones.floor", "bones.gone", "animation.tracks"})
    EXPECT_TRUE(run(check, body()).empty()) << check;
}

TEST(MotionRules, AHandOnATwistedBoneAimsElsewhere) {
  scene::Model model = body();
  test::insertAbove(model, "hand.port", glm::angleAxis(1.0F, glm::vec3(0, 1, 0)));
  const Findings found = run("bones.aims", model);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_THAT(found[0].sentence, HasSubstr("Left hand of twin is turned 57 degrees elsewhere in"));
  EXPECT_EQ(found[0].mends.size(), 2u);
  EXPECT_TRUE(run("bones.bends", model).empty());
}

TEST(MotionRules, AKneeThatFoldsBackIsNamed) {
  scene::Model model = body();
  test::insertAbove(model, "knee.port", glm::angleAxis(3.14159265F, glm::vec3(0, 0, 1)));
  const Findings found = run("bones.bends", model);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_THAT(found[0].sentence, HasSubstr("Left shin of twin bends backwards in \""));
}

TEST(MotionRules, LongLegsFloatOrSink) {
  EXPECT_TRUE(run("bones.floor", body(1.05F)).empty());
  const Findings tall = run("bones.floor", body(1.3F));
  ASSERT_EQ(tall.size(), 1u);
  EXPECT_THAT(tall[0].sentence, HasSubstr("foot of twin floats"));
  const Findings small = run("bones.floor", body(0.7F));
  ASSERT_EQ(small.size(), 1u);
  EXPECT_THAT(small[0].sentence, HasSubstr("sinks"));
  EXPECT_THAT(small[0].sentence, HasSubstr("into the floor in"));
}

TEST(MotionRules, VerticesThatFollowWhatWasDroppedAreFound) {
  scene::Model model = body();
  const NodeIndex followed = model.skins[0].joints[16], above = model.node(followed).parent;
  std::erase(model.node(above).children, followed);
  const Findings found = run("bones.gone", model);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_THAT(found[0].sentence, HasSubstr("Vertices of twin follow " + model.node(followed).name));
}

TEST(MotionRules, AMovementOfWhatIsNotThereIsTidiedUp) {
  scene::Model model = body();
  scene::Node lost;
  lost.name = "cape";
  model.nodes.push_back(lost);
  model.animations.push_back({"flap",
                              {{NodeIndex(model.nodes.size() - 1),
                                scene::AnimatedPath::turn,
                                scene::Interpolation::linear,
                                {0},
                                {0, 0, 0, 1}},
                               {test::boneOf(model, "head"),
                                scene::AnimatedPath::turn,
                                scene::Interpolation::linear,
                                {0},
                                {0, 0, 0, 1}}},
                              ""});
  const Findings found = run("animation.tracks", model);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_EQ(found[0].sentence, "The movement flap of twin moves cape, which is not there.");
}

TEST(MotionRules, ALegThatIsLongerIsNamed) {
  EXPECT_TRUE(run("bones.unequal", body()).empty());
  scene::Model model = body();
  model.node(test::boneOf(model, "foot.starboard")).local.position *= 1.2F;
  const Findings found = run("bones.unequal", model);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_THAT(found[0].sentence, HasSubstr("knee.starboard of twin is 8"));
  EXPECT_THAT(found[0].sentence, HasSubstr("longer than that of the other side."));
}

TEST(MotionRules, LooseAndLopsidedWeightsAndBrokenSkinsAreTold) {
  test::TestFolder own;
  const auto x = test::examined(own.copyOfMod("newcomer", "n"));
  Context context = x->context;
  ModelState& state = context.models.at("boatswain");
  prepare::WeightFaults weights;
  weights.stray.push_back({NodeIndex(0), 5, 1, {0, 0, 1}});
  weights.islands.push_back({NodeIndex(0), 6, 1, {0, 0, 1}});
  weights.islands.push_back({NodeIndex(0), 6, 2, {0, 0, 1}});
  weights.mirrored = 100;
  weights.lopsided = 10;
  state.weight_faults = std::make_shared<const prepare::WeightFaults>(weights);
  prepare::SkinFault fault;
  fault.movement = 1;
  fault.at_s = 0.25;
  fault.much = 4.26;
  state.skin_faults = std::make_shared<const std::vector<prepare::SkinFault>>(3, fault);
  std::map<std::string, Finding> found;
  for (const CheckRow& row : checkTable()) {
    Findings out;
    row.run(context, row, out);
    for (Finding& f : out) found[f.check] = std::move(f);
  }
  EXPECT_EQ(
      found.at("weights.loose").sentence,
      "1 vertex follows bones far away and 1 vertex follows a bone that nothing beside does in boatswain.");
  EXPECT_EQ(found.at("weights.loose").place.marks_m.size(), 3u);
  EXPECT_THAT(found.at("weights.sides").sentence, HasSubstr("10 vertices follow other bones"));
  EXPECT_EQ(found.at("weights.sides").mends.size(), 2u);
  EXPECT_EQ(found.at("skin.breaks").sentence,
            "The skin of boatswain is stretched 4.3 times its length in \"Walk\" at 0.25 s, and 2 other "
            "places too.");
}

// An arm whose bones are called from one too low on: it has as many as the game asks for, one bone up.
TEST(MotionRules, AChainThatIsShortIsStartedOneBoneUp) {
  scene::Model model = body();
  test::insertAbove(model, "collar.port", glm::quat(1, 0, 0, 0));
  const NodeIndex hand = test::boneOf(model, "hand.port"), elbow = model.node(hand).parent;
  std::erase(model.node(elbow).children, hand);
  const Findings found = run("bones.missing", model);
  ASSERT_EQ(found.size(), 1u);
  const auto mend = std::find_if(found[0].mends.begin(), found[0].mends.end(), [](const Mend& one) {
    return one.label == "Start the chain \"Left arm\" one bone up, at twist";
  });
  ASSERT_NE(mend, found[0].mends.end());
  mod::ModState state;
  state.models["twin"].source = "twin";
  mend->apply(state);
  const mod::StepDoc& step = state.models["twin"].steps.at(0);
  const NodeIndex above = test::boneOf(model, "twist"), collar = test::boneOf(model, "collar.port");
  EXPECT_EQ(test::applyStep(model, step.kind.c_str(), step.values, book()).state, prepare::StepState::good);
  EXPECT_EQ(model.node(above).name, "collar.port");
  EXPECT_EQ(model.node(collar).name, "arm.port");
  EXPECT_EQ(model.node(elbow).name, "hand.port");
  EXPECT_TRUE(run("bones.missing", model).empty());
  // Nothing is above a chain that hangs where the game's does.
  scene::Model plain = body();
  std::erase(plain.node(test::boneOf(plain, "elbow.port")).children, test::boneOf(plain, "hand.port"));
  const Findings others = run("bones.missing", plain);
  for (const Mend& one : others.at(0).mends) EXPECT_THAT(one.label, testing::Not(HasSubstr("one bone up")));
}

// A figure without any bones gets the game's, in either of two ways.
TEST(MotionRules, WithoutBonesTheGamesArePutIn) {
  const scene::Model donor = *prepare::weightDonor(book(), "keeper").value();
  scene::Model bare = test::standingModel();
  for (const std::shared_ptr<const scene::Mesh>& mesh : donor.meshes) {
    auto plain = std::make_shared<scene::Mesh>(*mesh);
    for (scene::Primitive& p : plain->primitives) {
      p.joints.clear();
      p.weights.clear();
      p.material = {};
    }
    scene::Node node;
    node.name = "body";
    node.mesh = scene::MeshIndex(bare.meshes.size());
    bare.meshes.push_back(std::move(plain));
    bare.roots.emplace_back(bare.nodes.size());
    bare.nodes.push_back(std::move(node));
  }
  scene::assignKeys(bare);
  const Findings found = run("bones.none", bare);
  ASSERT_EQ(found.size(), 1u);
  ASSERT_EQ(found[0].mends.size(), 2u);
  for (const Mend& mend : found[0].mends) {
    mod::ModState state;
    state.models["twin"].source = "twin";
    mend.apply(state);
    ASSERT_EQ(state.models["twin"].steps.size(), 1u) << mend.label;
    const mod::StepDoc& step = state.models["twin"].steps[0];
    scene::Model own = bare;
    EXPECT_EQ(test::applyStep(own, step.kind.c_str(), step.values, book()).state, prepare::StepState::good);
    EXPECT_EQ(scene::bonesByName(own).count("hand.port"), 1u) << mend.label;
    EXPECT_TRUE(run("bones.none", own).empty()) << mend.label;
    EXPECT_EQ(scene::weightsOf(own, 4).without_weight, 0u) << mend.label;
  }
  bare.frame.turned = false;
  EXPECT_TRUE(run("bones.none", bare)[0].mends.empty()) << "where it lies otherwise, nothing would fit";
}

// What lies otherwise at rest is told once, not again by each of its consequences.
TEST(MotionRules, TheCauseIsToldAndNotItsConsequences) {
  test::TestFolder own;
  const auto x = test::examined(own.copyOfMod("newcomer", "n"), [](mod::ModState& state) {
    // Names alone: the bones still lie a quarter turn off.
    const auto named = test::examined(std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods/newcomer");
    for (const Finding& f : named->findings)
      if (f.check == "bones.missing") return f.mends.front().apply(state);
  });
  std::vector<std::string> ids;
  for (const Finding& f : x->findings) ids.push_back(f.check);
  EXPECT_THAT(ids, testing::Contains("bones.turned"));
  EXPECT_THAT(ids, testing::Not(testing::Contains("bones.aims")));
  EXPECT_THAT(ids, testing::Not(testing::Contains("bones.bends")));
}

}  // namespace
}  // namespace rakugo::check
