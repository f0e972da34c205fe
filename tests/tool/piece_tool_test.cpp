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

TEST_F(PieceToolTest, ACarriedVersionIsMadeBuiltApartAndFollows) {
  const std::string m = mod("lamplight"), lamp = m + " quay-lamp ";
  const auto record = [&] {
    EXPECT_EQ(run("build " + m + " -o " + at("out.rkb")).exit, 0);
    const auto bundle = bundle::Bundle::open(root_ / "out.rkb");
    return *bundle::decodeObject(*bundle->read(*bundle->find("object/quay-lamp")), "lamp");
  };
  const bundle::ObjectRecord before = record();
  EXPECT_THAT(run("piece derive " + lamp + "screw").err, HasSubstr("These are: carried"));
  const auto made = run("piece derive " + lamp + "carried");
  ASSERT_EQ(made.exit, 0) << made.err;
  EXPECT_THAT(made.out, HasSubstr("quay-lamp-carried"));
  EXPECT_THAT(run("piece derive " + lamp + "carried").err, HasSubstr("as it may have: 1"));
  const bundle::ObjectRecord after = record();
  EXPECT_EQ(after.bounds_max, before.bounds_max) << "it counts not for the lamp's size";
  std::vector<bundle::ObjectPiece> apart;
  for (const bundle::ObjectPiece& piece : after.pieces)
    if (piece.apart) apart.push_back(piece);
  ASSERT_FALSE(apart.empty());
  EXPECT_EQ(after.pieces.size() - apart.size(), before.pieces.size());
  for (const bundle::ObjectPiece& piece : apart) EXPECT_EQ(piece.as, "carried");
  // Wherever the piece was left in the object, what is shown by itself stands at its own origin.
  ASSERT_EQ(run("piece set " + lamp + "carried --at 3 2 1 --turn 0 0 90").exit, 0);
  const bundle::ObjectRecord moved = record();
  ASSERT_EQ(moved.pieces.size(), after.pieces.size());
  for (size_t i = 0; i < moved.pieces.size(); ++i)
    for (size_t k = 0; k < 3; ++k)
      EXPECT_NEAR(moved.pieces[i].position[k], after.pieces[i].position[k], 1e-5F);
  EXPECT_EQ(run("check " + m).exit, 0);
}

TEST_F(PieceToolTest, AThingOfTheGameOrOfABundleBecomesTheModsOwn) {
  const std::string m = mod("lamplight"), root = (root_ / "lamplight").string();
  EXPECT_THAT(run("object take " + m).out, HasSubstr("market-stall  Market stall (fitting)"));
  ASSERT_EQ(run("object take " + m + " market-stall --title Fishmonger").exit, 0);
  EXPECT_EQ(run("check " + m).exit, 0);
  ASSERT_EQ(run("set " + m + " fishmonger replaces harbour/market-stall").exit, 0);
  ASSERT_EQ(run("piece derive " + m + " fishmonger carried").exit, 0);
  ASSERT_EQ(run("build " + m + " -o " + at("out.rkb")).exit, 0);
  const auto bundle = bundle::Bundle::open(root_ / "out.rkb");
  const auto record = bundle::decodeObject(*bundle->read(*bundle->find("object/fishmonger")), "o");
  ASSERT_TRUE(record);
  EXPECT_EQ(record->replaces, "harbour/market-stall");
  EXPECT_EQ(record->name, "Fishmonger");
  // Out of the mod's own bundle, into another mod.
  const std::string other = mod("footstool");
  EXPECT_THAT(run("object take " + other).err, HasSubstr("brings nothing of the game's own"));
  ASSERT_EQ(run("new " + at("second") + " --title Second --rulebook kelpwick").exit, 0);
  const auto taken = run("object take " + at("second") + " fishmonger --from " + at("out.rkb"));
  ASSERT_EQ(taken.exit, 0) << taken.err;
  const auto second = mod::loadMod(root_ / "second");
  ASSERT_TRUE(second);
  EXPECT_EQ(second->models.size(), 2U) << "the stall and its carried version";
  EXPECT_EQ(run("object take " + at("second") + " lighthouse --from " + at("out.rkb")).exit, 2);
  EXPECT_EQ(run("object take " + at("second") + " fishmonger --from " + at("err")).exit, 2);
}

