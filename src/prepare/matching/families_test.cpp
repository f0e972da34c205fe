#include "prepare/matching/families.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "support/made_rig.h"
#include "support/test_folder.h"

namespace rakugo::prepare {
namespace {

using base::Json;

// A body of some bones below a root of that name.
scene::Model body(const std::string& root, const std::vector<std::string>& bones) {
  std::vector<test::RigBone> rig = {{root, -1, {0, 0, 0}}};
  for (const std::string& name : bones) rig.push_back({name, 0, {0, 0, static_cast<float>(rig.size())}});
  scene::Model out = test::standingModel();
  test::addRig(out, rig);
  scene::Primitive skin;
  skin.positions = {{0, 0, 0}};
  test::wearRig(out, "skin", std::move(skin));
  return out;
}

Habit habitOf(const scene::Model& source, const char* name = "Imke's") {
  mod::ModelDoc doc;
  doc.steps = {{"s1", "name_bones", true, Json{{"names", {{"arm.port", "rig/Arm_L"}, {"head", "rig/Kopf"}}}}},
               {"s2", "drop_bones", true, Json{{"bones", {"rig/End1", "rig/End2"}}, {"to", "parent"}}},
               {"s3", "turn_bone", true, Json{{"bone", "rig/Kopf"}, {"up_deg", 4.0}}}};
  return {name, "kelpwick", doc.steps, boneKeys(source)};
}

const std::vector<std::string> kBones = {"Arm_L", "Arm_R", "Kopf",   "End1",
                                         "End2",  "Bauch", "Bein_L", "Bein_R"};

TEST(Families, AreKnownByTheNamesOfTheirBones) {
  const scene::Model first = body("rig", kBones);
  const std::vector<Habit> habits = {habitOf(first)};
  // Another root, one bone fewer, one more.
  std::vector<std::string> other = kBones;
  other[4] = "Schwanz";
  const auto fit = familyOf(body("figur", other), habits, "kelpwick");
  // 7 bones of both, of 7 + rig + End2 and figur + Schwanz: 7 of 11 is too little.
  EXPECT_FALSE(fit);
  const auto close = familyOf(body("rig", other), habits, "kelpwick");
  ASSERT_TRUE(close);
  EXPECT_NEAR(close->alike, 8.0 / 10, 1e-9);
  EXPECT_THAT(close->missing, testing::ElementsAre("End2"));
  EXPECT_THAT(close->extra, testing::ElementsAre("Schwanz"));
  EXPECT_FALSE(familyOf(body("rig", other), habits, "ninefold")) << "made for another game";
  EXPECT_FALSE(familyOf(body("rig", {"a", "b"}), habits, "kelpwick"));
  EXPECT_FALSE(familyOf(test::standingModel(), habits, "kelpwick")) << "no bones, no family";
  // Of two, the one that is more alike.
  const std::vector<Habit> two = {habitOf(first, "One"), habitOf(body("rig", other), "Other")};
  EXPECT_EQ(familyOf(body("rig", other), two, "kelpwick")->habit, 1u);
}

TEST(Families, StepsSpeakOfTheNextModelsBones) {
  const Habit habit = habitOf(body("rig", kBones));
  std::vector<std::string> fewer = kBones;
  fewer.erase(fewer.begin() + 4);
  // The bones hang on a node more, so that all keys are others.
  scene::Model next = body("rig", fewer);
  scene::Node above;
  above.name = "Export";
  above.children = {scene::NodeIndex(0)};
  next.roots.erase(next.roots.begin());
  next.node(scene::NodeIndex(0)).parent = scene::NodeIndex(next.nodes.size());
  next.roots.emplace_back(next.nodes.size());
  next.nodes.push_back(above);
  scene::assignKeys(next);
  const auto steps = stepsFor(habit, next);
  ASSERT_EQ(steps.size(), 3u);
  EXPECT_EQ(steps[0].values["names"]["arm.port"], "Export/rig/Arm_L");
  EXPECT_EQ(steps[1].values["bones"], Json({"Export/rig/End1"})) << "what it lacks is left out";
  EXPECT_EQ(steps[1].values["to"], "parent");
  EXPECT_EQ(steps[2].values["bone"], "Export/rig/Kopf");
  EXPECT_EQ(steps[2].values["up_deg"], 4.0);
}

TEST(Families, AreKeptWithTheirHabit) {
  test::TestFolder own;
  const Habit habit = habitOf(body("rig", kBones));
  ASSERT_TRUE(saveHabit(own.path(), habit));
  const auto read = loadHabits(own.path());
  ASSERT_EQ(read.size(), 1u);
  EXPECT_EQ(read[0].bones, habit.bones);
  EXPECT_TRUE(familyOf(body("rig", kBones), read, "kelpwick"));
  Habit plain = habit;
  plain.name = "Plain";
  plain.bones.clear();
  ASSERT_TRUE(saveHabit(own.path(), plain));
  for (const Habit& one : loadHabits(own.path())) EXPECT_EQ(one.bones.empty(), one.name == "Plain");
}

}  // namespace
}  // namespace rakugo::prepare
