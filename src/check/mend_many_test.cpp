// Mending all that is sure, on the demo's mods as they are before anything was done.
#include "check/mend_many.h"

#include <gtest/gtest.h>

#include "mod/store.h"

namespace rakugo::check {
namespace {

namespace fs = std::filesystem;

class MendSureOf : public testing::TestWithParam<const char*> {};

TEST_P(MendSureOf, TakesAwayAllThatWasSureAndBringsNothingThatStops) {
  const fs::path folder = fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / GetParam();
  const auto state = std::make_shared<const mod::ModState>(std::move(mod::loadMod(folder)).value());
  const auto book = std::make_shared<const rulebook::Rulebook>(
      std::move(rulebook::loadRulebook(fs::path(RAKUGO_SOURCE_DIR) / "rulebooks" / state->card.rulebook))
          .value());
  Examiner examiner(folder, book);
  const auto x = *examiner.tryMends(*examiner.examine(state));
  std::set<std::string> sure, stops;
  for (const Finding& f : x->findings) {
    if (isSure(*x, f)) sure.insert(findingKey(f));
    if (f.severity == Severity::stops) stops.insert(f.check + placeKey(f.place));
  }
  const auto mended = mendSure(*x);
  ASSERT_TRUE(mended) << mended.error().text();
  EXPECT_LE(mended->done.size(), sure.size());
  EXPECT_EQ(mended->done.empty(), sure.empty());
  const auto after = *examiner.examine(std::make_shared<const mod::ModState>(mended->state));
  for (const Finding& f : after->findings) {
    EXPECT_EQ(sure.count(findingKey(f)), 0U) << f.check << ": " << f.sentence;
    EXPECT_TRUE(f.severity != Severity::stops || stops.count(f.check + placeKey(f.place)) == 1) << f.sentence;
  }
}

INSTANTIATE_TEST_SUITE_P(DemoMods, MendSureOf,
                         testing::Values("first-lamp", "newcomer", "slipway", "deckhand", "chandlery"));

TEST(MendSure, NothingIsSureBeforeMendsWereTried) {
  Examination x;
  Finding f;
  f.mends.push_back({"Do it", [](mod::ModState&) {}});
  EXPECT_FALSE(isSure(x, f));
  x.mends_tried = true;
  EXPECT_TRUE(isSure(x, f));
  f.mends.push_back({"Or that", [](mod::ModState&) {}});
  EXPECT_FALSE(isSure(x, f));
}

}  // namespace
}  // namespace rakugo::check
