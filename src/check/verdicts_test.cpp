#include "check/verdicts.h"

#include <gtest/gtest.h>

namespace rakugo::check {
namespace {

TEST(GridFit, WholeCellsAreWholeToAThousandthAndNoMoreThanAllowed) {
  rulebook::Grid grid;
  grid.cell_m = 0.5;
  grid.cells = {4, 2, 1};
  const auto fits = gridFit(grid, {2.0004F, 1.26F, 1.0F});
  EXPECT_TRUE(fits[0].fits) << "0.4 mm too long is not seen";
  EXPECT_EQ(fits[0].cells, 4);
  EXPECT_FALSE(fits[1].fits);
  EXPECT_EQ(fits[1].cells, 3) << "2.52 cells are nearest to three";
  EXPECT_EQ(fits[1].wanted_m, 1.0) << "and two are allowed";
  EXPECT_FALSE(fits[2].fits) << "two whole cells, and one is allowed";
  EXPECT_EQ(fits[2].wanted_m, 0.5);
  EXPECT_FALSE(gridFit(grid, {2.0006F, 1, 0.5F})[0].fits);
  EXPECT_EQ(gridFit(grid, {0, 0, 0})[0].cells, 1) << "nothing at all should be a cell";
}

TEST(MomentVerdict, EndsOfChainsFeetAndJointsCountEachByItsOwnMeasure) {
  rulebook::Skeleton skeleton;
  for (const char* id : {"hip", "knee", "foot", "head"}) {
    rulebook::Bone bone;
    bone.id = id;
    skeleton.bones.push_back(bone);
  }
  skeleton.chains = {{"leg", "Leg", {"hip", "knee", "foot"}, true}, {"neck", "Neck", {"head"}, false}};
  constexpr double kDegree = 3.14159265358979 / 180;
  prepare::MomentOff moment;
  moment.bones.resize(4);
  for (size_t i = 0; i < 4; ++i) moment.bones[i].slot = i;
  EXPECT_TRUE(verdictOf(moment, skeleton).good());
  moment.bones[1].turned_rad = 90 * kDegree;  // in the middle of a chain: no end points elsewhere
  moment.bones[1].risen_m = 0.5;              // and nothing stands on it
  moment.bones[3].risen_m = 0.5;
  moment.bones[3].turned_rad = 19 * kDegree;
  moment.bones[2].risen_m = -0.029;
  EXPECT_TRUE(verdictOf(moment, skeleton).good());
  moment.bones[2].risen_m = -0.031;
  moment.bones[2].turned_rad = 21 * kDegree;
  moment.bones[3].turned_rad = 40 * kDegree;
  moment.bones[1].bends_back = true;
  const MomentVerdict bad = verdictOf(moment, skeleton);
  EXPECT_EQ(bad.off_floor, &moment.bones[2]);
  EXPECT_EQ(bad.turned_off, &moment.bones[3]) << "the worst of them";
  ASSERT_EQ(bad.bent_back.size(), 1u);
  EXPECT_EQ(bad.bent_back[0], &moment.bones[1]);
  EXPECT_FALSE(bad.good());
}

}  // namespace
}  // namespace rakugo::check
