#include "mod/things.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "mod/icon_subject.h"
#include "mod/store.h"
#include "support/test_folder.h"

namespace rakugo::mod {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

const NamingValues kNaming = {[](const std::string&, const std::string& field) { return field == "text_id"; },
                              [](const std::string&, const std::string& key) { return key == "model"; }};

class ThingsTest : public testing::Test {
 protected:
  ThingsTest() {
    state_.card.id = "m-abc234", state_.card.title = "M", state_.card.rulebook = "kelpwick";
    for (const char* name : {"coat", "boots"}) {
      state_.sources[name].file = std::string(name) + ".glb";
      state_.models[name].source = name;
      ObjectDoc& object = state_.objects[name];
      object.kind = "coat";
      object.pieces.push_back({name, name, {0, 0, 0}, {0, 0, 0, 1}});
      object.icon = std::string("icons/") + name + ".png";
      object.card = base::Json{{"text_id", std::string("text/") + name},
                               {"blurb", name},
                               {"sound", std::string("sounds/") + name + ".wav"}};
      state_.icons[object.icon] = std::make_shared<const base::Bytes>(base::Bytes(3));
    }
    state_.models["boots"].variants["broad"] = "coat";
    state_.models["boots"].steps.push_back({"s1", "copy_weights", true, base::Json{{"model", "coat"}}});
    state_.objects["boots"].pieces.push_back({"lining", "coat", {0, 0, 0}, {0, 0, 0, 1}});
    state_.card.set_aside = {{"mesh.unused", "models/coat.model.json|coat||coat|||||", "meant"},
                             {"card.empty", "objects/coat.object.json||coat||||price||", "later"}};
  }
  ModState state_;
};

TEST_F(ThingsTest, AModelIsRenamedInStepsPiecesAndWhatIsSetAside) {
  ASSERT_TRUE(renameThing(state_, Thing::model, "coat", "cloak", kNaming));
  EXPECT_THAT(namesOf(state_, Thing::model), ElementsAre("boots", "cloak"));
  EXPECT_EQ(state_.models.at("boots").steps[0].values["model"], "cloak");
  EXPECT_EQ(state_.models.at("boots").variants.at("broad"), "coat") << "that is a source";
  EXPECT_EQ(state_.objects.at("coat").pieces[0].model, "cloak");
  EXPECT_EQ(state_.objects.at("coat").pieces[0].name, "cloak");
  EXPECT_EQ(state_.objects.at("boots").pieces[1].name, "lining");
  EXPECT_EQ(state_.objects.at("boots").pieces[1].model, "cloak");
  EXPECT_EQ(state_.card.set_aside[0].place, "models/cloak.model.json|cloak||coat|||||");
  EXPECT_EQ(state_.card.set_aside[1].place, "objects/coat.object.json||coat||||price||");
}

TEST_F(ThingsTest, ASourceIsRenamedInModelsAndTheirSizes) {
  ASSERT_TRUE(renameThing(state_, Thing::source, "coat", "felt", kNaming));
  EXPECT_EQ(state_.models.at("coat").source, "felt");
  EXPECT_EQ(state_.models.at("boots").variants.at("broad"), "felt");
  EXPECT_EQ(state_.models.at("boots").steps[0].values["model"], "coat");
  EXPECT_EQ(state_.card.set_aside[0].place, "models/coat.model.json|coat||felt|||||");
}

TEST_F(ThingsTest, AnObjectIsRenamedWithItsIconAndTextsAndNotItsSounds) {
  ASSERT_TRUE(renameThing(state_, Thing::object, "coat", "oilskin", kNaming));
  const ObjectDoc& object = state_.objects.at("oilskin");
  EXPECT_EQ(object.icon, "icons/oilskin.png");
  EXPECT_EQ(state_.icons.count("icons/oilskin.png"), 1U);
  EXPECT_EQ(state_.icons.count("icons/coat.png"), 0U);
  EXPECT_EQ(object.card["text_id"], "text/oilskin");
  EXPECT_EQ(object.card["blurb"], "coat");
  EXPECT_EQ(object.card["sound"], "sounds/coat.wav") << "that file stays where it is";
  EXPECT_EQ(object.pieces[0].model, "coat");
  EXPECT_EQ(state_.card.set_aside[1].place, "objects/oilskin.object.json||oilskin||||price||");
}

TEST_F(ThingsTest, RenamingThereAndBackChangesNothing) {
  for (const Thing thing : {Thing::source, Thing::model, Thing::object}) {
    ModState state = state_;
    ASSERT_TRUE(renameThing(state, thing, "coat", "new-name", kNaming));
    EXPECT_NE(documentTexts(state), documentTexts(state_));
    ASSERT_TRUE(renameThing(state, thing, "new-name", "coat", kNaming));
    EXPECT_EQ(documentTexts(state), documentTexts(state_)) << thingName(thing);
  }
}

TEST_F(ThingsTest, NamesThatCannotBeAreRefusedAndNothingIsChanged) {
  const auto before = documentTexts(state_);
  const auto code = [&](const std::string& from, const std::string& to) {
    return renameThing(state_, Thing::model, from, to, kNaming).error().code;
  };
  EXPECT_EQ(code("coat", "boots"), "mod.taken");
  EXPECT_EQ(code("coat", "Big Coat"), "mod.name");
  EXPECT_EQ(code("coat", "../up"), "mod.name");
  EXPECT_EQ(code("coat", ""), "mod.name");
  EXPECT_EQ(code("hat", "cap"), "mod.no_model");
  EXPECT_TRUE(renameThing(state_, Thing::model, "coat", "coat", kNaming));
  EXPECT_EQ(documentTexts(state_), before);
}

TEST_F(ThingsTest, ACopyOfAnObjectHasAnIconOfItsOwn) {
  ASSERT_TRUE(copyThing(state_, Thing::object, "coat", "cape"));
  EXPECT_EQ(state_.objects.at("cape").icon, "icons/cape.png");
  EXPECT_EQ(state_.icons.size(), 3U);
  ASSERT_TRUE(copyThing(state_, Thing::model, "boots", "shoes"));
  EXPECT_EQ(state_.models.at("shoes"), state_.models.at("boots"));
  EXPECT_EQ(copyThing(state_, Thing::model, "boots", "coat").error().code, "mod.taken");
}

TEST_F(ThingsTest, WhatIsUsedStaysUnlessItsReferencesGoToo) {
  const base::Status refused = removeThing(state_, Thing::model, "coat", false, kNaming);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, "mod.in_use");
  EXPECT_THAT(refused.error().message, HasSubstr("model boots, step 1, object boots, piece lining"));
  for (PieceDoc& piece : state_.objects.at("boots").pieces)
    piece.pair = piece.model == "coat" ? "boots" : "lining";
  ASSERT_TRUE(removeThing(state_, Thing::model, "coat", true, kNaming));
  EXPECT_TRUE(state_.models.at("boots").steps.empty());
  ASSERT_EQ(state_.objects.at("boots").pieces.size(), 1U);
  EXPECT_TRUE(state_.objects.at("boots").pieces[0].pair.empty()) << "its mirror image is gone";
  EXPECT_TRUE(usesOf(state_, Thing::model, "coat", kNaming).empty());
  EXPECT_TRUE(removeThing(state_, Thing::source, "coat", true, kNaming))
      << "only a size was made of it by now";
  EXPECT_TRUE(state_.models.at("boots").variants.empty());
  EXPECT_EQ(removeThing(state_, Thing::source, "boots", true, kNaming).error().code, "mod.in_use");
  ASSERT_TRUE(removeThing(state_, Thing::object, "coat", false, kNaming));
  EXPECT_EQ(state_.icons.count("icons/coat.png"), 0U);
  EXPECT_EQ(state_.icons.count("icons/boots.png"), 1U);
}

