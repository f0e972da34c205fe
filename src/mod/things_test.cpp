#include "mod/things.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

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

}  // namespace
}  // namespace rakugo::mod
