#include "mod/following.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "base/json.h"
#include "mod/history.h"
#include "mod/piece_tree.h"
#include "mod/renaming.h"
#include "mod/things.h"

namespace rakugo::mod {
namespace {

using base::Json;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

class FollowingTest : public testing::Test {
 protected:
  FollowingTest() {
    ModState state;
    state.card.id = state.card.rulebook = "kelpwick";
    state.card.title = "Slipway";
    state.card.rulebook_version = "1.0.0";
    state.sources["tug"].file = "tug.glb";
    state.models["tug"].source = "tug";
    state.models["screw"].source = "tug";
    ObjectDoc& tug = state.objects["tug"];
    tug.kind = "craft";
    tug.title = "Tug";
    tug.card = Json{{"price", 900}, {"knots", 6}};
    tug.pieces.push_back({"hull", "tug", {0, 0, 0}, {0, 0, 0, 1}});
    tug.pieces.push_back({"screw", "screw", {-3, 0.5, -0.4}, {0, 0, 0, 1}, "screw"});
    tug.lists.push_back({"broker", Json{{"berth", "slipway"}}});
    ObjectDoc strong = tug;
    strong.title = "Strong tug";
    strong.follows = {"tug", 1, {"/title"}, Json::object()};
    state.objects["strong"] = strong;
    history_ = std::make_unique<History>(std::move(state));
  }
  void edit(const std::function<void(ModState&)>& change) { history_->edit("edit", change); }
  const ModState& now() { return *history_->current(); }
  const ObjectDoc& object(const char* name) { return now().objects.at(name); }
  const std::vector<std::string>& own(const char* name) { return object(name).follows.own; }
  // As it is after a save and a reload.
  void reopen() {
    ModState next = now();
    for (const auto& [path, text] : documentTexts(now())) {
      if (path.starts_with("sources/")) continue;
      const base::Bytes bytes(reinterpret_cast<const std::byte*>(text.data()),
                              reinterpret_cast<const std::byte*>(text.data() + text.size()));
      ASSERT_TRUE(putDocument(next, path, &bytes)) << path;
    }
    for (const auto& [name, doc] : next.objects) {
      ASSERT_EQ(doc.pieces, now().objects.at(name).pieces);
      ASSERT_EQ(doc.card, now().objects.at(name).card);
      ASSERT_EQ(doc.follows, now().objects.at(name).follows);
    }
    history_ = std::make_unique<History>(std::move(next));
  }
  std::unique_ptr<History> history_;
};

TEST_F(FollowingTest, WhatChangesInTheDesignComesAlongAndWhatIsOwnStays) {
  edit([](ModState& s) { s.objects["strong"].card["price"] = 1200; });
  EXPECT_THAT(own("strong"), ElementsAre("/card/price", "/title"));
  reopen();
  edit([](ModState& s) {
    ObjectDoc& tug = s.objects["tug"];
    tug.card["price"] = 950;
    tug.card["knots"] = 7;
    tug.card["hail"] = "ahoy";
    tug.pieces[1].position_m[1] = 0.6;
    tug.lists[0].values["berth"] = "outer mole";
    tug.pieces.push_back({"oar", "screw", {0, 1, 0}, {0, 0, 0, 1}, "oar"});
  });
  const ObjectDoc& strong = object("strong");
  EXPECT_EQ(strong.title, "Strong tug");
  EXPECT_EQ(strong.card["price"], 1200);
  EXPECT_EQ(strong.card["knots"], 7);
  EXPECT_EQ(strong.card["hail"], "ahoy");
  EXPECT_EQ(strong.pieces.at(1).position_m[1], 0.6);
  EXPECT_EQ(strong.lists.at(0).values["berth"], "outer mole");
  ASSERT_EQ(strong.pieces.size(), 3U);
  EXPECT_EQ(strong.pieces[2].name, "oar");
  EXPECT_THAT(own("strong"), ElementsAre("/card/price", "/title"));
  edit(
      [](ModState& s) { removePieces(s.objects["tug"], [](const PieceDoc& p) { return p.name == "oar"; }); });
  EXPECT_EQ(object("strong").pieces.size(), 2U);
}

TEST_F(FollowingTest, WhatBecomesTheSameIsOwnNoMore) {
  edit([](ModState& s) { s.objects["strong"].card["price"] = 1200; });
  edit([](ModState& s) { s.objects["strong"].card["price"] = 900; });
  EXPECT_THAT(own("strong"), ElementsAre("/title"));
  edit([](ModState& s) { s.objects["tug"].card["price"] = 800; });
  EXPECT_EQ(object("strong").card["price"], 800);
  // Something of its own that the design has not, and something of the design that it has not.
  edit([](ModState& s) {
    s.objects["strong"].card["armour"] = 3;
    removePieces(s.objects["strong"], [](const PieceDoc& p) { return p.name == "screw"; });
    s.objects["strong"].lists.clear();
  });
  EXPECT_THAT(own("strong"), ElementsAre("/card/armour", "/lists", "/pieces/screw", "/title"));
  edit([](ModState& s) { s.objects["tug"].pieces[1].position_m[0] = -4; });
  EXPECT_EQ(object("strong").pieces.size(), 1U) << "what was taken out stays out";
  edit([](ModState& s) { ASSERT_TRUE(likeDesign(s, "strong", "/pieces/screw")); });
  ASSERT_EQ(object("strong").pieces.size(), 2U);
  EXPECT_EQ(object("strong").pieces[1].position_m[0], -4);
  EXPECT_THAT(own("strong"), ElementsAre("/card/armour", "/lists", "/title"));
  edit([](ModState& s) { ASSERT_TRUE(likeDesign(s, "strong", "")); });
  EXPECT_THAT(own("strong"), IsEmpty());
  EXPECT_EQ(object("strong").title, "Tug");
  ModState next = now();
  EXPECT_EQ(likeDesign(next, "strong", "/card/price").error().code, "mod.not_own");
}

TEST_F(FollowingTest, OfAPieceEachValueIsOwnByItself) {
  edit([](ModState& s) {
    s.models["heavy"].source = "tug";
    s.objects["strong"].pieces[0].model = "heavy";
  });
  EXPECT_THAT(own("strong"), ElementsAre("/pieces/hull/model", "/title"));
  edit([](ModState& s) { s.objects["tug"].pieces[0].position_m = {1, 2, 3}; });
  EXPECT_EQ(object("strong").pieces[0].model, "heavy");
  EXPECT_EQ(object("strong").pieces[0].position_m[2], 3);
  // Another name in the design is another name here.
  edit([](ModState& s) {
    s.objects["tug"].pieces[0].name = "body";
    s.objects["tug"].pieces[1].parent = "body";
  });
  EXPECT_EQ(object("strong").pieces[0].name, "body");
  EXPECT_EQ(object("strong").pieces[0].model, "heavy");
  EXPECT_EQ(object("strong").pieces[1].parent, "body");
  EXPECT_THAT(own("strong"), ElementsAre("/pieces/body/model", "/title"));
}

TEST_F(FollowingTest, SizesScaleWhereThingsStand) {
  edit([](ModState& s) {
    s.objects["small"] = s.objects.at("tug");
    ASSERT_TRUE(followObject(s, "small", "tug", 0.5));
    ASSERT_TRUE(likeDesign(s, "small", ""));
  });
  EXPECT_THAT(own("small"), IsEmpty());
  EXPECT_EQ(object("small").pieces[1].position_m[0], -1.5);
  EXPECT_EQ(object("small").pieces[1].scale, 0.5);
  edit([](ModState& s) {
    s.objects["tug"].pieces[1].position_m[0] = -4;
    s.objects["tug"].pieces[1].scale = 1.5;
    // What is carried goes along with what carries it.
    s.objects["tug"].pieces.push_back({"cap", "screw", {0.2, 0, 0}, {0, 0, 0, 1}});
    s.objects["tug"].pieces.back().parent = "screw";
  });
  reopen();
  EXPECT_EQ(object("small").pieces[1].position_m[0], -2);
  EXPECT_EQ(object("small").pieces[1].scale, 0.75);
  EXPECT_EQ(object("small").pieces[2].position_m[0], 0.2);
  EXPECT_EQ(object("small").pieces[2].scale, 1);
  EXPECT_THAT(own("small"), IsEmpty());
}

TEST_F(FollowingTest, FollowersOfFollowersFollowAndCirclesEnd) {
  edit([](ModState& s) {
    s.objects["stronger"] = s.objects.at("strong");
    s.objects["stronger"].follows = {};
    ASSERT_TRUE(followObject(s, "stronger", "strong", 1));
  });
  edit([](ModState& s) { s.objects["tug"].card["knots"] = 9; });
  EXPECT_EQ(object("stronger").card["knots"], 9);
  edit([](ModState& s) { s.objects["strong"].card["knots"] = 4; });
  EXPECT_EQ(object("stronger").card["knots"], 4);
  EXPECT_THAT(own("stronger"), IsEmpty());
  ModState next = now();
  EXPECT_EQ(followObject(next, "tug", "stronger", 1).error().code, "mod.follows_round");
  EXPECT_EQ(followObject(next, "tug", "tug", 1).error().code, "mod.follows_round");
  EXPECT_EQ(followObject(next, "tug", "nothing", 1).error().code, "mod.no_object");
  EXPECT_EQ(followObject(next, "stronger", "tug", 0).error().code, "mod.scale");
  // By hand in the files: nothing hangs, and nothing is taken from anywhere.
  edit([](ModState& s) { s.objects["tug"].follows = {"stronger", 1, {}, Json::object()}; });
  const Json tug = object("tug").card;
  edit([](ModState& s) { s.objects["strong"].card["knots"] = 5; });
  EXPECT_EQ(object("strong").card["knots"], 5);
  EXPECT_EQ(object("tug").card, tug);
  // A chain of very many costs no stack.
  edit([](ModState& s) {
    for (int i = 0; i < 20'000; ++i) {
      ObjectDoc& one = s.objects["n" + std::to_string(i)];
      one.kind = "craft";
      if (i > 0) one.follows.name = "n" + std::to_string(i - 1);
    }
  });
  edit([](ModState& s) { s.objects["n0"].title = "First"; });
  EXPECT_EQ(object("n19999").title, "First");
}

TEST_F(FollowingTest, WhatAnotherProgramChangedIsNeitherTakenNorLost) {
  ModState outside = now();
  outside.objects["strong"].card["price"] = 77;  // without saying that it is its own
  history_ = std::make_unique<History>(outside);
  EXPECT_THAT(differencesFromFollowed(now(), object("strong")), ElementsAre("/card/price", "/title"));
  edit([](ModState& s) {
    s.objects["tug"].card["knots"] = 8;
    s.objects["tug"].card["price"] = 901;
  });
  EXPECT_EQ(object("strong").card["knots"], 8);
  EXPECT_EQ(object("strong").card["price"], 77);
  EXPECT_THAT(own("strong"), ElementsAre("/title"));
  edit([](ModState& s) { ASSERT_TRUE(keepDifferences(s, "strong")); });
  EXPECT_THAT(own("strong"), ElementsAre("/card/price", "/title"));
}

TEST_F(FollowingTest, RenamingRemovingAndStandingAloneAreFollowedToo) {
  edit([](ModState& s) { ASSERT_TRUE(renameThing(s, Thing::object, "tug", "launch", {})); });
  EXPECT_EQ(object("strong").follows.name, "launch");
  EXPECT_THAT(own("strong"), ElementsAre("/title"));
  edit([](ModState& s) { ASSERT_TRUE(renameThing(s, Thing::model, "tug", "body", {})); });
  EXPECT_EQ(object("strong").pieces[0].model, "body");
  EXPECT_THAT(own("strong"), ElementsAre("/title"));
  ModState next = now();
  const auto refused = removeThing(next, Thing::object, "launch", false, {});
  ASSERT_FALSE(refused);
  EXPECT_THAT(refused.error().text(), HasSubstr("strong, which is a variant of it"));
  edit([](ModState& s) { ASSERT_TRUE(removeThing(s, Thing::object, "launch", true, {})); });
  EXPECT_EQ(object("strong").follows.name, "");
  EXPECT_EQ(object("strong").card["knots"], 6);
  history_->undo();
  edit([](ModState& s) { ASSERT_TRUE(standAlone(s, "strong")); });
  edit([](ModState& s) { s.objects["launch"].card["knots"] = 2; });
  EXPECT_EQ(object("strong").card["knots"], 6);
}

TEST_F(FollowingTest, PointsOfAModelFollow) {
  edit([](ModState& s) {
    s.models["tug"].points = {{"helm", {1, 0, 2}}, {"winch", {-2, 0, 1}}};
    s.models["red"] = s.models.at("tug");
    s.models["red"].follows = {"tug", 1, {}, Json::object()};
    s.models["red"].steps.push_back({"s1", "as_model", true, Json{{"model", "tug"}}});
  });
  edit([](ModState& s) {
    s.models["tug"].points[0].position_m[2] = 2.5;
    s.models["tug"].steps.push_back({"s1", "bake"});
  });
  EXPECT_EQ(now().models.at("red").points.at(0).position_m[2], 2.5);
  EXPECT_EQ(now().models.at("red").steps.at(0).kind, "as_model") << "steps are its own";
  edit([](ModState& s) { s.models["red"].points[1].position_m[0] = -2.2; });
  EXPECT_THAT(now().models.at("red").follows.own, ElementsAre("/points/winch/position_m"));
  edit([](ModState& s) { s.models["tug"].points[1].turn = {0, 0, 1, 0}; });
  EXPECT_EQ(now().models.at("red").points[1].position_m[0], -2.2);
  EXPECT_EQ(now().models.at("red").points[1].turn[2], 1);
}

TEST_F(FollowingTest, RandomEditsKeepTheInvariantAndUndoToTheByte) {
  std::mt19937 random(7);
  const auto pick = [&](size_t n) { return static_cast<size_t>(random() % n); };
  edit([](ModState& s) {
    s.objects["second"] = s.objects.at("tug");
    ASSERT_TRUE(followObject(s, "second", "strong", 2));
    ASSERT_TRUE(likeDesign(s, "second", ""));
  });
  std::vector<std::map<std::string, std::string>> states = {documentTexts(now())};
  const char* names[] = {"tug", "strong", "second"};
  for (int i = 0; i < 300; ++i) {
    edit([&](ModState& s) {
      ObjectDoc& doc = s.objects[names[pick(3)]];
      switch (pick(6)) {
        case 0:
          doc.card["price"] = static_cast<int>(pick(4));
          break;
        case 1:
          doc.card.erase("knots");
          break;
        case 2:
          doc.pieces.push_back({"p" + std::to_string(i), "screw", {double(pick(3)), 0, 0}, {0, 0, 0, 1}});
          break;
        case 3:
          if (doc.pieces.size() > 1)
            doc.pieces.erase(doc.pieces.begin() + 1 + static_cast<long>(pick(doc.pieces.size() - 1)));
          break;
        case 4:
          if (!doc.pieces.empty())
            doc.pieces[pick(doc.pieces.size())].position_m[pick(3)] = double(pick(5)) / 4;
          break;
        default:
          doc.card["knots"] = static_cast<int>(pick(3));
      }
    });
    for (const char* name : {"strong", "second"})
      ASSERT_EQ(differencesFromFollowed(now(), object(name)), own(name)) << name << " after edit " << i;
    states.push_back(documentTexts(now()));
  }
  for (size_t i = states.size() - 1; i-- > 0;) {
    history_->undo();
    ASSERT_EQ(documentTexts(now()), states[i]) << i;
  }
}

}  // namespace
}  // namespace rakugo::mod
