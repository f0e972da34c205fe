// Every mend that is offered does what it says: its own finding is gone, nothing new stops the game, a second
// time changes nothing more, and it can be taken back. First: the printers of gmock ask whether Qt's half
// float is complete.
#include <QFloat16>

#include <gtest/gtest.h>

#include <iostream>
#include <map>
#include <set>

#include "mod/history.h"
#include "support/mutants.h"
#include "support/test_folder.h"

namespace rakugo {
namespace {

std::set<std::string> stopsOf(const check::Examination& x) {
  std::set<std::string> out;
  for (const check::Finding& f : x.findings)
    if (f.severity == check::Severity::stops) out.insert(f.check + " " + check::placeKey(f.place));
  return out;
}
std::multiset<std::string> allOf(const check::Examination& x) {
  std::multiset<std::string> out;
  for (const check::Finding& f : x.findings) out.insert(check::findingKey(f));
  return out;
}

TEST(Mends, CureTheirOwnFindingBringNoStopAndCanBeTakenBack) {
  const test::TestFolder own;
  std::mt19937 random(16);
  const size_t wanted = test::mutantCount(280);
  std::map<std::string, size_t> applied;
  size_t failures = 0;
  for (const char* name : test::kKelpwickMods) {
    const std::filesystem::path folder = own.copyOfMod(name, name);
    const mod::ModState state = test::loadedDemoMod(folder);
    check::Examiner examiner(folder, test::shippedBook(state.card.rulebook));
    const auto examine = [&](const mod::ModState& one) {
      return *examiner.examine(std::make_shared<const mod::ModState>(one));
    };
    const auto whole = examine(state);
    for (size_t i = 0; i < (wanted + std::size(test::kKelpwickMods) - 1) / std::size(test::kKelpwickMods);
         ++i) {
      mod::ModState mutant = state;
      const std::string what = std::string(name) + test::mutate(mutant, *whole, random, folder);
      const auto x = *examiner.tryMends(examine(mutant));
      std::vector<const check::Finding*> mendable;
      for (const check::Finding& f : x->findings)
        if (!f.mends.empty()) mendable.push_back(&f);
      // Those that were tried least come first, so that in time all of them are.
      std::stable_sort(mendable.begin(), mendable.end(),
                       [&](const auto* a, const auto* b) { return applied[a->check] < applied[b->check]; });
      for (size_t k = 0; k < std::min<size_t>(mendable.size(), 2); ++k) {
        const check::Finding& f = *mendable[k];
        const check::Mend& mend = f.mends[random() % f.mends.size()];
        ++applied[f.check];
        mod::History history(mutant);
        const auto before = mod::documentTexts(*history.current());
        history.edit(mend.label, mend.apply);
        const auto once = examine(*history.current());
        const std::string at = what + "\n  " + f.check + ": " + f.sentence + "\n  mend: " + mend.label;
        bool gone = true;
        for (const check::Finding& left : once->findings)
          gone = gone && check::findingKey(left) != check::findingKey(f);
        failures += gone ? 0 : 1;
        EXPECT_TRUE(gone) << at;
        for (const std::string& stop : stopsOf(*once)) {
          const bool known = stopsOf(*x).count(stop) != 0;
          failures += known ? 0 : 1;
          EXPECT_TRUE(known) << at << "\n  brings " << stop;
        }
        history.edit(mend.label, mend.apply);
        const auto twice = examine(*history.current());
        if (allOf(*once) != allOf(*twice)) {
          ++failures;
          std::string differ;
          for (const std::string& one : allOf(*twice))
            if (allOf(*once).count(one) == 0) differ += "\n  + " + one;
          ADD_FAILURE() << at << "\n  a second time it does more:" << differ;
        }
        while (history.canUndo()) history.undo();
        EXPECT_EQ(mod::documentTexts(*history.current()), before) << at;
        if (failures > 25) FAIL() << "too many";
      }
    }
  }
  std::cout << "mends applied:";
  for (const auto& [check, count] : applied) std::cout << " " << check << " " << count;
  std::cout << "\n";
}

}  // namespace
}  // namespace rakugo
