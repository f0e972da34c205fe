// Values that deliveries are filled from, held against the documents of the demo's mods, in the game's space.
#include "packing/delivery/object_values.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "packing/delivery/filled_json.h"
#include "prepare/objects/piece_edits.h"
#include "support/examined.h"

namespace rakugo::packing {
namespace {

using base::Json;

const std::filesystem::path kMods = std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods";

TEST(ObjectValues, SayWhatTheDocumentsSay) {
  const auto x = test::examined(kMods / "tidewater");
  const Json mod = modValues(*x, "desktop");
  EXPECT_EQ(mod["mod"]["title"], "Tidewater");
  EXPECT_EQ(mod["game"]["target"], "desktop");
  EXPECT_EQ(mod["objects"][0]["id"], "dinghy");
  EXPECT_EQ(mod["objects"][1]["number"], 2);
  const Json dinghy = objectValues(*x, "dinghy");
  EXPECT_EQ(dinghy["object"]["kind"], "craft");
  EXPECT_EQ(dinghy["card"]["mass"], 140);
  EXPECT_TRUE(dinghy["card"]["quip"].is_null()) << "a field that is empty is there";
  EXPECT_EQ(dinghy["points"]["helm"][0]["position"], Json::parse("[-1.25, 0, 1.15]"));
  EXPECT_EQ(dinghy["points"]["helm"][0]["side"], "middle");
  EXPECT_EQ(dinghy["points"]["funnel"], Json::array()) << "a point that is not placed is an empty list";
  EXPECT_EQ(dinghy["pieces"][0]["sort"], "model");
  EXPECT_EQ(dinghy["models"][0]["parts"][0]["name"], "hull");
  EXPECT_EQ(dinghy["models"][0]["materials"][0]["role"], "hull-paint");
  EXPECT_NEAR(dinghy["models"][0]["size"][0].get<double>(), 3.6, 1e-3);
  EXPECT_EQ(dinghy["lists"]["broker"], Json::array());
  EXPECT_EQ(objectValues(*x, "whale"), Json::object());
}

TEST(ObjectValues, PlaceWhatThePiecesCarryAndSay) {
  const auto x = test::examined(kMods / "tidewater", [](mod::ModState& state) {
    mod::ObjectDoc& dinghy = state.objects["dinghy"];
    // Turned to its left and moved: what is on the model goes along.
    ASSERT_TRUE(
        prepare::placePiece(dinghy, "dinghy", {{1, 2, 0}, {0, 0, 0.70710678, 0.70710678}}, {0, 1, 0}));
    mod::PieceDoc lamp;
    lamp.name = "port";
    lamp.sort = "lamp";
    lamp.as = "side-light";
    lamp.parent = "dinghy";
    lamp.position_m = {1, 0.5, 0.25};
    lamp.values = Json{{"reach_m", 7.5}};
    dinghy.pieces.push_back(lamp);
  });
  const Json dinghy = objectValues(*x, "dinghy");
  EXPECT_EQ(dinghy["points"]["mooring-bow"][0]["position"], Json::parse("[1, 3.6, 0.62]"));
  EXPECT_EQ(dinghy["points"]["mooring-bow"][0]["side"], "left");
  EXPECT_EQ(dinghy["points"]["mooring-bow"][0]["forward"], Json::parse("[0, 1, 0]"));
  const Json& port = dinghy["pieces"][1];
  EXPECT_EQ(port["as"], "side-light");
  EXPECT_EQ(port["on"], "dinghy");
  EXPECT_EQ(port["position"], Json::parse("[0.5, 3, 0.25]"));
  EXPECT_EQ(port["values"]["reach_m"], 7.5);
  EXPECT_EQ(port["values"]["lit"], "under-way") << "what it does not say is the usual";
  const auto filled = filledJson(
      Json::parse(R"({"title": "{object.title}", "lamps": {"each": "pieces", "where": "sort", "is": "lamp",
                      "write": {"at": "{position}", "reach": "{values.reach_m}", "of": "{mod.id}"}}})"),
      [&]() -> const Scope& {
        static const Json kMod = modValues(*x, "");
        static const Json kDinghy = dinghy;
        static const Scope kOuter(kMod);
        static const Scope kInner(kDinghy, &kOuter);
        return kInner;
      }());
  ASSERT_TRUE(filled) << filled.error().text();
  EXPECT_EQ(*filled, Json::parse(R"({"title": "Tide dinghy", "lamps": [{"at": [0.5, 3, 0.25], "reach": 7.5,
                                     "of": "tidewater-5j9wke"}]})"));
}

TEST(ObjectValues, AreInTheUnitsAndHandednessOfTheGame) {
  const auto x = test::examined(kMods / "tidewater");
  rulebook::Rulebook book = *x->book;
  book.unit_m = 0.01;
  book.right_handed = false;
  const auto other =
      test::examined(kMods / "tidewater", nullptr, std::make_shared<const rulebook::Rulebook>(book));
  const Json right = objectValues(*x, "dinghy"), left = objectValues(*other, "dinghy");
  for (const char* point : {"helm", "mooring-bow", "water-line"})
    for (size_t i = 0; i < 3; ++i)
      EXPECT_NEAR(left["points"][point][0]["position"][i].get<double>(),
                  right["points"][point][0]["position"][i].get<double>() * (i == 1 ? -100 : 100), 1e-4);
  EXPECT_NEAR(left["models"][0]["size"][1].get<double>(), right["models"][0]["size"][1].get<double>() * 100,
              1e-3);
}

}  // namespace
}  // namespace rakugo::packing
