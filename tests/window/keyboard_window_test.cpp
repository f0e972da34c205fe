// The window without a mouse: the first mod from start to game, and keys that can be changed.
#include <QAbstractItemModelTester>
#include <QElapsedTimer>
#include <QFloat16>
#include <QKeySequenceEdit>
#include <QMenu>
#include <QMenuBar>
#include <QProcess>
#include <QSettings>
#include <QSignalSpy>
#include <QSortFilterProxyModel>
#include <QSplitter>
#include <QTableView>
#include <QToolButton>
#include <random>

#include "base/files.h"
#include "mod/store.h"
#include "window_fixture.h"

namespace rakugo {

using app::Shortcuts;
using app::Station;

class KeyboardWindowTest : public test::WindowFixture {
  Q_OBJECT
 private:
  // Presses Tab until a widget of that name has the keyboard; what a person does who cannot point.
  bool tabTo(const QString& name, int most = 400) {
    for (int i = 0; i < most; ++i) {
      QWidget* at = QApplication::focusWidget();
      if (at != nullptr && at->objectName() == name && at->isVisible()) return true;
      QTest::keyClick(at != nullptr ? at : static_cast<QWidget*>(window_.get()), Qt::Key_Tab);
    }
    qWarning("Tab never came to %s", qPrintable(name));
    return false;
  }
  bool press(const QString& name) {
    if (!tabTo(name)) return false;
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Space);
    return test::settle(*window_);
  }
  bool fill(const QString& name, const QString& text) {
    if (!tabTo(name)) return false;
    QWidget* at = QApplication::focusWidget();
    QTest::keyClick(at, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(at, text);
    QTest::keyClick(at, Qt::Key_Tab);
    return test::settle(*window_);
  }
  void keys(Qt::Key key, Qt::KeyboardModifiers with) {
    QWidget* at = QApplication::focusWidget();
    QTest::keyClick(at != nullptr ? at : static_cast<QWidget*>(window_.get()), key, with);
  }
  QStringList findings() {
    QStringList out;
    if (const auto& x = session().examination())
      for (const check::Finding& f : x->findings) out << QString::fromStdString(f.check);
    return out;
  }

 private Q_SLOTS:
  void init() {
    QSettings().remove(QStringLiteral("keys"));
    begin();
  }
  void cleanup() {
    end();
    QSettings().remove(QStringLiteral("keys"));
  }

  void theFirstModByKeysAlone() {
    qputenv("HOME", folder_->path().toUtf8());
    QVERIFY(tabTo(QStringLiteral("start-first")));
    keys(Qt::Key_Space, Qt::NoModifier);
    QTRY_VERIFY_WITH_TIMEOUT(session().isOpen(), test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    // All that can be mended by one button, as long as there is one.
    for (const char* id :
         {"mend-size.unit", "mend-axes.differ", "mend-part.stray", "mend-placement.not_baked",
          "mend-origin.place", "mend-picture.missing", "mend-role.missing"}) {
      keys(Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
      QVERIFY2(press(QString::fromLatin1(id)), id);
    }
    keys(Qt::Key_5, Qt::AltModifier);
    keys(Qt::Key_I, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(press(QStringLiteral("field-lit")));
    QVERIFY(fill(QStringLiteral("field-blurb"), QStringLiteral("A lamp for the quay.")));
    QVERIFY(fill(QStringLiteral("field-price"), QStringLiteral("180")));
    QVERIFY(fill(QStringLiteral("field-mass"), QStringLiteral("62.5")));
    QVERIFY(press(QStringLiteral("mend-field.empty")));
    // Which material is the lamp is chosen from the finding's menu.
    keys(Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(tabTo(QStringLiteral("more-role.missing")));
    QTimer::singleShot(200, window_.get(), [&] {
      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      if (menu == nullptr) return;
      for (QAction* way : menu->actions())
        if (way->text().contains(QStringLiteral("mat_17"))) menu->setActiveAction(way);
      QTest::keyClick(menu, Qt::Key_Return);
    });
    keys(Qt::Key_Space, Qt::NoModifier);
    QVERIFY(test::settle(*window_));
    QVERIFY(press(QStringLiteral("mend-point.missing")));
    if (window_->bench().works()) {
      keys(Qt::Key_I, Qt::ControlModifier | Qt::ShiftModifier);
      QVERIFY(press(QStringLiteral("take-icon")));
      QCOMPARE(findings(), QStringList());
    }
    QSignalSpy built(&session(), &app::Session::built), installed(&session(), &app::Session::installed);
    keys(Qt::Key_B, Qt::ControlModifier);
    QTRY_COMPARE_WITH_TIMEOUT(built.size(), 1, test::kPatience_ms);
    QVERIFY(built.at(0).at(0).toBool());
    QVERIFY(test::settle(*window_));
    keys(Qt::Key_I, Qt::ControlModifier);
    QTRY_COMPARE_WITH_TIMEOUT(installed.size(), 1, test::kPatience_ms);
    QVERIFY(installed.at(0).at(0).toBool());
  }

  void everyAreaIsReachedByItsKeys() {
    QVERIFY(open(test::copyOfMod(*folder_, "first-lamp")));
    const auto within = [&](const char* type) {
      for (QWidget* up = QApplication::focusWidget(); up != nullptr; up = up->parentWidget())
        if (up->inherits(type)) return true;
      return false;
    };
    const auto both = Qt::ControlModifier | Qt::ShiftModifier;
    keys(Qt::Key_C, both);
    QVERIFY(within("rakugo::app::Contents"));
    keys(Qt::Key_P, both);
    QVERIFY(within("rakugo::app::Preparation"));
    keys(Qt::Key_F, both);
    QVERIFY(within("rakugo::app::FindingsPanel"));
    keys(Qt::Key_I, both);
    QVERIFY(within("rakugo::app::StationPanel"));
    if (!window_->bench().works()) return;
    keys(Qt::Key_B, both);
    QVERIFY(within("rakugo::app::Bench"));
  }

  void keysAreListedChangedKeptAndGivenBack() {
    const auto action = [&](const char* id) { return window_->findChild<QAction*>(QString::fromLatin1(id)); };
    const QKeySequence other(QStringLiteral("Ctrl+Shift+K"));
    whenDialogOpens("keys", [&](QWidget& dialog) {
      auto* table = test::find<QTableView>(dialog, "keys-table");
      auto* search = test::find<QLineEdit>(dialog, "keys-search");
      const int all = table->model()->rowCount();
      QVERIFY(all > 25);
      QTest::keyClicks(search, QStringLiteral("build"));
      QCOMPARE(table->model()->rowCount(), 1);
      table->setFocus();
      table->setCurrentIndex(table->model()->index(0, 0));
      QTest::keyClick(table, Qt::Key_Return);
      auto* edit = table->findChild<QKeySequenceEdit*>(QStringLiteral("keys-edit"));
      QVERIFY(edit);
      QTest::keyClick(edit, Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier);
      QTRY_COMPARE_WITH_TIMEOUT(action("build")->shortcut(), other, test::kPatience_ms);
      dialog.close();
    });
    keys(Qt::Key_F1, Qt::NoModifier);
    QTRY_COMPARE_WITH_TIMEOUT(action("build")->shortcut(), other, test::kPatience_ms);
    // The next start knows them.
    end();
    begin();
    QCOMPARE(action("build")->shortcut(), other);
    whenDialogOpens("keys", [&](QWidget& dialog) {
      QTest::mouseClick(test::find<QPushButton>(dialog, "keys-reset"), Qt::LeftButton);
      dialog.close();
    });
    keys(Qt::Key_F1, Qt::NoModifier);
    QTRY_COMPARE_WITH_TIMEOUT(action("build")->shortcut(), QKeySequence(QStringLiteral("Ctrl+B")),
                              test::kPatience_ms);
    QVERIFY(QSettings().allKeys().filter(QStringLiteral("keys/")).isEmpty());
  }

  void theModelOfKeysKeepsItsPromises() {
    QMenu menu(QStringLiteral("Menu"));
    Shortcuts model;
    const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::Fatal);
    QSortFilterProxyModel proxy;
    proxy.setSourceModel(&model);
    const QAbstractItemModelTester outer(&proxy, QAbstractItemModelTester::FailureReportingMode::Fatal);
    for (int i = 0; i < 12; ++i) {
      QAction* action = menu.addAction(QStringLiteral("Thing &%1…").arg(i));
      action->setObjectName(QStringLiteral("thing-%1").arg(i));
      if (i % 2 == 0) action->setShortcut(QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_A + i)));
      model.add(action, QStringLiteral("Menu"));
    }
    QCOMPARE(model.index(3, Shortcuts::kWhat).data().toString(), QStringLiteral("Menu: Thing 3"));
    std::mt19937 random(7);
    for (int i = 0; i < 300; ++i) {
      const int row = static_cast<int>(random() % 12);
      const QKeySequence keys(random() % 4 == 0
                                  ? QKeySequence()
                                  : QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_A + random() % 6)));
      QVERIFY(model.setData(model.index(row, Shortcuts::kKeys), QVariant::fromValue(keys), Qt::EditRole));
      if (!keys.isEmpty()) QCOMPARE(model.rowOf(keys), row);
      proxy.setFilterFixedString(QString::number(random() % 12));
      // No keys belong to two.
      QSet<QString> seen;
      for (QAction* action : menu.actions()) {
        const QString own = action->shortcut().toString();
        QVERIFY(own.isEmpty() || !seen.contains(own));
        seen.insert(own);
      }
    }
    model.reset();
    for (int i = 0; i < 12; ++i)
      QCOMPARE(menu.actions()[i]->shortcut().toString(), i % 2 == 0 ? model.firstKeys(i) : QString());
    QVERIFY(!model.setData(model.index(0, Shortcuts::kWhat), QStringLiteral("x"), Qt::EditRole));
  }

