// Skeletons of our own making, in ten habits of naming, laid onto the keeper's: what is found, and what is
// called sure.
#include "prepare/matching/bone_match.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <map>
#include <random>
#include <set>

#include "prepare/matching/bone_names.h"
#include "support/made_bodies.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

const rulebook::Rulebook& book() {
  static const rulebook::Rulebook kBook = std::move(rulebook::findRulebook("kelpwick")).value();
  return kBook;
}
const rulebook::Skeleton& keeper() { return *book().findSkeleton("keeper"); }

using test::Body;
using test::Builder;
using test::Built;
using test::Habit;
using test::habits;
using test::kBodies;
using test::Naming;
using test::naming;
using test::Tag;
using test::truth;

TEST(BoneMatch, FortySkeletonsInTenHabitsAreFoundAndNothingWrongIsCalledSure) {
  test::SlotTally tally(book());
  for (const Habit& habit : habits())
    for (const Body& body : kBodies) tally.add(habit, body);
  EXPECT_EQ(tally.bodies, 40u);
  EXPECT_GE(static_cast<double>(tally.right), 0.98 * static_cast<double>(tally.slots))
      << tally.right << " of " << tally.slots << "\n"
      << testing::PrintToString(tally.wrong);
  EXPECT_GE(static_cast<double>(tally.sure), 0.7 * static_cast<double>(tally.slots))
      << "much is sure, or it is no help";
}

Built usual(const Naming& name) { return Builder(kBodies[1], name).build(); }

// Whether a bone hangs on another, at whatever distance.
bool hangsOn(const scene::Model& model, NodeIndex bone, NodeIndex on) {
  for (NodeIndex up = model.node(bone).parent; up.valid(); up = model.node(up).parent)
    if (up == on) return true;
  return false;
}

TEST(BoneMatch, NamesThatCallLeftWhatIsRightAreFollowedAndNothingSidedIsSure) {
  const Habit& english = habits()[2];
  const Naming swapped = [&](const Tag& tag) {
    Tag other = tag;
    if (tag.side != 0) other.side = 3 - tag.side;
    return naming(english)(other);
  };
  const Built built = usual(swapped);
  const BoneMatch match = matchBones(built.model, keeper(), book());
  EXPECT_TRUE(match.sides_swapped);
  for (const SlotMatch& slot : match.slots) {
    const rulebook::Bone& bone = *keeper().findBone(slot.slot);
    if (bone.side == rulebook::Side::centre) {
      EXPECT_TRUE(slot.sure || slot.slot == "stand") << slot.slot << ": " << slot.reason;
      continue;
    }
    EXPECT_FALSE(slot.sure) << slot.slot;
    EXPECT_THAT(slot.reason, testing::HasSubstr("different sides"));
    EXPECT_LT(slot.confidence, 0.6);
    // By the names: what is called left is the game's left.
    EXPECT_THAT(built.model.node(slot.bone).name,
                testing::HasSubstr(bone.side == rulebook::Side::left ? ".L" : ".R"));
  }
}

TEST(BoneMatch, WhatAPersonDecidedIsKeptAndNobodyElseGetsIt) {
  const Built built = usual(naming(habits()[2]));
  const auto key = [&](const Tag& tag) { return built.model.node(built.bones.at(tag)).key; };
  const BoneMatch match = matchBones(built.model, keeper(), book(),
                                     {{"neck", key({"head"})}, {"hand.port", ""}, {"waist", "no such bone"}});
  EXPECT_EQ(match.find("neck")->bone, built.bones.at({"head"}));
  EXPECT_TRUE(match.find("neck")->sure);
  EXPECT_EQ(match.find("neck")->confidence, 1);
  EXPECT_FALSE(match.find("head")->bone.valid()) << "its bone was given away, and no other is one";
  EXPECT_FALSE(match.find("hand.port")->bone.valid());
  EXPECT_EQ(match.find("hand.port")->reason, "You left it empty.");
  EXPECT_FALSE(match.find("waist")->bone.valid());
  EXPECT_EQ(match.find("elbow.port")->bone, built.bones.at({"forearm", 1}));
  EXPECT_EQ(match.find("tail"), nullptr);
}

