#include "prepare/habits.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "support/test_folder.h"

namespace rakugo::prepare {
namespace {

using base::Json;

mod::ModelDoc doc() {
  mod::ModelDoc out;
  out.source = "tug";
  out.steps = {{"s1", "read_lengths", true, Json{{"unit", "cm"}}},
               {"s2", "bake", false, Json::object()},
               {"s3", "move_picked", true, Json{{"pick", Json{{"part", "tug/funnel"}}}, {"by", {0, 0, 1}}}}};
  return out;
}

std::vector<std::string> kinds(const mod::ModelDoc& model) {
  std::vector<std::string> out;
  for (const mod::StepDoc& step : model.steps) out.push_back(step.kind);
  return out;
}

TEST(Habits, KeepWhatMeansSomethingElsewhere) {
  test::TestFolder folder;
  ASSERT_TRUE(saveHabit(folder.path(), {"From the yard", "kelpwick", portableSteps(doc().steps)}));
  const auto habits = loadHabits(folder.path());
  ASSERT_EQ(habits.size(), 1U);
  EXPECT_EQ(habits[0].name, "From the yard");
  EXPECT_EQ(habits[0].rulebook, "kelpwick");
  ASSERT_EQ(habits[0].steps.size(), 2U) << "what was picked means nothing on another model";
  EXPECT_FALSE(habits[0].steps[1].enabled);
  mod::ModelDoc other;
  other.source = "punt";
  other.steps = {{"s1", "origin", true, Json{{"to", "centre"}}}};
  EXPECT_EQ(addSteps(other, habits[0].steps), 2U);
  EXPECT_THAT(kinds(other), testing::ElementsAre("read_lengths", "bake", "origin"));
  EXPECT_EQ(addSteps(other, habits[0].steps), 0U) << "those that stand there are not added twice";
  std::set<std::string> ids;
  for (const mod::StepDoc& step : other.steps) ids.insert(step.id);
  EXPECT_EQ(ids.size(), 3U);
}

TEST(Habits, OneOfTheSameNameTakesItsPlaceAndOneCanBeForgotten) {
  test::TestFolder folder;
  ASSERT_TRUE(saveHabit(folder.path(), {"A", "kelpwick", {}}));
  ASSERT_TRUE(saveHabit(folder.path(), {"A", "ninefold", portableSteps(doc().steps)}));
  ASSERT_TRUE(saveHabit(folder.path(), {"B", "kelpwick", {}}));
  auto habits = loadHabits(folder.path());
  ASSERT_EQ(habits.size(), 2U);
  EXPECT_EQ(habits[0].rulebook, "ninefold");
  EXPECT_TRUE(forgetHabit(folder.path(), "A"));
  EXPECT_TRUE(forgetHabit(folder.path(), "A"));
  EXPECT_EQ(loadHabits(folder.path()).size(), 1U);
}

TEST(Habits, RubbishIsNoHabit) {
  test::TestFolder folder;
  EXPECT_FALSE(saveHabit(folder.path(), {"", "kelpwick", {}}));
  EXPECT_FALSE(saveHabit(folder.path(), {"  ", "kelpwick", {}}));
  EXPECT_FALSE(saveHabit(folder.path(), {"two\nlines", "kelpwick", {}}));
  EXPECT_TRUE(loadHabits(folder.path() / "none").empty());
  const char* const rubbish[] = {"",
                                 "[]",
                                 "{",
                                 R"({"format": "1", "name": "x"})",
                                 R"({"format": 3, "name": "x"})",
                                 R"({"format": 1, "name": 3})",
                                 R"({"format": 1, "name": "x", "steps": 7})",
                                 R"({"format": 1, "name": "x", "steps": [{"id": "s1"}]})"};
  int n = 0;
  for (const char* text : rubbish)
    ASSERT_TRUE(
        base::writeFileAtomic(folder.path() / (std::to_string(n++) + ".habit.json"), std::string_view(text)));
  EXPECT_TRUE(loadHabits(folder.path()).empty());
}

}  // namespace
}  // namespace rakugo::prepare