TEST_F(ThingsTest, NewOnesNameWhatIsThere) {
  ASSERT_TRUE(newModel(state_, "hat", "coat"));
  EXPECT_EQ(newModel(state_, "cap", "felt").error().code, "mod.no_source");
  ASSERT_TRUE(newObject(state_, "set", "coat", {"hat", "boots"}));
  EXPECT_EQ(state_.objects.at("set").pieces[1].model, "boots");
  EXPECT_EQ(newObject(state_, "other", "coat", {"none"}).error().code, "mod.no_model");
  EXPECT_EQ(newObject(state_, "set", "coat", {}).error().code, "mod.taken");
}

TEST_F(ThingsTest, WhatWasRenamedIsSavedAndReadAgain) {
  const test::TestFolder own;
  ASSERT_TRUE(saveMod(own.path() / "m", state_, state_));
  const ModState before = state_;
  ASSERT_TRUE(renameThing(state_, Thing::model, "coat", "cloak", kNaming));
  ASSERT_TRUE(renameThing(state_, Thing::object, "boots", "shoes", kNaming));
  ASSERT_TRUE(saveMod(own.path() / "m", state_, before));
  const auto loaded = loadMod(own.path() / "m");
  ASSERT_TRUE(loaded) << loaded.error().text();
  EXPECT_EQ(documentTexts(*loaded), documentTexts(state_));
}

