// Every row of the table of steps survives saving, journal, copy and habit, with any values.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "mod/changes.h"
#include "mod/journal.h"
#include "prepare/habits.h"
#include "prepare/naming.h"
#include "prepare/step.h"
#include "support/random_values.h"
#include "support/test_folder.h"

namespace rakugo::prepare {
namespace {

using base::Json;

// A step of that kind with random values of the right types.
mod::StepDoc randomStep(const StepKind& kind, std::mt19937& random, const std::string& id) {
  mod::StepDoc step{id, kind.id, random() % 3 != 0, initialValues(kind)};
  for (auto& [key, value] : step.values.items()) value = test::randomLike(value, random);
  for (const Parameter& p : kind.parameters)
    if (p.optional && random() % 2 == 0)
      step.values[p.key] = p.type == ParameterType::point
                               ? test::randomLike(Json::array({0.0, 0.0, 0.0}), random)
                           : p.type == ParameterType::pick   ? test::randomObject(random)
                           : p.type == ParameterType::number ? Json(test::randomNumber(random))
                                                             : Json(test::randomText(random));
  return step;
}

mod::ModState modOf(const std::vector<mod::StepDoc>& steps) {
  mod::ModState state;
  state.card.id = "m-abc234", state.card.title = "M", state.card.rulebook = "kelpwick";
  state.sources["coat"].file = "coat.glb";
  state.models["coat"].source = "coat";
  state.models["coat"].steps = steps;
  return state;
}

// One step of every kind.
std::vector<mod::StepDoc> everyStep(unsigned seed) {
  std::mt19937 random(seed);
  std::vector<mod::StepDoc> out;
  for (const StepKind& kind : stepKinds())
    out.push_back(randomStep(kind, random, "s" + std::to_string(out.size())));
  return out;
}

TEST(EveryStep, SurvivesItsText) {
  for (unsigned seed = 1; seed <= 60; ++seed) {
    const mod::ModState state = modOf(everyStep(seed));
    const auto text = mod::documentContent(state, "models/coat.model.json");
    mod::ModState back;
    const auto put = mod::putDocument(back, "models/coat.model.json", &*text);
    ASSERT_TRUE(put) << put.error().text();
    ASSERT_EQ(back.models["coat"].steps.size(), stepKinds().size());
    for (size_t i = 0; i < stepKinds().size(); ++i)
      ASSERT_EQ(back.models["coat"].steps[i], state.models.at("coat").steps[i])
          << stepKinds()[i].id << ", seed " << seed;
  }
}

TEST(EveryStep, SurvivesTheDiskTheJournalAndASecondSave) {
  const test::TestFolder own;
  const auto folder = own.path() / "m", path = mod::journalPath(own.path() / "j", folder);
  const mod::ModState empty = modOf({}), full = modOf(everyStep(7));
  mod::Footprint footprint;
  ASSERT_TRUE(mod::saveMod(folder, empty, empty, &footprint));
  {
    auto journal = mod::Journal::begin(path, folder, empty, footprint);
    ASSERT_TRUE(journal->record("All", full));
  }
  mod::History history(*mod::loadMod(folder));
  EXPECT_THAT(mod::recover(history, *mod::readJournal(path)), testing::IsEmpty());
  EXPECT_EQ(history.current()->models.at("coat").steps, full.models.at("coat").steps);
  ASSERT_TRUE(mod::saveMod(folder, *history.current(), empty, &footprint));
  const auto loaded = mod::loadMod(folder);
  ASSERT_TRUE(loaded);
  EXPECT_EQ(loaded->models.at("coat").steps, full.models.at("coat").steps);
  EXPECT_THAT(mod::differences(*loaded, full, mod::contentPaths(full)), testing::IsEmpty());
}

TEST(EveryStep, IsTheSameInACopyButForTheNamesOfModels) {
  const test::TestFolder own;
  auto steps = everyStep(11);
  for (mod::StepDoc& step : steps)
    if (step.kind == "copy_weights") step.values["model"] = "coat";
  const mod::ModState state = modOf(steps);
  ASSERT_TRUE(mod::saveMod(own.path() / "m", state, state));
  const rulebook::Rulebook book;
  const auto plan = mod::planCopy(own.path() / "m", state, "Cloak", "cloak-1", namingValues(book));
  ASSERT_TRUE(plan.mistakes.empty());
  const std::string name = plan.models.at("coat");
  ASSERT_NE(name, "coat");
  for (mod::StepDoc& step : steps)
    if (step.kind == "copy_weights") step.values["model"] = name;
  EXPECT_EQ(plan.state.models.at(name).steps, steps);
}

TEST(EveryStep, SurvivesAHabitWhenItMeansSomethingElsewhere) {
  const test::TestFolder own;
  auto steps = everyStep(13);
  for (mod::StepDoc& step : steps) {
    if (step.values.contains("model")) step.values["model"] = "";
    if (step.kind == "smooth_weights") step.values.erase("pick");
  }
  const auto portable = portableSteps(steps);
  EXPECT_EQ(portable.size(), static_cast<size_t>(std::count_if(stepKinds().begin(), stepKinds().end(),
                                                               [](const auto& k) { return !needsPick(k); })));
  ASSERT_TRUE(saveHabit(own.path(), {"All", "kelpwick", portable, {"Hips"}}));
  const auto habits = loadHabits(own.path());
  ASSERT_EQ(habits.size(), 1U);
  EXPECT_EQ(habits[0].steps, portable);
  EXPECT_EQ(habits[0].bones, std::vector<std::string>{"Hips"});
}

TEST(Habit, LeavesOutWhatRefersToItsOwnMod) {
  std::vector<mod::StepDoc> steps = {{"s1", "bake"},
                                     {"s2", "copy_weights", true, Json{{"kind", ""}, {"model", "tunic"}}},
                                     {"s3", "smooth_weights", true, Json{{"pick", Json{{"part", "a"}}}}}};
  const auto portable = portableSteps(steps);
  ASSERT_EQ(portable.size(), 1U);
  EXPECT_EQ(portable[0].kind, "bake");
}

TEST(Habit, OfFormat1IsReadAndADamagedStepInItMended) {
  const auto json = base::parseJson(R"({"format": 1, "name": "Seams", "rulebook": "kelpwick", "steps": [
      {"id": "s1", "kind": "coat", "most_mm": 30.0}]})",
                                    "h");
  const auto habit = habitFrom(*json, "h");
  ASSERT_TRUE(habit) << habit.error().text();
  EXPECT_EQ(habit->steps[0].kind, "snap_seam");
}

TEST(Habit, OfWrongTypesIsRefusedWithThePlace) {
  const auto refusal = [](const char* text) {
    const auto habit = habitFrom(*base::parseJson(text, "h"), "h");
    return habit ? std::string("taken") : habit.error().code + " " + habit.error().place.path;
  };
  EXPECT_EQ(refusal(R"({"format": 3, "name": "x"})"), "habit.unknown /format");
  EXPECT_EQ(refusal(R"({"format": 2, "name": 3})"), "json.type /name");
  EXPECT_EQ(refusal(R"({"format": 2, "name": "x", "bones": 3})"), "json.type /bones");
  EXPECT_EQ(refusal(R"({"format": 2, "name": "x", "steps": {"a": 1}})"), "json.type /steps");
  EXPECT_EQ(refusal(R"([1])"), "json.type ");
}

}  // namespace
}  // namespace rakugo::prepare
