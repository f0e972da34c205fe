// Skeletons of our own making, in ten habits of naming, laid onto the keeper's: what is found, and what is
// called sure.
#include "prepare/bone_match.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <map>
#include <random>
#include <set>

#include "prepare/bone_names.h"
#include "support/made_rig.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

const rulebook::Rulebook& book() {
  static const rulebook::Rulebook kBook = std::move(rulebook::findRulebook("kelpwick")).value();
  return kBook;
}
const rulebook::Skeleton& keeper() { return *book().findSkeleton("keeper"); }

// How a body is built.
struct Body {
  const char* name;
  float height = 1.7F, arms_down = 0;  // radians below level
  bool root = false, collars = false, toes = false, ends = false, fingers = false, twists = false, ik = false,
       face = false;
  int spines = 2, necks = 1;
};
const Body kBodies[] = {{"plain", 1.72F, 0.7F},
                        {"usual", 1.6F, 0, true, true, true},
                        {"full", 1.85F, 0.4F, true, true, true, true, true, false, false, true, 3},
                        {"heavy", 1.2F, 0.2F, true, true, true, true, true, true, true, true, 4, 2}};

// A bone of such a body: what it is, on which side (0 none, 1 left, 2 right), and its number where there are
// several.
struct Tag {
  std::string part;
  int side = 0, number = 0;
  bool operator<(const Tag& o) const {
    return std::tie(part, side, number) < std::tie(o.part, o.side, o.number);
  }
};
using Naming = std::function<std::string(const Tag&)>;

struct Built {
  scene::Model model;
  std::map<Tag, NodeIndex> bones;
};

class Builder {
 public:
  Builder(const Body& body, const Naming& name) : body_(body), name_(name) {}

  Built build() {
    const auto z = [&](float share) { return share * body_.height; };
    NodeIndex top;
    if (body_.root) top = add({"root"}, {}, {0, 0, 0});
    const NodeIndex hips = add({"hips"}, top, {0, 0, z(0.55F)});
    NodeIndex spine = hips;
    for (int i = 1; i < body_.spines; ++i)
      spine = add({"spine", 0, i}, spine,
                  {-0.01F, 0, z(0.55F + 0.18F * static_cast<float>(i) / static_cast<float>(body_.spines))});
    const NodeIndex chest = add({"chest"}, spine, {-0.02F, 0, z(0.73F)});
    NodeIndex neck = chest;
    for (int i = 1; i <= body_.necks; ++i)
      neck = add({"neck", 0, i}, neck, {-0.01F, 0, z(0.845F + 0.02F * static_cast<float>(i))});
    const NodeIndex head = add({"head"}, neck, {0, 0, z(0.91F)});
    if (body_.ends) add({"head_end"}, head, {0, 0, z(1)});
    if (body_.face) {
      add({"jaw"}, head, {0.05F, 0, z(0.92F)});
      for (const int side : {1, 2}) add({"eye", side}, head, {0.08F, sign(side) * 0.03F, z(0.95F)});
    }
    for (const int side : {1, 2}) {
      arm(side, chest);
      leg(side, hips);
    }
    if (body_.ik)
      for (const int side : {1, 2}) {
        add({"ik_hand", side}, top, at_["hand" + std::to_string(side)]);
        add({"ik_foot", side}, top, at_["foot" + std::to_string(side)]);
      }
    finish();
    return std::move(out_);
  }

 private:
  static float sign(int side) { return side == 1 ? 1.0F : -1.0F; }

  // A bone's number in the rig is that of its node.
  NodeIndex add(const Tag& tag, NodeIndex parent, glm::vec3 at) {
    const NodeIndex index(rig_.size());
    rig_.push_back({name_(tag), parent.valid() ? static_cast<int>(parent.value()) : -1, at});
    at_[tag.part + std::to_string(tag.side)] = at;
    out_.bones[tag] = index;
    return index;
  }

