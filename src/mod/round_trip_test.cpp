// What is written is read back, whatever it is: every field of every document, through text, journal and
// disk.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/files.h"
#include "mod/changes.h"
#include "mod/journal.h"
#include "mod/step_documents.h"
#include "support/random_values.h"
#include "support/test_folder.h"

namespace rakugo::mod {
namespace {

using base::Json;
using testing::ElementsAre;

// Documents are equal but for the JSON they were read from, of which only the unknown keys matter.
void expectEqual(ModState a, ModState b, const std::string& where) {
  const auto unknownOnly = [](Json& seen, DocumentSort sort) {
    for (const std::string& key : knownKeys(sort)) seen.erase(key);
  };
  for (ModState* state : {&a, &b}) {
    unknownOnly(state->card.seen, DocumentSort::card);
    state->sources.changeEach([&](auto&, SourceDoc& doc) { unknownOnly(doc.seen, DocumentSort::source); });
    state->models.changeEach([&](auto&, ModelDoc& doc) { unknownOnly(doc.seen, DocumentSort::model); });
    state->objects.changeEach([&](auto&, ObjectDoc& doc) { unknownOnly(doc.seen, DocumentSort::object); });
  }
  EXPECT_EQ(a.card, b.card) << where;
  EXPECT_EQ(a.sources, b.sources) << where;
  EXPECT_EQ(a.models, b.models) << where;
  EXPECT_EQ(a.objects, b.objects) << where;
  ASSERT_EQ(a.icons.size(), b.icons.size()) << where;
  for (const auto& [path, bytes] : a.icons) EXPECT_EQ(*bytes, *b.icons.at(path)) << where;
}

TEST(RoundTrip, EveryFieldOfEveryDocumentSurvivesItsText) {
  for (unsigned seed = 1; seed <= 400; ++seed) {
    std::mt19937 random(seed);
    const ModState state = test::randomMod(random);
    ModState back;
    for (const std::string& path : contentPaths(state)) {
      const auto content = documentContent(state, path);
      ASSERT_TRUE(content);
      const auto put = putDocument(back, path, &*content);
      ASSERT_TRUE(put) << "seed " << seed << ": " << put.error().text();
    }
    expectEqual(state, back, "seed " + std::to_string(seed));
    // A second save writes what the first wrote.
    EXPECT_EQ(documentTexts(state), documentTexts(back)) << seed;
    EXPECT_THAT(changedPaths(state, back), ElementsAre()) << seed;
    EXPECT_THAT(differences(state, back, contentPaths(state)), testing::IsEmpty()) << seed;
  }
}

TEST(RoundTrip, EveryFieldOfEveryDocumentSurvivesTheDiskAndTheJournal) {
  const test::TestFolder own;
  for (unsigned seed = 1; seed <= 25; ++seed) {
    std::mt19937 random(seed);
    const ModState before = test::randomMod(random), after = test::randomMod(random);
    const auto folder = own.path() / std::to_string(seed),
               path = journalPath(own.path() / "journals", folder);
    Footprint footprint;
    ASSERT_TRUE(saveMod(folder, before, before, &footprint));
    {
      auto journal = Journal::begin(path, folder, before, footprint);
      ASSERT_TRUE(journal) << journal.error().text();
      ASSERT_TRUE(journal->record("Edit", after));
    }
    const auto loaded = loadMod(folder);
    ASSERT_TRUE(loaded) << loaded.error().text();
    expectEqual(before, *loaded, "disk, seed " + std::to_string(seed));
    History history(*loaded);
    const auto read = readJournal(path);
    ASSERT_TRUE(read) << read.error().text();
    EXPECT_THAT(recover(history, *read), testing::IsEmpty());
    expectEqual(after, *history.current(), "journal, seed " + std::to_string(seed));
  }
}

TEST(RoundTrip, ADifferenceNamesTheFieldThatDiffers) {
  std::mt19937 random(5);
  ModState a;
  a.card.id = "m", a.card.rulebook = "r";
  a.models["m"].source = "s";
  a.models["m"].steps = {{"s1", "snap_seam", true, Json{{"kind", "coat"}, {"most_mm", 30.0}}}};
  ModState b = a;
  b.models["m"].steps[0].values["kind"] = "cloak";
  const auto found = differences(a, b, contentPaths(a));
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(found[0].pointer, "/steps/0/values/kind");
  EXPECT_EQ(found[0].ours, "\"coat\"");
}

ModelDoc modelOf(const std::string& text, std::vector<base::Error>& complaints) {
  return modelFrom(*base::parseJson(text, "m.model.json"), "m.model.json", complaints);
}

TEST(StepsOfFormat1, AreReadWithTheirValues) {
  std::vector<base::Error> complaints;
  const ModelDoc doc = modelOf(R"({"format": 1, "source": "s", "steps": [
    {"id": "s1", "kind": "scale", "factor": 2.5}, {"id": "s2", "kind": "bake", "enabled": false},
    {"id": "s3", "kind": "from_the_future", "most": 3}]})",
                               complaints);
  ASSERT_TRUE(complaints.empty()) << complaints[0].text();
  const std::vector<StepDoc> expected = {{"s1", "scale", true, Json{{"factor", 2.5}}},
                                         {"s2", "bake", false},
                                         {"s3", "from_the_future", true, Json{{"most", 3}}}};
  EXPECT_EQ(doc.steps, expected);
  EXPECT_EQ(toJson(doc)["format"], 2);
}

