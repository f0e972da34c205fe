// The stations, the findings and the start page in the real window, with mouse and keys.
#include <QAbstractItemModelTester>
#include <QAction>
#include <QComboBox>
#include <QDir>
#include <QDropEvent>
#include <QListView>
#include <QListWidget>
#include <QMenu>
#include <QMimeData>
#include <QSettings>
#include <QTableWidget>

#include <set>

#include "app/findings/findings_view.h"
#include "app/shell/guide.h"
#include "app/shell/recent.h"
#include "app/stations/skeleton/match_board.h"
#include "app/widgets/row_list.h"
#include "app/widgets/theme.h"
#include "base/files.h"
#include "mod/store.h"
#include "window_fixture.h"

using namespace rakugo;
using app::Station;

class StationsWindowTest : public test::WindowFixture {
 protected:
  QStringList checks(bool with_aside = true) {
    QStringList out;
    for (const auto& f : session().examination()->findings)
      if (with_aside || !f.set_aside) out << QString::fromStdString(f.check);
    return out;
  }
  // Chooses an entry of a combo box with the keyboard.
  void choose(const char* name, const QString& text) {
    auto* box = test::find<QComboBox>(*window_, name);
    ASSERT_TRUE(box) << name;
    const int wanted = box->findText(text);
    ASSERT_TRUE(wanted >= 0) << qPrintable(text);
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Home);
    for (int i = 0; i < wanted; ++i) {
      QTest::keyClick(box, Qt::Key_Down);
      QTest::qWait(40);
      box = test::find<QComboBox>(*window_, name);  // each choice may build the card anew
      ASSERT_TRUE(box);
    }
    ASSERT_TRUE(test::settle(*window_));
  }
  void pickFromMore(const char* check, const QString& text) {
    auto* more = dynamic_cast<QPushButton*>(test::chooseFinding(*window_, check, "more-"));
    ASSERT_TRUE(more && more->menu()) << check;
    for (QAction* action : more->menu()->actions())
      if (action->text() == text) return action->trigger();
    FAIL() << qPrintable(QStringLiteral("not offered: ") + text);
  }

  void SetUp() override {
    QSettings().clear();
    begin();
  }
  void TearDown() override {
    app::applyTheme(*qApp, false);
    end();
  }
};

