#include "prepare/newer/taking_in.h"

#include <algorithm>
#include <atomic>

#include "base/phrase.h"
#include "mod/origins.h"
#include "mod/take_source.h"
#include "prepare/newer/kind_guess.h"

namespace rakugo::prepare {
namespace fs = std::filesystem;
namespace {

constexpr size_t kAtOnce =
    8;  // sources that are read side by side; many large ones need not all lie in memory

base::Result<TakenSource> copyIn(const fs::path& folder, mod::ModState& state, const rulebook::Rulebook& book,
                                 const Incoming& in) {
  TakenSource out;
  RAKUGO_ASSIGN(out.name, mod::takeSource(folder, state, in.name, in.bytes, in.files));
  RAKUGO_TRY(mod::rememberOrigin(folder, out.name, {in.given.file, in.given.inside, in.digest, in.stamp}));
  out.doc = state.sources.at(out.name);
  out.sort = in.sort;
  out.called = in.name;
  out.given = in.given;
  out.others = in.others.size();
  if (!in.read) return out;
  if (const rulebook::Kind* kind = likelyKind(in.read->model, book)) out.kind = kind->id;
  // Who made it, where the file says so.
  if (!in.read->copyright.empty()) out.doc.author = in.read->copyright;
  return out;
}

}  // namespace

TakenIn takeIn(const fs::path& folder, const mod::ModState& state, const rulebook::Rulebook& book,
               const std::vector<Given>& given, base::Progress* progress) {
  const auto cancelled = [&] { return progress != nullptr && progress->cancelled(); };
  TakenIn out;
  mod::ModState copy = state;  // names that are taken meanwhile
  std::atomic<size_t> done{0};
  for (size_t begin = 0; begin < given.size() && !cancelled(); begin += kAtOnce) {
    const size_t count = std::min(kAtOnce, given.size() - begin);
    std::vector<base::Result<Incoming>> read(count, base::cancelledError());
    base::parallelFor(count, [&](size_t i) {
      if (cancelled()) return;
      read[i] = readIncoming(given[begin + i], progress);
      if (progress != nullptr)
        progress->say(base::phrase("Read {0} of {1}", ++done, given.size()),
                      static_cast<double>(done) / static_cast<double>(given.size()));
    });
    for (const base::Result<Incoming>& one : read) {
      if (cancelled()) break;
      auto copied = one ? copyIn(folder, copy, book, *one) : base::Result<TakenSource>(one.error());
      if (copied)
        out.sources.push_back(std::move(copied).value());
      else
        out.problems.push_back(copied.error());
    }
  }
  if (!cancelled()) return out;
  // Nothing of it comes: what was copied until now is nobody's.
  for (const TakenSource& one : out.sources) {
    std::error_code ignored;
    fs::remove_all(folder / "sources" / one.name, ignored);
  }
  return {{}, {base::cancelledError()}};
}

std::pair<std::string, std::string> putTaken(mod::ModState& state, const TakenIn& taken) {
  std::pair<std::string, std::string> first;
  for (const TakenSource& one : taken.sources) {
    state.sources[one.name] = one.doc;
    if (one.sort != SourceSort::model) continue;
    auto made = mod::addModelOf(state, one.name, one.kind);
    if (first.first.empty()) first = std::move(made);
  }
  return first;
}

}  // namespace rakugo::prepare
