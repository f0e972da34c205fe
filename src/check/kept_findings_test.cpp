// That what is kept changes nothing: any chain of edits gives the findings that a fresh look gives.
#include "check/kept_findings.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "check/examiner.h"
#include "mod/store.h"

namespace rakugo::check {
namespace {

namespace fs = std::filesystem;

std::vector<std::string> said(const Examination& x) {
  std::vector<std::string> out;
  for (const Finding& f : x.findings)
    out.push_back(std::string(severityName(f.severity)) + " " + f.check + " " + placeKey(f.place) + " " +
                  f.sentence + (f.set_aside ? " aside" : "") + " " + std::to_string(f.mends.size()));
  return out;
}

// One of the edits that a person makes: of a step, a card, a piece, the card of the mod, what there is.
void editAtRandom(mod::ModState& state, std::mt19937& random) {
  const auto below = [&](size_t count) {
    return std::uniform_int_distribution<size_t>(0, count - 1)(random);
  };
  const auto any = [&](const auto& map) {
    return std::next(map.begin(), static_cast<std::ptrdiff_t>(below(map.size())))->first;
  };
  if (state.models.empty() || state.objects.empty()) return;
  const std::string name = any(state.models);
  mod::ModelDoc& model = state.models.at(name);
  mod::ObjectDoc& object = state.objects.at(any(state.objects));
  switch (below(14)) {
    case 0:
      if (!model.steps.empty()) {
        mod::StepDoc& step = model.steps[below(model.steps.size())];
        step.enabled = !step.enabled;
      }
      break;
    case 1:
      if (!model.steps.empty())
        model.steps.erase(model.steps.begin() + static_cast<std::ptrdiff_t>(below(model.steps.size())));
      break;
    case 2:
      model.steps.insert(model.steps.begin(),
                         {mod::freshStepId(model), "scale", true,
                          base::Json{{"factor", 0.2 + static_cast<double>(below(40)) * 0.1}}});
      break;
    case 3:
      if (!object.card.empty()) object.card[object.card.begin().key()] = "odd";
      break;
    case 4:
      object.pieces.push_back({"extra", name});
      break;
    case 5:
      if (!object.pieces.empty()) object.pieces.pop_back();
      break;
    case 6:
      model.points.clear();
      break;
    case 7:
      object.kind = below(2) == 0 ? "nothing" : state.objects.front().kind;
      break;
    case 8:
      state.objects["copy-" + std::to_string(below(3))] = mod::ObjectDoc(object);
      break;
    case 9:
      state.models["copy-" + std::to_string(below(3))] = mod::ModelDoc(model);
      break;
    case 10:
      state.objects.erase(any(state.objects));
      break;
    case 11:
      state.models.erase(std::string(name));
      break;
    case 12:
      if (!object.pieces.empty()) object.pieces.front().model = any(state.models);
      break;
    case 13:
      state.sources.at(any(state.sources)).licence = below(2) == 0 ? "" : "CC0-1.0";
      break;
  }
}

class KeptFindingsOf : public testing::TestWithParam<const char*> {};

TEST_P(KeptFindingsOf, AreWhatAFreshLookFindsAfterAnyChainOfEdits) {
  const fs::path folder = fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / GetParam();
  auto state = std::move(mod::loadMod(folder)).value();
  const auto book = std::make_shared<const rulebook::Rulebook>(
      std::move(rulebook::loadRulebook(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks" / state.card.rulebook))
          .value());
  Examiner kept(folder, book);
  std::mt19937 random(7);
  for (int edit = 0; edit < 16; ++edit) {
    const auto now = std::make_shared<const mod::ModState>(state);
    const auto x = kept.examine(now), fresh = Examiner(folder, book).examine(now);
    ASSERT_TRUE(x && fresh);
    ASSERT_EQ(said(**x), said(**fresh)) << edit;
    editAtRandom(state, random);
  }
}

INSTANTIATE_TEST_SUITE_P(DemoMods, KeptFindingsOf,
                         testing::Values("first-lamp", "lamplight", "slipway", "deckhand", "footstool",
                                         "chandlery"));

TEST(KeptFindings, OnlyWhatHangsTogetherWithAnEditIsCheckedAgain) {
  const fs::path folder = fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/chandlery";
  auto state = std::move(mod::loadMod(folder)).value();
  const auto book = std::make_shared<const rulebook::Rulebook>(
      std::move(rulebook::loadRulebook(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks" / state.card.rulebook))
          .value());
  Examiner examiner(folder, book);
  KeptFindings findings;
  const auto checked = [&] {
    const auto x = examiner.examine(std::make_shared<const mod::ModState>(state));
    EXPECT_TRUE(x);
    findings.run((*x)->context);
    return findings.checkedGroups();
  };
  EXPECT_GT(checked(), 1U);
  EXPECT_EQ(checked(), 0U);
  state.objects.front().card["odd"] = 1;
  EXPECT_EQ(checked(), 1U);
  state.card.title = "Another";
  EXPECT_EQ(checked(), 0U);
}

}  // namespace
}  // namespace rakugo::check
