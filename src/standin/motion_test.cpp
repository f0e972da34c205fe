#include "standin/motion.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "base/files.h"
#include "standin/commands.h"
#include "support/made_bundle.h"
#include "support/test_folder.h"

namespace rakugo::standin {
namespace {

using testing::Contains;
using testing::HasSubstr;

// The harbour's own skeleton, larger, with whatever names `rename` gives.
bundle::SkeletonRecord body(float size, const std::string& prefix = {}) {
  bundle::SkeletonRecord out = Movements::keepers().skeleton();
  for (bundle::BoneRecord& bone : out.bones) {
    bone.name = prefix + bone.name;
    for (float& c : bone.position) c *= size;
  }
  return out;
}

glm::vec3 headOf(const bundle::SkeletonRecord& skeleton, const BonePose& pose, const char* name) {
  size_t at = 0;
  const std::vector<glm::mat4> bent = bentBy(skeleton, pose);
  glm::vec3 rest(0);
  while (skeleton.bones[at].name != name) ++at;
  for (int i = static_cast<int>(at); i >= 0; i = skeleton.bones[static_cast<size_t>(i)].parent) {
    const auto& p = skeleton.bones[static_cast<size_t>(i)].position;
    rest += glm::vec3(p[0], p[1], p[2]);
  }
  return glm::vec3(bent[at] * glm::vec4(rest, 1));
}

TEST(Movements, AreThereAndMoveEveryBone) {
  const Movements& keepers = Movements::keepers();
  EXPECT_EQ(keepers.skeleton().bones.size(), 20u);
  for (const char* name : {"idle", "walk", "reach-up", "crouch", "sit", "look", "hold", "both-hands"})
    EXPECT_NE(keepers.find(name), nullptr) << name;
  EXPECT_EQ(keepers.find("swim"), nullptr);
  EXPECT_TRUE(keepers.missingIn(body(1)).empty());
  EXPECT_EQ(keepers.missingIn(body(1, "x")).size(), 20u);
}

TEST(Play, AtRestNothingIsCarriedAnywhere) {
  const bundle::SkeletonRecord own = body(1);
  for (const glm::mat4& m : bentBy(own, restPose(own)))
    for (int c = 0; c < 4; ++c) EXPECT_LT(glm::distance(m[c], glm::mat4(1)[c]), 1e-5F);
}

TEST(Play, ArmsComeDownAndFeetStayOnTheGround) {
  const Movements& keepers = Movements::keepers();
  const bundle::SkeletonRecord own = body(1);
  BonePose pose = restPose(own);
  play(*keepers.find("idle"), 1, own, &keepers.skeleton(), pose);
  EXPECT_NEAR(headOf(own, restPose(own), "hand.port").z, 1.39, 1e-4);
  EXPECT_LT(headOf(own, pose, "hand.port").z, 0.95F);
  EXPECT_NEAR(headOf(own, pose, "foot.port").z, 0.09, 2e-3);
}

TEST(Play, WaysAreAddedToABodysOwnPlaces) {
  const Movements& keepers = Movements::keepers();
  const bundle::SkeletonRecord tall = body(1.3F);
  BonePose pose = restPose(tall);
  play(*keepers.find("crouch"), 1.2F, tall, &keepers.skeleton(), pose);
  // Lowered by the movement's own 372 mm from its own height.
  EXPECT_NEAR(headOf(tall, pose, "ballast").z, 0.94 * 1.3 - 0.372, 2e-3);
}

TEST(Play, OnlySomeBonesCanBeMoved) {
  const Movements& keepers = Movements::keepers();
  const bundle::SkeletonRecord own = body(1);
  BonePose pose = restPose(own);
  play(*keepers.find("hold"), 0, own, &keepers.skeleton(), pose, {"arm.starboard"});
  for (size_t i = 0; i < pose.size(); ++i)
    EXPECT_EQ(pose[i].turn == restPose(own)[i].turn, own.bones[i].name != "arm.starboard")
        << own.bones[i].name;
}

TEST(Play, AMovementGoesOn) {
  const bundle::AnimationPayload& walk = *Movements::keepers().find("walk");
  EXPECT_NEAR(looped(2.25F * walk.length_s, walk), 0.25 * walk.length_s, 1e-5);
  EXPECT_EQ(looped(3, bundle::AnimationPayload()), 0);
}

// A keeper with bones of those names, in a harbour of its own.
class MotionTest : public testing::Test {
 protected:
  void put(const bundle::SkeletonRecord& skeleton, int bone_of_piece) {
    bundle::BundleWriter out;
    bundle::ObjectRecord mate = test::thing("mate", "keeper");
    mate.points = {{"grip-right", {0, -0.75F, 1.39F}}};
    mate.pieces[0].rig = 0;
    mate.pieces[0].bone = bone_of_piece;
    mate.rigs.push_back({"skeleton/mate", {0, 0, 0}, {0, 0, 0, 1}, {}});
    bundle::ObjectRecord lantern = test::thing("lantern", "gear");
    lantern.points = {{"grip", {0, 0, 0}}};
    bundle::ObjectRecord hook = test::thing("hook", "gear");
    const bundle::Manifest manifest{.mod_id = "m",
                                    .title = "M",
                                    .rulebook_id = "kelpwick",
                                    .objects = {"object/mate", "object/lantern", "object/hook"}};
    using bundle::EntryKind;
    EXPECT_TRUE(out.add(EntryKind::manifest, bundle::kManifestId, bundle::encodeManifest(manifest)));
    EXPECT_TRUE(out.add(EntryKind::object, "object/mate", bundle::encodeObject(mate)));
    EXPECT_TRUE(out.add(EntryKind::object, "object/lantern", bundle::encodeObject(lantern)));
    EXPECT_TRUE(out.add(EntryKind::object, "object/hook", bundle::encodeObject(hook)));
    EXPECT_TRUE(out.add(EntryKind::mesh, "mesh/one", bundle::encodeMesh(test::triangle())));
    EXPECT_TRUE(out.add(EntryKind::skeleton, "skeleton/mate", bundle::encodeSkeleton(skeleton)));
    EXPECT_TRUE(out.add(EntryKind::icon, "icon/x", base::Bytes(8, std::byte{1})));
    EXPECT_TRUE(out.add(EntryKind::material, "material/plain", bundle::encodeMaterial({.name = "plain"})));
    ASSERT_TRUE(base::writeFileAtomic(own_.path() / "m.rkb", *out.finish()));
    game_.scan();
  }
  std::vector<std::string> said() {
    std::vector<std::string> out;
    for (const LogLine& line : log_) out.push_back(line.event + ": " + line.message);
    return out;
  }
  const Shown* seen(const std::string& object) {
    seen_ = play_.shown();
    for (const Shown& one : seen_)
      if (one.object == object) return &one;
    return nullptr;
  }
  test::TestFolder own_;
  std::vector<LogLine> log_;
  std::vector<Shown> seen_;
  Game::Say say_ = [this](const LogLine& line) { log_.push_back(line); };
  Game game_{own_.path(), say_};
  Play play_{game_, say_};
};

TEST_F(MotionTest, AKeeperWalksWithTheWayItGoes) {
  put(body(1), 0);
  ASSERT_TRUE(play_.use("m/mate"));
  EXPECT_THAT(said(), testing::Not(Contains(HasSubstr("stiff"))));
  EXPECT_EQ(seen("m/mate")->moving.at(0).movement, "idle");
  play_.move(1, 0);
  play_.pass(0.5F);
  const Shown* mate = seen("m/mate");
  ASSERT_NE(mate, nullptr);
  EXPECT_EQ(mate->moving.at(0).movement, "walk");
  // Half a second at 1.4 m/s is 0.7 m of the 1.44 m that a cycle is long.
  EXPECT_NEAR(mate->moving[0].at_s, 0.7 / 1.44, 0.02);
  const glm::mat4 foot = play_.carried(*mate, "foot.port");
  play_.pass(0.2F);
  EXPECT_GT(glm::distance(foot[3], play_.carried(*seen("m/mate"), "foot.port")[3]), 0.02F) << "legs move";
  play_.move(0, 0);
  EXPECT_EQ(seen("m/mate")->moving.at(0).movement, "idle");
}

TEST_F(MotionTest, WhatIsCarriedIsInTheHandWhereverThatIs) {
  put(body(1), 0);
  play_.use("m/mate");
  play_.use("m/lantern");
  const Shown* lantern = seen("m/lantern");
  ASSERT_NE(lantern, nullptr);
  const Shown mate = *seen("m/mate");
  const glm::vec3 hand(mate.matrix * play_.carried(mate, "hand.starboard") * glm::vec4(0, -0.75F, 1.39F, 1));
  EXPECT_LT(glm::distance(hand, glm::vec3(seen("m/lantern")->matrix[3])), 1e-4F);
  EXPECT_LT(hand.z, 1.25F) << "not where the arm was at rest";
}

TEST_F(MotionTest, WhatWasInTheHandHangsAtTheBelt) {
  put(body(1), 0);
  play_.use("m/mate");
  play_.use("m/lantern");
  play_.use("m/hook");
  EXPECT_EQ(play_.gear(), "m/hook");
  EXPECT_EQ(play_.belt(), "m/lantern");
  const Shown* lantern = seen("m/lantern");
  ASSERT_NE(lantern, nullptr);
  const float high = lantern->matrix[3].z;
  EXPECT_GT(high, 0.6F);
  EXPECT_LT(high, 1.2F) << "at the waist";
  play_.use("m/lantern");
  EXPECT_EQ(play_.gear(), "m/lantern") << "it is taken from the belt";
  EXPECT_EQ(play_.belt(), "m/hook");
  play_.leave();
  play_.leave();
  EXPECT_EQ(play_.gear() + play_.belt(), "");
}

TEST_F(MotionTest, TheHarboursOwnKeeperMovesToo) {
  put(body(1), 0);
  play_.lookThroughEyes(false);
  play_.move(1, 0);
  play_.pass(0.1F);
  const std::vector<glm::mat4> first = play_.ownBones();
  ASSERT_EQ(first.size(), 20u);
  play_.pass(0.3F);
  const std::vector<glm::mat4> later = play_.ownBones();
  bool moved = false;
  for (size_t i = 0; i < first.size(); ++i) moved = moved || glm::distance(first[i][3], later[i][3]) > 0.05F;
  EXPECT_TRUE(moved);
  // As it is built it stands in the first moment of standing about.
  Play still(game_, say_);
  for (const glm::mat4& m : still.ownBones())
    for (int c = 0; c < 4; ++c) EXPECT_LT(glm::distance(m[c], glm::mat4(1)[c]), 1e-4F);
  // What it carries comes along with the hand, upright.
  still.use("m/lantern");
  still.act("crouch");
  still.pass(1.2F);
  for (const Shown& one : still.shown())
    if (one.object == "m/lantern") {
      EXPECT_LT(one.matrix[3].z, 0.6F);
      EXPECT_NEAR(one.matrix[2].z, 1, 1e-4);
    }
}

TEST(FollowBones, EachVertexGoesWithTheNearestBone) {
  const bundle::SkeletonRecord own = body(1);
  const bundle::MeshPayload plain = test::triangle();
  const bundle::MeshPayload bent = followBones(plain, own, restPose(own), {"leg.port", "knee.port"});
  EXPECT_EQ(bent.stride, plain.stride + 16);
  EXPECT_EQ(bent.jointCount(), 16u) << "the shin is the sixteenth";
  EXPECT_TRUE(bundle::decodeMesh(bundle::encodeMesh(bent), "m"));
  EXPECT_EQ(followBones(plain, own, restPose(own), {"tail"}).stride, plain.stride);
  EXPECT_EQ(followBones(bent, own, restPose(own), {"leg.port"}).stride, bent.stride)
      << "it has bones already";
}

// A weathercock: it turns by an animation of its own, and its tail swells.
TEST(OwnMovements, GoOnByThemselves) {
  LoadedThing cock;
  cock.record = test::thing("cock", "fitting");
  cock.record.rigs.push_back({"skeleton/cock", {0, 0, 2}, {0, 0, 0, 1}, {{"turn", "animation/cock"}}});
  bundle::SkeletonRecord skeleton;
  skeleton.bones.push_back({"body", -1, {0, 0, 0}, {0, 0, 0, 1}, {1, 1, 1}});
  cock.skeletons["skeleton/cock"] = skeleton;
  bundle::AnimationPayload turn;
  turn.length_s = 2;
  turn.tracks.push_back({"body",
                         bundle::TrackPath::turn,
                         bundle::TrackBlend::linear,
                         4,
                         {0, 1, 2},
                         {0, 0, 0, 1, 0, 0, 1, 0, 0, 0, 0, -1}});
  turn.tracks.push_back(
      {"tail", bundle::TrackPath::weights, bundle::TrackBlend::linear, 1, {0, 1, 2}, {0, 1, 0}});
  cock.animations["animation/cock"] = turn;
  Shown shown{"m/cock", glm::mat4(1), {}, {}, 0.5F, 0};
  const BonePose half = poseOf(cock, cock.record.rigs[0], shown);
  EXPECT_NEAR(std::abs(half[0].turn.z), std::sqrt(0.5F), 1e-5);
  EXPECT_NEAR(morphsOf(cock, shown, 0, "tail").at(0), 0.5, 1e-6);
  EXPECT_TRUE(morphsOf(cock, shown, 0, "beak").empty());
  EXPECT_TRUE(morphsOf(cock, shown, -1, "tail").empty());
  // Over and over.
  shown.at_s = 4.5F;
  EXPECT_NEAR(std::abs(glm::dot(poseOf(cock, cock.record.rigs[0], shown)[0].turn, half[0].turn)), 1, 1e-5);
  EXPECT_EQ(rigPlace(cock.record.rigs[0])[3].z, 2);
  // A movement of the harbour's that it has no bones for changes nothing.
  shown.moving = {{"walk", 0.3F, {}}};
  EXPECT_NEAR(std::abs(glm::dot(poseOf(cock, cock.record.rigs[0], shown)[0].turn, half[0].turn)), 1, 1e-5);
}

TEST_F(MotionTest, BonesOfOtherNamesStandStiffAndTheLogSaysSo) {
  put(body(1, "bone_"), 0);
  play_.use("m/mate");
  EXPECT_THAT(said(), Contains(HasSubstr("stiff: mate has none of the bones")));
  bundle::SkeletonRecord some = body(1);
  some.bones[4].name = "giraffe";  // the neck
  log_.clear();
  put(some, 0);
  play_.use("m/mate");
  EXPECT_THAT(said(), Contains("limps: mate lacks bones that the harbour moves: neck."));
}

TEST_F(MotionTest, BonesThatAreNotThereAreRefused) {
  put(body(1), 20);
  EXPECT_THAT(said(), Contains(HasSubstr("follows bones that it does not have")));
  EXPECT_EQ(game_.objects().count("m/mate"), 0u);
}

TEST_F(MotionTest, TheFigureCanBeToldWhatToDo) {
  put(body(1), 0);
  Commands commands(game_, play_, say_);
  EXPECT_TRUE(commands.run(base::Json{{"do", "use"}, {"object", "m/mate"}}, "t"));
  EXPECT_TRUE(commands.run(base::Json{{"do", "act"}, {"movement", "crouch"}}, "t"));
  play_.pass(1.2F);
  EXPECT_EQ(seen("m/mate")->moving.at(0).movement, "crouch");
  EXPECT_NEAR(seen("m/mate")->moving[0].at_s, 1.2, 0.01);
  EXPECT_LT(play_.carried(*seen("m/mate"), "head")[3].z, -0.3F);
  EXPECT_TRUE(commands.run(base::Json{{"do", "build"}, {"broad", 0.5}}, "t"));
  EXPECT_EQ(seen("m/mate")->build, 0.5F);
  log_.clear();
  EXPECT_TRUE(commands.run(base::Json{{"do", "act"}, {"movement", "swim"}}, "t"));
  EXPECT_THAT(said(), Contains(HasSubstr("do not know how to swim; they know arms-forward")));
  EXPECT_EQ(seen("m/mate")->moving.at(0).movement, "crouch") << "it goes on with what it did";
}

}  // namespace
}  // namespace rakugo::standin
