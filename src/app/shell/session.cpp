#include "app/shell/session.h"

#include <QEventLoop>

#include "app/widgets/theme.h"
#include "base/files.h"
#include "base/text.h"
#include "mod/origins.h"
#include "mod/store.h"
#include "rulebook/rulebook.h"

namespace rakugo::app {

Session::Session(QObject* parent)
    : QObject(parent),
      examiner_thread_(std::make_unique<base::Worker>()),
      tasks_(std::make_unique<base::Worker>()),
      trials_(std::make_unique<base::Worker>()) {
  // The border of all work: what a library threw in spite of its promise ends that work, not the program.
  for (base::Worker* worker : {examiner_thread_.get(), tasks_.get(), trials_.get()})
    worker->onFault([this, examines = worker == examiner_thread_.get()](const std::string& what) {
      QMetaObject::invokeMethod(
          this,
          [this, what = q(what), examines] {
            if (examines) finished_ = wanted_;  // nothing more comes of it
            Q_EMIT workFailed(what);
          },
          Qt::QueuedConnection);
    });
  connect(&progress_, &QTimer::timeout, this, [this] {
    const auto running = tasks_->running();
    if (!running) return;
    const auto [what, fraction] = running->said();
    Q_EMIT progressed(q(what), fraction);
  });
  progress_.start(120);
}

Session::~Session() {
  // The workers' jobs hold no pointer to this but for the bridge call; they are joined before anything else
  // goes.
  trials_.reset();
  examiner_thread_.reset();
  tasks_.reset();
  disk_.reset();
}

// Read from disk on the worker, taken over on the window's thread.
struct Session::Opened {
  std::filesystem::path folder;
  base::Result<mod::ModState> state = base::cancelledError();
  base::Result<rulebook::Rulebook> book = base::cancelledError();
  mod::Footprint footprint;
  std::shared_ptr<const mod::JournalContent> journal;  ///< of an earlier run; null when there is none
};

void Session::open(const std::filesystem::path& folder) {
  std::set<std::filesystem::path> known;
  for (const auto& [one, history] : kept_) known.insert(one);
  if (isOpen()) known.insert(folder_);
  run<Opened>(
      [folder, known](base::Progress& progress) {
        progress.say("Opening " + folder.filename().string(), 0.2);
        Opened out;
        std::error_code error;
        out.folder = std::filesystem::weakly_canonical(folder, error);
        if (error) out.folder = folder;
        base::removeLeftovers(out.folder, {"build", ".git"});
        out.state = mod::loadMod(out.folder, &out.footprint, &progress);
        if (!out.state) return out;
        const bool first = known.count(out.folder) == 0;
        out.book = rulebook::findRulebook(out.state->card.rulebook);
        if (progress.cancelled()) {
          out.state = base::cancelledError();
          return out;
        }
        const auto journal = DiskSide::journalOf(out.folder);
        if (mod::journalInUse(journal)) return out;
        if (auto read = mod::readJournal(journal); read && !read->edits.empty())
          out.journal = std::make_shared<const mod::JournalContent>(std::move(read).value());
        // Nothing can be undone or taken back any more that would need these files.
        if (first && !out.journal) mod::clearLeftOver(out.folder, *out.state);
        return out;
      },
      [this](Opened opened) { finishOpen(std::move(opened)); });
}

void Session::finishOpen(Opened opened) {
  if (!opened.state) return Q_EMIT openFailed(q(opened.state.error().text()));
  if (!opened.book) return Q_EMIT openFailed(q(opened.book.error().text()));
  examiner_thread_->cancelAll();
  trials_->cancelAll();
  background_.cancel();
  close();
  if (isOpen()) kept_[folder_] = std::move(history_);
  disk_.reset();
  folder_ = opened.folder;
  const auto kept = kept_.find(folder_);
  if (kept != kept_.end() && kept->second) {
    history_ = std::move(kept->second);
    // Whatever was done to the folder meanwhile is the saved state now; what was undone here can be redone.
    const auto now = std::make_shared<const mod::ModState>(std::move(opened.state).value());
    if (!mod::changedPaths(*now, *history_->current()).empty())
      history_->edit(s(tr("Changes on disk")), [&](mod::ModState& state) { state = *now; });
    history_->markSaved();
    opened.journal.reset();
  } else {
    history_ = std::make_unique<mod::History>(std::move(opened.state).value());
  }
  examiner_ = std::make_shared<check::Examiner>(
      folder_, std::make_shared<const rulebook::Rulebook>(std::move(opened.book).value()));
  *installed_stale_ = true;
  pictures_ = std::make_shared<PictureCache>();
  cache_ = std::make_shared<packing::BuildCache>(packing::cacheFolder(folder_));
  examination_.reset();
  scene_.reset();
  plan_.clear();
  found_ = std::move(opened.journal);
  outside_.reset();
  const mod::ModState& now = this->state();
  model_ = now.models.empty() ? std::string() : now.models.begin()->first;
  object_ = now.objects.empty() ? std::string() : now.objects.begin()->first;
  beginDiskSide(std::move(opened.footprint));
  Q_EMIT this->opened();
  Q_EMIT selectionChanged();
  examine();
}

void Session::beginDiskSide(mod::Footprint footprint) {
  disk_ = std::make_unique<DiskSide>(folder_, std::move(footprint), nullptr);
  connect(disk_.get(), &DiskSide::journalFailed, this, &Session::journalFailed);
  connect(disk_.get(), &DiskSide::changed, this, [this](const DiskSide::Changes& changes) {
    outside_ = changes->empty() ? nullptr : changes;
    Q_EMIT outsideChanged();
  });
  connect(disk_.get(), &DiskSide::saved, this,
          [this](const DiskSide::State& state, const QString& problem, const QString& code) {
            --saving_;
            if (problem.isEmpty()) {
              history_->markSaved(state);
              // Edits made while the save ran are unsaved still, and the journal was emptied by it.
              if (history_->dirty()) disk_->record(tr("Unsaved"), history_->current());
            } else if (code == QLatin1String("mod.changed_on_disk")) {
              disk_->look();
            }
            Q_EMIT edited();
            Q_EMIT saved(problem.isEmpty(), problem.isEmpty() ? tr("Saved") : problem);
          });
  // Edits that were found are kept in their journal until they are decided on.
  if (!found_) disk_->beginJournal(history_->saved(), history_->current());
}

void Session::leaveUnsaved() {
  if (!isOpen() || !history_->dirty()) return;
  const auto saved = history_->saved();
  edit(tr("Leave unsaved edits out"), [&](mod::ModState& state) { state = *saved; });
  history_->markSaved();
  Q_EMIT edited();
}

void Session::close() {
  // Nothing unsaved: nothing to offer at the next start. Edits that were found and not decided on stay.
  if (isOpen() && !history_->dirty() && !found_) disk_->dropJournal();
}

void Session::save() {
  if (!isOpen()) return;
  history_->endGroup();
  ++saving_;
  disk_->save(history_->current(), history_->saved());
}

QString Session::saveNow() {
  QString problem;
  QEventLoop wait;
  const auto said = connect(this, &Session::saved, &wait, [&](bool good, const QString& message) {
    if (!good) problem = message;
    wait.quit();
  });
  save();
  wait.exec(QEventLoop::ExcludeUserInputEvents);
  disconnect(said);
  return problem;
}

std::vector<base::Error> Session::takeFound() {
  std::vector<base::Error> refused;
  if (!found_) return refused;
  refused = mod::recover(*history_, *found_);
  leaveFound();
  Q_EMIT edited();
  Q_EMIT selectionChanged();
  examine();
  return refused;
}

void Session::leaveFound() {
  found_.reset();
  disk_->beginJournal(history_->saved(), history_->current());
}

std::vector<mod::Difference> Session::outsideDifferences() const {
  if (!outside_) return {};
  mod::ModState theirs = state();
  std::vector<std::string> paths;
  std::vector<mod::Difference> out;
  for (const mod::DiskChange& change : *outside_) {
    if (change.unreadable)
      out.push_back({change.path, {}, {}, change.error.message});
    else if (mod::putDocument(theirs, change.path, change.content.get()))
      paths.push_back(change.path);
  }
  auto found = mod::differences(state(), theirs, paths);
  out.insert(out.end(), found.begin(), found.end());
  return out;
}

base::Status Session::takeOutside() {
  if (!outside_) return {};
  mod::ModState ours = state(), on_disk = *history_->saved();
  RAKUGO_TRY(mod::takeChanges(ours, *outside_));
  RAKUGO_TRY(mod::takeChanges(on_disk, *outside_));
  history_->edit(s(tr("Take changes from disk")), [&](mod::ModState& state) { state = std::move(ours); });
  history_->setSaved(std::move(on_disk));
  disk_->acknowledge(outside_, history_->saved(), history_->current());
  outside_.reset();
  Q_EMIT outsideChanged();
  Q_EMIT edited();
  Q_EMIT selectionChanged();
  examine();
  return {};
}

void Session::keepOurs() {
  if (!outside_) return;
  // What is on disk is known now, so that the mod counts as unsaved until ours is written over it.
  mod::ModState on_disk = *history_->saved();
  for (const mod::DiskChange& change : *outside_)
    if (!change.unreadable) (void)mod::putDocument(on_disk, change.path, change.content.get());
  history_->setSaved(std::move(on_disk));
  disk_->acknowledge(outside_, history_->saved(), history_->current());
  outside_.reset();
  Q_EMIT outsideChanged();
  Q_EMIT edited();
}

void Session::lookOutside() {
  if (disk_) disk_->look();
}

void Session::cancelWork() {
  cancelled_tasks_->store(last_task_);
  if (const auto running = tasks_->running()) running->cancel();
}

void Session::afterEdit(const QString& label) {
  if (!found_) disk_->record(label, history_->current());
  Q_EMIT edited();
  examine();
}

void Session::edit(const QString& label, const std::function<void(mod::ModState&)>& change,
                   const QString& group) {
  history_->edit(s(label), change, s(group));
  afterEdit(label);
}

void Session::undo() {
  if (!isOpen() || !history_->canUndo()) return;
  const QString label = tr("Undo: %1").arg(q(history_->undoLabel()));
  history_->undo();
  afterEdit(label);
}

void Session::redo() {
  if (!isOpen() || !history_->canRedo()) return;
  const QString label = q(history_->redoLabel());
  history_->redo();
  afterEdit(label);
}

void Session::selectModel(const std::string& name) {
  if (model_ == name) return;
  model_ = name;
  Q_EMIT selectionChanged();
  showSelected();
}

void Session::selectObject(const std::string& name) {
  if (object_ == name) return;
  object_ = name;
  const auto found = state().objects.find(name);
  if (found != state().objects.end() && !found->second.pieces.empty())
    model_ = found->second.pieces.front().model;
  Q_EMIT selectionChanged();
  showSelected();
}

const check::ModelState* Session::prepared() const {
  if (!examination_) return nullptr;
  const auto found = examination_->context.models.find(model_);
  return found == examination_->context.models.end() || !found->second.prepared.model ? nullptr
                                                                                      : &found->second;
}

template <class T>
void Session::run(std::function<T(base::Progress&)> work, std::function<void(T)> done) {
  ++working_;
  tasks_->post([this, number = ++last_task_, cancelled = cancelled_tasks_, work = std::move(work),
                done = std::move(done)](base::Progress& progress) {
    if (number <= cancelled->load()) progress.cancel();
    // The border of all work: what a library threw in spite of its promise ends that work, not the program.
    try {
      auto result = std::make_shared<T>(work(progress));
      QMetaObject::invokeMethod(
          this,
          [this, result, done] {
            --working_;
            done(std::move(*result));
          },
          Qt::QueuedConnection);
    } catch (const std::exception& fault) {
      QMetaObject::invokeMethod(
          this,
          [this, what = q(fault.what())] {
            --working_;
            Q_EMIT workFailed(what);
          },
          Qt::QueuedConnection);
    }
  });
}

void Session::post(std::function<Finish(base::Progress&)> work) {
  run<Finish>(std::move(work), [this, folder = folder_](const Finish& finish) {
    if (finish && folder == folder_) finish();
    Q_EMIT workEnded();
  });
}

void Session::select(const std::string& model, const std::string& object) {
  model_ = model;
  object_ = object;
  Q_EMIT selectionChanged();
  showSelected();
}

void Session::setGhost(GhostChoice choice) {
  ghost_ = std::move(choice);
  if (isOpen()) showSelected();
}

void Session::setGame(const std::filesystem::path& game) {
  if (game == game_) return;
  game_ = game;
  *installed_stale_ = true;
  if (isOpen()) examine();
}

void Session::examine() {
  const uint64_t generation = ++wanted_;
  ++edition_;
  trials_->cancelAll();
  examiner_thread_->post(
      [this, generation, examiner = examiner_, pictures = pictures_, state = history_->current(),
       model = model_, shown = scene_, ghost = ghost_, game = game_,
       stale = installed_stale_](base::Progress& progress) {
        if (!game.empty() && stale->exchange(false)) examiner->setInstalled(packing::installedMods(game));
        auto x = examiner->examine(state, &progress);
        if (!x) return;  // cancelled: a newer state is on its way
        auto scene = makeBenchScene(**x, model, *pictures, shown, ghost);
        std::vector<packing::PlannedEntry> plan;
        QString problem;
        if ((*x)->count(check::Severity::stops) == 0) {
          auto planned = packing::planPackage(**x, &progress);
          if (progress.cancelled()) return;
          if (planned)
            plan = std::move(planned).value();
          else
            problem = q(planned.error().text());
        }
        QMetaObject::invokeMethod(
            this,
            [this, generation, x = *x, scene, plan = std::move(plan), problem]() mutable {
              if (generation == wanted_) plan_problem_ = problem;
              finishExamination(generation, x, scene, std::move(plan));
            },
            Qt::QueuedConnection);
      },
      true);
}

void Session::finishExamination(uint64_t generation, std::shared_ptr<const check::Examination> x,
                                std::shared_ptr<const BenchScene> scene,
                                std::vector<packing::PlannedEntry> plan) {
  if (generation != wanted_) return;
  plan_ = std::move(plan);
  examination_ = std::move(x);
  finishScene(generation, std::move(scene));
  tryMends();
}

void Session::finishScene(uint64_t generation, std::shared_ptr<const BenchScene> scene) {
  if (generation != wanted_) return;
  finished_ = generation;
  const bool other = scene != scene_ || !scene;
  scene_ = std::move(scene);
  if (other) Q_EMIT sceneChanged();
  Q_EMIT examined();
}

void Session::showSelected() {
  // What is known of the present state stays true whatever is looked at; only the bench's picture is another
  // one.
  if (busy() || !examination_ || examination_->mod != history_->current()) return examine();
  const uint64_t generation = ++wanted_;
  examiner_thread_->post(
      [this, generation, x = examination_, pictures = pictures_, model = model_, shown = scene_,
       ghost = ghost_](base::Progress&) {
        auto scene = makeBenchScene(*x, model, *pictures, shown, ghost);
        QMetaObject::invokeMethod(
            this, [this, generation, scene = std::move(scene)] { finishScene(generation, scene); },
            Qt::QueuedConnection);
      },
      true);
}

void Session::tryMends() {
  // The next edit cancels it.
  trials_->post(
      [this, edition = edition_, examiner = examiner_, x = examination_](base::Progress& progress) {
        const auto tried = examiner->tryMends(x, &progress);
        if (!tried) return;
        QMetaObject::invokeMethod(
            this,
            [this, edition, tried = *tried] {
              if (edition != edition_) return;
              examination_ = tried;
              Q_EMIT mendsTried();
            },
            Qt::QueuedConnection);
      },
      true);
}

void Session::look(const QString& file, std::function<void(LookedInto)> done) {
  run<LookedInto>(
      [file](base::Progress& progress) {
        progress.say("Looking into it", 0.5);
        return lookInto(file, &progress);
      },
      [this, done = std::move(done)](LookedInto looked) {
        done(std::move(looked));
        Q_EMIT lookedInto();
      });
}

void Session::build() {
  if (!examination_ || busy() || working()) return;
  run<base::Result<packing::Built>>(
      [x = examination_, target = output(), cache = cache_](base::Progress& progress) {
        return packing::buildToFile(*x, target, {&progress, cache.get()});
      },
      [this, name = output().filename().string()](const base::Result<packing::Built>& done) {
        if (!done) return Q_EMIT built(false, q(done.error().message));
        Q_EMIT built(true, done->reused == 0 ? tr("Built %1").arg(q(name))
                                             : tr("Built %1; %2 of %3 entries were as before")
                                                   .arg(q(name))
                                                   .arg(done->reused)
                                                   .arg(done->entries));
      });
}

void Session::install(const std::filesystem::path& game) {
  run<base::Result<packing::Installed>>(
      [bundle = output(), game](base::Progress& progress) {
        return packing::installPackage(bundle, game, &progress);
      },
      [this](const base::Result<packing::Installed>& done) {
        if (!done) return Q_EMIT installed(false, q(done.error().text()));
        *installed_stale_ = true;
        const QString name = q(done->path.filename().string());
        Q_EMIT installed(true, done->kept.empty()
                                   ? tr("Installed %1").arg(name)
                                   : tr("Installed %1; what was there is kept beside it.").arg(name));
      });
}

void Session::refreshGame(const std::filesystem::path& game) {
  if (!examination_ || busy()) return;
  // Not counted as work the person asked for: nothing is greyed out meanwhile. On the worker of all other
  // tasks, so that two never write the game's folder at once.
  tasks_->post([this, x = examination_, cache = cache_, game](base::Progress& progress) {
    const std::filesystem::path usual = packing::defaultOutput(*x),
                                target = usual.parent_path() / "tryout" / usual.filename();
    base::Error problem;
    const auto built = packing::buildToFile(*x, target, {&progress, cache.get()});
    if (!built) {
      problem = built.error();
    } else if (const auto installed = packing::installPackage(target, game, &progress); !installed) {
      problem = installed.error();
    }
    QMetaObject::invokeMethod(
        this, [this, problem] { Q_EMIT gameRefreshed(problem.code.empty(), q(problem.text())); },
        Qt::QueuedConnection);
  });
}

void Session::uninstall(const std::string& mod, const std::filesystem::path& game) {
  run<base::Result<std::filesystem::path>>(
      [mod, game](base::Progress& progress) {
        progress.say("Taking it out", 0.5);
        return packing::uninstallMod(mod, game);
      },
      [this, mod](const base::Result<std::filesystem::path>& done) {
        if (!done) return Q_EMIT installed(false, q(done.error().text()));
        *installed_stale_ = true;
        Q_EMIT installed(
            true, done->empty() ? tr("Took %1 out of the game").arg(q(mod))
                                : tr("Took %1 out of the game; what was there before is back").arg(q(mod)));
      });
}

}  // namespace rakugo::app
