// Taking sources in: what was given is looked at, read side by side, copied, and made models and objects of.
#include <algorithm>

#include "app/stations/sources/source_work.h"
#include "app/widgets/theme.h"
#include "base/text.h"
#include "mod/store.h"
#include "prepare/newer/taking_in.h"

namespace rakugo::app {
namespace fs = std::filesystem;
namespace {
// Each of them, one a line.
QString problemsText(const std::vector<base::Error>& problems) {
  constexpr size_t kMost = 12;
  QStringList out;
  for (size_t i = 0; i < std::min(kMost, problems.size()); ++i) out << q(problems[i].text());
  if (problems.size() > kMost) out << QObject::tr("And %1 more.").arg(problems.size() - kMost);
  return out.join(QLatin1Char('\n'));
}
}  // namespace

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
    auto taken =
        std::make_shared<const prepare::TakenIn>(prepare::takeIn(folder, *state, *book, given, &progress));
    return [this, taken, origins = mod::loadOrigins(folder)] { finishTake(*taken, origins); };
  });
}

void SourceWork::finishTake(const prepare::TakenIn& taken, const mod::Origins& origins) {
  const QString problem = problemsText(taken.problems);
  if (taken.sources.empty()) return Q_EMIT added(false, problem);
  origins_ = origins;
  const prepare::TakenSource& first = taken.sources.front();
  const QString shown = q(first.called), from = q(first.given.file.filename().string());
  const QString what =
      taken.sources.size() == 1 ? shown : q(base::countText(taken.sources.size(), "source", "sources"));
  std::string model, object;
  session_.edit(tr("Add %1").arg(what),
                [&](mod::ModState& next) { std::tie(model, object) = prepare::putTaken(next, taken); });
  if (!model.empty()) session_.select(model, object);
  watch();
  QString message = tr("Added %1").arg(what);
  if (taken.sources.size() == 1 && shown != from)
    message = first.others == 0 ? tr("Added %1 of %2").arg(shown, from)
                                : tr("Added %1 of %2; it holds %3 more")
                                      .arg(shown, from, q(base::countText(first.others, "model", "models")));
  if (!taken.problems.empty())
    message =
        tr("%1; %2 could not be read: %3").arg(message, QString::number(taken.problems.size()), problem);
  Q_EMIT added(taken.problems.empty(), message);
}

}  // namespace rakugo::app
