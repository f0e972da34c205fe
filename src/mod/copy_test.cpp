#include "mod/copy.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "support/test_folder.h"

namespace rakugo::mod {
namespace {

namespace fs = std::filesystem;

const NamingValues kTextId = {[](const std::string&, const std::string& field) { return field == "text_id"; },
                              [](const std::string&, const std::string& key) { return key == "model"; }};

class CopyTest : public testing::Test {
 protected:
  void SetUp() override {
    state_.card.id = "quay-lamp-abc234";
    state_.card.title = "Quay lamp";
    state_.card.author = "Marn";
    state_.card.rulebook = "kelpwick";
    state_.card.seen["entry"] = "quay-lamp-abc234/quay-lamp";
    SourceDoc source;
    source.file = "quay_lamp.glb";
    source.files = {{"quay_lamp.glb", ""}, {"tex/oak.png", ""}};
    state_.sources["quay-lamp"] = source;
    state_.models["quay-lamp"].source = "quay-lamp";
    state_.models["quay-lamp"].steps.push_back(
        {"s1", "drop", true, base::Json{{"parts", {"quay-lamp/camera"}}}});
    state_.models["quay-lamp"].steps.push_back({"s2", "copy_weights", true,
                                                base::Json{{"kind", ""}, {"model", "quay-lamp"}},
                                                base::Json{{"later", {{"see", "quay-lamp/s1"}}}}});
    state_.models["quay-lamp"].variants["broad"] = "quay-lamp";
    state_.models["quay-lamp"].points.push_back(
        {"light", {0, 0, 0}, {0, 0, 0, 1}, base::Json{{"of", "quay-lamp"}}});
    state_.card.set_aside = {
        {"mesh.unused", "models/quay-lamp.model.json|quay-lamp|quay-lamp|quay-lamp||iron|||", "meant"},
        {"file.unused", "sounds/quay-lamp.wav||||||||", "later"},
        {"mod.card", "mod.json||||||description||", "soon"}};
    ObjectDoc object;
    object.kind = "fitting";
    object.title = "Quay lamp";
    object.pieces.push_back({"quay-lamp", "quay-lamp", {0, 0, 0}, {0, 0, 0, 1}});
    object.card = base::Json{{"text_id", "text/quay-lamp/blurb"}, {"blurb", "quay-lamp"}};
    object.icon = "icons/quay-lamp.png";
    object.seen["sound"] = "sounds/quay-lamp.wav";
    object.pieces[0].more["twin"] = "quay-lamp";
    state_.objects["quay-lamp"] = object;
    state_.icons["icons/quay-lamp.png"] = std::make_shared<const base::Bytes>(base::Bytes(5));
    ASSERT_TRUE(saveMod(from_, state_, state_));
    for (const char* path : {"sources/quay-lamp/quay_lamp.glb", "sources/quay-lamp/tex/oak.png",
                             "sounds/quay-lamp.wav", "build/quay-lamp.rkb", "NOTES.txt"}) {
      ASSERT_TRUE(base::makeFolder((from_ / path).parent_path()));
      ASSERT_TRUE(base::writeFileAtomic(from_ / path, std::string_view(path)));
    }
  }
  test::TestFolder own_;
  const fs::path from_ = own_.path() / "from", to_ = own_.path() / "to";
  ModState state_;
};

TEST_F(CopyTest, RenamesEveryNameAndReferenceInside) {
  const CopyPlan plan = planCopy(from_, state_, "Storm light", "storm-light-xyz", kTextId);
  ASSERT_TRUE(plan.mistakes.empty());
  ASSERT_TRUE(makeCopy(from_, to_, plan));
  const auto copy = loadMod(to_);
  ASSERT_TRUE(copy) << copy.error().text();
  EXPECT_EQ(copy->card.id, "storm-light-xyz");
  EXPECT_EQ(copy->card.title, "Storm light");
  EXPECT_EQ(copy->card.author, "Marn");
  EXPECT_EQ(copy->card.seen["entry"], "storm-light-xyz/storm-light");
  EXPECT_EQ(copy->models.at("storm-light").source, "storm-light");
  // Part keys name nodes of the source's own file, which is copied as it is.
  EXPECT_EQ(copy->models.at("storm-light").steps[0].values["parts"][0], "quay-lamp/camera");
  const ObjectDoc& object = copy->objects.at("storm-light");
  EXPECT_EQ(object.title, "Storm light");
  EXPECT_EQ(object.pieces[0].model, "storm-light");
  EXPECT_EQ(object.pieces[0].name, "storm-light");
  EXPECT_EQ(object.icon, "icons/storm-light.png");
  EXPECT_EQ(object.card["text_id"], "text/storm-light/blurb");
  EXPECT_EQ(object.card["blurb"], "quay-lamp") << "what speaks to people is not ours to change";
  EXPECT_EQ(object.seen["sound"], "sounds/storm-light.wav");
  EXPECT_THAT(base::listFiles(to_),
              testing::ElementsAre("NOTES.txt", "icons/storm-light.png", "mod.json",
                                   "models/storm-light.model.json", "objects/storm-light.object.json",
                                   "sounds/storm-light.wav", "sources/storm-light/quay_lamp.glb",
                                   "sources/storm-light/source.json", "sources/storm-light/tex/oak.png"));
  // Nothing anywhere in the copy's documents still says the old id.
  for (const auto& [path, text] : documentTexts(*copy))
    EXPECT_EQ(text.find("abc234"), std::string::npos) << path;
  // And the mod it was made from is untouched.
  EXPECT_EQ(documentTexts(*loadMod(from_)), documentTexts(state_));
}

// Every text of a JSON value, with its pointer.
std::vector<std::pair<std::string, std::string>> textsIn(const base::Json& json) {
  std::vector<std::pair<std::string, std::string>> out;
  const base::Json flat = json.flatten();
  for (const auto& [pointer, value] : flat.items())
    if (value.is_string()) out.emplace_back(pointer, value.get<std::string>());
  return out;
}

TEST_F(CopyTest, NoTextAnywhereIsStillAnOldName) {
  const CopyPlan plan = planCopy(from_, state_, "Storm light", "storm-light-xyz", kTextId);
  ASSERT_TRUE(makeCopy(from_, to_, plan));
  const auto copy = loadMod(to_);
  ASSERT_TRUE(copy) << copy.error().text();
  size_t looked = 0;
  for (const auto& [path, text] : documentTexts(*copy))
    for (const auto& [pointer, value] : textsIn(*base::parseJson(text, path))) {
      ++looked;
      // Parts are named by the source's own file, which is copied as it is; the blurb speaks to people.
      if (pointer.find("/parts/") != std::string::npos || pointer == "/card/blurb") continue;
      for (const std::string old : {"quay-lamp", "quay-lamp-abc234"}) {
        const std::string padded = "/" + value + "/";
        for (const char end : {'/', '|', '.'})
          for (const char begin : {'/', '|'})
            EXPECT_EQ(padded.find(begin + old + end), std::string::npos) << path << pointer << ": " << value;
      }
    }
  EXPECT_GT(looked, 40U);
  // What was set aside is found at the same things by their new names.
  EXPECT_EQ(copy->card.set_aside[0].place,
            "models/storm-light.model.json|storm-light|storm-light|storm-light||iron|||");
  EXPECT_EQ(copy->card.set_aside[1].place, "sounds/storm-light.wav||||||||");
  EXPECT_EQ(copy->card.set_aside[2].place, state_.card.set_aside[2].place);
  EXPECT_EQ(copy->models.at("storm-light").steps[1].values["model"], "storm-light");
}

TEST_F(CopyTest, ShowsWhatItWillRename) {
  const CopyPlan plan = planCopy(from_, state_, "Storm light", "storm-light-xyz", kTextId);
  const auto find = [&](Rename::Sort sort, const std::string& from) {
    for (const Rename& r : plan.renames)
      if (r.sort == sort && r.from == from) return r.to;
    return std::string();
  };
  EXPECT_EQ(find(Rename::Sort::id, "quay-lamp-abc234"), "storm-light-xyz");
  EXPECT_EQ(find(Rename::Sort::object, "quay-lamp"), "storm-light");
  EXPECT_EQ(find(Rename::Sort::file, "sounds/quay-lamp.wav"), "sounds/storm-light.wav");
  EXPECT_FALSE(fs::exists(to_)) << "a plan makes nothing";
}

TEST_F(CopyTest, SeveralObjectsGetTheNewNameInFrontOrInPlaceOfTheOld) {
  state_.objects["bollard"] = state_.objects["quay-lamp"];
  state_.objects["small-quay-lamp-b"] = state_.objects["quay-lamp"];
  const CopyPlan plan = planCopy(from_, state_, "Storm light", "s-1", kTextId);
  EXPECT_EQ(plan.objects.at("quay-lamp"), "storm-light");
  EXPECT_EQ(plan.objects.at("small-quay-lamp-b"), "small-storm-light-b");
  EXPECT_EQ(plan.objects.at("bollard"), "storm-light-bollard");
}

TEST_F(CopyTest, ChosenNamesAreHeldAgainstTheRules) {
  state_.objects["bollard"] = state_.objects["quay-lamp"];
  const auto mistakes = [&](const std::map<std::string, std::string>& chosen) {
    return planCopy(from_, state_, "Storm light", "s-1", kTextId, chosen).mistakes;
  };
  EXPECT_TRUE(mistakes({{"bollard", "post"}}).empty());
  ASSERT_EQ(mistakes({{"bollard", "A Post"}}).size(), 1U);
  EXPECT_THAT(mistakes({{"bollard", "A Post"}})[0].cure, testing::HasSubstr("a-post"));
  EXPECT_EQ(mistakes({{"bollard", "storm-light"}})[0].place.file, "quay-lamp");
  const auto refused =
      makeCopy(from_, to_, planCopy(from_, state_, "S", "s-1", kTextId, {{"bollard", "../x"}}));
  EXPECT_EQ(refused.error().code, "mod.name");
  EXPECT_FALSE(fs::exists(to_));
}

TEST_F(CopyTest, IsThereWholeOrNotAtAll) {
  const CopyPlan plan = planCopy(from_, state_, "Storm light", "s-1", kTextId);
  fs::remove(from_ / "sounds/quay-lamp.wav");  // gone between the plan and the copy
  EXPECT_EQ(makeCopy(from_, to_, plan).error().code, "file.missing");
  EXPECT_THAT(base::listFiles(own_.path()), testing::Not(testing::Contains(testing::StartsWith("to"))));
  ASSERT_TRUE(base::makeFolder(to_ / "full"));
  EXPECT_EQ(makeCopy(from_, to_, planCopy(from_, state_, "S", "s-1", kTextId)).error().code, "mod.exists");
}

TEST(FreshModId, IsReadableAndTakenByNobody) {
  std::set<std::string> taken;
  for (int i = 0; i < 200; ++i) {
    const std::string id = freshModId("Sea \"Wall\"", taken);
    EXPECT_THAT(id, testing::StartsWith("sea-wall-"));
    EXPECT_TRUE(taken.insert(id).second);
  }
}

}  // namespace
}  // namespace rakugo::mod
