#include "app/stations/sources/source_work.h"

#include <algorithm>

#include "app/widgets/theme.h"
#include "base/files.h"
#include "base/text.h"
#include "mod/store.h"
#include "mod/take_source.h"
#include "mod/things.h"
#include "packing/export_model.h"
#include "prepare/naming.h"

namespace rakugo::app {
namespace fs = std::filesystem;
namespace {

// Files of the present version that came from its origin; what was put in for it here is none of them.
std::vector<std::string> namesOf(const std::string& source, const mod::SourceDoc& doc) {
  const size_t below = mod::versionFolder(source, doc).size() - ("sources/" + source + "/").size();
  std::vector<std::string> out;
  for (const mod::SourceFile& f : doc.files)
    if (f.path != doc.file && f.path.size() > below && f.path.compare(below, 6, "found/") != 0)
      out.push_back(f.path.substr(below));
  return out;
}

}  // namespace

SourceWork::SourceWork(Session& session, QObject* parent) : QObject(parent), session_(session) {
  soon_.setSingleShot(true);
  soon_.setInterval(400);  // an export writes several files, some of them twice
  connect(&soon_, &QTimer::timeout, this, &SourceWork::look);
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { soon_.start(); });
  connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { soon_.start(); });
  connect(&session_, &Session::opened, this, [this] {
    forget();
    readOrigins();
  });
  connect(&session_, &Session::examined, this, &SourceWork::searchPictures);
}

void SourceWork::forget() {
  waiting_.clear();
  stamps_.clear();
  found_.clear();
  origins_ = {};
  Q_EMIT changed();
}

void SourceWork::readOrigins() {
  session_.background().post([this, folder = session_.folder()](base::Progress&) -> Background::Finish {
    return [this, folder, origins = mod::loadOrigins(folder)] {
      if (folder != session_.folder()) return;
      origins_ = origins;
      watch();
      look();
    };
  });
}

void SourceWork::watch() {
  QStringList wanted;
  for (const auto& [name, origin] : origins_.sources) {
    if (session_.state().sources.count(name) == 0) continue;
    for (const fs::path& path : {origin.file, origin.file.parent_path()})
      if (std::error_code error; fs::exists(path, error) && !wanted.contains(q(path.string())))
        wanted << q(path.string());
  }
  const QStringList now = watcher_.files() + watcher_.directories();
  for (const QString& path : now)
    if (!wanted.contains(path)) watcher_.removePath(path);
  for (const QString& path : wanted)
    if (!now.contains(path)) watcher_.addPath(path);
}

void SourceWork::look() {
  if (!session_.isOpen()) return;
  watch();  // a file that was replaced by another of its name is a new one to the watcher
  for (const auto& [name, origin] : origins_.sources)
    if (session_.state().sources.count(name) != 0) lookAt(name, {origin.file, origin.inside}, false);
}

void SourceWork::lookAt(const std::string& source, const prepare::Given& given, bool even_unchanged) {
  const mod::SourceDoc& doc = session_.state().sources.at(source);
  const auto known = origins_.sources.find(source);
  session_.background().post(
      [this, source, given, even_unchanged, folder = session_.folder(), state = session_.snapshot(),
       names = namesOf(source, doc), stamp = stampOf(source),
       digest = known != origins_.sources.end() ? known->second.digest : std::string()](
          base::Progress& progress) -> Background::Finish {
        const std::string now = prepare::stampOf(given, names);
        std::error_code error;
        if (!even_unchanged && (now == stamp || !fs::exists(given.file, error))) return {};
        if (!even_unchanged) {
          const auto present = prepare::digestOf(given, names);
          if (!present || *present == digest)
            return [this, source, now, folder] {
              // Another mod may have a source of that name.
              if (folder != session_.folder()) return;
              stamps_[source] = now;
              if (waiting_.erase(source) > 0) Q_EMIT changed();
            };
        }
        auto newer = prepare::readNewer(folder, *state, source, given, &progress);
        WaitingVersion waiting;
        waiting.file = given.file;
        if (newer)
          waiting.version = std::make_shared<const prepare::NewerVersion>(std::move(newer).value());
        else
          waiting.problem = q(newer.error().text());
        return [this, source, waiting, now, folder] {
          if (folder != session_.folder() || session_.state().sources.count(source) == 0) return;
          stamps_[source] = now;
          waiting_[source] = waiting;
          Q_EMIT changed();
        };
      });
}

std::string SourceWork::stampOf(const std::string& source) const {
  if (const auto looked = stamps_.find(source); looked != stamps_.end()) return looked->second;
  const auto origin = origins_.sources.find(source);
  return origin == origins_.sources.end() ? std::string() : origin->second.stamp;
}