// Values that name things: in the card, in a list's rows, in an entry of the game's lists, at a piece.
void nameThings(ModState& state) {
  ObjectDoc& boots = state.objects["boots"];
  boots.card["goes_with"] = "objects/coat";
  boots.card["hail"] = "sources/coat";
  boots.card["parts"] =
      base::Json::parse(R"([{"what": "objects/coat", "n": 2}, {"what": "good/rope", "n": 1}])");
  boots.lists.push_back({"workbench", base::Json{{"needs", {"objects/coat", "objects/boots"}}}});
  PieceDoc creak;
  creak.name = "creak";
  creak.sort = "sound";
  creak.values = base::Json{{"sounds", {"sources/coat"}}};
  boots.pieces.push_back(std::move(creak));
}

TEST_F(ThingsTest, ValuesThatNameAThingFollowItsName) {
  nameThings(state_);
  ASSERT_TRUE(renameThing(state_, Thing::object, "coat", "cloak", kNaming));
  const ObjectDoc& boots = std::as_const(state_.objects).at("boots");
  EXPECT_EQ(boots.card["goes_with"], "objects/cloak");
  EXPECT_EQ(boots.card["hail"], "sources/coat") << "the source keeps its name";
  EXPECT_EQ(boots.card["parts"][0]["what"], "objects/cloak");
  EXPECT_EQ(boots.card["parts"][1]["what"], "good/rope");
  EXPECT_EQ(boots.lists[0].values["needs"], base::Json({"objects/cloak", "objects/boots"}));
  ASSERT_TRUE(renameThing(state_, Thing::source, "coat", "felt", kNaming));
  EXPECT_EQ(std::as_const(state_.objects).at("boots").pieces.back().values["sounds"][0], "sources/felt");
  EXPECT_EQ(std::as_const(state_.objects).at("boots").card["hail"], "sources/felt");
}

TEST_F(ThingsTest, NamesThatAreExchangedAreEachReplacedOnce) {
  nameThings(state_);
  NewNames names;
  names.objects = names.words = {{"coat", "boots"}, {"boots", "coat"}};
  const ModState next = Renaming(state_, names, kNaming).state();
  EXPECT_EQ(next.objects.at("coat").card["goes_with"], "objects/boots");
  EXPECT_EQ(next.objects.at("coat").lists[0].values["needs"], base::Json({"objects/boots", "objects/coat"}));
}

