// What mends do, found by really applying them: `Examiner::tryMends`.
#include <algorithm>

#include "base/text.h"
#include "check/examiner.h"
#include "check/related.h"

namespace rakugo::check {
namespace {

constexpr size_t kMostMends = 60;  // of one finding

std::set<std::string> keysOf(const Examination& x) {
  std::set<std::string> out;
  for (const Finding& f : x.findings) out.insert(findingKey(f));
  return out;
}

// Of those that stop, without their words: a mend may change what is said of a stop that was there before.
std::set<std::string> stopsOf(const Examination& x) {
  std::set<std::string> out;
  for (const Finding& f : x.findings)
    if (f.severity == Severity::stops) out.insert(f.check + " " + placeKey(f.place));
  return out;
}

// Folds findings under those whose mend takes them away as well. Those that take most away are causes first;
// what is itself folded is no cause, and nothing is folded under something less grave.
void foldUnderCauses(std::vector<Finding>& findings, const std::vector<std::set<size_t>>& gone_with) {
  std::vector<size_t> order(findings.size());
  for (size_t i = 0; i < order.size(); ++i) order[i] = i;
  std::stable_sort(order.begin(), order.end(),
                   [&](size_t a, size_t b) { return gone_with[a].size() > gone_with[b].size(); });
  for (const size_t cause : order) {
    if (findings[cause].caused_by || findings[cause].set_aside) continue;
    for (const size_t effect : gone_with[cause]) {
      Finding& f = findings[effect];
      if (effect == cause || f.caused_by || f.causes > 0 || f.set_aside ||
          f.severity < findings[cause].severity)
        continue;
      f.caused_by = cause;
      ++findings[cause].causes;
    }
  }
}

}  // namespace

base::Result<std::shared_ptr<const Examination>> Examiner::tryMends(
    const std::shared_ptr<const Examination>& x, base::Progress* progress) {
  if (!trier_) trier_ = std::make_unique<Examiner>(folder_, book_);
  trier_->trying_ = true;
  trier_->forgetWhatIsGone(x->context);
  trier_->sources_.clear();
  for (const auto& [name, doc] : x->mod->sources)
    if (const auto state = x->context.sources.find(name); state != x->context.sources.end())
      trier_->sources_[name] = {sourceKey(doc), state->second};
  trier_->installed_ = x->context.installed;
  trier_->files_ = x->context.files;
  auto out = std::make_shared<Examination>(*x);
  std::vector<std::set<size_t>> gone_with(out->findings.size());
  std::vector<std::string> keys;
  for (const Finding& f : out->findings) keys.push_back(findingKey(f));
  for (size_t i = 0; i < out->findings.size(); ++i) {
    Finding& f = out->findings[i];
    if (f.mends.empty() || f.set_aside) continue;
    if (progress != nullptr) {
      if (progress->cancelled()) return base::cancelledError();
      progress->say("Trying mends", static_cast<double>(i) / static_cast<double>(out->findings.size()));
    }
    const mod::ModState part = relatedTo(*x->mod, f.place);
    RAKUGO_ASSIGN(const auto before, trier_->examine(std::make_shared<const mod::ModState>(part), progress));
    const std::set<std::string> keys_before = keysOf(*before), stops_before = stopsOf(*before);
    std::vector<Mend> good;
    for (size_t m = 0; m < std::min(f.mends.size(), kMostMends); ++m) {
      auto mended = std::make_shared<mod::ModState>(part);
      f.mends[m].apply(*mended);
      RAKUGO_ASSIGN(const auto after, trier_->examine(mended, progress));
      const std::set<std::string> keys_after = keysOf(*after), stops_after = stopsOf(*after);
      const bool brings_stop =
          std::any_of(stops_after.begin(), stops_after.end(),
                      [&](const std::string& one) { return stops_before.count(one) == 0; });
      if (keys_after.count(keys[i]) != 0 || brings_stop) continue;
      if (good.empty())
        for (size_t other = 0; other < keys.size(); ++other)
          if (other != i && keys_before.count(keys[other]) != 0 && keys_after.count(keys[other]) == 0)
            gone_with[i].insert(other);
      good.push_back(f.mends[m]);
    }
    f.mends = std::move(good);
  }
  foldUnderCauses(out->findings, gone_with);
  out->mends_tried = true;
  return std::shared_ptr<const Examination>(std::move(out));
}

}  // namespace rakugo::check