  void arm(int side, NodeIndex chest) {
    const float h = body_.height, s = sign(side);
    const glm::vec3 shoulder(-0.01F, s * 0.11F * h, 0.82F * h);
    const glm::vec3 along(0, s * std::cos(body_.arms_down), -std::sin(body_.arms_down));
    NodeIndex up = chest;
    if (body_.collars) up = add({"collar", side}, up, {-0.01F, s * 0.025F * h, 0.825F * h});
    const NodeIndex upper = add({"upper_arm", side}, up, shoulder);
    if (body_.twists) add({"upper_twist", side}, upper, shoulder + along * (0.08F * h));
    const NodeIndex lower = add({"forearm", side}, upper, shoulder + along * (0.16F * h));
    if (body_.twists) add({"fore_twist", side}, lower, shoulder + along * (0.23F * h));
    const NodeIndex hand = add({"hand", side}, lower, shoulder + along * (0.31F * h));
    if (!body_.fingers) return;
    for (int finger = 0; finger < 5; ++finger) {
      NodeIndex on = hand;
      for (int joint = 1; joint <= 3; ++joint)
        on = add({"finger" + std::to_string(finger), side, joint}, on,
                 shoulder + along * ((0.34F + 0.015F * static_cast<float>(joint)) * h) +
                     glm::vec3(0.02F * static_cast<float>(2 - finger), 0, 0));
      if (body_.ends)
        add({"finger_end" + std::to_string(finger), side}, on, rig_[on.value()].at + along * 0.02F);
    }
  }

  void leg(int side, NodeIndex hips) {
    const float h = body_.height, s = sign(side);
    const NodeIndex thigh = add({"thigh", side}, hips, {0, s * 0.055F * h, 0.53F * h});
    if (body_.twists) add({"thigh_twist", side}, thigh, {0, s * 0.057F * h, 0.42F * h});
    const NodeIndex shin = add({"shin", side}, thigh, {0.01F, s * 0.06F * h, 0.29F * h});
    const NodeIndex foot = add({"foot", side}, shin, {-0.01F, s * 0.06F * h, 0.05F * h});
    if (!body_.toes) return;
    const NodeIndex toe = add({"toe", side}, foot, {0.07F * h, s * 0.06F * h, 0.01F * h});
    if (body_.ends) add({"toe_end", side}, toe, {0.1F * h, s * 0.06F * h, 0.01F * h});
  }

  // Something worn by all of the bones, as tall as the body.
  void finish() {
    out_.model = test::standingModel();
    test::addRig(out_.model, rig_);
    scene::Primitive p;
    p.positions = {{0, -0.2F, 0}, {0, 0.2F, 0}, {0, 0, body_.height}};
    p.indices = {0, 1, 2};
    p.joints.assign(3, glm::u16vec4(0));
    p.weights.assign(3, glm::vec4(1, 0, 0, 0));
    test::wearRig(out_.model, "skin", std::move(p));
  }

  const Body& body_;
  const Naming& name_;
  Built out_;
  std::vector<test::RigBone> rig_;
  std::map<std::string, glm::vec3> at_;
};

// A habit: words for parts, and how a side and a number are put to them.
struct Habit {
  const char* name;
  std::map<std::string, std::string> words;
  std::function<std::string(const std::string& word, int side, int number)> put;
};

std::string two(int number) { return (number < 10 ? "0" : "") + std::to_string(number); }
std::string capital(std::string word) {
  if (!word.empty()) word[0] = static_cast<char>(std::toupper(word[0]));
  return word;
}

const std::map<std::string, std::string> kEnglish = {{"root", "root"},
                                                     {"hips", "hips"},
                                                     {"spine", "spine"},
                                                     {"chest", "chest"},
                                                     {"neck", "neck"},
                                                     {"head", "head"},
                                                     {"collar", "clavicle"},
                                                     {"upper_arm", "upper_arm"},
                                                     {"forearm", "forearm"},
                                                     {"hand", "hand"},
                                                     {"thigh", "thigh"},
                                                     {"shin", "shin"},
                                                     {"foot", "foot"},
                                                     {"toe", "toe"},
                                                     {"finger0", "thumb"},
                                                     {"finger1", "index"},
                                                     {"finger2", "middle"},
                                                     {"finger3", "ring"},
                                                     {"finger4", "pinky"},
                                                     {"jaw", "jaw"},
                                                     {"eye", "eye"},
                                                     {"upper_twist", "upper_arm_twist"},
                                                     {"fore_twist", "forearm_twist"},
                                                     {"thigh_twist", "thigh_twist"},
                                                     {"ik_hand", "hand_ik"},
                                                     {"ik_foot", "foot_ik"},
                                                     {"head_end", "head_end"},
                                                     {"toe_end", "toe_end"},
                                                     {"finger_end", "finger_end"}};
