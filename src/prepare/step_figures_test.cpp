// What a step changed, in figures.
#include "prepare/step_figures.h"

#include <gtest/gtest.h>

#include "prepare/replay.h"
#include "support/made_model.h"

namespace rakugo::prepare {
namespace {

StepFigures lamp() { return {10'924, 5, 0, 4, {120, 252, 50.1F}}; }

TEST(ChangeText, SaysWhatDiffersAndNothingElse) {
  StepFigures after = lamp();
  EXPECT_EQ(changeText(lamp(), after), "");
  after.triangles = 9'000;
  after.bones = 20;
  EXPECT_EQ(changeText(lamp(), after), "10,924 → 9,000 triangles, 0 → 20 bones");
  after = lamp();
  after.parts = 4;
  after.materials = 1;
  EXPECT_EQ(changeText(lamp(), after), "5 → 4 parts, 4 → 1 material");
}

TEST(ChangeText, ATurnIsNoChangeOfSizeAndAnEvenOneIsSaidByTheLongestSide) {
  StepFigures after = lamp();
  after.size_m = {50.1F, 120, 252};
  EXPECT_EQ(changeText(lamp(), after), "");
  after.size_m = {0.501F, 1.2F, 2.52F};
  EXPECT_EQ(changeText(lamp(), after), "size 252 m → 2.52 m");
  after.size_m = {120, 300, 50.1F};
  EXPECT_EQ(changeText(lamp(), after), "size 252 m × 120 m × 50.1 m → 300 m × 120 m × 50.1 m");
}

}  // namespace
}  // namespace rakugo::prepare
