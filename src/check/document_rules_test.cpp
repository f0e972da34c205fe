// Findings about what stands in a mod's documents, from mods saved with such faults.
#include <gmock/gmock.h>

#include "base/files.h"
#include "mod/step_documents.h"
#include "support/mended_mod.h"

namespace rakugo::check {
namespace {

class DocumentRules : public test::MendedMod {
 protected:
  DocumentRules() : MendedMod("slipway") {}
  // Changes a document's text on disk and reads the mod anew.
  void rewrite(const char* document, const std::string& from, const std::string& to) {
    std::string text(base::asText(*base::readFile(folder_ / document)));
    const size_t at = text.find(from);
    ASSERT_NE(at, std::string::npos) << text;
    text.replace(at, from.size(), to);
    ASSERT_TRUE(base::writeFileAtomic(folder_ / document, text));
    auto state = mod::loadMod(folder_);
    ASSERT_TRUE(state) << state.error().text();
    state_ = *state;
    examine();
  }
};

TEST_F(DocumentRules, SeamsClosedBeforeASaveInFormat1AreClosedAfterIt) {
  examine();
  for (const Finding& turn : x_->findings)
    if (turn.check == "axes.differ" && turn.place.model == "sea-coat") turn.mends[0].apply(state_);
  // As an earlier version wrote it: each step's values beside its kind, those called `kind` over it.
  base::Json old = mod::toJson(state_.models["sea-coat"]);
  old["format"] = 1;
  old["steps"] = base::Json::array();
  auto steps = state_.models["sea-coat"].steps;
  steps.push_back({"seams", "snap_seam", true, base::Json{{"kind", "coat"}, {"most_mm", 60.0}}});
  for (const mod::StepDoc& step : steps) {
    base::Json one{{"id", step.id}, {"kind", step.kind}};
    for (const auto& [key, value] : step.values.items()) one[key] = value;
    old["steps"].push_back(one);
  }
  ASSERT_EQ(old["steps"].back()["kind"], "coat");
  ASSERT_TRUE(base::writeFileAtomic(folder_ / "models/sea-coat.model.json", base::jsonText(old)));
  state_ = *mod::loadMod(folder_);
  examine();
  const Finding* f = find("step.recovered");
  ASSERT_NE(f, nullptr);
  EXPECT_THAT(f->sentence, testing::HasSubstr("damaged when an earlier Rakugo saved it"));
  ASSERT_EQ(f->mends.size(), 3U);
  EXPECT_EQ(x_->context.models.at("sea-coat").prepared.outcomes.back().state, prepare::StepState::good)
      << "the seams are closed again";
  // Another kind is meant: then it is that, and no more is said.
  f->mends[1].apply(state_);
  examine();
  EXPECT_EQ(find("step.recovered"), nullptr);
  EXPECT_EQ(state_.models["sea-coat"].steps.back().kind, "region_nearest");
  EXPECT_EQ(state_.models["sea-coat"].steps.back().values["kind"], "coat");
  // Saved and opened once more it stays so.
  ASSERT_TRUE(mod::saveMod(folder_, state_, state_));
  EXPECT_EQ(mod::loadMod(folder_)->models["sea-coat"].steps, state_.models["sea-coat"].steps);
}

TEST_F(DocumentRules, AKeyThatNoOneKnowsIsKeptAndSaid) {
  rewrite("mod.json", "\"author\"", "\"auhtor\": \"x\", \"author\"");
  const Finding* f = find("document.unknown_key");
  ASSERT_NE(f, nullptr);
  EXPECT_EQ(f->place.document, "mod.json");
  EXPECT_EQ(f->expected, "author");
  EXPECT_EQ(f->severity, Severity::tidy);
}

TEST_F(DocumentRules, AMisspeltValueOfAStepOrFieldOfACardIsSaid) {
  state_.models["tug"].steps.push_back(
      {"w1", "weld", true, base::Json{{"distance_mm", 0.01}, {"distanec_mm", 3}}});
  state_.objects["tug"].card["pirce"] = 3;
  state_.objects["tug"].card.erase("price");
  state_.objects["tug"].card["owner_of_the_yard"] = "nobody";
  ASSERT_TRUE(mod::saveMod(folder_, state_, {}));
  state_ = *mod::loadMod(folder_);
  examine();
  std::vector<std::string> said;
  for (const Finding& one : x_->findings)
    if (one.check == "document.unknown_key") said.push_back(one.measured + "=" + one.expected);
  EXPECT_THAT(said, testing::UnorderedElementsAre("distanec_mm=distance_mm", "pirce=price"));
  for (const Finding& one : x_->findings)
    if (one.check == "document.unknown_key" && !one.mends.empty()) one.mends[0].apply(state_);
  EXPECT_EQ(state_.objects["tug"].card["price"], 3);
}

}  // namespace
}  // namespace rakugo::check
