#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "mod/history.h"
#include "mod/store.h"
#include "mod/take_source.h"
#include "support/test_folder.h"

namespace rakugo::mod {
namespace {

namespace fs = std::filesystem;

class ModTest : public testing::Test {
 protected:
  void write(const std::string& path, const std::string& text) {
    ASSERT_TRUE(base::makeFolder((root_ / path).parent_path()));
    ASSERT_TRUE(base::writeFileAtomic(root_ / path, text));
  }
  std::string read(const std::string& path) {
    return std::string(base::asText(*base::readFile(root_ / path)));
  }
  test::TestFolder own_;
  const fs::path root_ = own_.path();
};

const char* kCard =
    R"({"format":1,"zeta":[1,2],"id":"m","title":"M","author":"","version":"1","description":"","rulebook":{"id":"kelpwick","version":"1.2","extra":true}})";

TEST_F(ModTest, UnknownKeysAndTheirOrderSurviveASave) {
  write("mod.json", kCard);
  write(
      "models/a.model.json",
      R"({"format":1,"source":"s","steps":[{"id":"s1","kind":"from_the_future","depth":3}],"points":[],"later":{"x":1}})");
  auto state = loadMod(root_);
  ASSERT_TRUE(state) << state.error().text();
  const ModState before = *state;
  state->card.title = "N";
  ASSERT_TRUE(saveMod(root_, *state, before));
  const auto card = base::parseJson(read("mod.json"), "mod.json");
  EXPECT_EQ((*card)["title"], "N");
  EXPECT_EQ((*card)["zeta"], base::Json::array({1, 2}));
  EXPECT_EQ((*card)["rulebook"]["extra"], true);
  std::vector<std::string> keys;
  for (const auto& [key, value] : card->items()) keys.push_back(key);
  EXPECT_THAT(keys, testing::ElementsAre("format", "zeta", "id", "title", "author", "version", "description",
                                         "rulebook"));
  const auto model = base::parseJson(read("models/a.model.json"), "a");
  EXPECT_EQ((*model)["steps"][0]["values"]["depth"], 3);
  EXPECT_EQ((*model)["later"]["x"], 1);
}

TEST_F(ModTest, ANewerFormatIsRefusedAndNothingChanges) {
  const std::string newer = R"({"format":9,"id":5})";
  write("mod.json", newer);
  const auto state = loadMod(root_);
  ASSERT_FALSE(state);
  EXPECT_EQ(state.error().code, "mod.newer_format");
  EXPECT_EQ(state.error().place.path, "/format");
  EXPECT_EQ(read("mod.json"), newer);
}

TEST_F(ModTest, EveryDamagedDocumentIsNamed) {
  EXPECT_EQ(loadMod(root_).error().code, "mod.not_a_mod");
  write("mod.json", kCard);
  for (const char* path : {"models/x.model.json", "objects/x.object.json", "sources/x/source.json"}) {
    write(path, "{ \"format\": 1,");
    const auto state = loadMod(root_);
    ASSERT_FALSE(state);
    EXPECT_EQ(state.error().code, "json.syntax");
    EXPECT_EQ(state.error().place.file, path);
    fs::remove(root_ / path);
  }
  write("sources/x/source.json", R"({"format":1,"file":"../../secret.glb","files":[]})");
  EXPECT_EQ(loadMod(root_).error().code, "mod.path");
}

TEST_F(ModTest, LinksAreNotFollowed) {
  write("mod.json", kCard);
  write("secret", "root");
  fs::create_directories(root_ / "models");
  fs::create_symlink(root_ / "secret", root_ / "models/a.model.json");
  write("elsewhere/source.json", R"({"format":1,"file":"x.glb","files":[]})");
  fs::create_directories(root_ / "sources");
  fs::create_directory_symlink(root_ / "elsewhere", root_ / "sources/b");
  const auto state = loadMod(root_);
  ASSERT_TRUE(state) << state.error().text();
  EXPECT_TRUE(state->models.empty());
  EXPECT_TRUE(state->sources.empty());
}

TEST_F(ModTest, SavingTwiceWritesTheSameBytesAndOneValueALine) {
  auto state = newMod(root_ / "new", "Sea \"Wall\" ü", "kelpwick", "1.2");
  ASSERT_TRUE(state);
  EXPECT_THAT(state->card.id, testing::MatchesRegex("sea-wall-[a-z0-9]{6}"));
  const std::string first = read("new/mod.json");
  const auto again = loadMod(root_ / "new");
  ASSERT_TRUE(again);
  ASSERT_TRUE(saveMod(root_ / "new", *again, *again));
  EXPECT_EQ(read("new/mod.json"), first);
  EXPECT_THAT(first, testing::HasSubstr("\n  \"author\": \"\",\n"));
  EXPECT_EQ(newMod(root_ / "new", "x", "kelpwick", "1").error().code, "mod.exists");
}

TEST_F(ModTest, ASourceIsCopiedWithItsFilesUnderTheirOwnNames) {
  write("in/Lamp.glb", "model");
  write("in/tex/oak.png", "picture");
  auto state = newMod(root_ / "new", "M", "kelpwick", "1.2");
  const ModState before = *state;
  const auto name = takeSource(root_ / "new", *state, root_ / "in/Lamp.glb",
                               {"tex/OAK.PNG", "tex/none.png", "../outside.png"});
  ASSERT_TRUE(name) << name.error().text();
  EXPECT_EQ(*name, "lamp");
  EXPECT_THAT(modFiles(root_ / "new"),
              testing::IsSupersetOf({"sources/lamp/Lamp.glb", "sources/lamp/tex/oak.png"}));
  EXPECT_EQ(state->sources["lamp"].files.size(), 2u);
  ASSERT_TRUE(saveMod(root_ / "new", *state, before));
  EXPECT_EQ(read("in/Lamp.glb"), "model");
  EXPECT_EQ(loadMod(root_ / "new")->sources.at("lamp").files[1].path, "tex/oak.png");
}

TEST_F(ModTest, WhatIsTakenBackIsRemovedAtTheNextSave) {
  auto state = newMod(root_ / "new", "M", "kelpwick", "1.2");
  ModState with = *state;
  with.models["a"].source = "s";
  with.icons["icons/a.png"] = std::make_shared<const base::Bytes>(base::Bytes(3));
  ASSERT_TRUE(saveMod(root_ / "new", with, *state));
  EXPECT_TRUE(fs::exists(root_ / "new/icons/a.png"));
  ASSERT_TRUE(saveMod(root_ / "new", *state, with));
  EXPECT_FALSE(fs::exists(root_ / "new/models/a.model.json"));
  EXPECT_FALSE(fs::exists(root_ / "new/icons/a.png"));
}

TEST(History, GroupsADraggedValueAndForgetsTheFuture) {
  History history(ModState{});
  for (const char* v : {"1", "2", "3"})
    history.edit(
        "Drag", [&](ModState& s) { s.card.version = v; }, "drag");
  EXPECT_EQ(history.undoLabel(), "Drag");
  EXPECT_TRUE(history.dirty());
  history.undo();
  EXPECT_EQ(history.current()->card.version, "1.0.0");
  EXPECT_FALSE(history.dirty());
  EXPECT_EQ(history.redoLabel(), "Drag");
  history.edit("Other", [](ModState& s) { s.card.title = "t"; });
  EXPECT_FALSE(history.canRedo());
  history.markSaved();
  EXPECT_FALSE(history.dirty());
}

}  // namespace
}  // namespace rakugo::mod