void SourceWork::copyUnder(const std::string& source, const std::string& to, const QString& label,
                           const std::function<base::Status(mod::ModState&)>& change) {
  mod::ModState tried = session_.state();
  if (const base::Status may = change(tried); !may) return Q_EMIT told(false, q(may.error().text()));
  session_.post([=, this, folder = session_.folder(),
                 state = session_.snapshot()](base::Progress& progress) -> Session::Finish {
    const auto doc = state->sources.find(source);
    base::Status copied =
        doc == state->sources.end()
            ? base::Status(base::Error{"mod.no_source", "The source is not there any more.", {}, ""})
            : mod::copySourceFiles(folder, source, doc->second, to, &progress);
    const mod::Origins known = mod::loadOrigins(folder);
    // Not to know where it came from costs one question; it is no reason not to rename.
    if (const auto origin = known.sources.find(source); copied && origin != known.sources.end())
      (void)mod::rememberOrigin(folder, to, origin->second);
    return [=, this, origins = mod::loadOrigins(folder)] {
      if (!copied) return Q_EMIT told(false, q(copied.error().text()));
      mod::ModState next = session_.state();
      if (const base::Status done = change(next); !done) return Q_EMIT told(false, q(done.error().text()));
      origins_ = origins;
      session_.edit(label, [&](mod::ModState& now) { now = std::move(next); });
      watch();
      Q_EMIT changed();
      Q_EMIT moved(q(to));
    };
  });
}

void SourceWork::rename(const std::string& source, const std::string& to) {
  copyUnder(source, to, tr("Rename %1 to %2").arg(q(source), q(to)),
            [source, to, naming = prepare::namingValues(session_.book())](mod::ModState& state) {
              return mod::renameThing(state, mod::Thing::source, source, to, naming);
            });
}

void SourceWork::copy(const std::string& source, const std::string& to) {
  copyUnder(source, to, tr("Copy %1").arg(q(source)), [source, to](mod::ModState& state) {
    return mod::copyThing(state, mod::Thing::source, source, to);
  });
}

void SourceWork::leaveFiles(const std::string& source) {
  const auto doc = session_.state().sources.find(source);
  if (doc == session_.state().sources.end()) return;
  session_.background().post([folder = session_.folder(), files = mod::filesOf(source, doc->second)](
                                 base::Progress&) -> Background::Finish {
    (void)mod::rememberMade(folder, files);  // else they stay where they are, and a finding says so
    return nullptr;
  });
}

const WaitingVersion* SourceWork::waiting(const std::string& source) const {
  const auto found = waiting_.find(source);
  return found == waiting_.end() ? nullptr : &found->second;
}

fs::path SourceWork::originOf(const std::string& source) const {
  const auto found = origins_.sources.find(source);
  return found == origins_.sources.end() ? fs::path() : found->second.file;
}

void SourceWork::compare(const std::string& source, const fs::path& file) {
  if (session_.state().sources.count(source) == 0) return;
  const auto known = origins_.sources.find(source);
  const bool same = known != origins_.sources.end() && known->second.file == file;
  lookAt(source, {file, same ? known->second.inside : std::string()}, true);
}

void SourceWork::takeWaiting(const std::string& source,
                             const std::map<std::string, std::vector<prepare::Misfit>>& adopted) {
  const auto found = waiting_.find(source);
  if (found == waiting_.end() || !found->second.version) return;
  session_.post([this, newer = found->second.version, adopted, folder = session_.folder(),
                 state = session_.snapshot()](base::Progress& progress) -> Session::Finish {
    progress.say("Copying " + newer->incoming.name, 0.5);
    auto doc = state->sources.count(newer->source) != 0
                   ? prepare::copyNewer(folder, *state, *newer, &progress)
                   : base::Result<mod::SourceDoc>(
                         base::Error{"mod.no_source", "The source is not there any more.", {}, ""});
    return [this, newer, adopted, doc, origins = mod::loadOrigins(folder)] {
      if (!doc) return Q_EMIT told(false, q(doc.error().text()));
      origins_ = origins;
      waiting_.erase(newer->source);
      stamps_.erase(newer->source);
      session_.edit(tr("Take the newer %1").arg(q(newer->incoming.name)),
                    [&](mod::ModState& next) { prepare::takeNewer(next, *newer, *doc, adopted); });
      watch();
      Q_EMIT changed();
      Q_EMIT told(true, tr("Took the newer %1; the version before is kept.").arg(q(newer->incoming.name)));
    };
  });
}

void SourceWork::leaveWaiting(const std::string& source) {
  const auto found = waiting_.find(source);
  if (found == waiting_.end()) return;
  const WaitingVersion left = found->second;
  waiting_.erase(found);
  Q_EMIT changed();
  const auto known = origins_.sources.find(source);
  if (known == origins_.sources.end() || known->second.file != left.file) return;
  session_.post(
      [this, source, origin = known->second, folder = session_.folder(),
       names = namesOf(source, session_.state().sources.at(source))](base::Progress&) -> Session::Finish {
        mod::Origin seen = origin;
        const prepare::Given given{origin.file, origin.inside};
        if (const auto digest = prepare::digestOf(given, names)) {
          seen.digest = *digest;
          seen.stamp = prepare::stampOf(given, names);
        }
        const auto status = mod::rememberOrigin(folder, source, seen);
        return [this, source, seen, status] {
          origins_.sources[source] = seen;
          if (!status) Q_EMIT told(false, q(status.error().text()));
        };
      });
}

