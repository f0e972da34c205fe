// What mends do, found by really applying them: `Examiner::tryMends`.
#include <algorithm>

#include "base/phrase.h"
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

// What came of trying the mends of one finding.
struct Examiner::Trial {
  std::vector<size_t> good;       // mends that take it away and bring none that stops the game
  std::vector<std::string> gone;  // keys of the findings that vanish along with the first of them
};

// The part of a mod that findings of one place hang together with, and what was tried on it.
struct Examiner::TriedPart {
  mod::ModState mod;
  bool whole = false;              // it is the whole mod
  std::vector<std::string> files;  // of the folder, but for those of other sources
  std::vector<prepare::SourceModel> reads;
  std::map<std::string, Trial> trials;  // by finding
  std::shared_ptr<const Examination> before;
  std::set<std::string> keys, stops;  // of `before`

  // What the mod's card says changes nothing in how a mend of one model or object ends.
  [[nodiscard]] bool isAs(const TriedPart& other) const {
    return mod.models == other.mod.models && mod.objects == other.mod.objects &&
           mod.sources == other.mod.sources && mod.icons == other.mod.icons && files == other.files &&
           reads == other.reads && (!whole || mod.card == other.mod.card);
  }
};

std::shared_ptr<Examiner::TriedPart> Examiner::partOf(const Examination& x, const FindingPlace& place) {
  auto out = std::make_shared<TriedPart>();
  out->mod = relatedTo(*x.mod, place);
  out->whole = place.model.empty() && place.object.empty();
  for (const std::string& file : x.context.files) {
    const std::string_view rest = std::string_view(file).substr(std::min<size_t>(file.size(), 8));
    const std::string_view source = rest.substr(0, rest.find('/'));
    if (file.rfind("sources/", 0) == 0 && x.mod->sources.count(source) != 0 &&
        out->mod.sources.count(source) == 0)
      continue;
    out->files.push_back(file);
  }
  for (const auto& [name, doc] : out->mod.sources)
    if (const auto state = x.context.sources.find(name); state != x.context.sources.end())
      out->reads.push_back(state->second.read);
  return out;
}

base::Status Examiner::tryFinding(const Finding& f, const std::string& key, const mod::ModState& whole,
                                  TriedPart& part, Trial& out, base::Progress* progress) {
  trier_->files_ = part.files;
  if (part.before == nullptr) {
    RAKUGO_ASSIGN(part.before, trier_->examine(std::make_shared<const mod::ModState>(part.mod), progress));
    part.keys = keysOf(*part.before);
    part.stops = stopsOf(*part.before);
  }
  for (size_t m = 0; m < std::min(f.mends.size(), kMostMends); ++m) {
    auto mended = std::make_shared<mod::ModState>(part.mod);
    f.mends[m].apply(*mended);
    // A mend may let a model take a source that nothing in this part had.
    for (const auto& [name, doc] : std::as_const(mended->models))
      for (const std::string& source : mod::sourcesOf(doc)) mended->sources.share(whole.sources, source);
    RAKUGO_ASSIGN(const auto after, trier_->examine(mended, progress));
    const std::set<std::string> keys_after = keysOf(*after), stops_after = stopsOf(*after);
    if (keys_after.count(key) != 0 ||
        !std::includes(part.stops.begin(), part.stops.end(), stops_after.begin(), stops_after.end()))
      continue;
    if (out.good.empty())
      std::set_difference(part.keys.begin(), part.keys.end(), keys_after.begin(), keys_after.end(),
                          std::back_inserter(out.gone));
    out.good.push_back(m);
  }
  return {};
}

void Examiner::readyTrier(const Examination& x) {
  if (!trier_) trier_ = std::make_unique<Examiner>(folder_, book_);
  trier_->trying_ = true;
  trier_->forgetWhatIsGone(x.context);
  trier_->knowSources(x);
  trier_->installed_ = x.context.installed;
}

base::Result<std::shared_ptr<const Examination>> Examiner::tryMends(
    const std::shared_ptr<const Examination>& x, base::Progress* progress, const Looked* only) {
  readyTrier(*x);
  auto out = std::make_shared<Examination>(*x);
  std::vector<std::set<size_t>> gone_with(out->findings.size());
  std::multimap<std::string, size_t> by_key;
  for (size_t i = 0; i < out->findings.size(); ++i) by_key.emplace(findingKey(out->findings[i]), i);
  std::map<std::string, std::shared_ptr<TriedPart>> parts;  // by place
  std::shared_ptr<TriedPart> last;
  for (size_t i = 0; i < out->findings.size(); ++i) {
    Finding& f = out->findings[i];
    if (f.mends.empty() || f.set_aside) continue;
    if (only != nullptr && f.place.model != only->model && f.place.object != only->object) continue;
    if (progress != nullptr) {
      if (progress->cancelled()) return base::cancelledError();
      progress->say(base::phrase("Trying mends"),
                    static_cast<double>(i) / static_cast<double>(out->findings.size()));
    }
    const std::string place = f.place.model + "|" + f.place.object + "|" + f.place.source;
    auto& part = parts[place];
    if (part == nullptr) {
      part = partOf(*x, f.place);
      // What was tried on the same part before is known.
      if (const auto known = tried_.find(place); known != tried_.end() && known->second->isAs(*part))
        part = known->second;
      tried_[place] = part;
    }
    // One examination is kept at a time: most of what it holds is shared with the others.
    if (last != nullptr && last != part) last->before = nullptr;
    last = part;
    const std::string key = findingKey(f), which = key + "|" + f.sentence;
    auto trial = part->trials.find(which);
    if (trial == part->trials.end()) {
      Trial tried;
      RAKUGO_TRY(tryFinding(f, key, *x->mod, *part, tried, progress));
      trial = part->trials.emplace(which, std::move(tried)).first;
    }
    std::vector<Mend> good;
    for (const size_t m : trial->second.good)
      if (m < f.mends.size()) good.push_back(f.mends[m]);
    f.mends = std::move(good);
    for (const std::string& gone : trial->second.gone)
      for (auto [at, end] = by_key.equal_range(gone); at != end; ++at)
        if (at->second != i) gone_with[i].insert(at->second);
  }
  if (last != nullptr) last->before = nullptr;
  foldUnderCauses(out->findings, gone_with);
  out->mends_tried = only == nullptr;
  if (out->mends_tried) std::erase_if(tried_, [&](const auto& one) { return parts.count(one.first) == 0; });
  return std::shared_ptr<const Examination>(std::move(out));
}

}  // namespace rakugo::check
