#include "app/shell/main_window.h"

#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMimeData>
#include <QProgressBar>
#include <QSettings>
#include <QSplitter>
#include <QStackedWidget>
#include <QStatusBar>
#include <QTimer>

#include "app/bench/bench_bar.h"
#include "app/help/help_panel.h"
#include "app/shell/dialogs.h"
#include "app/shell/examples.h"
#include "app/shell/log_file.h"
#include "app/shell/new_mod_dialog.h"
#include "app/shell/package_dialog.h"
#include "app/shell/recent.h"
#include "app/shell/start_page.h"
#include "app/shell/taking_dialog.h"
#include "app/stations/bundle/station_bundle.h"
#include "app/stations/objects/station_objects.h"
#include "app/stations/shape/station_shape.h"
#include "app/stations/skeleton/station_skeleton.h"
#include "app/stations/sources/station_sources.h"
#include "app/stations/surface/station_surface.h"
#include "app/stations/tryout/station_tryout.h"
#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"
#include "base/files.h"
#include "base/text.h"
#include "formats/export.h"
#include "formats/pictures/pictures.h"
#include "formats/sounds.h"
#include "mod/copy.h"
#include "mod/store.h"
#include "prepare/step.h"

namespace rakugo::app {

MainWindow::MainWindow() {
  setWindowTitle(tr("Rakugo"));
  setAcceptDrops(true);
  resize(1280, 800);
  makeFrame();
  makeStatusLine();
  makeMenus();
  connectSession();
  connectLongWork();
  connectParts();
  setStation(Station::shape);
  refresh();
}

void MainWindow::makeFrame() {
  auto* whole = new QWidget(this);
  auto* layout = new QVBoxLayout(whole);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  route_ = new Route(whole);
  layout->addWidget(route_);
  notice_ = new NoticeBar(whole);
  layout->addWidget(notice_);
  guide_ = new Guide(session_, whole);
  layout->addWidget(guide_);
  auto* beside = new QSplitter(Qt::Horizontal, whole);  // the pages, and the help
  beside->setObjectName(QStringLiteral("with-help"));
  beside->setHandleWidth(1);
  pages_ = new QStackedWidget(beside);
  beside->addWidget(pages_);
  layout->addWidget(beside, 1);
  setCentralWidget(whole);
  pages_->addWidget(makeStart());
  pages_->addWidget(makeWork());
  makeHelp(beside);
}

void MainWindow::makeStatusLine() {
  told_ = new QLabel(this);
  told_->setObjectName(QStringLiteral("told"));
  told_->setContentsMargins(16, 2, 16, 2);
  progress_ = new QProgressBar(this);
  progress_->setFixedWidth(160);
  progress_->setTextVisible(false);
  progress_->setRange(0, 100);
  progress_->hide();
  cancel_ = new QPushButton(tr("Cancel"), this);
  cancel_->setObjectName(QStringLiteral("cancel-work"));
  cancel_->setProperty("quiet", true);
  cancel_->hide();
  details_ = new QPushButton(tr("Copy details"), this);
  details_->setObjectName(QStringLiteral("copy-details"));
  details_->setToolTip(
      tr("Puts the problem, versions and the end of the log into the clipboard, for a report"));
  details_->setProperty("quiet", true);
  details_->hide();
  pointed_ = new QLabel(this);
  pointed_->setObjectName(QStringLiteral("pointed-part"));
  pointed_->setContentsMargins(16, 2, 16, 2);
  setTone(pointed_, "quiet");
  statusBar()->setSizeGripEnabled(false);
  statusBar()->addWidget(told_, 1);
  statusBar()->addPermanentWidget(pointed_);
  statusBar()->addPermanentWidget(details_);
  statusBar()->addPermanentWidget(progress_);
  statusBar()->addPermanentWidget(cancel_);
  connect(details_, &QPushButton::clicked, this, &MainWindow::copyDetails);
  connect(cancel_, &QPushButton::clicked, this, [this] {
    start_after_build_ = false;
    session_.cancelWork();
  });
}

QWidget* MainWindow::makeStart() {
  start_page_ = new StartPage(this);
  connect(start_page_, &StartPage::openAsked, this, &MainWindow::askOpen);
  connect(start_page_, &StartPage::newAsked, this, [this] { askNew({}, {}); });
  connect(start_page_, &StartPage::modChosen, this, &MainWindow::openMod);
  connect(start_page_, &StartPage::sampleChosen, this, &MainWindow::askNew);
  connect(start_page_, &StartPage::firstModAsked, this, &MainWindow::startFirstMod);
  connect(start_page_, &StartPage::exampleChosen, this,
          [this](const QString& folder, const QString& title) { startFrom(s(folder), title, false); });
  return start_page_;
}

// The work: contents at the left, instrument at the right, each as high as the window; between them what the
// station is about, above preparation and findings.
QWidget* MainWindow::makeWork() {
  work_area_ = new QSplitter(Qt::Horizontal, this);
  work_area_->setObjectName(QStringLiteral("work"));
  work_area_->setHandleWidth(1);
  contents_ = new Contents(session_, work_, work_area_);
  contents_->setObjectName(QStringLiteral("contents"));
  contents_->setMinimumWidth(170);
  work_area_->addWidget(contents_);

  centre_ = new QSplitter(Qt::Vertical, work_area_);
  centre_->setObjectName(QStringLiteral("centre"));
  centre_->setHandleWidth(1);
  middles_ = new QStackedWidget(centre_);
  middles_->addWidget(makeBench());
  centre_->addWidget(middles_);
  centre_->addWidget(makeLower());
  centre_->setStretchFactor(0, 1);
  centre_->setCollapsible(0, false);
  centre_->setSizes({430, 230});
  work_area_->addWidget(centre_);

  stations_ = new QStackedWidget(work_area_);
  stations_->setObjectName(QStringLiteral("instruments"));
  stations_->setMinimumWidth(kInstrumentLeast);
  stations_->setMaximumWidth(kInstrumentMost);
  makeStations();
  work_area_->addWidget(stations_);
  work_area_->setStretchFactor(1, 1);
  work_area_->setSizes({200, 754, kInstrumentUsual});
  work_area_->setCollapsible(1, false);
  work_area_->setCollapsible(2, false);
  // Each station has a width of its own, which it keeps.
  connect(work_area_, &QSplitter::splitterMoved, this, [this](int, int index) {
    if (index == 2) QSettings().setValue(widthKey(route_->station()), stations_->width());
  });
  return work_area_;
}

QString MainWindow::widthKey(Station station) {
  return QStringLiteral("instrument/") + QLatin1String(check::stationName(station));
}

void MainWindow::fitInstrument() {
  const int wanted = std::clamp(QSettings().value(widthKey(route_->station()), kInstrumentUsual).toInt(),
                                kInstrumentLeast, kInstrumentMost);
  QList<int> sizes = work_area_->sizes();
  if (sizes.size() != 3 || sizes[2] == 0 || sizes[2] == wanted) return;
  sizes[1] += sizes[2] - wanted;
  sizes[2] = wanted;
  work_area_->setSizes(sizes);
}

QWidget* MainWindow::makeBench() {
  bench_sides_ = new QSplitter(Qt::Horizontal, this);
  bench_sides_->setObjectName(QStringLiteral("bench-sides"));
  bench_sides_->setHandleWidth(1);
  auto* middle = new QWidget(bench_sides_);
  bench_sides_->addWidget(middle);
  bench_sides_->setStretchFactor(0, 1);
  auto* column = new QVBoxLayout(middle);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  const bool shown = Bench::platformHasOpenGl();
  bench_ = new Bench(shown ? middle : nullptr);
  if (!shown) hidden_bench_.reset(bench_);
  auto* bar = new BenchBar(session_, *bench_, middle);
  connect(bar, &BenchBar::tell, this, &MainWindow::tell);
  column->addWidget(bar);
  if (shown) {
    column->addWidget(bench_, 1);
  } else {
    QLabel* notice = quietText(Bench::notice(), middle);
    notice->setAlignment(Qt::AlignCenter);
    column->addWidget(notice, 1);
  }
  return bench_sides_;
}

void MainWindow::makeStations() {
  panels_ = {sources_ = new SourcesStation(session_, *bench_, work_, stations_),
             shape_ = new ShapeStation(session_, *bench_, stations_),
             skeleton_ = new SkeletonStation(session_, *bench_, stations_),
             new SurfaceStation(session_, *bench_, stations_),
             new ObjectsStation(session_, *bench_, stations_),
             bundle_ = new BundleStation(session_, *bench_, stations_),
             tryout_ = new TryoutStation(session_, *bench_, stations_)};
  for (StationPanel* panel : panels_) {
    stations_->addWidget(panel);
    if (QWidget* middle = panel->middle()) middles_->addWidget(middle);
    if (QWidget* beside = panel->beside()) bench_sides_->addWidget(beside);
  }
  connect(sources_, &SourcesStation::exportAsked, this, &MainWindow::exportModel);
  connect(sources_, &SourcesStation::pictured, this,
          [this](const QString& source, const QVector<QImage>& pictures) {
            contents_->setSourcePictures(s(source), pictures);
          });
}

QWidget* MainWindow::makeLower() {
  lower_ = new QSplitter(Qt::Horizontal, this);
  lower_->setObjectName(QStringLiteral("lower"));
  lower_->setHandleWidth(1);
  preparation_ = new Preparation(session_, lower_);
  findings_ = new FindingsPanel(session_, lower_);
  lower_->addWidget(preparation_);
  lower_->addWidget(findings_);
  lower_->setSizes({366, 400});
  lower_->setChildrenCollapsible(false);
  connect(preparation_, &Preparation::tell, this, &MainWindow::tell);
  connect(preparation_, &Preparation::showPlaces, this,
          [this](const std::vector<glm::vec3>& places) { bench_->showMarks(places, 0); });
  connect(preparation_, &Preparation::peekAsked, bench_, &Bench::peek);
  connect(preparation_, &Preparation::foldAsked, this, [this](bool folded) {
    QSettings().setValue(QStringLiteral("folded/preparation"), folded);
    layLower();
  });
  connect(findings_, &FindingsPanel::foldAsked, this, [this](bool folded) {
    QSettings().setValue(QStringLiteral("folded/findings"), folded);
    layLower();
  });
  layLower();
  return lower_;
}

// Side by side, each as wide as one drags it. One that is folded to its line lies above the other, which then
// has the whole width; with both folded their lines are all that is left.
void MainWindow::layLower() {
  const QSettings settings;
  const bool steps = settings.value(QStringLiteral("folded/preparation")).toBool(),
             found = settings.value(QStringLiteral("folded/findings")).toBool();
  preparation_->setFolded(steps);
  findings_->setFolded(found);
  lower_->setOrientation(steps != found ? Qt::Vertical : Qt::Horizontal);
  const bool line = steps && found, was_line = std::exchange(lower_is_line_, line);
  lower_->setMaximumHeight(line ? preparation_->maximumHeight() : QWIDGETSIZE_MAX);
  const QList<int> sizes = centre_->sizes();
  if (sizes.size() != 2 || line == was_line) return;
  if (line) lower_height_ = sizes[1];
  const int wanted = line ? lower_->maximumHeight() : lower_height_;
  centre_->setSizes({sizes[0] + sizes[1] - wanted, wanted});
}

// The bench, or what else stands in the middle, alone; and everything around it again.
void MainWindow::giveRoom(bool alone) {
  if (pages_->currentIndex() != 1) return;
  showContents();
  stations_->setVisible(!alone);
  lower_->setVisible(!alone);
  if (alone)
    focusInto(middles_->currentIndex() == 0 ? static_cast<QWidget*>(bench_) : middles_->currentWidget());
}

void MainWindow::refreshEdited() { refreshShown(true); }

void MainWindow::refreshShown(bool with_sources) {
  const bool open = session_.isOpen();
  route_->setVisible(open);
  setWindowTitle(open ? tr("%1%2 – Rakugo")
                            .arg(session_.history().dirty() ? QStringLiteral("• ") : QString(),
                                 q(session_.state().card.title))
                      : tr("Rakugo"));
  sayState();
  if (!open) return;
  preparation_->refresh();
  // Instruments that are not seen wait until they are. Sources takes the pictures that the contents show.
  StationPanel* const present = panels_[static_cast<size_t>(route_->station())];
  for (StationPanel* panel : panels_)
    if (panel != present) waiting_.insert(panel);
  if (with_sources && present != sources_) refreshPanel(sources_);
  refreshPanel(present);
}

// What can be done now, and how things stand.
void MainWindow::sayState() {
  const bool open = session_.isOpen();
  for (QAction* action : needs_mod_) action->setEnabled(open);
  for (QAction* action : needs_rest_) action->setEnabled(open && !session_.working());
  save_->setEnabled(open && session_.history().dirty());
  undo_->setEnabled(open && session_.history().canUndo());
  redo_->setEnabled(open && session_.history().canRedo());
  undo_->setText(undo_->isEnabled() ? tr("Undo: %1").arg(q(session_.history().undoLabel())) : tr("Undo"));
  redo_->setText(redo_->isEnabled() ? tr("Redo: %1").arg(q(session_.history().redoLabel())) : tr("Redo"));
  const auto& x = session_.examination();
  const size_t stops = x ? x->count(check::Severity::stops) : 0;
  route_->buildButton()->setEnabled(open && x && !session_.working());
  route_->setState(!open                ? QString()
                   : session_.working() ? tr("Working…")
                   : session_.busy()    ? tr("Looking…")
                   : stops > 0          ? tr("not ready to build")
                                        : tr("ready to build"));
}

void MainWindow::refreshPanel(StationPanel* panel) {
  waiting_.erase(panel);
  panel->refresh();
}

void MainWindow::refresh() {
  const auto& x = session_.examination();
  // Where something else is chosen in the same state, the pictures of the contents are the same too.
  const bool same_state = session_.isOpen() && std::get<0>(shown_) == x.get() &&
                          std::get<1>(shown_) == static_cast<const void*>(&session_.state());
  refreshShown(!same_state);
  if (!session_.isOpen()) return;
  static const std::vector<check::Finding> kNone;  // those of `x` are not copied: there may be thousands
  route_->setFindings(x ? x->findings : kNone, x != nullptr);
  contents_->refresh();
  findings_->refresh();
  guide_->refresh(tryout_->running());
  shown_ = {session_.examination().get(), &session_.state(), session_.model(), session_.object()};
}

void MainWindow::refreshExamined() {
  const auto now = std::tuple<const void*, const void*, std::string, std::string>(
      session_.examination().get(), session_.isOpen() ? &session_.state() : nullptr, session_.model(),
      session_.object());
  // Another scene of what is shown already concerns the instrument alone.
  if (now != std::exchange(shown_, now)) return refresh();
  sayState();
  refreshPanel(panels_[static_cast<size_t>(route_->station())]);
}

void MainWindow::setStation(Station station) {
  route_->setStation(station);
  stations_->setCurrentIndex(static_cast<int>(station));
  QWidget* middle = panels_[static_cast<size_t>(station)]->middle();
  middles_->setCurrentWidget(middle != nullptr ? middle : middles_->widget(0));
  for (StationPanel* panel : panels_)
    if (QWidget* beside = panel->beside())
      beside->setVisible(panel == panels_[static_cast<size_t>(station)] && panel->besideWanted());
  // The preparation belongs to what the bench shows.
  preparation_->setVisible(middle == nullptr);
  fitInstrument();
  if (StationPanel* panel = panels_[static_cast<size_t>(station)];
      session_.isOpen() && waiting_.count(panel) != 0)
    refreshPanel(panel);
  findings_->setStation(station);
  shape_->setStoodAt(station == Station::shape);
  skeleton_->setStoodAt(station == Station::skeleton);
  // Pointing and measuring belong to the station they were begun in.
  if (station != Station::shape) bench_->setTool(Bench::Tool::look_round);
}

void MainWindow::tell(const QString& text, bool good) {
  told_->setText((good ? QString() : QStringLiteral("◆ ")) + text);
  setTone(told_, good ? "ink" : "stops");
  told_->setToolTip(text);
  details_->setVisible(!good);
  note(text, good);
}

void MainWindow::showPlace(Station station, const check::FindingPlace& place) {
  if (!place.object.empty()) session_.selectObject(place.object);
  if (!place.model.empty()) session_.selectModel(place.model);
  setStation(station);
  if (!place.step.empty()) preparation_->showStep(place.step);
  bench_->showMarks(place.marks_m);
  panels_[static_cast<size_t>(station)]->showPlace(place);
  if (place.material.empty() || !session_.scene()) return;
  // A material is shown by the first part that wears it.
  const BenchScene& scene = *session_.scene();
  for (const BenchPart& part : scene.parts)
    for (const size_t m : part.materials)
      if (scene.materials[m].key == place.material) return bench_->setSelectedPart(part.key);
}

bool MainWindow::openMod(const QString& folder) {
  if (!mayClose()) return false;
  remember();
  session_.open(s(folder));
  refreshEdited();
  return true;
}

void MainWindow::showOutside() {
  if (!session_.outside()) return notice_->hide();
  QStringList paths;
  for (const mod::DiskChange& change : *session_.outside()) paths << q(change.path);
  notice_->say(tr("Another program changed %1 on disk.")
                   .arg(paths.size() == 1 ? paths.front() : tr("%1 files").arg(paths.size())),
               paths.join(QLatin1Char('\n')),
               {{"notice-look", tr("See what differs…"), [this] { decideOutside(); }}});
}

void MainWindow::offerFound() {
  if (!session_.found()) return;
  if (!askTakeBack(*session_.found(), this)) return session_.leaveFound();
  const auto refused = session_.takeFound();
  tell(refused.empty() ? tr("Took the unsaved edits back") : q(refused.front().text()), refused.empty());
}

void MainWindow::decideOutside() {
  const int answer = askOutside(session_.outsideDifferences(), session_.history().dirty(), this);
  if (answer == 1) {
    const auto taken = session_.takeOutside();
    tell(taken ? tr("Took what is on disk") : q(taken.error().text()), taken.ok());
    if (!taken) showOutside();
  } else if (answer == 2) {
    session_.keepOurs();
    tell(tr("Kept what is open here; the next save writes it."), true);
  } else {
    showOutside();
  }
}

void MainWindow::showPackage(const QString& file) {
  if (!session_.isOpen()) {
    auto* dialog = new PackageDialog(file, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    return dialog->open();
  }
  setStation(Station::bundle);
  bundle_->lookInto(file);
}

void MainWindow::addSources(const QStringList& paths) {
  if (!session_.isOpen()) return tell(tr("Open or start a mod first; a model is taken into one."), false);
  std::vector<std::filesystem::path> given;
  for (const QString& path : paths) given.emplace_back(s(path));
  work_.give(std::move(given));
  refreshEdited();
}

void MainWindow::chooseSources(const std::vector<prepare::Given>& given) {
  const std::vector<prepare::Given> chosen = askSourceChoice(given, this);
  if (chosen.empty()) return tell(tr("Nothing was taken in."), true);
  work_.take(chosen);
  refreshEdited();
}

void MainWindow::exportModel() {
  if (!session_.isOpen()) return;
  QStringList endings;
  for (const std::string& ending : formats::exportEndings()) endings << QStringLiteral("*.") + q(ending);
  const QString file =
      QFileDialog::getSaveFileName(this, tr("Export the prepared model"),
                                   QDir::home().filePath(q(session_.model()) + QStringLiteral(".glb")),
                                   tr("Models (%1)").arg(endings.join(QLatin1Char(' '))));
  if (file.isEmpty()) return;
  work_.exportModel(session_.model(), s(file));
  refreshEdited();
}

void MainWindow::save() {
  session_.save();
  refreshEdited();
}

bool MainWindow::mayClose() {
  if (!session_.isOpen() || !session_.history().dirty()) return true;
  switch (askUnsaved(q(session_.state().card.title), this)) {
    case 1: {
      const QString problem = session_.saveNow();
      if (!problem.isEmpty()) tell(problem, false);
      return problem.isEmpty();
    }
    case 2:
      session_.leaveUnsaved();
      return true;
    default:
      return false;
  }
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!mayClose()) return event->ignore();
  remember();
  session_.close();
  QSettings settings;
  settings.setValue(QStringLiteral("window"), saveGeometry());
  if (stations_->isVisible()) settings.setValue(widthKey(route_->station()), stations_->width());
  for (QSplitter* splitter : findChildren<QSplitter*>())
    settings.setValue(QStringLiteral("areas/") + splitter->objectName(), splitter->saveState());
  event->accept();
}

void MainWindow::restorePlace() {
  const QSettings settings;
  restoreGeometry(settings.value(QStringLiteral("window")).toByteArray());
  for (QSplitter* splitter : findChildren<QSplitter*>())
    splitter->restoreState(settings.value(QStringLiteral("areas/") + splitter->objectName()).toByteArray());
}

void MainWindow::build() {
  if (!session_.isOpen()) return;
  if (session_.working()) return;
  if (session_.busy() || !session_.examination()) {
    // The last change is still being looked at; the build follows as soon as that is done.
    build_asked_ = true;
    return tell(tr("Looking at the last change first…"), true);
  }
  // A build is made of what is on disk as well as of what is open; both must be the same.
  if (session_.history().dirty()) {
    build_after_save_ = true;
    return save();
  }
  tell(tr("Building…"), true);
  session_.build();
  refreshEdited();
}

void MainWindow::tryIt() {
  start_after_build_ = true;
  build();
}

void MainWindow::askOpen() {
  const QString folder = QFileDialog::getExistingDirectory(this, tr("Open a mod"), QDir::homePath());
  if (!folder.isEmpty()) openMod(folder);
}

void MainWindow::askSources() {
  if (!session_.isOpen()) return;
  const auto filter = [](std::initializer_list<std::vector<std::string>> lists) {
    QStringList endings;
    for (const auto& list : lists)
      for (const std::string& ending : list) endings << QStringLiteral("*.") + q(ending);
    return endings.join(QLatin1Char(' '));
  };
  const QStringList files = QFileDialog::getOpenFileNames(
      this, tr("Add sources"), QDir::homePath(),
      tr("All that can be taken in (%1);;Models (%2);;Pictures (%3);;Sounds (%4)")
          .arg(filter({formats::modelEndings(), formats::archiveEndings(), formats::pictureEndings(),
                       formats::soundEndings()}),
               filter({formats::modelEndings(), formats::archiveEndings()}),
               filter({formats::pictureEndings()}), filter({formats::soundEndings()})));
  if (!files.isEmpty()) openPaths(files);
}

void MainWindow::askNew(const QString& copy_of, const QString& title) {
  if (std::exchange(asking_new_, true)) return;  // the dialog is on its way
  session_.background().post([=, this, game = s(gameFolder())](base::Progress&) -> Background::Finish {
    auto choices = std::make_shared<NewModChoices>(NewModChoices::read(game));
    return [=, this] {
      // Opened from the event loop, not from within the bridge, which counts this job as running.
      QTimer::singleShot(0, this, [=, this] {
        asking_new_ = false;
        NewModDialog dialog(std::move(*choices), copy_of, this);
        if (!title.isEmpty()) dialog.setTitle(tr("My %1").arg(title.toLower()));
        if (dialog.exec() == QDialog::Accepted && openMod(dialog.folder())) setStation(Station::sources);
      });
    };
  });
}

void MainWindow::askThing() {
  TakingDialog dialog(session_.sharedBook(), session_.folder(), session_.snapshot(), this);
  if (dialog.exec() != QDialog::Accepted) return;
  const auto& taken = dialog.taken();
  session_.edit(tr("Take %1").arg(q(taken->object.object)),
                [&](mod::ModState& state) { state = std::move(taken->state); });
  const mod::PieceDoc* first = mod::firstModelPiece(session_.state().objects.at(taken->object.object));
  session_.select(first != nullptr ? first->model : std::string(), taken->object.object);
  setStation(Station::objects);
  QStringList lost;
  for (const std::string& one : taken->object.lost) lost << q(one);
  if (!lost.isEmpty()) tell(tr("Not taken: %1.").arg(lost.join(QStringLiteral("; "))), true);
}

void MainWindow::startFirstMod() { startFrom(exampleFolder("first-lamp"), tr("My first lamp"), true); }

void MainWindow::startFrom(const std::filesystem::path& example, const QString& title, bool guided) {
  if (std::exchange(copying_example_, true)) return;  // one copy for two clicks
  session_.background().post([=, this](base::Progress& progress) -> Background::Finish {
    const QString home = QDir::home().filePath(QStringLiteral("mods"));
    const auto made = copyExample(example, s(title), home, &progress);
    return [=, this] {
      copying_example_ = false;
      if (!made) return tell(q(made.error().text()), false);
      guide_wanted_ = guided;
      openMod(*made);
    };
  });
}

void MainWindow::remember() {
  if (!session_.isOpen()) return;
  RecentMod mod;
  mod.folder = q(session_.folder().string());
  mod.title = q(session_.state().card.title);
  mod.game = q(session_.book().title);
  mod.when = QDateTime::currentDateTime();
  if (const auto& x = session_.examination()) {
    mod.examined = true;
    mod.stops = static_cast<int>(x->count(check::Severity::stops));
    mod.shows = static_cast<int>(x->count(check::Severity::shows));
    mod.tidy = static_cast<int>(x->count(check::Severity::tidy));
  }
  QImage picture = bench_->takePicture(QSize(118, 118), theme().sheet);
  if (!picture.isNull()) picture = picture.scaled(59, 59, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  rememberMod(mod, picture);
}

void MainWindow::setNight(bool night) {
  applyTheme(*qApp, night);
  QSettings().setValue(QStringLiteral("night"), night);
  start_page_->refresh();
  help_->renew();
  refresh();
  takeThumbnail();
  bench_->update();
}

void MainWindow::takeThumbnail() {
  if (!session_.scene()) return;
  turned_.clear();
  takeTurned();
}

void MainWindow::takeTurned() {
  if (!session_.scene()) return;
  const auto angle = static_cast<float>(turned_.size()) * 6.2831853F / kTurns;
  const QImage picture = bench_->takePicture(QSize(78, 78), theme().sheet, angle);
  if (picture.isNull()) return;
  turned_ << picture;
  // The first is shown at once; the others follow one by one, while nobody waits for anything.
  if (turned_.size() == 1 || turned_.size() == kTurns)
    contents_->setPictures(session_.scene()->model, turned_);
  if (turned_.size() < kTurns) turning_.start();
}

void MainWindow::changeEvent(QEvent* event) {
  // Whoever comes back from another program wants to know at once what it did.
  if (event->type() == QEvent::ActivationChange && isActiveWindow()) session_.lookOutside();
  QMainWindow::changeEvent(event);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  QStringList paths;
  for (const QUrl& url : event->mimeData()->urls())
    if (const QString path = url.toLocalFile(); !path.isEmpty()) paths << path;
  openPaths(paths);
}

void MainWindow::openPath(const QString& path) { openPaths({path}); }

void MainWindow::openPaths(const QStringList& paths) {
  QStringList sources, zips;
  for (const QString& path : paths) {
    const QFileInfo file(path);
    // What a game loads or Rakugo opens is no source; of a folder that is no mod the models are taken in.
    if (file.isDir() && (!session_.isOpen() || QFileInfo::exists(path + QStringLiteral("/mod.json"))))
      openMod(path);
    else if (file.fileName() == QLatin1String("mod.json"))
      openMod(file.absolutePath());
    else if (path.endsWith(QLatin1String(".rkb")))
      showPackage(path);
    else if (path.endsWith(QLatin1String(".zip"), Qt::CaseInsensitive))
      zips << path;
    else if (!file.exists())
      tell(tr("There is no %1.").arg(path), false);
    else
      sources << path;
  }
  if (zips.isEmpty() && !sources.isEmpty()) addSources(sources);
  if (!zips.isEmpty()) openZips(zips, sources);
}

void MainWindow::openZips(const QStringList& zips, const QStringList& beside) {
  // A game's package and a download from a model site have the same ending; what is inside tells them apart.
  session_.background().post([this, zips, beside](base::Progress&) -> Background::Finish {
    QStringList packages, sources = beside;
    for (const QString& path : zips) {
      // Whole but no mod, or packed with paths a package may not have: what a model site hands out. The rest,
      // damaged ones too, is shown as a package, which says what is wrong with it.
      const auto looked = packing::lookInto(std::filesystem::path(s(path)));
      const bool package =
          looked.ok() || (looked.error().code != "package.manifest" && looked.error().code != "zip.path");
      (package ? packages : sources) << path;
    }
    return [this, packages, sources]() mutable {
      if (!session_.isOpen()) {
        // Nothing to take them into: what is in them can be looked at.
        if (packages.isEmpty()) packages = sources;
        sources.clear();
      }
      if (!packages.isEmpty()) showPackage(packages.front());
      if (!sources.isEmpty()) addSources(sources);
    };
  });
}

void MainWindow::copyDetails() {
  ReportFacts facts;
  if (details_->isVisible()) facts.problem = told_->toolTip();
  facts.graphics = bench_->graphics();
  if (session_.isOpen()) {
    const mod::ModCard& card = session_.state().card;
    facts.mod = q(card.id + " " + card.version);
    facts.rulebook = q(card.rulebook + " " + session_.book().version);
  }
  QApplication::clipboard()->setText(problemReport(facts));
  statusBar()->showMessage(tr("Copied: versions, system, and the end of the log"), 4000);
}

}  // namespace rakugo::app