void SourceWork::goBack(const std::string& source, size_t older) {
  const auto doc = session_.state().sources.find(source);
  if (doc == session_.state().sources.end() || older >= doc->second.older.size()) return;
  session_.edit(
      tr("Go back to the %1 of %2")
          .arg(q(fs::path(doc->second.older[older].file).filename().string()),
               q(doc->second.older[older].added)),
      [&](mod::ModState& next) { next.sources[source] = mod::withOlder(next.sources[source], older); });
}

void SourceWork::searchPictures() {
  const auto& x = session_.examination();
  if (!x) return;
  std::set<std::pair<std::string, std::string>> missing;
  for (const auto& [name, doc] : session_.state().models) {
    const auto state = x->context.models.find(name);
    if (state == x->context.models.end() || !state->second.prepared.model) continue;
    for (const scene::Image& image : state->second.prepared.model->images)
      if (!image.bytes && !image.uri.empty()) missing.insert({doc.source, image.uri});
  }
  for (const auto& wanted : missing) {
    const auto origin = origins_.sources.find(wanted.first);
    if (origin == origins_.sources.end() ||
        !found_.emplace(wanted, std::vector<prepare::FoundPicture>()).second)
      continue;
    session_.background().post([this, wanted, origin = origin->second,
                                folder = session_.folder()](base::Progress& progress) -> Background::Finish {
      auto found = prepare::findPictures(wanted.second, origin, &progress);
      return [this, wanted, found = std::move(found), folder] {
        if (folder != session_.folder() || found.empty()) return;
        found_[wanted] = found;
        Q_EMIT changed();
      };
    });
  }
}

const std::vector<prepare::FoundPicture>& SourceWork::found(const std::string& source,
                                                            const std::string& wanted) const {
  static const std::vector<prepare::FoundPicture> kNone;
  const auto known = found_.find({source, wanted});
  return known == found_.end() ? kNone : known->second;
}

void SourceWork::takePicture(const std::string& source, const std::string& wanted,
                             const prepare::Given& from) {
  session_.post([this, source, wanted, from, folder = session_.folder(),
                 state = session_.snapshot()](base::Progress& progress) -> Session::Finish {
    progress.say("Copying " + from.shown(), 0.3);
    const std::string name =
        fs::path(from.inside.empty() ? from.file.string() : from.inside).filename().string();
    const auto copy = [&]() -> base::Result<std::pair<mod::SourceDoc, std::string>> {
      RAKUGO_ASSIGN(const base::Bytes bytes, prepare::readGiven(from));
      RAKUGO_TRY(formats::decodePicture(bytes, name));  // what cannot be shown is not taken
      if (progress.cancelled()) return base::cancelledError();
      const auto known = state->sources.find(source);
      if (known == state->sources.end())
        return base::Error{"mod.no_source", "The source is not there any more.", {}, ""};
      mod::SourceDoc doc = known->second;
      RAKUGO_ASSIGN(const std::string relative, mod::addFile(folder, source, doc, name, bytes));
      return std::pair{doc, relative};
    };
    return [this, source, wanted, name, made = copy()] {
      if (!made) return Q_EMIT told(false, q(made.error().text()));
      session_.edit(tr("Take %1 for %2").arg(q(name), q(wanted)), [&](mod::ModState& next) {
        next.sources[source] = made->first;
        std::vector<std::string> made_of_it;
        for (const auto& [model, doc] : next.models)
          if (doc.source == source) made_of_it.push_back(model);
        for (const std::string& model : made_of_it) {
          mod::ModelDoc& doc = next.models.at(model);
          const base::Json values{{"picture", wanted}, {"file", made->second}};
          const auto same = std::find_if(doc.steps.begin(), doc.steps.end(), [&](const mod::StepDoc& step) {
            return step.kind == "use_picture" &&
                   step.values.value("picture", base::Json()) == base::Json(wanted);
          });
          if (same != doc.steps.end())
            same->values = values;
          else
            doc.steps.push_back({mod::freshStepId(doc), "use_picture", true, values});
        }
      });
      Q_EMIT told(true, tr("Took %1 for %2.").arg(q(name), q(wanted)));
    };
  });
}

void SourceWork::exportModel(const std::string& model, const fs::path& file) {
  const auto x = session_.examination();
  if (!x) return;
  session_.post([this, file, model, x](base::Progress& progress) -> Session::Finish {
    progress.say("Writing " + file.filename().string(), 0.4);
    return [this, file, written = packing::exportPrepared(*x, model, file, &progress)] {
      if (!written) return Q_EMIT told(false, q(written.error().text()));
      const QString name = q(file.filename().string());
      Q_EMIT told(
          true,
          written->lost.empty()
              ? tr("Wrote %1 with all that the model has.").arg(name)
              : tr("Wrote %1. The format cannot carry %2.").arg(name, q(base::listText(written->lost, 6))));
    };
  });
}

}  // namespace rakugo::app
