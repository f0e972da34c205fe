#include "mod/changes.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "support/random_edits.h"
#include "support/test_folder.h"

namespace rakugo::mod {
namespace {

class ChangesTest : public testing::Test {
 protected:
  void SetUp() override { ASSERT_TRUE(saveMod(mod_, state_, state_, &footprint_)); }
  void write(const std::string& path, std::string_view text) {
    ASSERT_TRUE(base::makeFolder((mod_ / path).parent_path()));
    ASSERT_TRUE(base::writeFileAtomic(mod_ / path, text));
  }
  std::string text(const std::string& path) {
    return std::string(base::asText(*base::readFile(mod_ / path)));
  }
  test::TestFolder own_;
  const std::filesystem::path mod_ = own_.path() / "mod";
  ModState state_ = test::seededMod();
  Footprint footprint_;
};

TEST_F(ChangesTest, NothingDiffersAfterASave) {
  EXPECT_THAT(diskChanges(mod_, footprint_), testing::IsEmpty());
}

TEST_F(ChangesTest, AddedChangedRemovedAndDamagedAreTold) {
  ModState theirs = state_;
  theirs.models["lamp"].steps.push_back({"s1", "scale", true, base::Json{{"factor", 2}}});
  write("models/lamp.model.json", base::jsonText(toJson(theirs.models["lamp"])));
  write("models/new.model.json", base::jsonText(toJson(theirs.models["lamp"])));
  write("objects/lamp.object.json", "{ no json");
  std::filesystem::remove(mod_ / "objects/post.object.json");
  write("notes.txt", "no document");
  const auto changes = diskChanges(mod_, footprint_);
  ASSERT_EQ(changes.size(), 4U);
  EXPECT_EQ(changes[0].path, "models/lamp.model.json");
  EXPECT_EQ(changes[0].sort, DiskChange::Sort::changed);
  EXPECT_EQ(changes[1].sort, DiskChange::Sort::added);
  EXPECT_TRUE(changes[2].unreadable);
  EXPECT_EQ(changes[2].error.code, "json.syntax");
  EXPECT_EQ(changes[3].sort, DiskChange::Sort::removed);

  ModState taken = state_;
  EXPECT_EQ(takeChanges(taken, changes).error().place.file, "objects/lamp.object.json");
  EXPECT_THAT(changedPaths(taken, state_), testing::IsEmpty());
  ASSERT_TRUE(takeChanges(taken, {changes[0], changes[1], changes[3]}));
  EXPECT_EQ(taken.models.at("lamp").steps.size(), 1U);
  EXPECT_EQ(taken.models.count("new"), 1U);
  EXPECT_EQ(taken.objects.count("post"), 0U);

  const auto told = differences(state_, taken, {"models/lamp.model.json"});
  ASSERT_EQ(told.size(), 1U);
  EXPECT_EQ(told[0].pointer, "/steps/0");
  EXPECT_EQ(told[0].ours, "");
  EXPECT_THAT(told[0].text("on disk"), testing::HasSubstr("on disk {"));
}

TEST_F(ChangesTest, ASaveNeverWritesOverAnothersChange) {
  ModState theirs = state_, ours = state_;
  theirs.models["lamp"].source = "theirs";
  ours.models["lamp"].source = "ours";
  ours.card.title = "Ours";
  const std::string their_text = base::jsonText(toJson(theirs.models["lamp"])), card = text("mod.json");
  write("models/lamp.model.json", their_text);
  const auto refused = saveMod(mod_, ours, state_, &footprint_);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, "mod.changed_on_disk");
  EXPECT_EQ(refused.error().place.file, "models/lamp.model.json");
  EXPECT_EQ(text("models/lamp.model.json"), their_text);
  EXPECT_EQ(text("mod.json"), card) << "a refused save writes nothing at all";

  acknowledge(footprint_, diskChanges(mod_, footprint_));  // the person chose: ours
  ASSERT_TRUE(saveMod(mod_, ours, state_, &footprint_));
  EXPECT_EQ(loadMod(mod_)->models.at("lamp").source, "ours");
}

TEST_F(ChangesTest, AFileThatAppearedOrWentAwayIsAChangeToo) {
  ModState ours = state_;
  ours.models["new"].source = "other";
  write("models/new.model.json", base::jsonText(toJson(state_.models["lamp"])));
  EXPECT_EQ(saveMod(mod_, ours, state_, &footprint_).error().code, "mod.changed_on_disk");
  std::filesystem::remove(mod_ / "models/new.model.json");
  std::filesystem::remove(mod_ / "mod.json");
  ours.card.title = "Ours";
  EXPECT_EQ(saveMod(mod_, ours, state_, &footprint_).error().place.file, "mod.json");
}

TEST_F(ChangesTest, AFileThatWasOnlyLaidOutAnewIsReadThroughToItsValues) {
  write("mod.json", base::jsonLine(toJson(state_.card)));
  const auto changes = diskChanges(mod_, footprint_);
  ASSERT_EQ(changes.size(), 1U);
  ModState taken = state_;
  ASSERT_TRUE(takeChanges(taken, changes));
  EXPECT_THAT(differences(state_, taken, {"mod.json"}), testing::IsEmpty());
}

TEST(Differences, AreBoundedAndNamePlaces) {
  ModState a = test::seededMod(), b = a;
  for (int i = 0; i < 500; ++i) b.objects["lamp"].card["f" + std::to_string(i)] = i;
  EXPECT_EQ(differences(a, b, {"objects/lamp.object.json"}, 20).size(), 20U);
  b = a;
  b.icons["icons/lamp.png"] = std::make_shared<const base::Bytes>(base::Bytes(3));
  const auto told = differences(a, b, {"icons/lamp.png"});
  ASSERT_EQ(told.size(), 1U);
  EXPECT_EQ(told[0].text("saved"), "icons/lamp.png: 20 bytes, saved 3 bytes");
}

}  // namespace
}  // namespace rakugo::mod