// A keeper by another maker: matched on the board, mended, and all of it taken back and done again.
TEST_F(StationsWindowTest, TheNewcomerIsMatchedOnTheBoard) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "newcomer")));
  window_->setStation(Station::skeleton);
  QTest::qWait(50);
  auto* board = window_->findChild<app::MatchBoard*>();
  ASSERT_TRUE(board != nullptr && board->isVisible());
  ASSERT_EQ(board->places().size(), size_t{20});
  ASSERT_EQ(board->bones().size(), size_t{24});
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
  ASSERT_EQ(board->places()[slot("neck")].state, app::MatchBoard::State::empty);
  ASSERT_EQ(board->places()[slot("head")].state, app::MatchBoard::State::sure);
  ASSERT_TRUE(board->bones()[bone("Figur_Kopf_Ende")].surplus);
  // Left is on the right of a figure that looks at one, in both.
  ASSERT_TRUE(board->slotPoint(slot("hand.port")).x() > board->slotPoint(slot("hand.starboard")).x());
  ASSERT_TRUE(board->bonePoint(bone("Figur_Hand_links")).x() >
              board->bonePoint(bone("Figur_Hand_rechts")).x());
  // A click on a slot says which bone it has, and why.
  QTest::mouseClick(board, Qt::LeftButton, {}, board->slotPoint(slot("elbow.port")).toPoint());
  auto* chosen = test::find<QComboBox>(*window_, "slot-bone");
  ASSERT_EQ(chosen->currentText(), QStringLiteral("Figur_Unterarm_links"));
  ASSERT_TRUE(test::find<QLabel>(*window_, "slot-reason")->text().contains(QStringLiteral("forearm")));
  // The keyboard walks from slot to slot.
  board->setFocus();
  QTest::keyClick(board, Qt::Key_Down);
  ASSERT_EQ(board->chosen(), QStringLiteral("hand.port"));
  // A bone that is clicked in the list is chosen with its slot; one that no slot has, by itself.
  const auto clickBone = [&](const char* name) {
    for (const app::ListRow& row :
         window_->findChild<app::RowList*>(QStringLiteral("bones-list"))->rows().rows())
      if (row.name == QLatin1String(name)) return test::click(*window_, row.id.toUtf8().constData());
    return false;
  };
  ASSERT_TRUE(clickBone("Figur_Fuss_rechts"));
  ASSERT_EQ(board->chosen(), QStringLiteral("foot.starboard"));
  ASSERT_EQ(chosen->currentText(), QStringLiteral("Figur_Fuss_rechts"));
  ASSERT_TRUE(chosen->findText(QStringLiteral("Take the name back")) < 0);
  ASSERT_TRUE(clickBone("Figur_Kopf_Ende"));
  ASSERT_TRUE(board->chosen().isEmpty());
  ASSERT_TRUE(!chosen->isVisible());
  board->choose(QStringLiteral("neck"));
  ASSERT_EQ(chosen->currentText(), QStringLiteral("No bone"));
  ASSERT_TRUE(test::click(*window_, "take-sure"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(test::find<QLabel>(*window_, "bones-found")->text(),
            QStringLiteral("19 of the game's 20 bones are found by name."));
  ASSERT_TRUE(!window_->findChild<QPushButton*>(QStringLiteral("take-sure"))->isVisible());
  // By hand: the neck is to be what ends the head. Dragged from slot to bone.
  const QPoint from = board->slotPoint(slot("neck")).toPoint(),
               to = board->bonePoint(bone("Figur_Kopf_Ende")).toPoint();
  QTest::mousePress(board, Qt::LeftButton, {}, from);
  QTest::mouseMove(board, (from + to) / 2);
  QTest::mouseMove(board, to);
  QTest::mouseRelease(board, Qt::LeftButton, {}, to);
  ASSERT_TRUE(test::settle(*window_));
  const auto names = [&] {
    for (const mod::StepDoc& step : session().state().models.at("boatswain").steps)
      if (step.kind == "name_bones") return step.values["names"];
    return base::Json();
  };
  ASSERT_EQ(names().size(), size_t{20});
  ASSERT_TRUE(names()["neck"].get<std::string>().find("Kopf_Ende") != std::string::npos);
  // And taken back in the list of bones.
  board->choose(QStringLiteral("neck"));
  ASSERT_EQ(chosen->itemText(0), QStringLiteral("Take the name back"));
  chosen->setCurrentIndex(0);
  Q_EMIT chosen->activated(0);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(names().size(), size_t{19});
  session().undo();
  session().undo();
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(names().is_null());
  ASSERT_EQ(test::find<QLabel>(*window_, "bones-found")->text(),
            QStringLiteral("0 of the game's 20 bones are found by name, 19 more are sure."));
  ASSERT_TRUE(
      test::find<QLabel>(*window_, "weights-said")->text().contains(QStringLiteral("up to 6 bones each")));
}

TEST_F(StationsWindowTest, TheSkeletonStationSaysWhatThereIs) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "deckhand")));
  window_->setStation(Station::skeleton);
  QTest::qWait(50);
  ASSERT_EQ(test::find<QLabel>(*window_, "bones-found")->text(),
            QStringLiteral("2 of the game's 20 bones are found by name, 18 more are sure."));
  ASSERT_EQ(session().scene()->bones.size(), 20u);
  ASSERT_TRUE(test::click(*window_, "bone-keeper/root/hips"));
  // A thing without bones, of a kind that needs none, is told so plainly.
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  bool said = false;
  for (const QLabel* label : window_->findChildren<QLabel*>())
    said = said || (label->isVisible() &&
                    label->text() == QStringLiteral("This model has no bones, and a fitting needs none."));
  ASSERT_TRUE(said);
  // Of a kind that needs them, the build is stopped.
  session().edit(QStringLiteral("Kind"), [](mod::ModState& s) { s.objects.front().kind = "keeper"; });
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(checks().contains(QStringLiteral("bones.none")));
}