TEST_F(PieceToolTest, AVariantFollowsItsDesignFromTheCommandLine) {
  const std::string m = mod("lamplight"), root = (root_ / "lamplight").string();
  ASSERT_EQ(run("object vary " + m + " small-lamp quay-lamp --title Lampling --scale 0.5").exit, 0);
  ASSERT_EQ(run("object own-model " + m + " small-lamp quay-lamp").exit, 0);
  const auto objects = [&] { return std::move(mod::loadMod(root)->objects); };
  const auto price = [&](const char* name) { return objects().at(name).card["price"].get<int>(); };
  ASSERT_EQ(run("set " + m + " quay-lamp price 77").exit, 0);
  EXPECT_EQ(price("small-lamp"), 77);
  ASSERT_EQ(run("set " + m + " small-lamp price 33").exit, 0);
  ASSERT_EQ(run("set " + m + " quay-lamp price 78").exit, 0);
  EXPECT_EQ(price("small-lamp"), 33);
  const auto said = run("object variants " + m);
  EXPECT_THAT(said.out, HasSubstr("small-lamp follows quay-lamp, 0.5 times as large; of its own are:"));
  EXPECT_THAT(said.out, HasSubstr("(/card/price)"));
  EXPECT_THAT(said.out, HasSubstr("model (/pieces/"));
  EXPECT_EQ(run("object variants " + m + " --json").json()[0]["follows"], "quay-lamp");
  ASSERT_EQ(run("object like " + m + " small-lamp /card/price").exit, 0);
  EXPECT_EQ(price("small-lamp"), 78);
  EXPECT_EQ(run("object like " + m + " small-lamp /card/price").exit, 2);
  // A step of the design's model is seen in the variant's own one; one of its own is not seen in the design.
  ASSERT_EQ(run("step add " + m + " small-lamp stretch along=height factor=0.8").exit, 0);
  const auto built = [&](const char* object) {
    EXPECT_EQ(run("build " + m + " -o " + at("out.rkb")).exit, 0);
    const auto bundle = bundle::Bundle::open(root_ / "out.rkb");
    const auto r = bundle::decodeObject(*bundle->read(*bundle->find(std::string("object/") + object)), "o");
    return r->bounds_max[2] - r->bounds_min[2];
  };
  EXPECT_NEAR(built("small-lamp"), built("quay-lamp") * 0.4F, 0.01F);
  ASSERT_EQ(run("object alone " + m + " small-lamp").exit, 0);
  ASSERT_EQ(run("set " + m + " quay-lamp price 80").exit, 0);
  EXPECT_EQ(price("small-lamp"), 78);
  EXPECT_THAT(run("object follow " + m + " quay-lamp small-lamp").out, HasSubstr("quay-lamp follows"));
  EXPECT_THAT(run("object follow " + m + " small-lamp quay-lamp").err, HasSubstr("would follow itself"));
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

TEST_F(PieceToolTest, LampsAndSmokeAreAddedSaidGroupedAndBuilt) {
  const std::string m = mod("slipway"), tug_of = m + " tug ";
  ASSERT_EQ(run("object remove " + m + " sea-coat").exit, 0);  // which is not ready
  ASSERT_EQ(run("step add " + m + " tug turn forward=+Z up=+Y").exit, 0);
  ASSERT_EQ(run("piece lamp " + tug_of + "side-light --name port").exit, 0);
  ASSERT_EQ(run("piece set " + tug_of + "port --at 1.5 0.7 1.4 --value color=1,0,0 --value reach_m=4").exit,
            0);
  ASSERT_EQ(run("piece mirror " + tug_of + "port").exit, 0);
  ASSERT_EQ(run("piece set " + tug_of + "port-2 --name starboard --value color=0,1,0").exit, 0);
  ASSERT_EQ(run("piece emitter " + tug_of + "funnel-smoke").exit, 0);
  ASSERT_EQ(run("piece set " + tug_of + "funnel-smoke --at 0 0 3 --value rate=20").exit, 0);
  ASSERT_EQ(run("piece group " + tug_of + "port --name lights").exit, 0);
  ASSERT_EQ(run("piece set " + tug_of + "lights --scale 2").exit, 0);
  const mod::ObjectDoc now = tug();
  const auto piece = [&](const std::string& name) {
    const auto at = std::find_if(now.pieces.begin(), now.pieces.end(),
                                 [&](const mod::PieceDoc& one) { return one.name == name; });
    EXPECT_NE(at, now.pieces.end()) << name;
    return *at;
  };
  EXPECT_EQ(piece("starboard").parent, "lights") << "its pair came along";
  EXPECT_EQ(piece("starboard").values["reach_m"], 4.0) << "the pair has it too";
  EXPECT_EQ(piece("port").values["color"], base::Json::array({1.0, 0.0, 0.0}));
  // Unknown values, and values that cannot be, are said.
  EXPECT_THAT(run("piece set " + tug_of + "port --value brightness=3").err, HasSubstr("strength"));
  EXPECT_THAT(run("piece set " + tug_of + "port --value color=red").err, HasSubstr("0.9,0.4,0.2"));
  EXPECT_THAT(run("piece set " + tug_of + "tug --value rate=3").err, HasSubstr("no value"));
  EXPECT_THAT(run("piece lamp " + tug_of + "disco-ball").err, HasSubstr("side-light"));
  EXPECT_EQ(tug(), now);
  // Outside of its limits: said by a check, and built within them.
  ASSERT_EQ(run("piece set " + tug_of + "port --value reach_m=900").exit, 0);
  EXPECT_THAT(run("check " + m).out, HasSubstr("900 m"));
  const bundle::ObjectRecord r = built(m);
  ASSERT_EQ(r.lamps.size(), 2U);
  EXPECT_EQ(r.lamps[0].as, "side-light");
  EXPECT_EQ(r.lamps[0].lit, "under-way");
  EXPECT_EQ(r.lamps[0].reach, 20);
  EXPECT_NEAR(r.lamps[0].position[1], 1.4F, 1e-5F) << "twice as far from the middle";
  EXPECT_NEAR(r.lamps[1].position[1], -1.4F, 1e-5F);
  ASSERT_EQ(r.emitters.size(), 1U);
  EXPECT_EQ(r.emitters[0].rate, 20);
  EXPECT_EQ(run("verify " + at("out.rkb")).exit, 0);
}

TEST_F(PieceToolTest, ShapesAreFittedMeasuredAndBuilt) {
  const std::string m = mod("slipway"), tug_of = m + " tug ";
  ASSERT_EQ(run("object remove " + m + " sea-coat").exit, 0);  // which is not ready
  ASSERT_EQ(run("step add " + m + " tug turn forward=+Z up=+Y").exit, 0);
  ASSERT_EQ(run("piece shape " + tug_of + "hull-body --name wheelhouse-box --form box").exit, 0);
  ASSERT_EQ(run("piece shape " + tug_of + "hull-body").exit, 0);
  const mod::ObjectDoc now = tug();
  ASSERT_EQ(now.pieces.size(), 3U);
  EXPECT_EQ(now.pieces[1].parent, "tug");
  EXPECT_GT(now.pieces[1].values["length_m"].get<double>(), 15) << "as long as the tug";
  const auto fitted = run("piece fit " + tug_of + "hull-body");
  EXPECT_EQ(fitted.exit, 0);
  EXPECT_THAT(fitted.out, HasSubstr("24 corners"));
  EXPECT_THAT(run("piece fit " + tug_of + "tug").err, HasSubstr("no collision shape"));
  EXPECT_THAT(run("piece shape " + tug_of + "side-light").err, HasSubstr("piece lamp"));
  EXPECT_THAT(run("piece set " + tug_of + "hull-body --value form=blob").err, HasSubstr("one of"));
  ASSERT_EQ(run("set " + m + " tug mass 9000").exit, 0);
  const base::Json weighed = run("piece weigh --json " + m + " tug").json();
  EXPECT_EQ(weighed["from"], "shapes");
  EXPECT_EQ(weighed["mass_kg"], 9000.0);
  EXPECT_GT(weighed["afloat"]["draught_m"].get<double>(), 0.01);
  EXPECT_THAT(run("piece weigh --mass 10000000 " + m + " tug").out, HasSubstr("It sinks"));
  EXPECT_EQ(run("piece set " + tug_of + "wheelhouse-box --value bounce=0").exit, 0);
  // Of one part alone; a part that is not there is told, with those that are.
  EXPECT_THAT(run("piece shape " + tug_of + "hull-body --part keelson").err, HasSubstr("tug/wheelhouse"));
  ASSERT_EQ(run("piece shape " + tug_of + "hull-body --name deck --form hulls --part hull").exit, 0);
  EXPECT_EQ(tug().pieces.back().values["parts"], base::Json::array({"tug/hull"}));
  ASSERT_EQ(run("piece set " + tug_of + "deck --value 'parts=tug/hul'").exit, 0);
  EXPECT_THAT(run("check " + m).out,
              testing::AllOf(HasSubstr("made of the part \"tug/hul\", which is not there"),
                             HasSubstr("Make it of tug/hull")));
  ASSERT_EQ(run("mend " + m + " --check piece.shape").exit, 0);
  EXPECT_EQ(tug().pieces.back().values["parts"], base::Json::array({"tug/hull"}));
  ASSERT_EQ(run("piece remove " + tug_of + "deck").exit, 0);
  const base::Json fell = run("piece drop --json --from 2 " + m + " tug").json();
  EXPECT_TRUE(fell["rests"].get<bool>());
  EXPECT_LT(fell["bounced_m"].get<double>(), 0.02) << "its first shape does not bounce";
  EXPECT_GT(fell["time_s"].get<double>(), std::sqrt(2 * 2 / 9.81));
  EXPECT_THAT(run("piece drop " + m + " none").err, HasSubstr("tug"));
  // Where it is put elsewhere a check says that it does not hold the boat; the mend fits it anew.
  ASSERT_EQ(run("piece set " + tug_of + "wheelhouse-box --at 0 0 30").exit, 0);
  EXPECT_THAT(run("check " + m).out, HasSubstr("Fit it anew"));
  const bundle::ObjectRecord r = built(m);
  ASSERT_EQ(r.shapes.size(), 2U);
  EXPECT_EQ(r.shapes[0].form, "box");
  EXPECT_EQ(r.shapes[0].as, "hull-body");
  EXPECT_EQ(r.shapes[1].form, "hull");
  EXPECT_EQ(r.shapes[1].corners.size(), 24U);
  EXPECT_FLOAT_EQ(r.shapes[1].friction, 0.6F);
  // Several hulls are as many shapes to the game, which hold less that is none of the boat.
  EXPECT_EQ(run("piece set " + tug_of + "hull-body --value form=hulls --value hulls=5").exit, 0);
  EXPECT_EQ(run("piece remove " + tug_of + "wheelhouse-box").exit, 0);
  const bundle::ObjectRecord parts = built(m);
  ASSERT_EQ(parts.shapes.size(), 5U);
  EXPECT_EQ(parts.shapes[0].name, "hull-body-1");
  for (const bundle::ObjectShape& shape : parts.shapes) {
    EXPECT_EQ(shape.form, "hull");
    EXPECT_EQ(shape.as, "hull-body");
    EXPECT_GE(shape.corners.size(), 4U);
    EXPECT_LE(shape.corners.size(), 24U);
  }
  EXPECT_EQ(run("verify " + at("out.rkb")).exit, 0);
}

TEST_F(PieceToolTest, APartTurnsAboutItsMiddleAndTheGameIsToldWhatMoves) {
  const std::string m = mod("slipway"), tug_of = m + " tug ";
  ASSERT_EQ(run("object remove " + m + " sea-coat").exit, 0);  // which is not ready
  ASSERT_EQ(run("step add " + m + " tug turn forward=+Z up=+Y").exit, 0);
  EXPECT_THAT(run("piece moving " + tug_of + "turning-part --part sail").err, HasSubstr("tug/screw_1"));
  ASSERT_EQ(run("piece moving " + tug_of + "turning-part --on tug --part screw_1 --name port").exit, 0);
  ASSERT_EQ(run("piece moving " + tug_of + "rudder --on tug --part tug/funnel").exit, 0);
  ASSERT_EQ(run("piece lamp " + tug_of + "cabin-light --name light").exit, 0);
  const std::array<double, 3> light = tug().pieces.back().position_m;
  ASSERT_EQ(run("piece moving " + tug_of + "turning-part --name wheel --piece light").exit, 2)
      << "a lamp alone has no middle";
  ASSERT_EQ(run("piece set " + tug_of + "light --on port").exit, 0);
  const bundle::ObjectRecord r = built(m);
  ASSERT_EQ(r.motions.size(), 2U);
  const auto port = std::find_if(r.motions.begin(), r.motions.end(),
                                 [](const bundle::ObjectMotion& one) { return one.name == "port"; });
  ASSERT_NE(port, r.motions.end());
  ASSERT_EQ(port->pieces.size(), 1U);
  EXPECT_EQ(r.pieces[port->pieces[0]].name, "screw_1");
  EXPECT_EQ(port->lamps.size(), 1U);
  EXPECT_EQ(r.lamps[0].position[0], static_cast<float>(light[0])) << "it stays where it was";
  EXPECT_EQ(run("verify " + at("out.rkb")).exit, 0);
  // Put elsewhere, a check says that it would fly round, and its mend puts it back.
  const std::array<double, 3> middle = tug().pieces[1].position_m;
  ASSERT_EQ(run("piece set " + tug_of + "port --at 0 30 0").exit, 0);
  EXPECT_THAT(run("check " + m).out, HasSubstr("flies in a circle"));
  ASSERT_EQ(run("piece middle " + tug_of + "port").exit, 0);
  for (size_t i = 0; i < 3; ++i) EXPECT_NEAR(tug().pieces[1].position_m[i], middle[i], 1e-4);
  EXPECT_THAT(run("check " + m).out, testing::Not(HasSubstr("flies in a circle")));
  ASSERT_EQ(run("piece set " + tug_of + "port --value part=screw_9").exit, 0);
  EXPECT_THAT(run("check " + m).out, HasSubstr("\"screw_9\""));
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
