#include "mod/take_source.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <unistd.h>

#include "base/files.h"
#include "base/sha256.h"
#include "mod/licences.h"
#include "mod/origins.h"
#include "mod/store.h"

namespace rakugo::mod {
namespace {

namespace fs = std::filesystem;
using testing::ElementsAre;
using testing::IsEmpty;
using testing::UnorderedElementsAre;

base::Bytes bytesOf(std::string_view text) {
  const auto all = base::asBytes(text);
  return {all.begin(), all.end()};
}

class TakeSource : public testing::Test {
 protected:
  TakeSource() {
    root_ = fs::temp_directory_path() / ("rakugo-take-" + std::to_string(::getpid()));
    fs::remove_all(root_);
    state_ = newMod(root_, "Lamps", "kelpwick", "1.2").value();
  }
  ~TakeSource() override { fs::remove_all(root_); }
  void take(std::string_view content, const std::map<std::string, base::Bytes>& named = {}) {
    ASSERT_TRUE(takeSource(root_, state_, "lamp.obj", bytesOf(content), named));
  }
  void newer(std::string_view content, const std::map<std::string, base::Bytes>& named = {},
             const std::vector<std::string>& keep = {}) {
    const auto doc =
        takeVersion(root_, "lamp", state_.sources["lamp"], "lamp.obj", bytesOf(content), named, keep);
    ASSERT_TRUE(doc) << doc.error().text();
    state_.sources["lamp"] = *doc;
  }
  std::string read(const std::string& path) {
    const auto bytes = base::readFile(root_ / path);
    return bytes ? std::string(base::asText(*bytes)) : "(none)";
  }
  std::vector<std::string> sourceFiles() { return base::listFiles(root_ / "sources", {}); }
  fs::path root_;
  ModState state_;
};

TEST_F(TakeSource, ANewerVersionLiesBesideTheOlderOnes) {
  take("one", {{"wood.mtl", bytesOf("oak")}});
  newer("two", {{"wood.mtl", bytesOf("elm")}});
  const SourceDoc& doc = state_.sources["lamp"];
  EXPECT_EQ(doc.file, "v2/lamp.obj");
  EXPECT_EQ(versionFolder("lamp", doc), "sources/lamp/v2/");
  EXPECT_EQ(read("sources/lamp/lamp.obj"), "one");
  EXPECT_EQ(read("sources/lamp/wood.mtl"), "oak");
  EXPECT_EQ(read("sources/lamp/v2/lamp.obj"), "two");
  EXPECT_EQ(read("sources/lamp/v2/wood.mtl"), "elm");
  ASSERT_EQ(doc.older.size(), 1U);
  EXPECT_EQ(doc.older[0].file, "lamp.obj");
  EXPECT_EQ(doc.files[0].sha256, base::hex(base::sha256(bytesOf("two"))));
}

TEST_F(TakeSource, ThreeOlderVersionsAreKept) {
  take("1");
  for (const char* n : {"2", "3", "4", "5"}) newer(n);
  std::vector<std::string> files;
  for (const SourceVersion& v : state_.sources["lamp"].older) files.push_back(v.file);
  EXPECT_THAT(files, ElementsAre("v4/lamp.obj", "v3/lamp.obj", "v2/lamp.obj"));
}

TEST_F(TakeSource, AVersionThatWasUndoneIsNotWrittenOver) {
  take("1");
  const SourceDoc before = state_.sources["lamp"];
  newer("2");
  state_.sources["lamp"] = before;  // undone
  newer("other");
  EXPECT_EQ(read("sources/lamp/v2/lamp.obj"), "2");
  EXPECT_EQ(state_.sources["lamp"].file, "v3/lamp.obj");
}

TEST_F(TakeSource, FilesThatAPreparationTakesComeAlongUnlessTheNewerVersionBringsThem) {
  take("1", {{"oak.png", bytesOf("old oak")}});
  SourceDoc doc = state_.sources["lamp"];
  const auto added = addFile(root_, "lamp", doc, "/else/where/brass.png", bytesOf("brass"));
  ASSERT_TRUE(added);
  EXPECT_EQ(*added, "found/brass.png");
  state_.sources["lamp"] = doc;
  newer("2", {{"oak.png", bytesOf("new oak")}}, {"found/brass.png", "oak.png", "../../mod.json", "none.png"});
  EXPECT_EQ(read("sources/lamp/v2/found/brass.png"), "brass");
  EXPECT_EQ(read("sources/lamp/v2/oak.png"), "new oak");
  EXPECT_EQ(state_.sources["lamp"].files.size(), 3U);
}

TEST_F(TakeSource, AFileUnderATakenNameGetsAnother) {
  take("1");
  SourceDoc doc = state_.sources["lamp"];
  EXPECT_EQ(addFile(root_, "lamp", doc, "oak.png", bytesOf("a")).value(), "found/oak.png");
  EXPECT_EQ(addFile(root_, "lamp", doc, "oak.png", bytesOf("b")).value(), "found/oak-2.png");
  // The very same is not copied twice.
  EXPECT_EQ(addFile(root_, "lamp", doc, "oak.png", bytesOf("a")).value(), "found/oak.png");
  EXPECT_EQ(doc.files.size(), 3U);
}

TEST_F(TakeSource, GoingBackTurnsThePresentVersionIntoAnOlderOne) {
  take("1");
  newer("2");
  const SourceDoc back = withOlder(state_.sources["lamp"], 0);
  EXPECT_EQ(back.file, "lamp.obj");
  ASSERT_EQ(back.older.size(), 1U);
  EXPECT_EQ(back.older[0].file, "v2/lamp.obj");
  EXPECT_EQ(withOlder(back, 0), state_.sources["lamp"]);
}

TEST_F(TakeSource, VersionsSurviveASaveAndALoad) {
  take("1");
  newer("2");
  state_.sources["lamp"].note = "asked by letter";
  ASSERT_TRUE(saveMod(root_, state_, {}));
  const auto loaded = loadMod(root_);
  ASSERT_TRUE(loaded) << loaded.error().text();
  SourceDoc doc = loaded->sources.at("lamp");
  doc.seen = state_.sources["lamp"].seen;
  EXPECT_EQ(doc, state_.sources["lamp"]);
}

TEST_F(TakeSource, APathThatLeavesTheSourceIsRefusedInOlderVersionsToo) {
  const auto json = base::parseJson(
      R"({"format": 1, "file": "a.obj", "older": [{"file": "../../x", "files": [], "added": ""}]})",
      "source.json");
  std::vector<base::Error> complaints;
  (void)sourceFrom(*json, "source.json", complaints);
  ASSERT_EQ(complaints.size(), 1U);
  EXPECT_EQ(complaints[0].code, "mod.path");
  EXPECT_EQ(complaints[0].place.path, "/older/0/file");
}

TEST_F(TakeSource, WhatNobodyNeedsAnyMoreIsMovedAsideAndNothingElse) {
  take("1");
  for (const char* n : {"2", "3", "4", "5"}) newer(n);
  ASSERT_TRUE(base::writeFileAtomic(root_ / "sources/lamp/mine.txt", std::string_view("the person's own")));
  EXPECT_THAT(clearLeftOver(root_, state_), ElementsAre("sources/lamp/lamp.obj"));
  EXPECT_EQ(read("build/left-over/sources/lamp/lamp.obj"), "1");
  EXPECT_THAT(sourceFiles(), UnorderedElementsAre("lamp/mine.txt", "lamp/v2/lamp.obj", "lamp/v3/lamp.obj",
                                                  "lamp/v4/lamp.obj", "lamp/v5/lamp.obj"));
  EXPECT_THAT(clearLeftOver(root_, state_), IsEmpty());
  // A source that was taken back altogether.
  state_.sources.clear();
  clearLeftOver(root_, state_);
  EXPECT_THAT(sourceFiles(), ElementsAre("lamp/mine.txt"));
}

TEST_F(TakeSource, ASourceUnderAnotherNameHasAllItsFilesAndNothingIsLost) {
  take("1");
  for (const char* n : {"2", "3"}) newer(n);
  const SourceDoc doc = state_.sources["lamp"];
  ASSERT_TRUE(copySourceFiles(root_, "lamp", doc, "quay-lamp"));
  EXPECT_THAT(sourceFiles(),
              UnorderedElementsAre("lamp/lamp.obj", "lamp/v2/lamp.obj", "lamp/v3/lamp.obj",
                                   "quay-lamp/lamp.obj", "quay-lamp/v2/lamp.obj", "quay-lamp/v3/lamp.obj"));
  // Whichever is no source at the next start is moved aside: here it was undone, ...
  EXPECT_THAT(leftOver(loadOrigins(root_), state_),
              UnorderedElementsAre("sources/quay-lamp/lamp.obj", "sources/quay-lamp/v2/lamp.obj",
                                   "sources/quay-lamp/v3/lamp.obj"));
  // ... here it was not; and done once more over the very same files it is no trouble.
  ASSERT_TRUE(copySourceFiles(root_, "lamp", doc, "quay-lamp"));
  state_.sources.erase("lamp");
  state_.sources["quay-lamp"] = doc;
  EXPECT_THAT(
      clearLeftOver(root_, state_),
      UnorderedElementsAre("sources/lamp/lamp.obj", "sources/lamp/v2/lamp.obj", "sources/lamp/v3/lamp.obj"));
  EXPECT_THAT(sourceFiles(),
              UnorderedElementsAre("quay-lamp/lamp.obj", "quay-lamp/v2/lamp.obj", "quay-lamp/v3/lamp.obj"));
  EXPECT_EQ(read("build/left-over/sources/lamp/lamp.obj"), "1");
}

TEST_F(TakeSource, ASourceIsNotCopiedOverAnothersFilesNorUnderWhatIsNoName) {
  take("1");
  fs::create_directories(root_ / "sources/mine");
  ASSERT_TRUE(base::writeFileAtomic(root_ / "sources/mine/lamp.obj", std::string_view("the person's own")));
  const base::Status over = copySourceFiles(root_, "lamp", state_.sources["lamp"], "mine");
  ASSERT_FALSE(over);
  EXPECT_EQ(over.error().code, "mod.taken");
  EXPECT_EQ(read("sources/mine/lamp.obj"), "the person's own");
  for (const char* name : {"", "..", "a/b", "Quay Lamp"}) {
    const base::Status none = copySourceFiles(root_, "lamp", state_.sources["lamp"], name);
    ASSERT_FALSE(none) << name;
    EXPECT_EQ(none.error().code, "mod.name") << name;
  }
}

TEST_F(TakeSource, WhereASourceIsFromIsRememberedUntilItIsGone) {
  EXPECT_THAT(loadOrigins(root_).sources, IsEmpty());
  ASSERT_TRUE(rememberOrigin(root_, "lamp", {"/home/anna/lamp.zip", "m/lamp.obj", "d1"}));
  ASSERT_TRUE(rememberOrigin(root_, "post", {"/home/anna/post.glb", "", "d2"}));
  const Origins known = loadOrigins(root_);
  EXPECT_EQ(known.sources.at("lamp"), (Origin{"/home/anna/lamp.zip", "m/lamp.obj", "d1"}));
  EXPECT_EQ(known.sources.at("post").inside, "");
  state_.sources["post"];
  clearLeftOver(root_, state_);
  EXPECT_EQ(loadOrigins(root_).sources.count("lamp"), 0U);
  EXPECT_EQ(loadOrigins(root_).sources.count("post"), 1U);
}

TEST_F(TakeSource, ARecordThatIsDamagedOrLiesMovesNothingOutsideTheSources) {
  fs::create_directories(root_ / "build");
  for (const char* text :
       {"", "[]", "{\"sources\": [1], \"made\": {}}", "{\"made\": [1, null, \"mod.json\"]}",
        "{\"made\": [\"sources/../mod.json\", \"/etc/hostname\"]}"}) {
    ASSERT_TRUE(base::writeFileAtomic(root_ / "build/origins.json", std::string_view(text)));
    EXPECT_THAT(clearLeftOver(root_, state_), IsEmpty()) << text;
    EXPECT_TRUE(fs::exists(root_ / "mod.json")) << text;
  }
}

TEST(Licences, AreFoundWhateverTheirLetterCase) {
  ASSERT_NE(findLicence("cc-by-4.0"), nullptr);
  EXPECT_STREQ(findLicence("cc-by-4.0")->id, "CC-BY-4.0");
  EXPECT_EQ(findLicence("free for all"), nullptr);
}

}  // namespace
}  // namespace rakugo::mod