TEST_F(StationsWindowTest, RolesAreGivenAndTakenOnTheSurfaceCards) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  window_->setStation(Station::surface);
  QTest::qWait(50);
  ASSERT_TRUE(checks().contains(QStringLiteral("role.missing")));
  choose("role-iron_coat", QStringLiteral("Paint"));
  ASSERT_TRUE(!checks().contains(QStringLiteral("role.missing")));
  const auto& steps = session().state().models.begin()->second.steps;
  ASSERT_EQ(steps.size(), 1u);
  ASSERT_EQ(steps[0].values["role"].get<std::string>(), std::string("paint"));
  choose("role-iron_coat", QStringLiteral("no role: stays as it is"));
  ASSERT_TRUE(session().state().models.begin()->second.steps.empty());
  ASSERT_TRUE(checks().contains(QStringLiteral("role.missing")));
  // Show brings the material's card and its part into sight.
  ASSERT_TRUE(test::click(*window_, "show-picture.missing"));
  ASSERT_EQ(window_->focusWidget()->objectName(), QStringLiteral("role-oak"));
}

TEST_F(StationsWindowTest, AKindIsChosenAndWhatIsFilledInStays) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(Station::objects);
  QTest::qWait(50);
  auto* box = test::find<QComboBox>(*window_, "object-kind");
  ASSERT_EQ(box->currentText(), QStringLiteral("Fitting"));
  choose("object-kind", QStringLiteral("Gear"));
  ASSERT_EQ(session().state().objects.begin()->second.kind, std::string("gear"));
  ASSERT_EQ(session().state().objects.begin()->second.card["price"].get<int>(), 240);
  while (session().history().canUndo()) session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().objects.begin()->second.kind, std::string("fitting"));
}