  void theWindowComesBackAsItWasLeft() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    auto* upper = window_->findChild<QSplitter*>(QStringLiteral("upper"));
    window_->resize(1300, 820);
    upper->setSizes({260, 700, 340});
    QTest::qWait(50);
    const QList<int> sizes = upper->sizes();
    window_->close();
    newWindow();
    window_->restorePlace();
    QCOMPARE(window_->size(), QSize(1300, 820));
    QVERIFY(open(folder_->path() + QStringLiteral("/lamplight")));
    QCOMPARE(window_->findChild<QSplitter*>(QStringLiteral("upper"))->sizes(), sizes);
  }

  void theWindowIsThereSoonAfterItIsAskedFor() {
    // Said, not judged: times never gate. A page that can be used is one whose buttons are painted.
    window_.reset();
    QElapsedTimer clock;
    clock.start();
    newWindow();
    QVERIFY(test::find<QPushButton>(*window_, "start-open"));
    qInfo("usable after %lld ms", clock.elapsed());
  }

  void noTwoActionsShareKeys() {
    QMap<QString, QString> seen;
    for (const QAction* action : window_->findChildren<QAction*>()) {
      const QString own = action->shortcut().toString();
      if (own.isEmpty()) continue;
      QVERIFY2(!seen.contains(own), qPrintable(own + QStringLiteral(": ") + action->text()));
      seen[own] = action->text();
      QVERIFY2(!action->objectName().isEmpty(), qPrintable(action->text()));
    }
    QVERIFY(seen.size() > 15);
  }

  void aModelIsDrawnFullySoonAfterItWasTurned() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    if (!window_->bench().works()) QSKIP("no OpenGL");
    keys(Qt::Key_B, Qt::ControlModifier | Qt::ShiftModifier);
    QTest::keyClick(&window_->bench(), Qt::Key_Left);
    QVERIFY(window_->bench().moving());
    QTRY_VERIFY_WITH_TIMEOUT(!window_->bench().moving(), test::kPatience_ms);
  }
};

}  // namespace rakugo

int main(int argc, char** argv) { return rakugo::test::runTests<rakugo::KeyboardWindowTest>(argc, argv); }
#include "keyboard_window_test.moc"