TEST(BoneMatch, AModelWithoutBonesHasNoneInAnySlot) {
  scene::Model empty = test::standingModel();
  const BoneMatch match = matchBones(empty, keeper(), book());
  ASSERT_EQ(match.slots.size(), keeper().bones.size());
  for (const SlotMatch& slot : match.slots) {
    EXPECT_FALSE(slot.bone.valid() || slot.sure);
    EXPECT_EQ(slot.confidence, 0);
    EXPECT_FALSE(slot.reason.empty());
  }
  EXPECT_TRUE(match.surplus.empty());
  EXPECT_TRUE(matchBones(usual(naming(habits()[0])).model, rulebook::Skeleton(), book()).slots.empty());
}

TEST(BoneMatch, MoreThanAnySkeletonHasIsNoHang) {
  // Five thousand bones in a row: no skeleton.
  std::vector<test::RigBone> chain;
  for (int i = 0; i < 5000; ++i)
    chain.push_back({"arm" + std::to_string(i), i - 1, {0, 0, 0.001F * static_cast<float>(i)}});
  scene::Model model = test::standingModel();
  test::addRig(model, chain);
  test::wearRig(model, "skin", scene::Primitive());
  const BoneMatch none = matchBones(model, keeper(), book());
  EXPECT_FALSE(none.slots[0].bone.valid());
  // A game with more bones on one than can be told apart: what is beyond is left empty, the rest is found.
  rulebook::Skeleton many;
  std::vector<test::RigBone> fan = {{"root", -1, {0, 0, 0}}};
  many.bones.push_back({"root", "Root", "", rulebook::Side::centre, true, {0, 0, 0}, {}});
  for (int i = 0; i < 20; ++i) {
    const std::string name = "spoke" + std::to_string(i);
    const float along = 0.05F * static_cast<float>(i);
    many.bones.push_back({name, name, "root", rulebook::Side::centre, true, {0, 0, double{along}}, {}});
    fan.push_back({name, 0, {0, 0, along}});
  }
  scene::Model wheel = test::standingModel();
  test::addRig(wheel, fan);
  test::wearRig(wheel, "skin", scene::Primitive());
  const BoneMatch some = matchBones(wheel, many, book());
  size_t found = 0;
  for (const SlotMatch& slot : some.slots) found += slot.bone.valid() ? 1 : 0;
  EXPECT_GE(found, 9u);
}

// Whatever the bones: none in two slots, and what hangs on what in the game hangs so in the model.
TEST(BoneMatch, LaysTheTreeOfSlotsIntoTheTreeOfBones) {
  static const char* const kNames[] = {"hips", "spine", "head",   "arm_L",   "arm_R",
                                       "leg",  "x",     "hand_R", "toe_end", "root"};
  for (unsigned seed = 1; seed <= 60; ++seed) {
    std::mt19937 random(seed);
    std::vector<test::RigBone> bones;
    const int count = 1 + static_cast<int>(random() % 40);
    const auto real = [&] { return static_cast<float>(random() % 1000) / 500 - 1; };
    for (int i = 0; i < count; ++i)
      bones.push_back(
          {kNames[random() % 10],
           i == 0 || random() % 15 == 0 ? -1 : static_cast<int>(random() % static_cast<unsigned>(i)),
           {real() * 0.2F, real() * 0.8F, real() + 1}});
    scene::Model model = test::standingModel();
    test::addRig(model, bones);
    scene::Primitive skin;
    skin.positions = {{0, 0, 0}, {0, 0, 1.7F}};
    test::wearRig(model, "skin", std::move(skin));
    const BoneMatch match = matchBones(model, keeper(), book());
    std::set<uint32_t> taken;
    for (const SlotMatch& slot : match.slots) {
      EXPECT_GE(slot.confidence, 0);
      EXPECT_LE(slot.confidence, 1);
      if (!slot.bone.valid()) continue;
      EXPECT_TRUE(taken.insert(slot.bone.value()).second) << "seed " << seed << ": twice";
      for (std::string up = keeper().findBone(slot.slot)->parent; !up.empty();
           up = keeper().findBone(up)->parent)
        if (const NodeIndex above = match.find(up)->bone; above.valid()) {
          EXPECT_TRUE(hangsOn(model, slot.bone, above))
              << "seed " << seed << ": " << slot.slot << " under " << up;
        }
    }
    EXPECT_EQ(taken.size() + match.surplus.size(), bones.size());
    const BoneMatch again = matchBones(model, keeper(), book());
    for (size_t i = 0; i < match.slots.size(); ++i) EXPECT_EQ(again.slots[i].bone, match.slots[i].bone);
  }
}

}  // namespace
}  // namespace rakugo::prepare