TEST_F(StationsWindowTest, FindingsAreNarrowedGroupedAndSetAside) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  const auto rows = [&] { return test::listedFindings(*window_); };
  QTest::qWait(50);
  ASSERT_EQ(rows(), 12) << "where the origin lies is said with the wrong unit";
  EXPECT_EQ(test::find<QPushButton>(*window_, "only-shows")->text(), QStringLiteral("11 seen"))
      << "all of them, as the route and the tool count";
  ASSERT_TRUE(test::click(*window_, "with-size.unit"));
  QTest::qWait(30);
  ASSERT_TRUE(test::find<QWidget>(*window_, "effect-origin.place"));
  ASSERT_TRUE(test::click(*window_, "with-size.unit"));
  QTest::qWait(30);
  ASSERT_FALSE(test::find<QWidget>(*window_, "effect-origin.place"));
  ASSERT_TRUE(test::click(*window_, "only-shows"));
  QTest::qWait(30);
  ASSERT_EQ(rows(), 2);
  ASSERT_TRUE(test::click(*window_, "only-shows"));
  auto* words = test::find<QLineEdit>(*window_, "findings-words");
  words->setFocus();
  QTest::keyClicks(words, QStringLiteral("empty"));
  QTest::qWait(30);
  ASSERT_TRUE(rows() >= 5 && rows() < 12);
  words->clear();
  ASSERT_TRUE(test::click(*window_, "by-thing"));
  QTest::qWait(30);
  EXPECT_TRUE(test::find<QListView>(*window_, "findings-list")
                  ->model()
                  ->index(0, 0)
                  .data()
                  .toString()
                  .startsWith(QStringLiteral("quay-lamp")));

  // Set one aside with a reason: it no longer counts, the reason is kept in the mod, and it can be taken up
  // again.
  pickFromMore("part.stray", QStringLiteral("Set aside, with a reason…"));
  QTest::qWait(50);
  auto* line = QApplication::activePopupWidget()->findChild<QLineEdit*>(QStringLiteral("value"));
  ASSERT_TRUE(line);
  QTest::keyClicks(line, QStringLiteral("wanted for a picture"));
  QTest::keyClick(line, Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(checks(false).size(), 12);
  ASSERT_EQ(session().examination()->count(check::Severity::tidy), 0u);
  ASSERT_EQ(session().state().card.set_aside.at(0).reason, std::string("wanted for a picture"));
  QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(mod::loadMod(session().folder())->card.set_aside.size(), 1u);
  ASSERT_FALSE(test::chooseFinding(*window_, "part.stray", "take-up-"));
  ASSERT_TRUE(test::click(*window_, "only-aside"));
  ASSERT_TRUE(test::click(*window_, "take-up-part.stray"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(checks(false).size(), 13);
}

TEST_F(StationsWindowTest, WhatIsSureIsMendedAsOneEditAndSaidWithItsUndo) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  const QStringList before = checks();
  auto* sure = test::find<QPushButton>(*window_, "mend-sure");
  ASSERT_TRUE(sure != nullptr) << "once all mends were tried";
  std::set<std::string> expected;
  for (const check::Finding& f : session().examination()->findings)
    if (f.mends.size() == 1 && !f.set_aside && !f.caused_by) expected.insert(check::findingKey(f));
  ASSERT_GT(expected.size(), 3U);
  EXPECT_TRUE(sure->text().contains(QString::number(expected.size()))) << test::s8(sure->text());
  ASSERT_TRUE(test::click(*window_, "mend-sure"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(QTest::qWaitFor([&] { return session().history().canUndo(); }, test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  for (const check::Finding& f : session().examination()->findings)
    EXPECT_EQ(expected.count(check::findingKey(f)), 0U) << f.sentence;
  // What has a choice in it is left to the person.
  EXPECT_TRUE(checks().contains(QStringLiteral("role.missing")));
  whenDialogOpens("done", [&](QWidget& dialog) {
    auto* lines = dialog.findChild<QListWidget*>();
    EXPECT_GT(lines != nullptr ? lines->count() : 0, 3);
    dialog.close();
  });
  ASSERT_TRUE(test::click(*window_, "notice-list"));
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(checks(), before) << "one undo";
  EXPECT_FALSE(session().history().canUndo());
}

TEST_F(StationsWindowTest, FindingsAreGoneThroughByKeysAndMendedByAClickOnTheirRow) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  auto* list = test::find<QListView>(*window_, "findings-list");
  ASSERT_TRUE(list != nullptr);
  list->setFocus();
  const int first = list->currentIndex().row();
  QTest::keyClick(list, Qt::Key_Down);
  EXPECT_GT(list->currentIndex().row(), first);
  const QString check = list->currentIndex().data(app::FindingsRows::check_role).toString();
  EXPECT_TRUE(test::find<QWidget>(*window_, ("finding-" + check.toStdString()).c_str()) != nullptr)
      << "the present one is seen in full";
  // Tab goes to its buttons, up and down lead back.
  QTest::keyClick(list, Qt::Key_Tab);
  QWidget* card = test::find<QWidget>(*window_, ("finding-" + check.toStdString()).c_str());
  ASSERT_TRUE(card->isAncestorOf(QApplication::focusWidget()));
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Up);
  EXPECT_TRUE(list->hasFocus());
  EXPECT_EQ(list->currentIndex().row(), first);
  // A click on the word in another row mends that one.
  for (int row = 0; row < list->model()->rowCount(); ++row) {
    const QModelIndex index = list->model()->index(row, 0);
    const QRect word = app::mendRect(index, list->visualRect(index));
    if (index == list->currentIndex() || word.isEmpty() || !list->viewport()->rect().contains(word)) continue;
    const QString mended = index.data(app::FindingsRows::check_role).toString();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, word.center());
    ASSERT_TRUE(test::settle(*window_));
    EXPECT_FALSE(checks().contains(mended)) << test::s8(mended);
    EXPECT_TRUE(session().history().canUndo());
    return;
  }
  FAIL() << "no other row is in sight";
}

TEST_F(StationsWindowTest, AllOfASortAreMendedInOneStep) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  ASSERT_EQ(checks().count(QStringLiteral("field.empty")), 5);
  pickFromMore("field.empty", QStringLiteral("Mend all 4 of this sort"));
  ASSERT_TRUE(test::settle(*window_));
  // The description has no cure but the person's own words.
  ASSERT_EQ(checks().count(QStringLiteral("field.empty")), 1);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(checks().count(QStringLiteral("field.empty")), 5);
}

TEST_F(StationsWindowTest, TheStartPageKnowsTheModsOfLately) {
  const QString mod = test::copyOfMod(*folder_, "first-lamp");
  ASSERT_TRUE(open(mod));
  ASSERT_TRUE(window_->close());
  ASSERT_EQ(app::recentMods().size(), 1);
  ASSERT_EQ(app::recentMods()[0].shows, 11);
  newWindow();
  ASSERT_TRUE(test::click(*window_, "recent-first-lamp"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().card.title, std::string("First lamp"));
  ASSERT_TRUE(window_->close());
  ASSERT_TRUE(QDir(mod).removeRecursively());
  ASSERT_TRUE(app::recentMods().isEmpty());  // what is gone is not offered
  newWindow();
}

TEST_F(StationsWindowTest, ACopyIsShownBeforeItIsMadeAndHasNamesOfItsOwn) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  const QString made = folder_->path() + QStringLiteral("/storm");
  QStringList renamed;
  whenDialogOpens("new-mod", [&](QWidget& dialog) {
    auto* title = test::find<QLineEdit>(dialog, "new-title");
    title->setFocus();
    QTest::keyClicks(title, QStringLiteral("Storm light"));
    auto* names = test::find<QTableWidget>(dialog, "new-names");
    // The mod to copy is read by a job.
    ASSERT_TRUE(QTest::qWaitFor([&] { return names->rowCount() > 0; }, test::kPatience_ms));
    for (int r = 0; r < names->rowCount(); ++r) {
      renamed << names->item(r, 0)->text() + QLatin1Char(' ') + names->item(r, 2)->text();
      if (names->item(r, 0)->text() == QStringLiteral("object"))
        names->item(r, 2)->setText(QStringLiteral("Bad Name"));
    }
    ASSERT_TRUE(!test::find<QLabel>(dialog, "new-why")->text().isEmpty());
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
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(renamed.contains(QStringLiteral("object storm-light")))
      << qPrintable(renamed.join(QLatin1Char('|')));
  (void)QTest::qWaitFor([&] { return session().state().card.title == std::string("Storm light"); },
                        test::kPatience_ms);
  ASSERT_EQ(session().state().card.title, std::string("Storm light"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().objects.count("storm-post"), 1u);
  ASSERT_TRUE(checks().isEmpty());
  ASSERT_TRUE(session().state().card.id != "lamplight-8w3hxq");
}

TEST_F(StationsWindowTest, AModIsInstalledListedAndTakenOut) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(Station::bundle);
  ASSERT_TRUE(!session().plan().empty());
  ASSERT_TRUE(test::click(*window_, "build"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "install"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::click(*window_, "uninstall-lamplight-8w3hxq")) << qPrintable(told());
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(told().contains(QStringLiteral("Took lamplight-8w3hxq out"))) << qPrintable(told());
  ASSERT_TRUE(test::find<QPushButton>(*window_, "uninstall-lamplight-8w3hxq") == nullptr);
  // A second build makes nothing anew.
  ASSERT_TRUE(test::click(*window_, "build"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(told().contains(QStringLiteral("18 of 18"))) << qPrintable(told());
}

TEST_F(StationsWindowTest, APackageDroppedOnTheWindowIsLookedInto) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::click(*window_, "build"));
  ASSERT_TRUE(test::settle(*window_));
  auto bytes = *base::readFile(session().output());
  bytes[bytes.size() / 2] ^= std::byte{1};
  const QString damaged = folder_->path() + QStringLiteral("/damaged.rkb");
  ASSERT_TRUE(base::writeFileAtomic(test::s8(damaged), bytes).ok());
  const auto drop = [&](const QString& file) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(file)});
    QDropEvent event(QPointF(200, 200), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    static_cast<QObject*>(window_.get())->event(&event);
    ASSERT_TRUE(test::settle(*window_));
  };
  drop(damaged);
  auto* state = test::find<QLabel>(*window_, "looked-state");
  ASSERT_TRUE(state);
  ASSERT_TRUE(state->text().startsWith(QStringLiteral("◆ damaged"))) << qPrintable(state->text());
  drop(QString::fromStdString(session().output().string()));
  ASSERT_TRUE(test::find<QLabel>(*window_, "looked-state")->text().startsWith(QStringLiteral("✓ whole")));
  ASSERT_EQ(test::find<QLabel>(*window_, "looked-compare")->text(),
            QStringLiteral("Holds the same as this mod's own build."));
  // Side by side: here all is the same in both, and what differs would come first.
  auto* entries = test::find<app::EntryList>(*window_, "entries");
  ASSERT_TRUE(entries != nullptr);
  const QAbstractItemModelTester tester(&entries->rows(),
                                        QAbstractItemModelTester::FailureReportingMode::Fatal);
  ASSERT_TRUE(entries->rows().two());
  ASSERT_FALSE(entries->placeOf(QStringLiteral("beside-3")).isEmpty());
  ASSERT_TRUE(entries->placeOf(QStringLiteral("beside-0")).isEmpty());
  test::look(*window_, "bundle-same");
  session().edit(QStringLiteral("Other"), [](mod::ModState& now) { now.card.description = "Another."; });
  ASSERT_TRUE(test::settle(*window_));
  const QString older = folder_->path() + QStringLiteral("/older.rkb");
  ASSERT_TRUE(QFile::copy(QString::fromStdString(session().output().string()), older));
  ASSERT_TRUE(test::click(*window_, "build"));
  ASSERT_TRUE(test::settle(*window_));
  drop(older);
  ASSERT_FALSE(entries->placeOf(QStringLiteral("beside-0")).isEmpty())
      << "the manifest has another description";
  EXPECT_EQ(entries->rows().rows().at(1).id, QStringLiteral("manifest"));
  EXPECT_TRUE(entries->rows().rows().at(1).sizes[0] && entries->rows().rows().at(1).sizes[1]);
  test::look(*window_, "bundle-beside");
  ASSERT_TRUE(test::click(*window_, "compare-end"));
  EXPECT_FALSE(entries->rows().two());
  EXPECT_FALSE(entries->placeOf(QStringLiteral("goes-in-quay-lamp")).isEmpty());
  const QString text = folder_->path() + QStringLiteral("/text.zip");
  ASSERT_TRUE(base::writeFileAtomic(test::s8(text), std::string_view("no zip")).ok());
  drop(text);
  ASSERT_TRUE(test::find<QLabel>(*window_, "looked-state")->text().contains(QStringLiteral("text.zip")));
}

TEST_F(StationsWindowTest, APackageIsLookedIntoWithoutAMod) {
  // What a double click on a bundle does: there is no station yet to show it at.
  window_->openPath(folder_->path() + QStringLiteral("/none.rkb"));
  QWidget* shown = dialog("package-dialog");
  ASSERT_TRUE(shown);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return static_cast<bool>(
            test::find<QLabel>(*shown, "looked-state") &&
            test::find<QLabel>(*shown, "looked-state")->text().contains(QStringLiteral("none.rkb")));
      },
      test::kPatience_ms));
  static_cast<QDialog*>(shown)->reject();
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(!shown->isVisible()); }, test::kPatience_ms));
}

