#include "prepare/matching/bone_names.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace rakugo::prepare {
namespace {

using rulebook::Side;

// The part a name speaks for most, or "nothing".
std::string partOf(const BoneName& name) {
  size_t best = 0;
  for (size_t p = 1; p < kBodyParts; ++p)
    if (name.parts[p] > name.parts[best]) best = p;
  return name.parts[best] > 0 ? bodyPartName(static_cast<BodyPart>(best)) : "nothing";
}

struct Example {
  const char* name;
  const char* part;
  int side;  // 0 none, 1 left, 2 right
};

class BoneNames : public testing::TestWithParam<Example> {};

TEST_P(BoneNames, SayAPartAndASide) {
  const BoneName read = readBonePhrase(GetParam().name);
  EXPECT_EQ(partOf(read), GetParam().part);
  EXPECT_EQ(read.sided, GetParam().side != 0);
  EXPECT_EQ(read.side, GetParam().side == 1 ? Side::left : GetParam().side == 2 ? Side::right : Side::centre);
  EXPECT_FALSE(read.helper);
}

INSTANTIATE_TEST_SUITE_P(
    Habits, BoneNames,
    testing::Values(Example{"LeftForeArm", "forearm", 1}, Example{"RightUpLeg", "thigh", 2},
                    Example{"upper_arm.L", "upper arm", 1}, Example{"L_Clavicle_01", "collarbone", 1},
                    Example{"lowerarm_r", "forearm", 2}, Example{"lThumb1", "finger", 1},
                    Example{"rForeArm", "forearm", 2}, Example{"JNT_handleft", "hand", 1},
                    Example{"Unterschenkel_links", "shin", 1}, Example{"avant_bras_gauche", "forearm", 1},
                    Example{"antebrazo_der", "forearm", 2}, Example{"BECKEN", "hips", 0},
                    Example{"hüfte", "hips", 0}, Example{"UPPERCHEST", "chest", 0},
                    Example{"head", "head", 0}, Example{"foot.starboard", "foot", 2},
                    Example{"hand_index_l", "finger", 1}, Example{"toe_R", "toe", 2},
                    Example{"bone_017", "nothing", 0}, Example{"", "nothing", 0},
                    Example{"Umbrella", "nothing", 0}));

TEST(ReadBoneNames, WhatAllHaveInCommonIsNoPartOfAName) {
  const std::vector<std::string> names = {"quayrig:Hips", "quayrig:Spine", "quayrig:Head",
                                          "quayrig:LeftHand"};
  const auto read = readBoneNames(names);
  for (const BoneName& name : read) EXPECT_THAT(name.words, testing::Not(testing::Contains("quayrig")));
  EXPECT_EQ(partOf(read[3]), "hand");
  // A word of the body is kept, however many begin with it.
  const std::vector<std::string> fingers = {"hand_a", "hand_b", "hand_c"};
  for (const BoneName& name : readBoneNames(fingers)) EXPECT_EQ(partOf(name), "hand");
  EXPECT_TRUE(readBoneNames({}).empty());
}

TEST(ReadBoneNames, HelpersAndEndsAreTold) {
  for (const char* name : {"forearm_twist_l", "hand_ik.R", "Pole_Target", "weapon_socket"}) {
    EXPECT_TRUE(readBonePhrase(name).helper) << name;
    EXPECT_FALSE(readBonePhrase(name).end) << name;
  }
  for (const char* name : {"head_end", "Kopf_Ende", "toe_nub"}) {
    EXPECT_TRUE(readBonePhrase(name).helper && readBonePhrase(name).end) << name;
  }
  EXPECT_FALSE(readBonePhrase("tendon").helper) << "end is a word, not a part of one";
}

TEST(ReadBoneNames, WordsForTwoPartsSpeakLessForEither) {
  const BoneName shoulder = readBonePhrase("shoulder"), clavicle = readBonePhrase("clavicle");
  const auto said = [](const BoneName& name, BodyPart part) { return name.parts[static_cast<size_t>(part)]; };
  EXPECT_GT(said(shoulder, BodyPart::collar), said(shoulder, BodyPart::upper_arm));
  EXPECT_GT(said(shoulder, BodyPart::upper_arm), 0.3F);
  EXPECT_LT(said(shoulder, BodyPart::collar), said(clavicle, BodyPart::collar));
}

}  // namespace
}  // namespace rakugo::prepare