// What format 1 wrote of these steps: the value `kind` in the place of the step's own kind.
TEST(StepsOfFormat1, GetBackTheKindThatTheirValueOverwrote) {
  struct Case {
    const char* saved;
    const char* kind;
    const char* value;
    size_t others;
  };
  const Case cases[] = {
      {R"({"id": "s1", "kind": "coat", "most_mm": 30.0})", "snap_seam", "coat", 2},
      {R"({"id": "s1", "kind": "coat", "most_mm": 100.0})", "region_nearest", "coat", 2},
      {R"({"id": "s1", "kind": "coat"})", "order_regions", "coat", 0},
      {R"({"id": "s1", "kind": ""})", "order_regions", "", 0},
      {R"({"id": "s1", "kind": "", "most_mm": 50.0, "model": "tunic"})", "copy_weights", "", 0},
      {R"({"id": "s1", "kind": "", "most_mm": 44.0})", "snap_seam", "", 2},
  };
  for (const Case& one : cases) {
    std::vector<base::Error> complaints;
    const ModelDoc doc =
        modelOf(R"({"format": 1, "source": "s", "steps": [)" + std::string(one.saved) + "]}", complaints);
    ASSERT_TRUE(complaints.empty()) << one.saved << complaints[0].text();
    EXPECT_EQ(doc.steps[0].kind, one.kind) << one.saved;
    EXPECT_EQ(doc.steps[0].values["kind"], one.value) << one.saved;
    ASSERT_TRUE(doc.steps[0].more.contains(kRecoveredKey)) << one.saved;
    EXPECT_EQ(doc.steps[0].more[kRecoveredKey].size(), one.others) << one.saved;
    // Saved in the present format it stays what it is, and still says that it was guessed.
    std::vector<base::Error> again;
    EXPECT_EQ(modelFrom(toJson(doc), "m", again).steps, doc.steps);
    EXPECT_TRUE(again.empty());
  }
}

TEST(StepsOfFormat1, ASkeletonsPreparationTellsTheWeightsStep) {
  std::vector<base::Error> complaints;
  const ModelDoc doc = modelOf(R"({"format": 1, "source": "s", "steps": [
    {"id": "s1", "kind": "name_bones", "names": {}}, {"id": "s2", "kind": "keeper", "most_mm": 100.0}]})",
                               complaints);
  EXPECT_EQ(doc.steps[1].kind, "copy_weights");
}

TEST(StepsOfFormat1, ADamagedStepThatFitsNothingIsKeptAsItIs) {
  std::vector<base::Error> complaints;
  const ModelDoc doc = modelOf(
      R"({"format": 1, "source": "s", "steps": [{"id": "s1", "kind": "", "colour": "red"}]})", complaints);
  ASSERT_TRUE(complaints.empty());
  EXPECT_EQ(doc.steps[0], (StepDoc{"s1", "", true, Json{{"colour", "red"}}}));
  std::vector<base::Error> again;
  EXPECT_EQ(modelFrom(toJson(doc), "m", again).steps, doc.steps);
}

TEST(StepsOfFormat1, ADamagedStepInAJournalComesBackToo) {
  ModState state;
  const std::string text =
      R"({"format": 1, "source": "s", "steps": [{"id": "s1", "kind": "coat", "most_mm": 30.0}]})";
  const auto span = base::asBytes(text);
  JournalContent journal;
  journal.edits.push_back(
      {"Close the seams",
       "",
       {{"models/m.model.json", std::make_shared<const base::Bytes>(span.begin(), span.end())}}});
  History history(state);
  EXPECT_THAT(recover(history, journal), testing::IsEmpty());
  EXPECT_EQ(history.current()->models.at("m").steps[0].kind, "snap_seam");
}

TEST(ModelDocument, RefusesStepsThatAreNone) {
  const auto refusal = [](const std::string& steps) {
    std::vector<base::Error> complaints;
    (void)modelOf(R"({"format": 2, "source": "s", "steps": )" + steps + "}", complaints);
    return complaints.empty() ? std::string() : complaints[0].code + " " + complaints[0].place.path;
  };
  EXPECT_EQ(refusal(R"([{"id": "s1"}])"), "json.missing /steps/0/kind");
  EXPECT_EQ(refusal(R"([{"kind": "bake"}])"), "json.missing /steps/0/id");
  EXPECT_EQ(refusal(R"([{"id": "s1", "kind": 3}])"), "json.type /steps/0/kind");
  EXPECT_EQ(refusal(R"([{"id": "s1", "kind": "bake", "values": 3}])"), "json.type /steps/0/values");
  EXPECT_EQ(refusal(R"([{"id": "s1", "kind": "bake"}, {"id": "s1", "kind": "bake"}])"),
            "mod.repeated /steps/1/id");
}

TEST(UnknownKeys, AreSaidWithTheNearestKnownOne) {
  ModState state;
  const std::string card =
      R"({"format": 1, "id": "m", "titel": "M", "rulebook": {"id": "r", "versoin": "1"}, "colour": 3})";
  const std::string model =
      R"({"format": 2, "source": "s", "steps": [{"id": "s1", "kind": "bake", "enabeld": false}], "points": []})";
  for (const auto& [path, text] : {std::pair("mod.json", card), std::pair("models/a.model.json", model)}) {
    const auto span = base::asBytes(text);
    const base::Bytes bytes(span.begin(), span.end());
    ASSERT_TRUE(putDocument(state, path, &bytes));
  }
  std::vector<std::string> said;
  for (const UnknownKey& one : unknownKeys(state))
    said.push_back(one.document + one.pointer + "=" + one.near_miss);
  EXPECT_THAT(said,
              ElementsAre("mod.json/titel=title", "mod.json/colour=", "mod.json/rulebook/versoin=version",
                          "models/a.model.json/steps/0/enabeld=enabled"));
  // And they are all still there after a save.
  EXPECT_EQ(toJson(state.card)["titel"], "M");
  EXPECT_EQ(toJson(state.models["a"])["steps"][0]["enabeld"], false);
}

}  // namespace
}  // namespace rakugo::mod