TEST_F(StationsWindowTest, NewIsAskedOnceHoweverOftenItIsPressed) {
  int opened = 0;
  whenDialogOpens("new-mod", [&](QWidget& dialog) {
    ++opened;
    static_cast<QDialog&>(dialog).reject();
  });
  // Twice before the window comes to do anything.
  auto* start = test::find<QPushButton>(*window_, "start-new");
  ASSERT_TRUE(start != nullptr);
  start->click();
  start->click();
  (void)QTest::qWaitFor([&] { return opened == 1; }, test::kPatience_ms);
  ASSERT_EQ(opened, 1);
  QTest::qWait(400);
  ASSERT_TRUE(QApplication::activeModalWidget() == nullptr);
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
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(again); }, test::kPatience_ms));
}

TEST_F(StationsWindowTest, TheGuideGoesAlongWithTheFirstMod) {
  qputenv("HOME", folder_->path().toUtf8());
  ASSERT_TRUE(test::click(*window_, "start-first"));
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(session().isOpen());
  auto* guide = window_->findChild<app::Guide*>();
  ASSERT_TRUE(guide && guide->isVisible());
  ASSERT_EQ(guide->step(), 0);
  const auto mend = [&](const char* button) {
    ASSERT_TRUE(test::click(*window_, button)) << button;
    ASSERT_TRUE(test::settle(*window_));
  };
  mend("mend-size.unit");
  ASSERT_EQ(guide->step(), 1);
  mend("mend-axes.differ");
  ASSERT_EQ(guide->step(), 2);
  mend("mend-placement.not_baked");
  mend("mend-origin.place");
  ASSERT_EQ(guide->step(), 3);
  ASSERT_TRUE(test::click(*window_, "guide-show"));
  QTest::qWait(50);
  ASSERT_TRUE(test::find<QComboBox>(*window_, "role-oak"));
  mend("mend-picture.missing");
  mend("mend-role.missing");
  ASSERT_EQ(guide->step(), 5);
  mend("mend-part.stray");
  ASSERT_EQ(guide->step(), 6);
  // An undo takes the guide back too: it goes by what is, not by what was pressed.
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(guide->step(), 5);
  ASSERT_TRUE(test::click(*window_, "guide-leave"));
  ASSERT_TRUE(!guide->isVisible());
  // The original in the examples is untouched.
  ASSERT_EQ(mod::loadMod(RAKUGO_SOURCE_DIR "/examples/mods/first-lamp")->card.title,
            std::string("First lamp"));
}