TEST_F(ThingsTest, AThingThatValuesNameIsInUseAndGoesWithItsRows) {
  nameThings(state_);
  std::vector<std::string> places;
  for (const UseOf& use : usesOf(state_, Thing::object, "coat", kNaming)) places.push_back(use.where);
  EXPECT_THAT(places,
              testing::UnorderedElementsAre("object boots, card, goes_with", "object boots, card, parts",
                                            "object boots, list workbench, needs"));
  EXPECT_EQ(removeThing(state_, Thing::object, "coat", false, kNaming).error().code, "mod.in_use");
  ASSERT_TRUE(removeThing(state_, Thing::object, "coat", true, kNaming));
  const ObjectDoc& boots = std::as_const(state_.objects).at("boots");
  EXPECT_FALSE(boots.card.contains("goes_with"));
  EXPECT_EQ(boots.card["parts"].size(), 1U);
  EXPECT_EQ(boots.lists[0].values["needs"], base::Json({"objects/boots"}));
  EXPECT_EQ(boots.card["hail"], "sources/coat");
}

TEST_F(ThingsTest, EntriesInListsAreSavedWithKeysThatNobodyKnows) {
  nameThings(state_);
  state_.objects["boots"].lists[0].more["since"] = 3;
  const auto content = documentContent(state_, "objects/boots.object.json");
  ASSERT_TRUE(content);
  ModState other = state_;
  other.objects["boots"].lists.clear();
  ASSERT_TRUE(putDocument(other, "objects/boots.object.json", &*content));
  EXPECT_EQ(std::as_const(other.objects).at("boots").lists, std::as_const(state_.objects).at("boots").lists);
  bool told = false;
  for (const UnknownKey& key : unknownKeys(state_)) told = told || key.pointer == "/lists/0/since";
  EXPECT_TRUE(told);
}

TEST_F(ThingsTest, AnIconIsOfTheSameAsLongAsTheObjectLooksTheSame) {
  const std::string was = iconSubject(state_, "boots", rulebook::Rulebook());
  EXPECT_EQ(was.size(), 16U);
  EXPECT_EQ(iconSubject(state_, "slippers", rulebook::Rulebook()), "");
  state_.objects["boots"].card["price"] = 12;
  state_.models["boots"].points.push_back({"heel", {0, 0, 0}, {0, 0, 0, 1}});
  ASSERT_TRUE(renameThing(state_, Thing::model, "boots", "clogs", kNaming));
  ASSERT_TRUE(renameThing(state_, Thing::source, "boots", "wood", kNaming));
  ASSERT_TRUE(renameThing(state_, Thing::object, "boots", "clogs", kNaming));
  EXPECT_EQ(iconSubject(state_, "clogs", rulebook::Rulebook()), was) << "names, card and points are not seen";
  const auto changed = [&](const std::function<void(ModState&)>& change) {
    ModState other = state_;
    change(other);
    return iconSubject(other, "clogs", rulebook::Rulebook()) != was;
  };
  EXPECT_TRUE(changed([](ModState& s) { s.objects["clogs"].pieces[0].position_m[0] = 1; }));
  EXPECT_TRUE(changed([](ModState& s) { s.objects["clogs"].pieces.pop_back(); }));
  EXPECT_TRUE(changed([](ModState& s) { s.models["clogs"].steps[0].enabled = false; }));
  EXPECT_TRUE(changed([](ModState& s) { s.sources["wood"].files.push_back({"wood.glb", "ab"}); }));
  state_.objects["clogs"].icon_of = was;
  const auto content = documentContent(state_, "objects/clogs.object.json");
  ModState back = state_;
  back.objects["clogs"].icon_of.clear();
  ASSERT_TRUE(putDocument(back, "objects/clogs.object.json", &*content));
  EXPECT_EQ(std::as_const(back.objects).at("clogs").icon_of, was);
}

}  // namespace
}  // namespace rakugo::mod
