#include "window_driver.h"

#include <QCheckBox>
#include <QPointer>
#include <QScreen>
#include <QScrollArea>
#include <QScrollBar>
#include <QSettings>
#include <cstring>
#include <filesystem>

#include "app/contents/contents_view.h"
#include "app/findings/findings_view.h"
#include "app/widgets/chapter.h"
#include "app/widgets/row_list.h"
#include "app/widgets/theme.h"

namespace rakugo::test {

std::unique_ptr<QApplication> startProgram(int& argc, char** argv, int samples) {
  // Journals, settings and caches of tests lie in a folder of the run's own.
  static const QTemporaryDir kOwn;
  for (const char* place : {"XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME"})
    qputenv(place, (kOwn.path() + QLatin1Char('/') + QLatin1String(place)).toUtf8());
  QSurfaceFormat format = rakugo::render::surfaceFormat();
  format.setSamples(samples);
  QSurfaceFormat::setDefaultFormat(format);
  auto program = std::make_unique<QApplication>(argc, argv);
  QApplication::setApplicationName(QStringLiteral("rakugo-test"));
  QApplication::setOrganizationName(QStringLiteral("rakugo-test"));
  app::applyTheme(*program);
  return program;
}

namespace {

bool waited(app::MainWindow& window, bool tried) {
  const bool good = QTest::qWaitFor(
      [&] {
        const app::Session& session = window.session();
        if (session.working() || window.session().background().busy()) return false;
        return !session.isOpen() || (tried ? session.triedMends() : !session.busy());
      },
      kPatience_ms);
  QTest::qWait(120);
  return good;
}

}  // namespace

bool settle(app::MainWindow& window) { return waited(window, true); }
bool examined(app::MainWindow& window) { return waited(window, false); }

QWidget* chooseFinding(app::MainWindow& window, const char* check, const char* button) {
  auto* view = find<app::FindingsView>(window, "findings-list");
  if (view == nullptr) return nullptr;
  for (const QModelIndex& row :
       view->model()->match(view->model()->index(0, 0), app::FindingsRows::check_role,
                            QString::fromUtf8(check), -1, Qt::MatchExactly)) {
    if (view->currentIndex() != row) {
      view->scrollTo(row);
      // Beside its "Mend".
      QTest::mouseClick(view->viewport(), Qt::LeftButton, {},
                        view->visualRect(row).topLeft() + QPoint(60, 12));
      QTest::qWait(20);
    }
    if (QWidget* there = find<QWidget>(window, (std::string(button) + check).c_str())) return there;
  }
  return nullptr;
}

int listedFindings(app::MainWindow& window) {
  auto* view = find<app::FindingsView>(window, "findings-list");
  int out = 0;
  for (int row = 0; view != nullptr && row < view->model()->rowCount(); ++row)
    out += view->model()->index(row, 0).data(app::FindingsRows::heading_role).toBool() ? 0 : 1;
  return out;
}

namespace {

// A row of a list, or one of its signs: in a folded chapter that is unfolded first.
bool clickInList(app::MainWindow& window, const char* name) {
  for (auto* list : window.findChildren<app::RowList*>()) {
    const QRect there = list->placeOf(QString::fromUtf8(name));
    if (there.isEmpty()) continue;
    app::unfoldTo(list);
    if (!list->isVisible()) continue;
    QTest::qWait(20);
    app::revealPlace(list, list->placeOf(QString::fromUtf8(name)));
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->placeOf(QString::fromUtf8(name)).center());
    QTest::qWait(20);
    return true;
  }
  return false;
}

}  // namespace

bool click(app::MainWindow& window, const char* name) {
  QWidget* widget = find<QWidget>(window, name);
  // The buttons of a finding are there once it is chosen.
  if (widget == nullptr)
    for (const char* what : {"mend-", "show-", "more-", "with-", "take-up-", "finding-"})
      if (widget == nullptr && std::string_view(name).rfind(what, 0) == 0)
        widget = chooseFinding(window, name + std::strlen(what), what);
  // What is in a folded chapter is unfolded first, as whoever looks for it does.
  if (widget == nullptr) {
    QTest::qWait(60);  // what was just made is shown by the event loop
    widget = find<QWidget>(window, name);
  }
  if (widget == nullptr)
    for (QWidget* one : window.findChildren<QWidget*>(QString::fromUtf8(name))) {
      app::unfoldTo(one);
      if (one->isVisible()) widget = one;
    }
  if (widget == nullptr) {
    if (clickInList(window, name)) return true;
    qWarning("there is no visible %s", name);
    return false;
  }
  for (QWidget* up = widget->parentWidget(); up != nullptr; up = up->parentWidget())
    if (auto* area = qobject_cast<QScrollArea*>(up)) area->ensureWidgetVisible(widget, 0, 10);
  if (auto* list = find<app::FindingsView>(window, "findings-list");
      list != nullptr && list->isAncestorOf(widget)) {
    QScrollBar* bar = list->verticalScrollBar();
    const QRect at(widget->mapTo(list->viewport(), QPoint(0, 0)), widget->size());
    if (at.bottom() > list->viewport()->height())
      bar->setValue(bar->value() + at.bottom() - list->viewport()->height() + 4);
    if (at.top() < 0) bar->setValue(bar->value() + at.top() - 4);
  }
  const QPointer<QWidget> there = widget;
  QTest::qWait(20);
  // What was made anew meanwhile stands in the same place.
  if (there == nullptr) widget = find<QWidget>(window, name);
  if (widget == nullptr) return false;
  // A check box is as wide as its column, but takes clicks on its box and words only.
  const QPoint at =
      qobject_cast<QCheckBox*>(widget) != nullptr ? QPoint(9, widget->height() / 2) : widget->rect().center();
  QTest::mouseClick(widget, Qt::LeftButton, {}, at);
  QTest::qWait(20);
  return true;
}

QRect rowOf(app::MainWindow& window, const char* key) {
  auto* view = find<app::ContentsView>(window, "contents-list");
  if (view == nullptr) return {};
  const auto found = view->model()->match(view->model()->index(0, 0), app::ContentsRows::key_role,
                                          QString::fromUtf8(key), 1, Qt::MatchExactly);
  if (found.isEmpty()) return {};
  view->scrollTo(found.front());
  return view->visualRect(found.front());
}

bool clickRow(app::MainWindow& window, const char* key, Qt::KeyboardModifiers with) {
  const QRect row = rowOf(window, key);
  if (row.isEmpty()) {
    qWarning("the contents have no %s", key);
    return false;
  }
  QTest::mouseClick(find<app::ContentsView>(window, "contents-list")->viewport(), Qt::LeftButton, with,
                    row.center());
  QTest::qWait(20);
  return true;
}

QString copyOfMod(const QTemporaryDir& folder, const char* name) {
  namespace fs = std::filesystem;
  const fs::path from = fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / name,
                 to = fs::path(folder.path().toStdString()) / name;
  fs::copy(from, to, fs::copy_options::recursive);
  fs::remove_all(to / "build");
  return QString::fromStdString(to.string());
}

bool shoot(app::MainWindow& window, const QString& file) {
  QTest::qWait(150);
  const QPixmap picture = window.screen()->grabWindow(window.winId());
  return !picture.isNull() && picture.save(file);
}

void look(app::MainWindow& window, const char* name) {
  const QString folder = qEnvironmentVariable("RAKUGO_LOOK");
  if (!folder.isEmpty())
    shoot(window, folder + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png"));
}

}  // namespace rakugo::test