std::map<std::string, std::string> with(std::map<std::string, std::string> base,
                                        std::initializer_list<std::pair<const char*, const char*>> other) {
  for (const auto& [part, word] : other) base[part] = word;
  return base;
}
const auto kWalk = with(kEnglish, {{"collar", "shoulder"},
                                   {"upper_arm", "arm"},
                                   {"forearm", "fore_arm"},
                                   {"thigh", "up_leg"},
                                   {"shin", "leg"},
                                   {"upper_twist", "arm_twist"},
                                   {"fore_twist", "fore_arm_twist"},
                                   {"thigh_twist", "up_leg_twist"}});
const auto kBony = with(kEnglish, {{"hips", "pelvis"},
                                   {"upper_arm", "upperarm"},
                                   {"forearm", "lowerarm"},
                                   {"shin", "calf"},
                                   {"toe", "ball"},
                                   {"upper_twist", "upperarm_twist"},
                                   {"fore_twist", "lowerarm_twist"}});
const auto kGerman = with(kEnglish, {{"root", "wurzel"},
                                     {"hips", "becken"},
                                     {"spine", "wirbel"},
                                     {"chest", "brust"},
                                     {"neck", "hals"},
                                     {"head", "kopf"},
                                     {"collar", "schulter"},
                                     {"upper_arm", "oberarm"},
                                     {"forearm", "unterarm"},
                                     {"hand", "hand"},
                                     {"thigh", "oberschenkel"},
                                     {"shin", "unterschenkel"},
                                     {"foot", "fuss"},
                                     {"toe", "zehen"},
                                     {"finger0", "daumen"},
                                     {"jaw", "kiefer"},
                                     {"eye", "auge"},
                                     {"upper_twist", "oberarm_twist"},
                                     {"fore_twist", "unterarm_twist"},
                                     {"thigh_twist", "oberschenkel_twist"}});
const auto kFrench = with(kEnglish, {{"root", "racine"},
                                     {"hips", "bassin"},
                                     {"spine", "colonne"},
                                     {"chest", "poitrine"},
                                     {"neck", "cou"},
                                     {"head", "tete"},
                                     {"collar", "clavicule"},
                                     {"upper_arm", "bras"},
                                     {"forearm", "avant_bras"},
                                     {"hand", "main"},
                                     {"thigh", "cuisse"},
                                     {"shin", "mollet"},
                                     {"foot", "pied"},
                                     {"toe", "orteil"},
                                     {"finger0", "pouce"},
                                     {"upper_twist", "bras_twist"},
                                     {"fore_twist", "avant_bras_twist"},
                                     {"thigh_twist", "cuisse_twist"}});

// "upper_arm" as UpperArm.
std::string camel(const std::string& word) {
  std::string out;
  bool first = true;
  for (const char c : word) {
    if (c == '_') {
      first = true;
      continue;
    }
    out += first ? static_cast<char>(std::toupper(c)) : c;
    first = false;
  }
  return out;
}

const std::vector<Habit>& habits() {
  static const std::vector<Habit> kHabits = {
      {"side word before", kWalk,
       [](const std::string& w, int side, int n) {
         return std::string(side == 1   ? "Left"
                            : side == 2 ? "Right"
                                        : "") +
                camel(w) + (n > 0 ? std::to_string(n) : "");
       }},
      {"prefix of the rig", kWalk,
       [](const std::string& w, int side, int n) {
         return "quayrig:" +
                std::string(side == 1   ? "Left"
                            : side == 2 ? "Right"
                                        : "") +
                camel(w) + (n > 0 ? std::to_string(n) : "");
       }},
      {"letter behind a dot", kEnglish,
       [](const std::string& w, int side, int n) {
         return w + (n > 0 ? "." + two(n) : "") + (side == 1 ? ".L" : side == 2 ? ".R" : "");
       }},
      {"letter before", kEnglish,
       [](const std::string& w, int side, int n) {
         return (side == 1   ? "L_"
                 : side == 2 ? "R_"
                             : "C_") +
                camel(w) + (n > 0 ? "_" + std::to_string(n) : "");
       }},
      {"small letters and numbers", kBony,
       [](const std::string& w, int side, int n) {
         return w + (n > 0 ? "_" + two(n) : "") + (side == 1 ? "_l" : side == 2 ? "_r" : "");
       }},
      {"German", kGerman,
       [](const std::string& w, int side, int n) {
         return capital(w) + (n > 0 ? std::to_string(n) : "") +
                (side == 1   ? "_links"
                 : side == 2 ? "_rechts"
                             : "");
       }},
      {"French", kFrench,
       [](const std::string& w, int side, int n) {
         return w +
                (side == 1   ? "_gauche"
                 : side == 2 ? "_droite"
                             : "") +
                (n > 0 ? "_" + std::to_string(n) : "");
       }},
      {"glued letter", with(kBony, {{"hips", "hip"}, {"spine", "abdomen"}}),
       [](const std::string& w, int side, int n) {
         return std::string(side == 1   ? "l"
                            : side == 2 ? "r"
                                        : "") +
                (side != 0 ? camel(w) : w) + (n > 0 ? std::to_string(n) : "");
       }},
      {"glued word, shouted prefix", kEnglish,
       [](const std::string& w, int side, int n) {
         std::string flat;
         for (const char c : w) flat += c == '_' ? std::string() : std::string(1, c);
         return "JNT_" + flat + (side == 1 ? "left" : side == 2 ? "right" : "") + (n > 0 ? two(n) : "");
       }},
      {"no names", {}, [](const std::string&, int, int n) { return "bone_" + two(n); }}};
  return kHabits;
}

