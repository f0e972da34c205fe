// `piece` on the command line: each test looks at what was saved.
#include <gmock/gmock.h>

#include "bundle/bundle_reader.h"
#include "bundle/records.h"
#include "mod/store.h"
#include "tool/tool_fixture.h"

namespace rakugo {
namespace {

using test::ToolTest;
using testing::HasSubstr;

class PieceToolTest : public ToolTest {
 protected:
  mod::ObjectDoc tug() { return std::as_const(mod::loadMod(root_ / "slipway")->objects).at("tug"); }
  bundle::ObjectRecord built(const std::string& mod) {
    EXPECT_EQ(run("build " + mod + " -o " + at("out.rkb")).exit, 0);
    const auto bundle = bundle::Bundle::open(root_ / "out.rkb");
    return *bundle::decodeObject(*bundle->read(*bundle->find("object/tug")), "tug");
  }
};

TEST_F(PieceToolTest, CopiesBecomePiecesThatAreBuiltWhereTheyStood) {
  const std::string m = mod("slipway");
  ASSERT_EQ(run("object remove " + m + " sea-coat").exit, 0);  // which is not ready
  EXPECT_THAT(run("piece from-copies " + m + " tug tug screw_1").err, HasSubstr("Turn the model first"));
  ASSERT_EQ(run("step add " + m + " tug turn forward=+Z up=+Y").exit, 0);
  const bundle::ObjectRecord before = built(m);
  const auto made = run("piece from-copies " + m + " tug tug screw_1 --as screw");
  ASSERT_EQ(made.exit, 0) << made.out;
  const mod::ObjectDoc now = tug();
  const auto screws = std::count_if(now.pieces.begin(), now.pieces.end(),
                                    [](const mod::PieceDoc& piece) { return piece.as == "screw"; });
  EXPECT_GE(screws, 2);
  const bundle::ObjectRecord after = built(m);
  ASSERT_EQ(after.pieces.size(), before.pieces.size()) << "as much is drawn as before";
  std::set<std::string> shared;
  for (const bundle::ObjectPiece& piece : after.pieces)
    if (piece.mesh.find("/screw/") != std::string::npos) shared.insert(piece.mesh);
  EXPECT_EQ(shared.size(), 1U) << "one mesh for all";
  for (size_t i = 0; i < 3; ++i) {
    EXPECT_NEAR(after.bounds_min[i], before.bounds_min[i], 1e-3);
    EXPECT_NEAR(after.bounds_max[i], before.bounds_max[i], 1e-3);
  }
  // The screw is held against its own rules, not against those of the hull.
  const std::string said = run("check " + m).out;
  EXPECT_THAT(said, testing::Not(HasSubstr("screw has no material with the role")));
  EXPECT_EQ(run("piece from-copies " + m + " tug tug hull").exit, 2);
}

TEST_F(PieceToolTest, PiecesArePlacedPairedNamedAndTakenOut) {
  const std::string m = mod("slipway"), tug_of = m + " tug ";
  ASSERT_EQ(run("piece add " + tug_of + "quay-block --name fender --as oar").exit, 0);
  ASSERT_EQ(run("piece set " + tug_of + "fender --at 1 0.8 0.4 --turn 0 0 30").exit, 0);
  ASSERT_EQ(run("piece mirror " + tug_of + "fender").exit, 0);
  mod::ObjectDoc now = tug();
  ASSERT_EQ(now.pieces.size(), 3U);
  EXPECT_EQ(now.pieces[1].as, "oar");
  EXPECT_EQ(now.pieces[2].position_m, (std::array<double, 3>{1, -0.8, 0.4}));
  EXPECT_EQ(now.pieces[2].pair, "fender");
  EXPECT_EQ(now.pieces[2].as, "oar");
  // The pair follows, from whichever side.
  ASSERT_EQ(run("piece set " + tug_of + "fender-2 --at -1 -0.9 0.4 --name starboard").exit, 0);
  now = tug();
  EXPECT_EQ(now.pieces[1].position_m, (std::array<double, 3>{-1, 0.9, 0.4}));
  EXPECT_EQ(now.pieces[1].pair, "starboard");
  const base::Json list = run("piece list --json " + m + " tug").json();
  EXPECT_NEAR(list[1]["turn_deg"][2].get<double>(), 30, 0.01);
  EXPECT_NEAR(list[2]["turn_deg"][2].get<double>(), -30, 0.01);
  ASSERT_EQ(run("piece pair " + tug_of + "starboard --alone").exit, 0);
  ASSERT_EQ(run("piece set " + tug_of + "starboard --like fender --mirrored").exit, 0);
  ASSERT_EQ(run("piece floor " + tug_of + "starboard").exit, 0);
  EXPECT_NEAR(tug().pieces[2].position_m[2], 0.4, 0.6) << "on the floor, wherever its origin is";
  ASSERT_EQ(run("piece copy " + tug_of + "starboard").exit, 0);
  ASSERT_EQ(run("piece spread " + tug_of + "tug starboard fender").exit, 0);
  EXPECT_NEAR(tug().pieces[2].position_m[0], -0.5, 1e-9) << "half way";
  ASSERT_EQ(run("piece remove " + tug_of + "fender").exit, 0);
  now = tug();
  EXPECT_EQ(now.pieces.size(), 3U);
  EXPECT_TRUE(now.pieces[1].pair.empty());
}

TEST_F(PieceToolTest, WhatCannotBeDoneIsSaidAndNothingIsSaved) {
  const std::string m = mod("slipway"), tug_of = m + " tug ";
  const mod::ObjectDoc before = tug();
  EXPECT_THAT(run("piece set " + tug_of + "none --at 0 0 0").err, HasSubstr("no piece"));
  EXPECT_THAT(run("piece add " + tug_of + "none").err, HasSubstr("none"));
  EXPECT_THAT(run("piece add " + tug_of + "quay-block --as sail").err, HasSubstr("not made of a \"sail\""));
  EXPECT_THAT(run("piece pair " + tug_of + "tug tug").err, HasSubstr("no pair with itself"));
  EXPECT_THAT(run("piece from-copies " + tug_of + "tug hull").err, HasSubstr("has no copies"));
  EXPECT_EQ(tug(), before);
}

}  // namespace
}  // namespace rakugo
