#include "mod/journal.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "base/files.h"
#include "support/random_edits.h"
#include "support/test_folder.h"

namespace rakugo::mod {
namespace {

namespace fs = std::filesystem;

class JournalTest : public testing::Test {
 protected:
  void SetUp() override { ASSERT_TRUE(saveMod(mod_, saved_, saved_, &footprint_)); }
  Journal begin() { return std::move(Journal::begin(path_, mod_, saved_, footprint_)).value(); }
  test::TestFolder own_;
  const fs::path mod_ = own_.path() / "mod", path_ = journalPath(own_.path() / "journals", mod_);
  ModState saved_ = test::seededMod();
  Footprint footprint_;
};

TEST_F(JournalTest, GivesBackEveryEditInItsOrder) {
  std::mt19937 random(3);
  std::vector<std::map<std::string, base::Bytes>> states;
  std::vector<std::string> labels;
  {
    Journal journal = begin();
    ModState state = saved_;
    for (int i = 0; i < 40; ++i) {
      const ModState before = state;
      const auto edit = test::randomEdit(random);
      edit.apply(state);
      ASSERT_TRUE(journal.record(edit.label, state, i % 7 == 0));
      if (changedPaths(before, state).empty()) continue;  // nothing changed: nothing to journal
      states.push_back(test::allContent(state));
      labels.push_back(edit.label);
    }
  }
  const auto read = readJournal(path_);
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_FALSE(read->cut_off);
  EXPECT_EQ(read->folder, fs::canonical(mod_));
  EXPECT_EQ(read->base, footprint_);
  ASSERT_EQ(read->edits.size(), labels.size());
  History history(*loadMod(mod_));
  EXPECT_THAT(recover(history, *read), testing::IsEmpty());
  for (size_t i = states.size(); i-- > 0;) {
    EXPECT_EQ(test::allContent(*history.current()), states[i]);
    EXPECT_EQ(history.undoLabel(), labels[i]);
    history.undo();
  }
  EXPECT_EQ(test::allContent(*history.current()), test::allContent(saved_));
}

// A kill can stop the writing at any byte: what was written whole before is given back, and no more.
TEST_F(JournalTest, CutAtAnyByteGivesTheEditsBeforeTheCut) {
  {
    Journal journal = begin();
    ModState state = saved_;
    for (int i = 0; i < 3; ++i) {
      state.card.title = "Title " + std::to_string(i);
      ASSERT_TRUE(journal.record("Edit " + std::to_string(i), state));
    }
  }
  const base::Bytes whole = *base::readFile(path_);
  std::vector<size_t> ends;
  for (size_t i = 0; i < whole.size(); ++i)
    if (whole[i] == std::byte{'\n'}) ends.push_back(i + 1);
  ASSERT_EQ(ends.size(), 4U);
  for (size_t cut = 0; cut <= whole.size(); ++cut) {
    const auto read = parseJournal(base::ByteSpan(whole).first(cut), "j");
    if (cut < ends[0]) {
      ASSERT_FALSE(read) << cut;
      EXPECT_EQ(read.error().code, "journal.damaged");
      continue;
    }
    ASSERT_TRUE(read) << cut;
    const auto expected =
        static_cast<size_t>(std::count_if(ends.begin() + 1, ends.end(), [&](size_t e) { return e <= cut; }));
    EXPECT_EQ(read->edits.size(), expected) << cut;
    EXPECT_EQ(read->cut_off, std::find(ends.begin(), ends.end(), cut) == ends.end()) << cut;
  }
}

TEST_F(JournalTest, AFlippedByteIsNeverTakenForAnEdit) {
  {
    Journal journal = begin();
    ModState state = saved_;
    state.card.title = "T";
    ASSERT_TRUE(journal.record("Edit", state));
  }
  const base::Bytes whole = *base::readFile(path_);
  for (size_t i = 0; i < whole.size(); ++i) {
    base::Bytes damaged = whole;
    damaged[i] ^= std::byte{1};
    const auto read = parseJournal(damaged, "j");
    EXPECT_TRUE(!read || (read->edits.empty() && read->cut_off)) << i;
  }
}

TEST_F(JournalTest, HasOneWriter) {
  Journal journal = begin();
  EXPECT_TRUE(journalInUse(path_));
  const auto second = Journal::begin(path_, mod_, saved_, footprint_);
  ASSERT_FALSE(second);
  EXPECT_EQ(second.error().code, "journal.in_use");
  journal.remove();
  EXPECT_FALSE(fs::exists(path_));
  EXPECT_FALSE(journalInUse(path_));
  EXPECT_TRUE(Journal::begin(path_, mod_, saved_, footprint_));
}

TEST_F(JournalTest, RestartForgetsWhatIsSaved) {
  Journal journal = begin();
  ModState state = saved_;
  state.card.title = "T";
  ASSERT_TRUE(journal.record("Edit", state));
  ASSERT_TRUE(saveMod(mod_, state, saved_, &footprint_));
  ASSERT_TRUE(journal.restart(state, footprint_));
  const auto read = readJournal(path_);
  ASSERT_TRUE(read);
  EXPECT_TRUE(read->edits.empty());
  EXPECT_EQ(read->base, footprint_);
}

TEST_F(JournalTest, LiesUnderAnotherNameForEachFolder) {
  EXPECT_NE(journalPath("/j", own_.path() / "a"), journalPath("/j", own_.path() / "b"));
  EXPECT_EQ(journalPath("/j", mod_), journalPath("/j", mod_ / "." / "../mod"));
}

TEST_F(JournalTest, NamesDocumentsThatItCannotGiveBack) {
  JournalContent content;
  content.edits.push_back(
      {"E", "", {{"models/x.model.json", std::make_shared<const base::Bytes>(1, std::byte{'{'})}}});
  History history(saved_);
  const auto refused = recover(history, content);
  ASSERT_EQ(refused.size(), 1U);
  EXPECT_EQ(refused[0].place.file, "models/x.model.json");
  EXPECT_EQ(test::allContent(*history.current()), test::allContent(saved_));
}

}  // namespace
}  // namespace rakugo::mod
