// Rules of bones and weights, on the demo's newcomer: each mend takes its finding away, and the skin stays
// where it is.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "formats/gltf/gltf.h"
#include "prepare/habits.h"
#include "scene/bones.h"
#include "scene/rest_pose.h"
#include "support/mended_mod.h"

namespace rakugo::check {
namespace {

using base::Json;
using testing::HasSubstr;

class BoneRules : public test::MendedMod {
 protected:
  BoneRules() : MendedMod("newcomer") { examine(); }
  const scene::Model& model() { return MendedMod::model("boatswain"); }
  scene::NodeIndex bone(const char* name) { return scene::bonesByName(model()).at(name); }
  std::vector<glm::vec3> skin() {
    const auto world = scene::worldMatrices(model());
    for (const scene::NodeIndex i : scene::reachedNodes(model()))
      if (model().node(i).mesh.valid()) return scene::placedMesh(model(), i, world).positions;
    return {};
  }
  void step(const char* kind, Json values) {
    prepare::insertByRank(state_.models["boatswain"],
                          prepare::makeStep(state_.models["boatswain"], kind, std::move(values)));
    examine();
  }
};

TEST_F(BoneRules, AForeignKeeperIsMadeTheGamesOwnMendByMend) {
  const auto before = skin();
  ASSERT_NE(find("bones.missing"), nullptr);
  EXPECT_EQ(find("bones.missing")->mends.at(0).label, "Give 19 sure bones the game's names");
  ASSERT_TRUE(mend("bones.missing"));
  // The one that is left has no bone: the head's chain is one short.
  ASSERT_NE(find("bones.missing"), nullptr);
  EXPECT_THAT(find("bones.missing")->sentence, HasSubstr("1 bone of 20"));
  EXPECT_THAT(find("bones.missing")->mends.at(0).label, HasSubstr("Add 1 bone between"));
  ASSERT_TRUE(mend("bones.missing"));
  EXPECT_EQ(find("bones.missing"), nullptr);
  EXPECT_EQ(model().node(model().node(bone("head")).parent).name, "neck");
  // The notorious quarter turn.
  ASSERT_NE(find("bones.turned"), nullptr);
  EXPECT_THAT(find("bones.turned")->sentence,
              HasSubstr("stand, is a quarter turn off, and 18 others with it"));
  EXPECT_EQ(find("bones.turned")->measured, "90 degrees");
  ASSERT_TRUE(mend("bones.turned"));
  EXPECT_EQ(find("bones.turned"), nullptr);
  ASSERT_TRUE(mend("bones.weights"));
  EXPECT_EQ(find("bones.weights"), nullptr);
  ASSERT_TRUE(mend("bones.ends"));
  for (const char* gone :
       {"bones.ends", "bones.needless", "bones.parent", "bones.sides", "bones.sums", "bones.limit"})
    EXPECT_EQ(find(gone), nullptr) << gone;
  EXPECT_EQ(scene::usedJoints(model()).size(), 20u);
  const auto after = skin();
  ASSERT_EQ(after.size(), before.size());
  for (size_t i = 0; i < after.size(); ++i) ASSERT_LT(glm::distance(after[i], before[i]), 1e-4F) << i;
  for (const prepare::StepOutcome& outcome : x_->context.models.at("boatswain").prepared.outcomes)
    EXPECT_TRUE(outcome.misses.empty()) << outcome.misses.front();
}

TEST_F(BoneRules, StepsKeptAsAHabitDoTheSameForTheNextOfItsMaker) {
  for (const char* check : {"bones.missing", "bones.missing", "bones.turned", "bones.weights", "bones.ends"})
    ASSERT_TRUE(mend(check)) << check;
  const auto kept = prepare::portableSteps(state_.models["boatswain"].steps);
  // As it came, and the habit put behind what is there.
  state_ = std::move(mod::loadMod(folder_)).value();
  examine();
  ASSERT_NE(find("bones.missing"), nullptr);
  EXPECT_GE(prepare::addSteps(state_.models["boatswain"], kept), 5u);
  examine();
  for (const Finding& f : x_->findings) EXPECT_NE(f.check.rfind("bones.", 0), 0u) << f.sentence;
}

// Another model of the mod gives its weights; a change of it is followed, and two do not wait for each other.
TEST_F(BoneRules, WeightsAreTakenFromAnotherModelOfTheMod) {
  for (const char* check : {"bones.missing", "bones.missing", "bones.turned", "bones.weights"})
    ASSERT_TRUE(mend(check)) << check;
  state_.models["twin"] = state_.models["boatswain"];
  const auto sum = [&] {
    double out = 0;
    const auto& twin = *x_->context.models.at("twin").prepared.model;
    for (const scene::NodeIndex i : scene::reachedNodes(twin))
      if (twin.node(i).mesh.valid())
        for (const scene::Primitive& p : twin.mesh(twin.node(i).mesh).primitives)
          for (const glm::vec4& w : p.weights) out += double{w[0]} * double{w[0]};
    return out;
  };
  const auto take = [&](const char* to, const char* from) {
    mod::ModelDoc& doc = state_.models[to];
    prepare::insertByRank(
        doc, prepare::makeStep(doc, "copy_weights", Json{{"kind", ""}, {"most_mm", 50.0}, {"model", from}}));
    examine();
    return x_->context.models.at(to).prepared.outcomes.back();
  };
  EXPECT_EQ(take("twin", "boatswain").state, prepare::StepState::good);
  const double before = sum();
  // The donor's own weights are smoothed: the twin follows.
  step("smooth_weights", Json{{"rounds", 6.0}});
  EXPECT_LT(sum(), before - 1);
  EXPECT_EQ(take("twin", "nobody").state, prepare::StepState::missed);
  EXPECT_THAT(x_->context.models.at("twin").prepared.outcomes.back().misses.at(0),
              HasSubstr("no model \"nobody\""));
  // Each from the other: as that is without taking from the one that asks.
  EXPECT_EQ(take("boatswain", "twin").state, prepare::StepState::good);
}

TEST_F(BoneRules, ABoneThatHangsElsewhereIsHungBack) {
  ASSERT_TRUE(mend("bones.missing"));
  EXPECT_EQ(find("bones.parent"), nullptr) << "what is missing between two is another fault";
  // Two names exchanged: the shin is above the thigh.
  auto& names = std::find_if(state_.models["boatswain"].steps.begin(), state_.models["boatswain"].steps.end(),
                             [](const mod::StepDoc& s) { return s.kind == "name_bones"; })
                    ->values["names"];
  std::swap(names["leg.port"], names["knee.port"]);
  examine();
  ASSERT_NE(find("bones.parent"), nullptr);
  EXPECT_THAT(find("bones.parent")->sentence, HasSubstr("knee.port hangs on ballast, not on leg.port"));
}

TEST_F(BoneRules, AFigureThatFacesBackwardsIsTurnedRound) {
  EXPECT_EQ(find("bones.sides"), nullptr);
  step("rotate", Json{{"about", "up"}, {"degrees", 180.0}});
  ASSERT_NE(find("bones.sides"), nullptr);
  EXPECT_THAT(find("bones.sides")->sentence, HasSubstr("faces backwards"));
  // Its names go by the body's own left: they are right, it is turned the wrong way.
  const auto& match = *x_->context.models.at("boatswain").bones;
  EXPECT_EQ(match.facing, prepare::BoneMatch::Facing::backward);
  EXPECT_FALSE(match.sides_swapped);
  ASSERT_TRUE(mend("bones.sides"));
  EXPECT_EQ(find("bones.sides"), nullptr);
}

TEST_F(BoneRules, MoreBonesThanTheGameTakesAreDroppedWithTheirWeightsHandedOver) {
  // A game that takes as many as it asks for.
  auto strict = std::make_shared<rulebook::Rulebook>(*book_);
  for (rulebook::Kind& kind : strict->kinds)
    if (kind.id == "keeper") kind.max_bones = 20;
  book_ = strict;
  examine();
  ASSERT_NE(find("bones.limit"), nullptr);
  EXPECT_EQ(find("bones.limit")->severity, Severity::stops);
  EXPECT_EQ(find("bones.limit")->measured, "24");
  ASSERT_TRUE(mend("bones.limit"));
  EXPECT_EQ(find("bones.limit"), nullptr);
}

TEST_F(BoneRules, AnotherRestPoseIsMeasuredAndChanged) {
  ASSERT_TRUE(mend("bones.missing"));
  EXPECT_EQ(find("bones.pose"), nullptr);
  // A game whose keepers let their arms hang.
  auto other = std::make_shared<rulebook::Rulebook>(*book_);
  for (rulebook::Skeleton& skeleton : other->skeletons)
    for (const char* side : {".port", ".starboard"}) {
      const auto bone = [&](const char* part) {
        return std::find_if(skeleton.bones.begin(), skeleton.bones.end(),
                            [&](const rulebook::Bone& b) { return b.id == std::string(part) + side; });
      };
      const auto arm = bone("arm"), elbow = bone("elbow"), hand = bone("hand");
      elbow->at_m = {arm->at_m[0], arm->at_m[1], arm->at_m[2] - 0.27};
      hand->at_m = {arm->at_m[0], arm->at_m[1], arm->at_m[2] - 0.52};
    }
  book_ = other;
  examine();
  ASSERT_NE(find("bones.pose"), nullptr);
  EXPECT_THAT(find("bones.pose")->sentence, HasSubstr("3 other bones too"));
  EXPECT_THAT(find("bones.pose")->measured, HasSubstr(" degrees"));
  const float wide = scene::boundsOf(model()).size().y;
  ASSERT_TRUE(mend("bones.pose"));
  EXPECT_EQ(find("bones.pose"), nullptr);
  EXPECT_LT(scene::boundsOf(model()).size().y, wide * 0.5F) << "the arms hang, and the skin with them";
}

TEST_F(BoneRules, SumsThatAreNotOneAreMended) {
  EXPECT_EQ(find("bones.sums"), nullptr);
  // As an older exporter left it: written anew with half of each vertex's weights.
  const auto file = folder_ / "sources/boatswain/boatswain.glb";
  auto read = formats::readModelFile(file.string());
  ASSERT_TRUE(read);
  for (scene::Primitive& p : read->model.editMesh(scene::MeshIndex(0)).primitives) {
    for (glm::vec4& w : p.weights) w *= 0.5F;
    for (glm::vec4& w : p.more_weights) w *= 0.5F;
  }
  ASSERT_TRUE(base::writeFileAtomic(file, formats::writeGlb(read->model)));
  examine();
  ASSERT_NE(find("bones.sums"), nullptr);
  EXPECT_THAT(find("bones.sums")->sentence, HasSubstr("do not sum to one"));
  ASSERT_TRUE(mend("bones.sums"));
  EXPECT_EQ(find("bones.sums"), nullptr);
  EXPECT_EQ(find("bones.weights"), nullptr) << "one step mends both";
}

}  // namespace
}  // namespace rakugo::check
