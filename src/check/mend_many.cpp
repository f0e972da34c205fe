#include "check/mend_many.h"

#include <algorithm>

namespace rakugo::check {
namespace {

constexpr int kMostRounds = 60;

// Without digits, signs and points: what a mend is, whatever its numbers are by now.
std::string withoutNumbers(const std::string& text) {
  std::string out;
  std::copy_if(text.begin(), text.end(), std::back_inserter(out),
               [](char c) { return (c < '0' || c > '9') && c != '.' && c != '-' && c != ','; });
  return out;
}

// The mend of that kind among those of a finding that was not tried again; null where there is none.
const Mend* sameMend(const Finding& finding, const std::string& label) {
  const auto found = std::find_if(finding.mends.begin(), finding.mends.end(), [&](const Mend& mend) {
    return withoutNumbers(mend.label) == withoutNumbers(label);
  });
  return found == finding.mends.end() ? nullptr : &*found;
}

}  // namespace

bool isSure(const Examination& x, const Finding& finding) {
  return x.mends_tried && finding.mends.size() == 1 && !finding.set_aside && !finding.caused_by;
}

base::Result<MendedMod> mendSure(const Examination& x, base::Progress* progress,
                                 const std::function<bool(const Finding&)>& only) {
  std::map<std::string, std::string> wanted;  // finding's key to its mend's label
  for (const Finding& f : x.findings)
    if (isSure(x, f) && (!only || only(f))) wanted.emplace(findingKey(f), f.mends.front().label);
  const size_t all = wanted.size();
  MendedMod out{*x.mod, {}};
  Examiner examiner(x);
  for (int round = 0; round < kMostRounds && !wanted.empty(); ++round) {
    if (progress != nullptr)
      progress->say("Mending", 1 - static_cast<double>(wanted.size()) / static_cast<double>(all));
    RAKUGO_ASSIGN(const auto now,
                  examiner.examine(std::make_shared<const mod::ModState>(out.state), progress));
    std::set<std::string> touched, there;
    for (const Finding& f : now->findings) {
      const std::string key = findingKey(f);
      const auto label = wanted.find(key);
      if (label == wanted.end()) continue;
      there.insert(key);
      if (!touched.insert(f.place.model + "|" + f.place.object).second) continue;
      if (const Mend* mend = sameMend(f, label->second)) {
        mend->apply(out.state);
        out.done.push_back({f.check, f.place.text(), f.sentence, mend->label});
      }
      wanted.erase(label);
    }
    // What went with another one needs no mend of its own.
    std::erase_if(wanted, [&](const auto& one) { return there.count(one.first) == 0; });
  }
  return out;
}

}  // namespace rakugo::check
