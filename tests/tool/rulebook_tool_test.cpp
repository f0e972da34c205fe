// Rulebooks by the command line: started, checked, found, hidden; and nothing that one says turns a terminal.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <map>
#include <set>

#include "tool/tool_fixture.h"

namespace rakugo {
namespace {

namespace fs = std::filesystem;
using test::ToolTest;
using testing::HasSubstr;
using testing::Not;

class RulebookToolTest : public ToolTest {
 protected:
  // The shipped rulebook, copied into a folder of its own.
  void copyBook() {
    fs::create_directories(books_);
    fs::copy(RAKUGO_SOURCE_DIR "/rulebooks/kelpwick", books_ / "kelpwick", fs::copy_options::recursive);
  }
  static void change(const fs::path& file, const std::string& from, const std::string& to) {
    std::string text(base::asText(*base::readFile(file)));
    const size_t at = text.find(from);
    ASSERT_NE(at, std::string::npos) << from;
    ASSERT_TRUE(base::writeFileAtomic(file, text.replace(at, from.size(), to)));
  }
  const fs::path books_ = root_ / "books";
  const std::string kelpwick_ = (books_ / "kelpwick").string();
};

TEST_F(RulebookToolTest, ARulebookIsStartedCheckedFoundAndAModBegunByIt) {
  const auto made = run("rulebook new --json " + at("books/my-game") + " --title 'My game'");
  EXPECT_EQ(made.exit, 0) << made.err;
  EXPECT_EQ(made.json()["found"], false);
  EXPECT_EQ(run("rulebook check " + at("books/my-game")).out, (books_ / "my-game").string() + " is whole.\n");
  EXPECT_EQ(run("rulebook new " + at("books/my-game")).exit, 2) << "it is there already";
  EXPECT_THAT(run("rulebook new " + at("My Game")).err, HasSubstr("Call it \"my-game\""));
  environment_ = "RAKUGO_RULEBOOKS=" + books_.string();
  EXPECT_THAT(run("rulebook list").out, HasSubstr("my-game      My game 1, in " + books_.string()));
  EXPECT_EQ(run("new " + at("mine") + " --rulebook my-game --title Mine").exit, 0);
  const auto checked = run("check --json " + at("mine")).json();
  EXPECT_EQ(checked["rulebook"], "my-game") << checked;
}

TEST_F(RulebookToolTest, ARulebookThatHidesAnotherIsSaid) {
  const std::string lamp = mod("lamplight");
  copyBook();
  EXPECT_THAT(run("check " + lamp).err, Not(HasSubstr("it hides")));
  environment_ = "RAKUGO_RULEBOOKS=" + books_.string();
  EXPECT_THAT(run("check " + lamp).err,
              HasSubstr("note: the rulebook kelpwick is the one in " + kelpwick_ + "; it hides the one in "));
  const auto list = run("rulebook list --json").json();
  ASSERT_EQ(list[0]["id"], "kelpwick");
  EXPECT_EQ(list[0]["folder"], kelpwick_);
  EXPECT_EQ(list[0]["hides"].size(), 1U);
}

TEST_F(RulebookToolTest, ARulebookSaysWhichCheckOrPackagerThereIsNot) {
  copyBook();
  change(kelpwick_ + "/rulebook.json", "\"version\": \"1.2\"",
         "\"version\": \"1.2\", \"packaging\": \"bundel\"");
  change(kelpwick_ + "/rulebook.json", "\"mesh.triangles\": \"", "\"mesh.triangle\": \"");
  change(kelpwick_ + "/rulebook.json", "\"height\": [0.3, 4.5]", "\"height\": [0.3, 4500]");
  const auto ran = run("rulebook check --json " + kelpwick_);
  EXPECT_EQ(ran.exit, 1);
  std::map<std::string, std::string> said;
  const base::Json found = ran.json();
  for (const auto& fault : found["faults"]) {
    said[fault["path"]] = fault["cure"];
    EXPECT_GT(fault.value("line", 0), 1) << fault;
  }
  EXPECT_THAT(said["/packaging"], HasSubstr("bundle"));
  EXPECT_EQ(said["/outcomes/mesh.triangle"], "Is \"mesh.triangles\" meant?");
  EXPECT_THAT(said["/kinds/0/size_m/height"], HasSubstr("metres"));
  EXPECT_EQ(said.size(), 3U);
}

TEST_F(RulebookToolTest, MistakesAreListed) {
  EXPECT_EQ(run("rulebook check '" RAKUGO_SOURCE_DIR "/rulebooks/kelpwick'").exit, 0);
  fs::create_directories(root_ / "bad");
  ASSERT_TRUE(base::writeFileAtomic(
      root_ / "bad/rulebook.json",
      std::string_view(R"({"format":1,"id":"x","version":"1","title":"X","space":{"up":"Z"},"kinds":[]})")));
  const auto ran = run("rulebook check --json " + at("bad"));
  EXPECT_EQ(ran.exit, 1);
  std::set<std::string> places;
  const base::Json found = ran.json();
  for (const auto& fault : found["faults"]) places.insert(fault["path"]);
  EXPECT_EQ(places, (std::set<std::string>{"/space/up", "/space/unit_m", "/space/forward",
                                           "/space/person_height_m", "/kinds"}));
}

TEST_F(RulebookToolTest, NothingThatAModSaysTurnsTheTerminal) {
  const std::string lamp = mod("lamplight");
  const std::string turn = "\\u001b[2J\\u009b31m\\u202e";
  change(root_ / "lamplight/mod.json", "\"author\": \"", "\"author\": \"" + turn);
  change(root_ / "lamplight/mod.json", "\"title\": \"", "\"title\": \"" + turn);
  for (const std::string& command : {"check " + lamp, "check --json " + lamp, "check --format sarif " + lamp,
                                     "check --format junit " + lamp, "differences " + lamp + " " + lamp,
                                     "build " + lamp, "plan " + lamp}) {
    const auto ran = run(command);
    for (const std::string& text : {ran.out, ran.err})
      for (const char* code : {"\x1b", "\xC2\x9B", "\xE2\x80\xAE"})
        EXPECT_THAT(text, Not(HasSubstr(code))) << command;
  }
  const auto built = run("build --json " + lamp);
  ASSERT_EQ(built.exit, 0) << built.err;
  const auto listed = run("list " + built.json()["bundle"].get<std::string>());
  EXPECT_EQ(listed.exit, 0);
  for (const char* code : {"\x1b", "\xC2\x9B", "\xE2\x80\xAE"}) EXPECT_THAT(listed.out, Not(HasSubstr(code)));
  EXPECT_EQ(run("list --json " + built.json()["bundle"].get<std::string>()).json()["title"].is_string(),
            true);
}

}  // namespace
}  // namespace rakugo
