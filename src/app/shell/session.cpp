#include "app/shell/session.h"

#include <QSettings>

#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {

Session::Session(QObject* parent) : QObject(parent) {
  connect(&document_, &Document::edited, this, &Session::edited);
  connect(&document_, &Document::saved, this, &Session::saved);
  connect(&document_, &Document::outsideChanged, this, &Session::outsideChanged);
  connect(&document_, &Document::journalFailed, this, &Session::journalFailed);
  connect(&feed_, &ExaminationFeed::examined, this, &Session::examined);
  connect(&feed_, &ExaminationFeed::mendsTried, this, &Session::mendsTried);
  connect(&feed_, &ExaminationFeed::sceneChanged, this, &Session::sceneChanged);
  connect(&feed_, &ExaminationFeed::waiting, this, &Session::waiting);
  connect(&feed_, &ExaminationFeed::firstLooked, this, &Session::firstLooked);
  connect(&feed_, &ExaminationFeed::failed, this, &Session::workFailed);
  connect(&tasks_, &Tasks::progressed, this, &Session::progressed);
  connect(&tasks_, &Tasks::failed, this, &Session::workFailed);
}

// Read from disk on the worker, taken over on the window's thread.
struct Session::Opened {
  Document::Opened document;
  base::Result<rulebook::Rulebook> book = base::cancelledError();
};

void Session::open(const std::filesystem::path& folder) {
  tasks_.run<Opened>(
      [folder, known = document_.known()](base::Progress& progress) {
        Opened out;
        out.document = Document::Opened::read(folder, known, progress);
        if (out.document.state) out.book = rulebook::findRulebook(out.document.state->card.rulebook);
        return out;
      },
      [this](Opened opened) { finishOpen(std::move(opened)); });
}

void Session::finishOpen(Opened opened) {
  if (!opened.document.state) return Q_EMIT openFailed(q(opened.document.state.error().text()));
  if (!opened.book) return Q_EMIT openFailed(q(opened.book.error().text()));
  feed_.cancel();
  background_.cancel();
  document_.take(std::move(opened.document));
  feed_.begin(folder(), std::make_shared<const rulebook::Rulebook>(std::move(opened.book).value()));
  cache_ = std::make_shared<packing::BuildCache>(packing::cacheFolder(folder()));
  target_ = s(QSettings().value(QStringLiteral("target/") + q(book().id)).toString());
  if (const auto known = book().targetNamed(target_))
    target_ = known->id;
  else
    target_ = book().allTargets().front().id;
  feed_.setTarget(target_);
  const mod::ModState& now = state();
  model_ = now.models.empty() ? std::string() : now.models.begin()->first;
  object_ = now.objects.empty() ? std::string() : now.objects.begin()->first;
  hung_.clear();
  Q_EMIT this->opened();
  Q_EMIT selectionChanged();
  examine();
}

void Session::examine() { feed_.examine(snapshot(), {model_, {ghost_, object_, hung_}}); }

void Session::setTarget(const std::string& target) {
  if (target == target_ || !book().targetNamed(target)) return;
  target_ = target;
  QSettings().setValue(QStringLiteral("target/") + q(book().id), q(target));
  feed_.setTarget(target);
  examine();
}

void Session::showSelected() { feed_.show(snapshot(), {model_, {ghost_, object_, hung_}}); }

void Session::setGame(const std::filesystem::path& game) {
  if (feed_.setGame(game) && isOpen()) examine();
}

void Session::edit(const QString& label, const std::function<void(mod::ModState&)>& change,
                   const QString& group) {
  document_.edit(label, change, group);
  examine();
}

void Session::undo() {
  if (document_.undo()) examine();
}

void Session::redo() {
  if (document_.redo()) examine();
}

void Session::goTo(size_t place) {
  if (document_.goTo(place)) examine();
}

void Session::leaveUnsaved() {
  if (document_.leaveUnsaved()) examine();
}

std::vector<base::Error> Session::takeFound() {
  if (!found()) return {};
  std::vector<base::Error> refused = document_.takeFound();
  Q_EMIT selectionChanged();
  examine();
  return refused;
}

base::Status Session::takeOutside() {
  if (!outside()) return {};
  RAKUGO_TRY(document_.takeOutside());
  Q_EMIT selectionChanged();
  examine();
  return {};
}

void Session::selectModel(const std::string& name) {
  if (model_ == name) return;
  select(name, object_);
}

