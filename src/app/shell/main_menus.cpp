// The menus of the window, and the keys of what is in them.
#include <QAbstractScrollArea>
#include <QActionGroup>
#include <QMenuBar>
#include <QMessageBox>
#include <QStackedWidget>

#include "app/help/help_panel.h"
#include "app/shell/display.h"
#include "app/shell/edits_dialog.h"
#include "app/shell/main_window.h"
#include "app/stations/tryout/station_tryout.h"
#include "app/widgets/chapter.h"
#include "app/widgets/theme.h"

namespace rakugo::app {

// Adds an action whose keys can be changed; `id` is what the settings know it by.
template <class Target, class Slot>
QAction* MainWindow::addAction(QMenu* menu, const char* id, const QString& text, const QKeySequence& keys,
                               Target* target, Slot slot) {
  QAction* action = menu->addAction(text, keys, target, slot);
  action->setObjectName(QString::fromLatin1(id));
  shortcuts_.add(action, menu->title().remove(QLatin1Char('&')));
  return action;
}

namespace {

QKeySequence keys(const char* text) { return QKeySequence(QString::fromLatin1(text)); }

}  // namespace

void MainWindow::makeMenus() {
  makeModMenu();
  QMenu* edit = menuBar()->addMenu(tr("&Edit"));
  undo_ = addAction(edit, "undo", tr("Undo"), QKeySequence::Undo, &session_, &Session::undo);
  redo_ = addAction(edit, "redo", tr("Redo"), keys("Ctrl+Shift+Z"), &session_, &Session::redo);
  edit->addSeparator();
  needs_mod_.push_back(addAction(edit, "all-edits", tr("All edits…"), keys("Ctrl+Shift+E"), this,
                                 [this] { EditsDialog(session_, this).exec(); }));
  makeGoMenu();
  makeViewMenu();
  QMenu* help = menuBar()->addMenu(tr("&Help"));
  addAction(help, "help-here", tr("Help on what is at hand"), keys("F1"), this, &MainWindow::helpHere);
  addAction(help, "help-all", tr("All pages of the help"), keys("Shift+F1"), this,
            [this] { this->help({}); });
  help->addSeparator();
  addAction(help, "keys", tr("Keys…"), keys("Ctrl+F1"), this,
            [this] { ShortcutsDialog(shortcuts_, this).exec(); });
  addAction(help, "copy-report", tr("Copy details for a report"), {}, this, &MainWindow::copyDetails);
  addAction(help, "about", tr("About Rakugo"), {}, this, [this] {
    QMessageBox::about(this, tr("About Rakugo"),
                       tr("Rakugo %1\n\nPrepares models for games, checks them against a game's rules, and "
                          "builds them into mods.\nMIT licence.")
                           .arg(QString::fromLatin1(RAKUGO_VERSION)));
  });
}

void MainWindow::makeModMenu() {
  QMenu* mod = menuBar()->addMenu(tr("&Mod"));
  addAction(mod, "new", tr("&New…"), QKeySequence::New, this, [this] { askNew({}, {}); });
  addAction(mod, "open", tr("&Open…"), QKeySequence::Open, this, &MainWindow::askOpen);
  needs_mod_.push_back(addAction(mod, "copy", tr("New from a &copy of this…"), {}, this,
                                 [this] { askNew(q(session_.folder().string()), {}); }));
  needs_mod_.push_back(
      addAction(mod, "begin-from", tr("Begin from something that works…"), {}, this, &MainWindow::askThing));
  save_ = addAction(mod, "save", tr("&Save"), QKeySequence::Save, this, &MainWindow::save);
  mod->addSeparator();
  needs_mod_.push_back(
      addAction(mod, "add-model", tr("Add &sources…"), keys("Ctrl+M"), this, &MainWindow::askSources));
  needs_mod_.push_back(addAction(mod, "export-model", tr("E&xport the prepared model…"), keys("Ctrl+Shift+X"),
                                 this, &MainWindow::exportModel));
  needs_rest_ = {addAction(mod, "build", tr("&Build"), keys("Ctrl+B"), this, &MainWindow::build),
                 addAction(mod, "install", tr("&Install in the game"), keys("Ctrl+I"), this,
                           [this] { session_.install(s(gameFolder())); }),
                 addAction(mod, "try", tr("&Try it in the game"), keys("Ctrl+T"), this, [this] {
                   setStation(Station::tryout);
                   if (!tryout_->running()) tryIt();
                 })};
  mod->addSeparator();
  addAction(mod, "quit", tr("&Quit"), QKeySequence::Quit, this, &QWidget::close);
}

void MainWindow::makeGoMenu() {
  QMenu* go = menuBar()->addMenu(tr("&Go"));
  int number = 1;
  for (const Station station : kStations) {
    const QByteArray id = "station-" + QByteArray::number(number);
    needs_mod_.push_back(addAction(go, id.constData(), stationTitle(station),
                                   QKeySequence(QStringLiteral("Alt+%1").arg(number++)), this,
                                   [this, station] { setStation(station); }));
  }
  go->addSeparator();
  // Straight to each area of the window, for those who work without a mouse.
  const auto area = [&](const char* id, const QString& text, const char* key, QWidget* widget) {
    needs_mod_.push_back(addAction(go, id, text, keys(key), this, [this, widget] {
      alone_->setChecked(false);
      if (widget == contents_ && contents_->isHidden()) help_->hide();
      focusInto(widget);
    }));
  };
  area("to-contents", tr("To the contents"), "Ctrl+Shift+C", contents_);
  area("to-bench", tr("To the bench"), "Ctrl+Shift+B", bench_);
  area("to-instrument", tr("To the station's instrument"), "Ctrl+Shift+I", stations_);
  area("to-preparation", tr("To the preparation"), "Ctrl+Shift+P", preparation_);
  area("to-findings", tr("To the findings"), "Ctrl+Shift+F", findings_);
  go->addSeparator();
  const auto chapter = [&](const char* id, const QString& text, const char* key, int by) {
    needs_mod_.push_back(addAction(go, id, text, keys(key), this, [this, by] {
      alone_->setChecked(false);
      panels_[static_cast<size_t>(route_->station())]->stepChapter(by);
    }));
  };
  chapter("next-chapter", tr("To the next chapter"), "F7", 1);
  chapter("chapter-before", tr("To the chapter before"), "Shift+F7", -1);
}

void MainWindow::makeViewMenu() {
  QMenu* view = menuBar()->addMenu(tr("&View"));
  const std::pair<const char*, QString> kViews[] = {
      {"forward", tr("From the front")}, {"back", tr("From behind")}, {"left", tr("From the left")},
      {"right", tr("From the right")},   {"up", tr("From above")},    {"floor", tr("From below")}};
  for (const auto& [side, text] : kViews) {
    const QByteArray id = QByteArray("from-") + side;
    needs_mod_.push_back(addAction(view, id.constData(), text, {}, this,
                                   [this, side = QString::fromLatin1(side)] { bench_->lookFrom(side); }));
  }
  view->addSeparator();
  needs_mod_.push_back(
      addAction(view, "whole-model", tr("The whole model"), keys("Ctrl+0"), bench_, &Bench::fit));
  view->addSeparator();
  alone_ = addAction(view, "middle-alone", tr("The bench alone"), keys("F8"), this, [] {});
  alone_->setCheckable(true);
  connect(alone_, &QAction::toggled, this, &MainWindow::giveRoom);
  needs_mod_.push_back(alone_);
  const auto fold = [&](const char* id, const QString& text, auto&& act) {
    needs_mod_.push_back(addAction(view, id, text, {}, this, act));
  };
  fold("fold-preparation", tr("Fold or unfold the preparation"),
       [this] { Q_EMIT preparation_->foldAsked(!preparation_->folded()); });
  fold("fold-findings", tr("Fold or unfold the findings"),
       [this] { Q_EMIT findings_->foldAsked(!findings_->folded()); });
  fold("unfold-chapters", tr("Unfold all chapters"), [this] { Chapter::keepAll(*this, true); });
  fold("fold-chapters", tr("Fold all chapters"), [this] { Chapter::keepAll(*this, false); });
  view->addSeparator();
  QAction* night = addAction(view, "night-colours", tr("Night colours"), {}, this, &MainWindow::setNight);
  night->setCheckable(true);
  night->setChecked(isNight());
  QMenu* size = view->addMenu(tr("Size of everything"));
  auto* sizes = new QActionGroup(size);
  for (const double scale : kScales) {
    QAction* one = size->addAction(scale == 0 ? tr("As the system's letters")
                                              : tr("%1 %").arg(static_cast<int>(scale * 100)));
    one->setObjectName(QStringLiteral("scale-%1").arg(static_cast<int>(scale * 100)));
    one->setCheckable(true);
    one->setChecked(keptScale() == scale);
    sizes->addAction(one);
    connect(one, &QAction::triggered, this, [this, scale] {
      keepScale(scale);
      tell(tr("Everything has that size from the next start of Rakugo on."), true);
    });
  }
  QAction* still = addAction(view, "less-motion", tr("Nothing moves by itself"), {}, this,
                             [](bool less) { keepLessMotion(less); });
  still->setCheckable(true);
  still->setChecked(lessMotion());
}

void MainWindow::focusInto(QWidget* area) {
  const QWidget* stands_for = area->focusProxy();
  if (area->focusPolicy() != Qt::NoFocus || (stands_for != nullptr && stands_for->isVisible()))
    return area->setFocus(Qt::ShortcutFocusReason);
  // The first control in tab order that is in there and can be used.
  for (QWidget* next = area->nextInFocusChain(); next != area; next = next->nextInFocusChain())
    if (area->isAncestorOf(next) && next->isVisible() && next->isEnabled() &&
        (next->focusPolicy() & Qt::TabFocus) == Qt::TabFocus &&
        qobject_cast<QAbstractScrollArea*>(next) == nullptr)
      return next->setFocus(Qt::ShortcutFocusReason);
}

}  // namespace rakugo::app