Naming naming(const Habit& habit) {
  return [&habit, count = std::make_shared<int>(0)](const Tag& tag) {
    if (habit.words.empty()) return habit.put({}, 0, ++*count);
    std::string part = tag.part;
    std::string suffix;
    if (part.rfind("finger_end", 0) == 0) suffix = part.substr(10), part = "finger_end";
    return habit.put(habit.words.at(part) + suffix, tag.side, tag.number);
  };
}

// What is right: the slot's bone among those of the body, or none.
Tag truth(const rulebook::Bone& slot) {
  const int side = slot.side == rulebook::Side::left ? 1 : slot.side == rulebook::Side::right ? 2 : 0;
  const std::string id = slot.id.substr(0, slot.id.find('.'));
  static const std::map<std::string, std::string> kParts = {
      {"stand", "root"}, {"ballast", "hips"},  {"waist", "spine"},   {"chest", "chest"},   {"neck", "neck"},
      {"head", "head"},  {"collar", "collar"}, {"arm", "upper_arm"}, {"elbow", "forearm"}, {"hand", "hand"},
      {"leg", "thigh"},  {"knee", "shin"},     {"foot", "foot"}};
  const std::string& part = kParts.at(id);
  return {part, side, part == "spine" || part == "neck" ? 1 : 0};
}

TEST(BoneMatch, FortySkeletonsInTenHabitsAreFoundAndNothingWrongIsCalledSure) {
  size_t slots = 0, right = 0, sure = 0, skeletons = 0;
  std::vector<std::string> wrong;
  for (const Habit& habit : habits())
    for (const Body& body : kBodies) {
      const Naming name = naming(habit);
      const Built built = Builder(body, name).build();
      const BoneMatch match = matchBones(built.model, keeper(), book());
      ++skeletons;
      EXPECT_FALSE(match.sides_swapped) << habit.name << ", " << body.name;
      for (size_t s = 0; s < keeper().bones.size(); ++s) {
        const rulebook::Bone& slot = keeper().bones[s];
        const SlotMatch& found = match.slots[s];
        const auto at = built.bones.find(truth(slot));
        const NodeIndex wanted = at != built.bones.end() ? at->second : NodeIndex();
        ++slots;
        sure += found.sure ? 1 : 0;
        if (found.bone == wanted || (!found.bone.valid() && !wanted.valid())) {
          ++right;
          continue;
        }
        const std::string text = std::string(habit.name) + ", " + body.name + ": " + slot.id + " is " +
                                 (found.bone.valid() ? built.model.node(found.bone).name : "none") +
                                 ", not " + (wanted.valid() ? built.model.node(wanted).name : "none") + ". " +
                                 found.reason;
        wrong.push_back(text);
        EXPECT_FALSE(found.sure) << text;
        // A left one for a right one is the worst of all.
        for (const auto& [tag, bone] : built.bones) {
          const bool taken = found.bone == bone && slot.side != rulebook::Side::centre;
          EXPECT_FALSE(taken && tag.side == (slot.side == rulebook::Side::left ? 2 : 1)) << text;
        }
      }
    }
  EXPECT_EQ(skeletons, 40u);
  EXPECT_GE(static_cast<double>(right), 0.98 * static_cast<double>(slots)) << right << " of " << slots << "\n"
                                                                           << testing::PrintToString(wrong);
  EXPECT_GE(static_cast<double>(sure), 0.7 * static_cast<double>(slots)) << "much is sure, or it is no help";
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