void Session::selectObject(const std::string& name) {
  if (object_ == name) return;
  const auto found = state().objects.find(name);
  const mod::PieceDoc* first = found != state().objects.end() ? mod::firstModelPiece(found->second) : nullptr;
  select(first != nullptr ? first->model : std::string(model_), name);
}

void Session::select(const std::string& model, const std::string& object) {
  model_ = model;
  object_ = object;
  showSelected();  // its scene is made while the rest of the window follows
  Q_EMIT selectionChanged();
}

void Session::compareStep(size_t step, std::function<void(const std::optional<StepScenes>&)> done) {
  if (!examination()) return;
  if (!step_pictures_) step_pictures_ = std::make_shared<PictureCache>();
  background_.post([x = examination(), model = model_, step, pictures = step_pictures_,
                    done = std::move(done)](base::Progress& progress) -> Background::Finish {
    return [done, made = makeStepScenes(*x, model, step, *pictures, progress)] { done(made); };
  });
}

void Session::setGhost(GhostChoice choice) {
  ghost_ = std::move(choice);
  if (isOpen()) showSelected();
}

void Session::setHung(std::map<std::string, prepare::HangChoice> hung) {
  if (hung == hung_) return;
  hung_ = std::move(hung);
  if (isOpen()) showSelected();
}

const check::ModelState* Session::prepared() const {
  const check::Examination* x = examination() ? examination().get() : feed_.firstLook().get();
  if (x == nullptr) return nullptr;
  const auto found = x->context.models.find(model_);
  return found == x->context.models.end() || !found->second.prepared.model ? nullptr : &found->second;
}

void Session::post(std::function<Finish(base::Progress&)> work) {
  tasks_.run<Finish>(std::move(work), [this, asked = folder()](const Finish& finish) {
    if (finish && asked == folder()) finish();
    Q_EMIT workEnded();
  });
}

void Session::look(const QString& file, std::function<void(LookedInto)> done) {
  tasks_.run<LookedInto>(
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
  if (!examination() || busy() || working()) return;
  tasks_.run<base::Result<packing::Built>>(
      [x = examination(), file = output(), target = target_, cache = cache_](base::Progress& progress) {
        return packing::buildToFile(*x, file, {&progress, cache.get(), false, target});
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
  tasks_.run<base::Result<packing::Installed>>(
      [bundle = output(), game](base::Progress& progress) {
        return packing::installPackage(bundle, game, &progress);
      },
      [this](const base::Result<packing::Installed>& done) {
        if (!done) return Q_EMIT installed(false, q(done.error().text()));
        feed_.installedChanged();
        const QString name = q(done->path.filename().string());
        Q_EMIT installed(true, done->kept.empty()
                                   ? tr("Installed %1").arg(name)
                                   : tr("Installed %1; what was there is kept beside it.").arg(name));
      });
}

void Session::refreshGame(const std::filesystem::path& game) {
  if (!examination() || busy()) return;
  // Not counted as work the person asked for: nothing is greyed out meanwhile. On the worker of all other
  // tasks, so that two never write the game's folder at once.
  tasks_.runQuietly(
      [this, x = examination(), cache = cache_, game, target = target_](base::Progress& progress) {
        const std::filesystem::path usual = packing::defaultOutput(*x),
                                    file = usual.parent_path() / "tryout" / usual.filename();
        base::Error problem;
        const auto built = packing::buildToFile(*x, file, {&progress, cache.get(), false, target, true});
        if (!built) {
          problem = built.error();
        } else if (const auto installed = packing::installPackage(file, game, &progress); !installed) {
          problem = installed.error();
        }
        QMetaObject::invokeMethod(
            this, [this, problem] { Q_EMIT gameRefreshed(problem.code.empty(), q(problem.text())); },
            Qt::QueuedConnection);
      });
}

void Session::uninstall(const std::string& mod, const std::filesystem::path& game) {
  tasks_.run<base::Result<std::filesystem::path>>(
      [mod, game](base::Progress& progress) {
        progress.say("Taking it out", 0.5);
        return packing::uninstallMod(mod, game);
      },
      [this, mod](const base::Result<std::filesystem::path>& done) {
        if (!done) return Q_EMIT installed(false, q(done.error().text()));
        feed_.installedChanged();
        Q_EMIT installed(
            true, done->empty() ? tr("Took %1 out of the game").arg(q(mod))
                                : tr("Took %1 out of the game; what was there before is back").arg(q(mod)));
      });
}

}  // namespace rakugo::app