// The trial steps aside for what one looks at, and goes on after: what comes of it is the same.
TEST_F(StationsWindowTest, LookingAtOthersWhileMendsAreTriedLosesNoMend) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  ASSERT_TRUE(QTest::qWaitFor([&] { return session().triedMends(); }, test::kPatience_ms));
  const auto mends = [&] {
    std::vector<std::string> out;
    for (const check::Finding& f : session().examination()->findings)
      for (const check::Mend& mend : f.mends) out.push_back(check::findingKey(f) + ": " + mend.label);
    return out;
  };
  const auto wanted = mends();
  ASSERT_FALSE(wanted.empty());
  session().edit(QStringLiteral("Rename"), [](mod::ModState& state) { state.card.title = "Other"; });
  for (int round = 0; round < 4; ++round)
    for (const auto& [name, doc] : session().state().models) {
      session().selectModel(name);
      QTest::qWait(30);
    }
  ASSERT_TRUE(QTest::qWaitFor([&] { return session().triedMends(); }, test::kPatience_ms));
  EXPECT_EQ(mends(), wanted);
}

TEST_F(StationsWindowTest, LookingAtAnotherModelRunsNoCheckAgain) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  ASSERT_TRUE(QTest::qWaitFor([&] { return session().triedMends(); }, test::kPatience_ms));
  const auto examined = session().examination();
  const std::string first = session().model();
  for (const auto& [name, doc] : session().state().models) {
    session().selectModel(name);
    ASSERT_TRUE(test::settle(*window_));
    ASSERT_TRUE(session().scene() && session().prepared());
    EXPECT_EQ(session().scene()->made_from, session().prepared()->prepared.model)
        << "the bench shows " << name;
    EXPECT_EQ(session().examination(), examined) << "what is known of the mod is the same";
  }
  EXPECT_TRUE(session().triedMends());
  session().selectModel(first);
  ASSERT_TRUE(test::settle(*window_));
  // An edit is examined, whatever was looked at before.
  session().edit(QStringLiteral("Rename"), [](mod::ModState& state) { state.card.title = "Other"; });
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NE(session().examination(), examined);
}

TEST_F(StationsWindowTest, NightColoursAreReadableAndComeBack) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
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
        ASSERT_TRUE(contrast(text, ground) >= 4.5)
            << qPrintable(text.name() + QStringLiteral(" on ") + ground.name() + QLatin1Char(' ') +
                          QString::number(contrast(text, ground)));
  auto* action = window_->findChild<QAction*>(QStringLiteral("night-colours"));
  action->trigger();
  ASSERT_TRUE(app::isNight());
  ASSERT_TRUE(QSettings().value(QStringLiteral("night")).toBool());
  ASSERT_TRUE(test::settle(*window_));
  const QColor ground = window_->grab().toImage().pixelColor(4, window_->height() / 2 + 120);
  ASSERT_TRUE(ground.lightness() < 80) << qPrintable(ground.name());
  action->trigger();
  ASSERT_TRUE(!app::isNight());
}
