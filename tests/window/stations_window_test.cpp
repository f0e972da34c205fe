// The stations, the findings and the start page in the real window, with mouse and keys.
#include <QAction>
#include <QComboBox>
#include <QDir>
#include <QDropEvent>
#include <QMenu>
#include <QMimeData>
#include <QSettings>
#include <QTableWidget>

#include "app/guide.h"
#include "app/match_board.h"
#include "app/recent.h"
#include "app/theme.h"
#include "base/files.h"
#include "mod/store.h"
#include "window_fixture.h"

using namespace rakugo;
using app::Station;

class StationsWindowTest : public test::WindowFixture {
  Q_OBJECT

  QStringList checks(bool with_aside = true) {
    QStringList out;
    for (const auto& f : session().examination()->findings)
      if (with_aside || !f.set_aside) out << QString::fromStdString(f.check);
    return out;
  }
  // Chooses an entry of a combo box with the keyboard.
  void choose(const char* name, const QString& text) {
    auto* box = test::find<QComboBox>(*window_, name);
    QVERIFY2(box, name);
    const int wanted = box->findText(text);
    QVERIFY2(wanted >= 0, qPrintable(text));
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Home);
    for (int i = 0; i < wanted; ++i) {
      QTest::keyClick(box, Qt::Key_Down);
      QTest::qWait(40);
      box = test::find<QComboBox>(*window_, name);  // each choice may build the card anew
      QVERIFY(box);
    }
    QVERIFY(test::settle(*window_));
  }
  void pickFromMore(const char* button, const QString& text) {
    auto* more = test::find<QPushButton>(*window_, button);
    QVERIFY2(more && more->menu(), button);
    for (QAction* action : more->menu()->actions())
      if (action->text() == text) return action->trigger();
    QFAIL(qPrintable(QStringLiteral("not offered: ") + text));
  }

 private Q_SLOTS:
  void init() {
    begin();
    QSettings().clear();
  }
  void cleanup() {
    app::applyTheme(*qApp, false);
    end();
  }

  // A keeper by another maker: matched on the board, mended, and all of it taken back and done again.
  void theNewcomerIsMatchedOnTheBoard() {
    QVERIFY(open(test::copyOfMod(*folder_, "newcomer")));
    window_->setStation(Station::skeleton);
    QTest::qWait(50);
    auto* board = window_->findChild<app::MatchBoard*>();
    QVERIFY(board != nullptr && board->isVisible());
    QCOMPARE(board->places().size(), size_t{20});
    QCOMPARE(board->bones().size(), size_t{24});
    const auto slot = [&](const char* id) {
      for (size_t i = 0; i < board->places().size(); ++i)
        if (board->places()[i].id == QLatin1String(id)) return i;
      return size_t{0};
    };
    const auto bone = [&](const char* name) {
      for (size_t i = 0; i < board->bones().size(); ++i)
        if (board->bones()[i].name == QLatin1String(name)) return i;
      return size_t{0};
    };
    QCOMPARE(board->places()[slot("neck")].state, app::MatchBoard::State::empty);
    QCOMPARE(board->places()[slot("head")].state, app::MatchBoard::State::sure);
    QVERIFY(board->bones()[bone("Figur_Kopf_Ende")].surplus);
    // Left is on the right of a figure that looks at one, in both.
    QVERIFY(board->slotPoint(slot("hand.port")).x() > board->slotPoint(slot("hand.starboard")).x());
    QVERIFY(board->bonePoint(bone("Figur_Hand_links")).x() > board->bonePoint(bone("Figur_Hand_rechts")).x());
    // A click on a slot says which bone it has, and why.
    QTest::mouseClick(board, Qt::LeftButton, {}, board->slotPoint(slot("elbow.port")).toPoint());
    auto* chosen = test::find<QComboBox>(*window_, "slot-bone");
    QCOMPARE(chosen->currentText(), QStringLiteral("Figur_Unterarm_links"));
    QVERIFY(test::find<QLabel>(*window_, "slot-reason")->text().contains(QStringLiteral("forearm")));
    // The keyboard walks from slot to slot.
    board->setFocus();
    QTest::keyClick(board, Qt::Key_Down);
    QCOMPARE(board->chosen(), QStringLiteral("hand.port"));
    // A bone that is clicked in the list is chosen with its slot; one that no slot has, by itself.
    const auto clickBone = [&](const char* name) {
      for (const QPushButton* row : window_->findChildren<QPushButton*>())
        if (row->text() == QLatin1String(name) && row->isVisible())
          return test::click(*window_, row->objectName().toUtf8().constData());
      return false;
    };
    QVERIFY(clickBone("Figur_Fuss_rechts"));
    QCOMPARE(board->chosen(), QStringLiteral("foot.starboard"));
    QCOMPARE(chosen->currentText(), QStringLiteral("Figur_Fuss_rechts"));
    QVERIFY(chosen->findText(QStringLiteral("Take the name back")) < 0);
    QVERIFY(clickBone("Figur_Kopf_Ende"));
    QVERIFY(board->chosen().isEmpty());
    QVERIFY(!chosen->isVisible());
    board->choose(QStringLiteral("neck"));
    QCOMPARE(chosen->currentText(), QStringLiteral("No bone"));
    QVERIFY(test::click(*window_, "take-sure"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(test::find<QLabel>(*window_, "bones-found")->text(),
             QStringLiteral("19 of the game's 20 bones are found by name."));
    QVERIFY(!window_->findChild<QPushButton*>(QStringLiteral("take-sure"))->isVisible());
    // By hand: the neck is to be what ends the head. Dragged from slot to bone.
    const QPoint from = board->slotPoint(slot("neck")).toPoint(),
                 to = board->bonePoint(bone("Figur_Kopf_Ende")).toPoint();
    QTest::mousePress(board, Qt::LeftButton, {}, from);
    QTest::mouseMove(board, (from + to) / 2);
    QTest::mouseMove(board, to);
    QTest::mouseRelease(board, Qt::LeftButton, {}, to);
    QVERIFY(test::settle(*window_));
    const auto names = [&] {
      for (const mod::StepDoc& step : session().state().models.at("boatswain").steps)
        if (step.kind == "name_bones") return step.values["names"];
      return base::Json();
    };
    QCOMPARE(names().size(), size_t{20});
    QVERIFY(names()["neck"].get<std::string>().find("Kopf_Ende") != std::string::npos);
    // And taken back in the list of bones.
    board->choose(QStringLiteral("neck"));
    QCOMPARE(chosen->itemText(0), QStringLiteral("Take the name back"));
    chosen->setCurrentIndex(0);
    Q_EMIT chosen->activated(0);
    QVERIFY(test::settle(*window_));
    QCOMPARE(names().size(), size_t{19});
    session().undo();
    session().undo();
    session().undo();
    QVERIFY(test::settle(*window_));
    QVERIFY(names().is_null());
    QCOMPARE(test::find<QLabel>(*window_, "bones-found")->text(),
             QStringLiteral("0 of the game's 20 bones are found by name, 19 more are sure."));
    QVERIFY(
        test::find<QLabel>(*window_, "weights-said")->text().contains(QStringLiteral("up to 6 bones each")));
  }

  void theSkeletonStationSaysWhatThereIs() {
    QVERIFY(open(test::copyOfMod(*folder_, "deckhand")));
    window_->setStation(Station::skeleton);
    QTest::qWait(50);
    QCOMPARE(test::find<QLabel>(*window_, "bones-found")->text(),
             QStringLiteral("2 of the game's 20 bones are found by name, 18 more are sure."));
    QCOMPARE(session().scene()->bones.size(), 20u);
    QVERIFY(test::click(*window_, "bone-keeper/root/hips"));
    // A thing without bones, of a kind that needs none, is told so plainly.
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    bool said = false;
    for (const QLabel* label : window_->findChildren<QLabel*>())
      said = said || (label->isVisible() &&
                      label->text() == QStringLiteral("This model has no bones, and a fitting needs none."));
    QVERIFY(said);
    // Of a kind that needs them, the build is stopped.
    session().edit(QStringLiteral("Kind"),
                   [](mod::ModState& s) { s.objects.begin()->second.kind = "keeper"; });
    QVERIFY(test::settle(*window_));
    QVERIFY(checks().contains(QStringLiteral("bones.none")));
  }

  void rolesAreGivenAndTakenOnTheSurfaceCards() {
    QVERIFY(open(test::copyOfMod(*folder_, "first-lamp")));
    window_->setStation(Station::surface);
    QTest::qWait(50);
    QVERIFY(checks().contains(QStringLiteral("role.missing")));
    choose("role-iron_coat", QStringLiteral("Paint"));
    QVERIFY(!checks().contains(QStringLiteral("role.missing")));
    const auto& steps = session().state().models.begin()->second.steps;
    QCOMPARE(steps.size(), 1u);
    QCOMPARE(steps[0].values["role"].get<std::string>(), std::string("paint"));
    choose("role-iron_coat", QStringLiteral("no role: stays as it is"));
    QVERIFY(session().state().models.begin()->second.steps.empty());
    QVERIFY(checks().contains(QStringLiteral("role.missing")));
    // Show brings the material's card and its part into sight.
    QVERIFY(test::click(*window_, "show-picture.missing"));
    QCOMPARE(window_->focusWidget()->objectName(), QStringLiteral("role-oak"));
  }

  void aKindIsChosenAndWhatIsFilledInStays() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    window_->setStation(Station::objects);
    QTest::qWait(50);
    auto* box = test::find<QComboBox>(*window_, "object-kind");
    QCOMPARE(box->currentText(), QStringLiteral("Fitting"));
    choose("object-kind", QStringLiteral("Gear"));
    QCOMPARE(session().state().objects.begin()->second.kind, std::string("gear"));
    QCOMPARE(session().state().objects.begin()->second.card["price"].get<int>(), 240);
    while (session().history().canUndo()) session().undo();
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().objects.begin()->second.kind, std::string("fitting"));
  }

  void findingsAreNarrowedGroupedAndSetAside() {
    QVERIFY(open(test::copyOfMod(*folder_, "first-lamp")));
    const auto rows = [&] {
      int n = 0;
      for (const QWidget* w : window_->findChildren<QWidget*>())
        n += w->isVisible() && w->objectName().startsWith(QStringLiteral("finding-")) ? 1 : 0;
      return n;
    };
    QTest::qWait(50);
    QCOMPARE(rows(), 13);
    QVERIFY(test::click(*window_, "only-shows"));
    QTest::qWait(30);
    QCOMPARE(rows(), 1);
    QVERIFY(test::click(*window_, "only-shows"));
    auto* words = test::find<QLineEdit>(*window_, "findings-words");
    words->setFocus();
    QTest::keyClicks(words, QStringLiteral("empty"));
    QTest::qWait(30);
    QVERIFY(rows() >= 5 && rows() < 13);
    words->clear();
    QVERIFY(test::click(*window_, "by-thing"));
    QTest::qWait(30);
    QVERIFY(test::find<QLabel>(*window_, "thing-quay-lamp"));

    // Set one aside with a reason: it no longer counts, the reason is kept in the mod, and it can be taken up
    // again.
    pickFromMore("more-part.stray", QStringLiteral("Set aside, with a reason…"));
    QTest::qWait(50);
    auto* line = QApplication::activePopupWidget()->findChild<QLineEdit*>(QStringLiteral("value"));
    QVERIFY(line);
    QTest::keyClicks(line, QStringLiteral("wanted for a picture"));
    QTest::keyClick(line, Qt::Key_Return);
    QVERIFY(test::settle(*window_));
    QCOMPARE(checks(false).size(), 12);
    QCOMPARE(session().examination()->count(check::Severity::tidy), 0u);
    QCOMPARE(session().state().card.set_aside.at(0).reason, std::string("wanted for a picture"));
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(mod::loadMod(session().folder())->card.set_aside.size(), 1u);
    QVERIFY(!test::find<QPushButton>(*window_, "take-up-part.stray"));
    QVERIFY(test::click(*window_, "only-aside"));
    QVERIFY(test::click(*window_, "take-up-part.stray"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(checks(false).size(), 13);
  }

  void allOfASortAreMendedInOneStep() {
    QVERIFY(open(test::copyOfMod(*folder_, "first-lamp")));
    QCOMPARE(checks().count(QStringLiteral("field.empty")), 5);
    pickFromMore("more-field.empty", QStringLiteral("Mend all 4 of this sort"));
    QVERIFY(test::settle(*window_));
    // The description has no cure but the person's own words.
    QCOMPARE(checks().count(QStringLiteral("field.empty")), 1);
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(checks().count(QStringLiteral("field.empty")), 5);
  }

  void theStartPageKnowsTheModsOfLately() {
    const QString mod = test::copyOfMod(*folder_, "first-lamp");
    QVERIFY(open(mod));
    QVERIFY(window_->close());
    QCOMPARE(app::recentMods().size(), 1);
    QCOMPARE(app::recentMods()[0].shows, 12);
    newWindow();
    QVERIFY(test::click(*window_, "recent-first-lamp"));
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().card.title, std::string("First lamp"));
    QVERIFY(window_->close());
    QVERIFY(QDir(mod).removeRecursively());
    QVERIFY(app::recentMods().isEmpty());  // what is gone is not offered
    newWindow();
  }

  void aCopyIsShownBeforeItIsMadeAndHasNamesOfItsOwn() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    const QString made = folder_->path() + QStringLiteral("/storm");
    QStringList renamed;
    whenDialogOpens("new-mod", [&](QWidget& dialog) {
      auto* title = test::find<QLineEdit>(dialog, "new-title");
      title->setFocus();
      QTest::keyClicks(title, QStringLiteral("Storm light"));
      auto* names = test::find<QTableWidget>(dialog, "new-names");
      for (int r = 0; r < names->rowCount(); ++r) {
        renamed << names->item(r, 0)->text() + QLatin1Char(' ') + names->item(r, 2)->text();
        if (names->item(r, 0)->text() == QStringLiteral("object"))
          names->item(r, 2)->setText(QStringLiteral("Bad Name"));
      }
      QVERIFY(!test::find<QLabel>(dialog, "new-why")->text().isEmpty());
      for (int r = 0; r < names->rowCount(); ++r)
        if (names->item(r, 0)->text() == QStringLiteral("object"))
          names->item(r, 2)->setText(QStringLiteral("storm-post"));
      auto* folder = test::find<QLineEdit>(dialog, "new-folder");
      folder->setFocus();
      QTest::keyClick(folder, Qt::Key_A, Qt::ControlModifier);
      QTest::keyClicks(folder, made);
      press(dialog, "new-make");
    });
    for (QAction* action : window_->findChildren<QAction*>())
      if (action->text() == QStringLiteral("New from a &copy of this…")) action->trigger();
    QVERIFY(test::settle(*window_));
    QVERIFY2(renamed.contains(QStringLiteral("object storm-light")),
             qPrintable(renamed.join(QLatin1Char('|'))));
    QTRY_COMPARE_WITH_TIMEOUT(session().state().card.title, std::string("Storm light"), test::kPatience_ms);
    QVERIFY(test::settle(*window_));
    QCOMPARE(session().state().objects.count("storm-post"), 1u);
    QVERIFY(checks().isEmpty());
    QVERIFY(session().state().card.id != "lamplight-8w3hxq");
  }

  void aModIsInstalledListedAndTakenOut() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    window_->setStation(Station::bundle);
    QVERIFY(!session().plan().empty());
    QVERIFY(test::click(*window_, "build"));
    QVERIFY(test::settle(*window_));
    QVERIFY(test::click(*window_, "install"));
    QVERIFY(test::settle(*window_));
    QVERIFY2(test::click(*window_, "uninstall-lamplight-8w3hxq"), qPrintable(told()));
    QVERIFY(test::settle(*window_));
    QVERIFY2(told().contains(QStringLiteral("Took lamplight-8w3hxq out")), qPrintable(told()));
    QVERIFY(test::find<QPushButton>(*window_, "uninstall-lamplight-8w3hxq") == nullptr);
    // A second build makes nothing anew.
    QVERIFY(test::click(*window_, "build"));
    QVERIFY(test::settle(*window_));
    QVERIFY2(told().contains(QStringLiteral("18 of 18")), qPrintable(told()));
  }

  void aPackageDroppedOnTheWindowIsLookedInto() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    QVERIFY(test::click(*window_, "build"));
    QVERIFY(test::settle(*window_));
    auto bytes = *base::readFile(session().output());
    bytes[bytes.size() / 2] ^= std::byte{1};
    const QString damaged = folder_->path() + QStringLiteral("/damaged.rkb");
    QVERIFY(base::writeFileAtomic(test::s8(damaged), bytes).ok());
    const auto drop = [&](const QString& file) {
      QMimeData data;
      data.setUrls({QUrl::fromLocalFile(file)});
      QDropEvent event(QPointF(200, 200), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
      static_cast<QObject*>(window_.get())->event(&event);
      QVERIFY(test::settle(*window_));
    };
    drop(damaged);
    auto* state = test::find<QLabel>(*window_, "looked-state");
    QVERIFY(state);
    QVERIFY2(state->text().startsWith(QStringLiteral("◆ damaged")), qPrintable(state->text()));
    drop(QString::fromStdString(session().output().string()));
    QVERIFY(test::find<QLabel>(*window_, "looked-state")->text().startsWith(QStringLiteral("✓ whole")));
    QCOMPARE(test::find<QLabel>(*window_, "looked-compare")->text(),
             QStringLiteral("Holds the same as this mod's own build."));
    const QString text = folder_->path() + QStringLiteral("/text.zip");
    QVERIFY(base::writeFileAtomic(test::s8(text), std::string_view("no zip")).ok());
    drop(text);
    QVERIFY(test::find<QLabel>(*window_, "looked-state")->text().contains(QStringLiteral("text.zip")));
  }

  void aPackageIsLookedIntoWithoutAMod() {
    // What a double click on a bundle does: there is no station yet to show it at.
    window_->openPath(folder_->path() + QStringLiteral("/none.rkb"));
    QWidget* shown = dialog("package-dialog");
    QVERIFY(shown);
    QTRY_VERIFY_WITH_TIMEOUT(
        test::find<QLabel>(*shown, "looked-state") &&
            test::find<QLabel>(*shown, "looked-state")->text().contains(QStringLiteral("none.rkb")),
        test::kPatience_ms);
    static_cast<QDialog*>(shown)->reject();
    QTRY_VERIFY_WITH_TIMEOUT(!shown->isVisible(), test::kPatience_ms);
  }

  void newIsAskedOnceHoweverOftenItIsPressed() {
    int opened = 0;
    whenDialogOpens("new-mod", [&](QWidget& dialog) {
      ++opened;
      static_cast<QDialog&>(dialog).reject();
    });
    // Twice before the window comes to do anything.
    auto* start = test::find<QPushButton>(*window_, "start-new");
    QVERIFY(start != nullptr);
    start->click();
    start->click();
    QTRY_COMPARE_WITH_TIMEOUT(opened, 1, test::kPatience_ms);
    QTest::qWait(400);
    QVERIFY(QApplication::activeModalWidget() == nullptr);
    // And again, after the first was left; also while something else is being read.
    bool again = false;
    whenDialogOpens("new-mod", [&](QWidget& dialog) {
      again = true;
      static_cast<QDialog&>(dialog).reject();
    });
    session().background().post([](base::Progress&) -> app::Background::Finish {
      QThread::msleep(200);
      return nullptr;
    });
    test::click(*window_, "start-new");
    QTRY_VERIFY_WITH_TIMEOUT(again, test::kPatience_ms);
  }

  void theGuideGoesAlongWithTheFirstMod() {
    qputenv("HOME", folder_->path().toUtf8());
    QVERIFY(test::click(*window_, "start-first"));
    QVERIFY(test::settle(*window_));
    QVERIFY(session().isOpen());
    auto* guide = window_->findChild<app::Guide*>();
    QVERIFY(guide && guide->isVisible());
    QCOMPARE(guide->step(), 0);
    const auto mend = [&](const char* button) {
      QVERIFY2(test::click(*window_, button), button);
      QVERIFY(test::settle(*window_));
    };
    mend("mend-size.unit");
    QCOMPARE(guide->step(), 1);
    mend("mend-axes.differ");
    QCOMPARE(guide->step(), 2);
    mend("mend-placement.not_baked");
    mend("mend-origin.place");
    QCOMPARE(guide->step(), 3);
    QVERIFY(test::click(*window_, "guide-show"));
    QTest::qWait(50);
    QVERIFY(test::find<QComboBox>(*window_, "role-oak"));
    mend("mend-picture.missing");
    mend("mend-role.missing");
    QCOMPARE(guide->step(), 5);
    mend("mend-part.stray");
    QCOMPARE(guide->step(), 6);
    // An undo takes the guide back too: it goes by what is, not by what was pressed.
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(guide->step(), 5);
    QVERIFY(test::click(*window_, "guide-leave"));
    QVERIFY(!guide->isVisible());
    // The original in the examples is untouched.
    QCOMPARE(mod::loadMod(RAKUGO_SOURCE_DIR "/examples/mods/first-lamp")->card.title,
             std::string("First lamp"));
  }

  void nightColoursAreReadableAndComeBack() {
    QVERIFY(open(test::copyOfMod(*folder_, "first-lamp")));
    const auto contrast = [](const QColor& a, const QColor& b) {
      const auto light = [](const QColor& c) {
        const auto part = [](double v) {
          return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
      };
      const double x = light(a), y = light(b);
      return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
    };
    for (const app::Theme* t : {&app::paperTheme(), &app::nightTheme()})
      for (const QColor& ground : {t->paper, t->sheet, t->wash})
        for (const QColor& text : {t->ink, t->quiet, t->stops, t->shows, t->tidy, t->good, t->click})
          QVERIFY2(contrast(text, ground) >= 4.5,
                   qPrintable(text.name() + QStringLiteral(" on ") + ground.name() + QLatin1Char(' ') +
                              QString::number(contrast(text, ground))));
    auto* action = window_->findChild<QAction*>(QStringLiteral("night-colours"));
    action->trigger();
    QVERIFY(app::isNight());
    QVERIFY(QSettings().value(QStringLiteral("night")).toBool());
    QVERIFY(test::settle(*window_));
    const QColor ground = window_->grab().toImage().pixelColor(4, window_->height() / 2 + 120);
    QVERIFY2(ground.lightness() < 80, qPrintable(ground.name()));
    action->trigger();
    QVERIFY(!app::isNight());
  }
};

int main(int argc, char** argv) { return test::runTests<StationsWindowTest>(argc, argv); }

#include "stations_window_test.moc"
