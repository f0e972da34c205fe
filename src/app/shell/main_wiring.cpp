// What the main window does when its parts and the session say something.
#include <QApplication>
#include <QClipboard>
#include <QLabel>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <QStackedWidget>
#include <QTimer>

#include "app/contents/contents.h"
#include "app/findings/findings_panel.h"
#include "app/shell/dialogs.h"
#include "app/shell/guide.h"
#include "app/shell/main_window.h"
#include "app/shell/notice_bar.h"
#include "app/shell/route.h"
#include "app/stations/sources/station_sources.h"
#include "app/stations/tryout/station_tryout.h"
#include "base/text.h"

namespace rakugo::app {

void MainWindow::ended(bool good, const QString& message) {
  progress_->hide();
  cancel_->hide();
  tell(message, good);
  refresh();
  if (!good) start_after_build_ = false;
}

void MainWindow::connectSession() {
  connect(&session_, &Session::openFailed, this, [this](const QString& message) { ended(false, message); });
  connect(&session_, &Session::opened, this, &MainWindow::showOpened);
  connect(&session_, &Session::saved, this, [this](bool good, const QString& message) {
    const bool build = std::exchange(build_after_save_, false) && good;
    ended(good, message);
    if (build) this->build();
  });
  connect(&session_, &Session::journalFailed, this, [this](const QString& message) { tell(message, false); });
  connect(&session_, &Session::outsideChanged, this, &MainWindow::showOutside);
  connect(&session_, &Session::edited, this, &MainWindow::refreshEdited);
  connect(&session_, &Session::selectionChanged, this, &MainWindow::refresh);
  connect(&session_, &Session::examined, this, [this] {
    refreshExamined();
    if (std::exchange(build_asked_, false)) build();
  });
  connect(&session_, &Session::firstLooked, this, &MainWindow::refreshEdited);
  connect(&session_, &Session::waiting, bench_,
          [this](const QString& what, const auto& box_m) { bench_->showWaiting(box_m, what); });
  connect(&session_, &Session::sceneChanged, this, [this] {
    bench_->setScene(session_.scene());
    bench_->setMessage(!session_.scene() && !session_.state().models.empty()
                           ? tr("This model cannot be shown; the findings say why.")
                           : QString());
    takeThumbnail();
  });
  connect(&session_, &Session::lookedInto, this, [this] { ended(true, told_->text()); });
  session_.setGame(s(gameFolder()));
}

void MainWindow::showOpened() {
  const rulebook::Rulebook& book = session_.book();
  ended(true, book.hides.empty() ? tr("Opened %1").arg(q(session_.folder().string()))
                                 : tr("Opened %1 by the rulebook in %2; that in %3 is hidden by it")
                                       .arg(q(session_.folder().string()), q(book.folder.string()),
                                            q(book.hides.front().string())));
  notice_->hide();
  if (std::exchange(guide_wanted_, false))
    guide_->begin();
  else
    guide_->leave();
  pages_->setCurrentIndex(1);
  fitInstrument();
  build_asked_ = false;
  bench_->setTool(Bench::Tool::look_round);
  bench_->setScene(nullptr);
  bench_->forgetViews();
  refresh();
  if (session_.found())  // asked once the window shows the mod as it was saved
    QTimer::singleShot(0, this, [this] { offerFound(); });
}

// Each task ends by saying how it went; the next one of a chain (build, install, start) follows only on
// success.
void MainWindow::connectLongWork() {
  connect(&session_, &Session::progressed, this, [this](const QString& what, double fraction) {
    if (!session_.working()) return;
    progress_->setVisible(true);
    cancel_->setVisible(true);
    progress_->setValue(static_cast<int>(fraction * 100));
    told_->setText(what);
    under_way_ = what;
  });
  connect(&session_, &Session::workEnded, this, [this] {
    if (session_.working()) return;
    progress_->setVisible(false);
    cancel_->setVisible(false);
    // What was under way is no news any more.
    if (told_->text() == std::exchange(under_way_, QString())) told_->clear();
    refreshEdited();
  });
  connect(&session_, &Session::built, this, [this](bool good, const QString& message) {
    ended(good, message);
    if (start_after_build_) session_.install(s(gameFolder()));
  });
  connect(&session_, &Session::installed, this, [this](bool good, const QString& message) {
    ended(good, message);
    if (start_after_build_) tryout_->start();
    start_after_build_ = false;
  });
  Background::onFault([window = QPointer<MainWindow>(this)](const QString& details) {
    if (window) Q_EMIT window->session_.workFailed(details);
  });
  connect(&session_, &Session::workFailed, this, [this](const QString& details) {
    progress_->hide();
    cancel_->hide();
    notice_->say(
        tr("Something in Rakugo failed, and that work was not done. The mod is as it was."), details,
        {{"notice-copy", tr("Copy details"), [details] { QApplication::clipboard()->setText(details); }},
         {"notice-close", tr("Close"), [] {}}});
  });
  connect(&work_, &SourceWork::added, this, [this](bool good, const QString& message) {
    ended(good, message);
    if (good) setStation(Station::sources);
  });
  connect(&work_, &SourceWork::told, this, &MainWindow::ended);
  connect(&work_, &SourceWork::choiceAsked, this, [this](const std::vector<prepare::Given>& given) {
    // Opened from the event loop, not from within the bridge, which counts its work as running.
    QTimer::singleShot(0, this, [this, given] { chooseSources(given); });
  });
}

void MainWindow::connectParts() {
  connect(route_, &Route::chosen, this, &MainWindow::setStation);
  connect(route_, &Route::buildAsked, this, &MainWindow::build);
  connect(bench_, &Bench::ready, this, &MainWindow::takeThumbnail);
  connect(bench_, &Bench::partPointed, this,
          [this](const QString& part) { pointed_->setText(describePart(s(part))); });
  turning_.setSingleShot(true);
  turning_.setInterval(60);
  connect(&turning_, &QTimer::timeout, this, [this] {
    if (bench_->moving() || session_.busy() || session_.working()) return turning_.start();
    takeTurned();
  });
  const auto show = [this](const check::Finding& f) {
    alone_->setChecked(false);
    showPlace(stationOf(f.check), f.place);
    panels_[static_cast<size_t>(stationOf(f.check))]->openChapterOf(f.check);
  };
  connect(findings_, &FindingsPanel::showAsked, this, show);
  connect(findings_, &FindingsPanel::mended, this, [this](const QStringList& done) {
    if (done.isEmpty())
      return tell(tr("Nothing was mended: it was cancelled, or the mod was edited meanwhile."), true);
    notice_->say(done.size() == 1 ? tr("Mended one finding: %1.").arg(done.front())
                                  : tr("Mended %1 findings in one edit.").arg(done.size()),
                 done.join(QLatin1Char('\n')),
                 {{"notice-list", tr("What was done…"), [this, done] { showDone(done); }},
                  {"notice-undo", tr("Undo"), [this] { session_.undo(); }},
                  {"notice-close", tr("Close"), [] {}}});
  });
  connect(guide_, &Guide::showAsked, this, show);
  connect(guide_, &Guide::stationAsked, this,
          [this](int station) { setStation(static_cast<Station>(station)); });
  connect(contents_, &Contents::sourceChosen, this, [this](const QString& name) {
    setStation(Station::sources);
    sources_->choose(s(name));
  });
  connect(contents_, &Contents::modelChosen, this, [this] {
    if (route_->station() == Station::objects || route_->station() == Station::bundle)
      setStation(Station::shape);
  });
  connect(contents_, &Contents::tell, this, &MainWindow::tell);
  connect(contents_, &Contents::mendAsked, findings_,
          [this](const std::set<std::string>& models, const std::set<std::string>& objects) {
            findings_->mendSureOf([models, objects](const check::Finding& f) {
              return models.count(f.place.model) != 0 || objects.count(f.place.object) != 0;
            });
          });
  connect(contents_, &Contents::objectChosen, this, [this] { setStation(Station::objects); });
  connect(tryout_, &TryoutStation::runningChanged, this, [this] { guide_->refresh(tryout_->running()); });
  connect(tryout_, &TryoutStation::installAsked, this, &MainWindow::tryIt);
  for (StationPanel* panel : panels_) {
    connect(panel, &StationPanel::tell, this, &MainWindow::tell);
    connect(panel, &StationPanel::addModelAsked, this, &MainWindow::askSources);
    connect(panel, &StationPanel::buildAsked, this, &MainWindow::build);
    connect(panel, &StationPanel::goTo, this, &MainWindow::goTo);
  }
}

QString MainWindow::describePart(const std::string& key) const {
  const auto& scene = session_.scene();
  if (!scene || key.empty()) return {};
  const auto part = std::find_if(scene->parts.begin(), scene->parts.end(),
                                 [&](const BenchPart& one) { return one.key == key; });
  if (part == scene->parts.end()) return {};
  const check::ModelState* state = session_.prepared();
  std::vector<std::string> materials;
  for (const size_t m : part->materials) {
    const std::string& material = scene->materials[m].key;
    if (state == nullptr) continue;
    for (const scene::Material& one : state->prepared.model->materials)
      if (one.key == material) {
        const rulebook::Role* role = state->kind != nullptr ? state->kind->findRole(one.role) : nullptr;
        materials.push_back(role != nullptr ? one.name + " (" + base::lowerAscii(role->title) + ")"
                                            : one.name);
      }
  }
  const auto triangles = part->mesh.indices.size() / 3;
  return materials.empty()
             ? tr("%1 · %2").arg(q(part->name), q(base::countText(triangles, "triangle", "triangles")))
             : tr("%1 · %2 · %3")
                   .arg(q(part->name), q(base::countText(triangles, "triangle", "triangles")),
                        q(base::listText(materials, 2)));
}

// What several mends did, to be read and copied.
void MainWindow::showDone(const QStringList& done) {
  Question dialog(
      "done", tr("What was mended"),
      tr("All of it is one edit: one undo takes it back. Each is a step or a value that can be changed."),
      this);
  dialog.addLines(done);
  dialog.addChoice("close", tr("Close"), 0);
  dialog.exec();
}

void MainWindow::goTo(const QString& object, const QString& field) {
  if (object.isEmpty()) return setStation(Station::bundle);
  if (session_.state().objects.count(s(object)) == 0)
    return tell(tr("There is no object %1 in this mod any more.").arg(object), false);
  check::FindingPlace place;
  place.object = s(object);
  place.field = s(field);
  showPlace(Station::objects, place);
}

}  // namespace rakugo::app
