// Skeletons of our own making for tests of matching: bodies of several builds, and habits of naming their
// bones.
#pragma once

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <map>
#include <memory>
#include <string>
#include <tuple>
#include <vector>

#include "prepare/matching/bone_match.h"
#include "rulebook/rulebook.h"
#include "support/made_rig.h"

namespace rakugo::test {

using scene::NodeIndex;

// How a body is built.
struct Body {
  const char* name;
  float height = 1.7F, arms_down = 0;  // radians below level
  bool root = false, collars = false, toes = false, ends = false, fingers = false, twists = false, ik = false,
       face = false;
  int spines = 2, necks = 1;
  bool backward = false;  ///< it faces against the model's forward
};
inline const Body kBodies[] = {{"plain", 1.72F, 0.7F},
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
    places_[index.value()] = at;
    const glm::vec3 stands = body_.backward ? glm::vec3(-at.x, -at.y, at.z) : at;
    rig_.push_back({name_(tag), parent.valid() ? static_cast<int>(parent.value()) : -1, stands});
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
        add({"finger_end" + std::to_string(finger), side}, on, places_[on.value()] + along * 0.02F);
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
    out_.model = standingModel();
    addRig(out_.model, rig_);
    scene::Primitive p;
    p.positions = {{0, -0.2F, 0}, {0, 0.2F, 0}, {0, 0, body_.height}};
    p.indices = {0, 1, 2};
    p.joints.assign(3, glm::u16vec4(0));
    p.weights.assign(3, glm::vec4(1, 0, 0, 0));
    wearRig(out_.model, "skin", std::move(p));
  }

  const Body& body_;
  const Naming& name_;
  Built out_;
  std::vector<RigBone> rig_;
  std::map<std::string, glm::vec3> at_;
  std::map<uint32_t, glm::vec3> places_;  // by bone, as if it faced forward
};

// A habit: words for parts, and how a side and a number are put to them.
struct Habit {
  const char* name;
  std::map<std::string, std::string> words;
  std::function<std::string(const std::string& word, int side, int number)> put;
};

inline std::string two(int number) { return (number < 10 ? "0" : "") + std::to_string(number); }
inline std::string capital(std::string word) {
  if (!word.empty()) word[0] = static_cast<char>(std::toupper(word[0]));
  return word;
}

inline const std::map<std::string, std::string> kEnglish = {{"root", "root"},
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
inline std::map<std::string, std::string> with(
    std::map<std::string, std::string> base,
    std::initializer_list<std::pair<const char*, const char*>> other) {
  for (const auto& [part, word] : other) base[part] = word;
  return base;
}
inline const auto kWalk = with(kEnglish, {{"collar", "shoulder"},
                                          {"upper_arm", "arm"},
                                          {"forearm", "fore_arm"},
                                          {"thigh", "up_leg"},
                                          {"shin", "leg"},
                                          {"upper_twist", "arm_twist"},
                                          {"fore_twist", "fore_arm_twist"},
                                          {"thigh_twist", "up_leg_twist"}});
inline const auto kBony = with(kEnglish, {{"hips", "pelvis"},
                                          {"upper_arm", "upperarm"},
                                          {"forearm", "lowerarm"},
                                          {"shin", "calf"},
                                          {"toe", "ball"},
                                          {"upper_twist", "upperarm_twist"},
                                          {"fore_twist", "lowerarm_twist"}});
inline const auto kGerman = with(kEnglish, {{"root", "wurzel"},
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
inline const auto kFrench = with(kEnglish, {{"root", "racine"},
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
inline std::string camel(const std::string& word) {
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

inline const std::vector<Habit>& habits() {
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

inline Naming naming(const Habit& habit) {
  return [&habit, count = std::make_shared<int>(0)](const Tag& tag) {
    if (habit.words.empty()) return habit.put({}, 0, ++*count);
    std::string part = tag.part;
    std::string suffix;
    if (part.rfind("finger_end", 0) == 0) suffix = part.substr(10), part = "finger_end";
    return habit.put(habit.words.at(part) + suffix, tag.side, tag.number);
  };
}

// What is right: the slot's bone among those of the body, or none.
inline Tag truth(const rulebook::Bone& slot) {
  const int side = slot.side == rulebook::Side::left ? 1 : slot.side == rulebook::Side::right ? 2 : 0;
  const std::string id = slot.id.substr(0, slot.id.find('.'));
  static const std::map<std::string, std::string> kParts = {
      {"stand", "root"}, {"ballast", "hips"},  {"waist", "spine"},   {"chest", "chest"},   {"neck", "neck"},
      {"head", "head"},  {"collar", "collar"}, {"arm", "upper_arm"}, {"elbow", "forearm"}, {"hand", "hand"},
      {"leg", "thigh"},  {"knee", "shin"},     {"foot", "foot"}};
  const std::string& part = kParts.at(id);
  return {part, side, part == "spine" || part == "neck" ? 1 : 0};
}

// How many of the keeper's slots are matched to the right bones, over all bodies that are added.
struct SlotTally {
  explicit SlotTally(const rulebook::Rulebook& of) : book(of), skeleton(*of.findSkeleton("keeper")) {}

  const rulebook::Rulebook& book;
  const rulebook::Skeleton& skeleton;
  size_t slots = 0, right = 0, sure = 0, bodies = 0, facing = 0;
  std::vector<std::string> wrong;

  void add(const Habit& habit, const Body& body) {
    using Facing = prepare::BoneMatch::Facing;
    const Built built = Builder(body, naming(habit)).build();
    const prepare::BoneMatch match = prepare::matchBones(built.model, skeleton, book);
    const std::string where = std::string(habit.name) + ", " + body.name + ", " +
                              std::to_string(body.spines) + " spine bones" +
                              (body.backward ? ", backward: " : ": ");
    EXPECT_FALSE(match.sides_swapped) << where;
    ++bodies;
    facing += match.facing == (body.backward ? Facing::backward : Facing::forward) ? 1 : 0;
    for (size_t s = 0; s < skeleton.bones.size(); ++s)
      addSlot(built, skeleton.bones[s], match.slots[s], where);
  }

  void addSlot(const Built& built, const rulebook::Bone& slot, const prepare::SlotMatch& found,
               const std::string& where) {
    const auto at = built.bones.find(truth(slot));
    const NodeIndex wanted = at != built.bones.end() ? at->second : NodeIndex();
    ++slots;
    sure += found.sure ? 1 : 0;
    if (found.bone == wanted || (!found.bone.valid() && !wanted.valid())) {
      ++right;
      return;
    }
    const auto nameOf = [&](NodeIndex bone) {
      return bone.valid() ? built.model.node(bone).name : std::string("none");
    };
    wrong.push_back(where + slot.id + " is " + nameOf(found.bone) + ", not " + nameOf(wanted) + ". " +
                    found.reason);
    EXPECT_FALSE(found.sure) << wrong.back();
    // A left one for a right one is the worst of all.
    for (const auto& [tag, bone] : built.bones)
      EXPECT_FALSE(found.bone == bone && slot.side != rulebook::Side::centre &&
                   tag.side == (slot.side == rulebook::Side::left ? 2 : 1))
          << wrong.back();
  }
};

}  // namespace rakugo::test
