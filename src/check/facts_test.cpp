#include "check/facts.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <set>

#include "check/examiner.h"
#include "mod/store.h"

namespace rakugo::check {
namespace {

namespace fs = std::filesystem;

std::shared_ptr<const Examination> examined(const char* name) {
  const fs::path folder = fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / name;
  auto state = mod::loadMod(folder);
  EXPECT_TRUE(state);
  auto book = rulebook::loadRulebook(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks" / state->card.rulebook);
  EXPECT_TRUE(book);
  Examiner examiner(folder, std::make_shared<const rulebook::Rulebook>(std::move(book).value()));
  return *examiner.examine(std::make_shared<const mod::ModState>(std::move(state).value()));
}

TEST(Facts, AreWhatTheChecksSayTheyLookAt) {
  std::set<std::string> known, looked_at;
  for (const Fact& fact : facts()) {
    EXPECT_TRUE(known.insert(fact.id).second) << fact.id << " is there twice";
    EXPECT_EQ(std::string(fact.id).rfind(std::string(factOfName(fact.of)) + ".", 0), 0U) << fact.id;
    EXPECT_EQ(fact.type == FactType::detail, fact.value == nullptr) << fact.id;
    // A unit is part of the name, so that nobody has to guess it.
    const std::string ending = *fact.unit != '\0' ? std::string("_") + fact.unit : std::string();
    EXPECT_TRUE(std::string(fact.id).ends_with(ending)) << fact.id;
  }
  int rank = 0;
  for (const CheckRow& row : checkTable()) {
    EXPECT_FALSE(row.facts.empty()) << row.id;
    EXPECT_GT(row.rank, rank) << row.id;
    rank = row.rank;
    for (const char* fact : row.facts) {
      EXPECT_EQ(known.count(fact), 1U) << row.id << " looks at " << fact;
      looked_at.insert(fact);
    }
  }
  EXPECT_EQ(known, looked_at) << "a fact that no check looks at";
}

TEST(Facts, OfALampAreItsMeasures) {
  const auto x = examined("lamplight");
  const base::Json values = factsOf(x->context, x->context.models.at("quay-lamp"));
  EXPECT_EQ(values["model.triangles"], 10924);
  EXPECT_EQ(values["model.vertices"], 7779);
  EXPECT_NEAR(values["model.height_m"].get<double>(), 2.52, 0.01);
  EXPECT_LT(values["model.width_m"].get<double>(), 1.3);
  EXPECT_GE(values["model.reach_m"].get<double>(), 2.52);
  EXPECT_EQ(values["model.turned"], true);
  EXPECT_EQ(values["model.bones"], 0);
  EXPECT_TRUE(values["model.influences"].is_null()) << "its kind has no skeleton";
  EXPECT_TRUE(values["model.seam_gap_mm"].is_null()) << "nothing is worn";
  EXPECT_GT(values["model.picture_side"], 0);
}

TEST(Facts, OfAFigureCountItsBones) {
  const auto x = examined("deckhand");
  const base::Json values = factsOf(x->context, x->context.models.begin()->second);
  EXPECT_GE(values["model.bones"], 19);
  EXPECT_GE(values["model.influences"], 1);
}

TEST(Facts, OfAModelThatCannotBeReadAreNotKnown) {
  const Context context;
  const base::Json values = factsOf(context, ModelState());
  EXPECT_TRUE(values["model.triangles"].is_null());
  EXPECT_TRUE(values["model.height_m"].is_null());
}

}  // namespace
}  // namespace rakugo::check
