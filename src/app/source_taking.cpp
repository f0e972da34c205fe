// Taking sources in: what was given is looked at, read side by side, copied, and made models and objects of.
#include <algorithm>

#include "app/source_work.h"
#include "app/theme.h"
#include "base/text.h"
#include "check/kind_guess.h"
#include "mod/store.h"
#include "mod/take_source.h"

namespace rakugo::app {
namespace fs = std::filesystem;
namespace {
constexpr size_t kAtOnce = 8;  // sources that are read side by side

// Each of them, one a line.
QString problemsText(const std::vector<base::Error>& problems) {
  constexpr size_t kMost = 12;
  QStringList out;
  for (size_t i = 0; i < std::min(kMost, problems.size()); ++i) out << q(problems[i].text());
  if (problems.size() > kMost) out << QObject::tr("And %1 more.").arg(problems.size() - kMost);
  return out.join(QLatin1Char('\n'));
}
}  // namespace

// Copied into the mod's folder but not yet in its documents.
struct SourceWork::Taken {
  struct One {
    std::string name, kind;
    mod::SourceDoc doc;
    prepare::SourceSort sort = prepare::SourceSort::model;
    QString shown, from;
    size_t others = 0;  ///< models of the archive that were not taken
  };
  std::vector<One> all;
  std::vector<base::Error> problems;
  mod::Origins origins;
  static base::Result<One> copyIn(const fs::path& folder, mod::ModState& state,
                                  const rulebook::Rulebook& book, const prepare::Incoming& in);
};

base::Result<SourceWork::Taken::One> SourceWork::Taken::copyIn(const fs::path& folder, mod::ModState& state,
                                                               const rulebook::Rulebook& book,
                                                               const prepare::Incoming& in) {
  RAKUGO_ASSIGN(const std::string name, mod::takeSource(folder, state, in.name, in.bytes, in.files));
  RAKUGO_TRY(mod::rememberOrigin(folder, name, {in.given.file, in.given.inside, in.digest, in.stamp}));
  One one;
  one.name = name;
  one.doc = state.sources.at(name);
  one.sort = in.sort;
  one.shown = q(in.name);
  one.from = q(in.given.file.filename().string());
  one.others = in.others.size();
  if (in.read)
    if (const rulebook::Kind* kind = check::likelyKind(in.read->model, book)) one.kind = kind->id;
  // Who made it, where the file says so.
  if (in.read && !in.read->copyright.empty()) one.doc.author = in.read->copyright;
  return one;
}

void SourceWork::give(std::vector<fs::path> paths) {
  session_.post([this, paths = std::move(paths)](base::Progress& progress) -> Session::Finish {
    std::vector<prepare::Given> all, unlisted;
    std::vector<base::Error> problems;
    bool several = false;
    for (const fs::path& path : paths) {
      if (progress.cancelled()) return {};
      auto listed = prepare::listGiven(path, &progress);
      if (!listed) {
        problems.push_back(listed.error());
        unlisted.push_back({path, {}});
        continue;
      }
      // One model in several formats is no question; the likeliest of them comes.
      const std::vector<bool> likely = prepare::likelyChoice(*listed);
      if (std::count(likely.begin(), likely.end(), true) > 1) {
        several = true;
        all.insert(all.end(), listed->begin(), listed->end());
      } else {
        all.push_back(
            listed->at(static_cast<size_t>(std::find(likely.begin(), likely.end(), true) - likely.begin())));
      }
    }
    return [this, all, unlisted, problems, several]() mutable {
      if (all.empty()) return Q_EMIT added(false, problemsText(problems));
      // The others come; what is wrong with these is said when they are read.
      all.insert(all.end(), unlisted.begin(), unlisted.end());
      if (several) return Q_EMIT choiceAsked(all);
      take(all);
    };
  });
}

void SourceWork::take(std::vector<prepare::Given> given) {
  if (given.empty()) return;
  session_.post([this, given = std::move(given), folder = session_.folder(), state = session_.snapshot(),
                 book = session_.sharedBook()](base::Progress& progress) -> Session::Finish {
    auto taken = std::make_shared<Taken>();
    mod::ModState copy = *state;
    std::atomic<size_t> done{0};
    // Some at a time: many large ones need not all lie in memory at once. Each is read before it is copied:
    // what cannot be read is refused, and the mod stays as it is.
    for (size_t begin = 0; begin < given.size() && !progress.cancelled(); begin += kAtOnce) {
      const size_t count = std::min(kAtOnce, given.size() - begin);
      std::vector<base::Result<prepare::Incoming>> read(count, base::cancelledError());
      base::parallelFor(count, [&](size_t i) {
        if (progress.cancelled()) return;
        read[i] = prepare::readIncoming(given[begin + i], &progress);
        progress.say("Read " + std::to_string(++done) + " of " + std::to_string(given.size()),
                     static_cast<double>(done) / static_cast<double>(given.size()));
      });
      for (base::Result<prepare::Incoming>& one : read) {
        if (progress.cancelled()) break;
        auto copied = one ? Taken::copyIn(folder, copy, *book, *one) : base::Result<Taken::One>(one.error());
        if (copied)
          taken->all.push_back(std::move(copied).value());
        else
          taken->problems.push_back(copied.error());
      }
    }
    if (progress.cancelled()) {
      // Nothing of it comes: what was copied until now is nobody's.
      for (const Taken::One& one : taken->all) {
        std::error_code ignored;
        fs::remove_all(folder / "sources" / one.name, ignored);
      }
      taken->all.clear();
      taken->problems = {base::cancelledError()};
    }
    taken->origins = mod::loadOrigins(folder);
    return [this, taken] { finishTake(*taken); };
  });
}

void SourceWork::finishTake(const Taken& taken) {
  const QString problem = problemsText(taken.problems);
  if (taken.all.empty()) return Q_EMIT added(false, problem);
  origins_ = taken.origins;
  std::string model, object;
  const QString what = taken.all.size() == 1 ? taken.all.front().shown
                                             : q(base::countText(taken.all.size(), "source", "sources"));
  session_.edit(tr("Add %1").arg(what), [&](mod::ModState& next) {
    for (const Taken::One& one : taken.all) {
      next.sources[one.name] = one.doc;
      if (one.sort != prepare::SourceSort::model) continue;
      const auto [new_model, new_object] = mod::addModelOf(next, one.name, one.kind);
      if (model.empty()) model = new_model, object = new_object;
    }
  });
  if (!model.empty()) session_.select(model, object);
  watch();
  const Taken::One& first = taken.all.front();
  QString message = tr("Added %1").arg(what);
  if (taken.all.size() == 1 && first.shown != first.from)
    message = first.others == 0
                  ? tr("Added %1 of %2").arg(first.shown, first.from)
                  : tr("Added %1 of %2; it holds %3 more")
                        .arg(first.shown, first.from, q(base::countText(first.others, "model", "models")));
  if (!taken.problems.empty())
    message =
        tr("%1; %2 could not be read: %3").arg(message, QString::number(taken.problems.size()), problem);
  Q_EMIT added(taken.problems.empty(), message);
}

}  // namespace rakugo::app
