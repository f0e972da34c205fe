// The window's areas: instruments of chapters, what stands in the middle, and what folds away.
#include <QFloat16>
#include <QLabel>
#include <QScrollArea>
#include <QSettings>
#include <QSlider>
#include <QSplitter>
#include <QStackedWidget>
#include <QStatusBar>

#include "app/stations/skeleton/match_board.h"
#include "app/stations/tryout/game_picture.h"
#include "app/widgets/chapter.h"
#include "window_fixture.h"

namespace rakugo {

using app::Chapter;
using app::Station;

class LayoutWindowTest : public test::WindowFixture {
 protected:
  void SetUp() override {
    forget();
    unfolded_ = false;
    begin();
    window_->resize(1280, 800);
  }
  void TearDown() override {
    end();
    forget();
  }
  // As somebody has it who starts Rakugo for the first time.
  static void forget() {
    for (const char* group : {"chapters", "instrument", "folded", "areas"})
      QSettings().remove(QString::fromLatin1(group));
  }
  QWidget& child(const char* name) {
    QWidget* found = window_->findChild<QWidget*>(QString::fromLatin1(name));
    if (found == nullptr) throw std::runtime_error(name);
    return *found;
  }
  Chapter& chapter(const char* id) {
    return *dynamic_cast<Chapter*>(child((std::string("chapter-") + id).c_str()).parentWidget());
  }
  app::StationPanel& panel() {
    return *dynamic_cast<app::StationPanel*>(
        dynamic_cast<QStackedWidget&>(child("instruments")).currentWidget());
  }
  QRect placeOf(const QWidget& widget) { return {widget.mapTo(window_.get(), QPoint(0, 0)), widget.size()}; }
  void key(Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QWidget* at = QApplication::focusWidget();
    QTest::keyClick(at != nullptr ? at : static_cast<QWidget*>(window_.get()), key, with);
    QTest::qWait(20);
  }
};

TEST_F(LayoutWindowTest, TheInstrumentIsAsHighAsTheWindowAndTheBenchLiesAbovePreparationAndFindings) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  const QRect instrument = placeOf(child("instruments")), lower = placeOf(child("lower")),
              contents = placeOf(child("contents"));
  EXPECT_EQ(instrument.bottom(), placeOf(*window_->statusBar()).top() - 1);
  EXPECT_EQ(contents.top(), instrument.top());
  EXPECT_EQ(contents.bottom(), instrument.bottom());
  EXPECT_LT(lower.right(), instrument.left());
  EXPECT_GT(lower.left(), contents.right());
  EXPECT_GE(instrument.width(), 300);
  EXPECT_GT(placeOf(window_->bench()).width(), 700);
}

TEST_F(LayoutWindowTest, AllChaptersOfAStationAreInSightWhenFolded) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  Chapter::keepAll(*window_, false);
  for (const Station station : app::kStations) {
    window_->setStation(station);
    QTest::qWait(50);
    const QRect room = placeOf(child("instruments"));
    for (const Chapter* one : panel().chapters()) {
      if (!one->isVisible()) continue;
      EXPECT_FALSE(one->isOpen());
      EXPECT_TRUE(room.contains(placeOf(*one->head()))) << one->head()->text();
    }
  }
}

TEST_F(LayoutWindowTest, EveryCheckHasAChapterAtItsStation) {
  const auto panels = window_->findChildren<app::StationPanel*>();
  for (const check::CheckRow& row : check::checkTable()) {
    size_t at = 0;
    for (const app::StationPanel* one : panels) at += one->chapterOf(row.id) != nullptr ? 1 : 0;
    window_->setStation(row.station);
    EXPECT_TRUE(panel().chapterOf(row.id) != nullptr) << row.id << " at " << check::stationName(row.station);
    EXPECT_EQ(at, 1U) << row.id;
  }
}

TEST_F(LayoutWindowTest, WhatNeedsAttentionIsOpenTheFirstTimeAndSaysWhatIsWrong) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  window_->setStation(Station::shape);
  EXPECT_TRUE(chapter("size").isOpen());
  ASSERT_TRUE(chapter("size").head()->attention());
  EXPECT_FALSE(chapter("size").head()->state().isEmpty());
  EXPECT_FALSE(chapter("measuring").isOpen());
  EXPECT_FALSE(chapter("measuring").head()->attention());
  // Mended, it says so, and stays open under the person's hand.
  ASSERT_TRUE(test::click(*window_, "mend-size.unit"));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_FALSE(chapter("size").head()->attention());
  EXPECT_EQ(chapter("size").head()->state(), QStringLiteral("in the band"));
  EXPECT_TRUE(chapter("size").isOpen());
}

TEST_F(LayoutWindowTest, ChaptersAreFoldedByMouseAndKeysAndStaySo) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  window_->setStation(Station::shape);
  ASSERT_FALSE(chapter("measuring").isOpen());
  ASSERT_TRUE(test::click(*window_, "chapter-measuring"));
  EXPECT_TRUE(chapter("measuring").isOpen());
  EXPECT_TRUE(test::find<QPushButton>(*window_, "measure") != nullptr);
  // Left folds, right unfolds, down goes on, Home to the first.
  chapter("measuring").head()->setFocus();
  key(Qt::Key_Left);
  EXPECT_FALSE(chapter("measuring").isOpen());
  key(Qt::Key_Down);
  EXPECT_TRUE(chapter("parts").head()->hasFocus());
  key(Qt::Key_Right);
  EXPECT_TRUE(chapter("parts").isOpen());
  key(Qt::Key_Home);
  EXPECT_TRUE(chapter("size").head()->hasFocus());
  key(Qt::Key_Space);
  const bool size = chapter("size").isOpen();
  // From anywhere in the window, a key goes through them.
  window_->bench().setFocus();
  key(Qt::Key_F7);
  EXPECT_TRUE(chapter("size").head()->hasFocus());
  key(Qt::Key_F7);
  EXPECT_TRUE(chapter("direction").head()->hasFocus());
  key(Qt::Key_F7, Qt::ShiftModifier);
  EXPECT_TRUE(chapter("size").head()->hasFocus());
  end();
  begin();
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(Station::shape);
  EXPECT_TRUE(chapter("parts").isOpen());
  EXPECT_FALSE(chapter("measuring").isOpen());
  EXPECT_EQ(chapter("size").isOpen(), size);
}

TEST_F(LayoutWindowTest, AFindingThatIsShownUnfoldsItsChapter) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  Chapter::keepAll(*window_, false);
  window_->setStation(Station::sources);
  QTest::qWait(50);
  ASSERT_TRUE(test::click(*window_, "show-size.unit"));
  QTest::qWait(50);
  EXPECT_TRUE(chapter("size").isVisible());
  EXPECT_TRUE(chapter("size").isOpen());
  ASSERT_TRUE(test::click(*window_, "show-role.missing"));
  EXPECT_TRUE(chapter("materials").isOpen());
}

TEST_F(LayoutWindowTest, EachStationKeepsTheWidthOfItsInstrument) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(Station::shape);
  auto& work = dynamic_cast<QSplitter&>(child("work"));
  const auto drag = [&](int by) {
    QWidget* handle = work.handle(2);
    const QPoint at = handle->rect().center();
    QTest::mousePress(handle, Qt::LeftButton, {}, at);
    QTest::mouseMove(handle, at + QPoint(by, 0));
    QTest::mouseRelease(handle, Qt::LeftButton, {}, at + QPoint(by, 0));
    QTest::qWait(50);
  };
  const int usual = child("instruments").width();
  drag(-120);
  const int wide = child("instruments").width();
  EXPECT_NEAR(wide, usual + 120, 2);
  window_->setStation(Station::objects);
  QTest::qWait(50);
  EXPECT_EQ(child("instruments").width(), usual);
  drag(-2000);
  EXPECT_LE(child("instruments").width(), 560) << "no wider than that";
  EXPECT_GT(child("instruments").width(), 450) << "what the bench's bar leaves of it at 1280";
  window_->setStation(Station::shape);
  QTest::qWait(50);
  EXPECT_EQ(child("instruments").width(), wide);
}

TEST_F(LayoutWindowTest, OneKeyGivesTheBenchEverythingAndGivesItBack) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(Station::shape);
  const QRect before = placeOf(child("centre"));
  key(Qt::Key_F8);
  EXPECT_FALSE(child("instruments").isVisible());
  EXPECT_FALSE(child("contents").isVisible());
  EXPECT_FALSE(child("lower").isVisible());
  EXPECT_EQ(placeOf(child("centre")).width(), window_->width());
  key(Qt::Key_F8);
  EXPECT_TRUE(child("lower").isVisible());
  EXPECT_EQ(placeOf(child("centre")), before);
  // Whoever asks for what was put away gets it.
  key(Qt::Key_F8);
  key(Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_TRUE(child("findings").isVisible());
}

TEST_F(LayoutWindowTest, PreparationAndFindingsFoldToALineThatSaysHowTheyStand) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  const auto head = [&](const char* name) { return dynamic_cast<app::ChapterHead*>(&child(name)); };
  const int high = window_->bench().height();
  ASSERT_TRUE(test::click(*window_, "fold-steps"));
  EXPECT_EQ(head("fold-steps")->state(), QStringLiteral("no steps yet"));
  EXPECT_EQ(child("preparation").height(), head("fold-steps")->height());
  EXPECT_EQ(child("findings").width(), child("lower").width()) << "the other has the whole width";
  ASSERT_TRUE(test::click(*window_, "fold-findings-list"));
  QTest::qWait(50);
  EXPECT_TRUE(head("fold-findings-list")->state().contains(QStringLiteral("stop the game")))
      << head("fold-findings-list")->state();
  EXPECT_GT(window_->bench().height(), high + 100);
  ASSERT_TRUE(test::click(*window_, "fold-findings-list"));
  ASSERT_TRUE(test::click(*window_, "fold-steps"));
  QTest::qWait(50);
  EXPECT_TRUE(test::chooseFinding(*window_, "size.unit", "mend-") != nullptr);
  EXPECT_NEAR(window_->bench().height(), high, 2) << "as before";
}

TEST_F(LayoutWindowTest, TheBundleStationShowsWhatGoesInBesideWhatIsInstalled) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(Station::bundle);
  EXPECT_FALSE(window_->bench().isVisible());
  EXPECT_FALSE(child("preparation").isVisible()) << "it belongs to what the bench shows";
  QTest::qWait(100);
  auto* state = test::find<QLabel>(*window_, "bundle-state");
  ASSERT_TRUE(state != nullptr);
  EXPECT_TRUE(state->text().startsWith(QStringLiteral("Not built yet")));
  auto* entries = test::find<app::EntryList>(*window_, "entries");
  ASSERT_TRUE(entries != nullptr);
  EXPECT_FALSE(entries->placeOf(QStringLiteral("goes-in-quay-lamp")).isEmpty());
  EXPECT_FALSE(entries->placeOf(QStringLiteral("goes-in-")).isEmpty()) << "the mod itself";
  EXPECT_LT(placeOf(child("bundle-entries")).right(), placeOf(child("bundle-others")).left());
  window_->setStation(Station::shape);
  EXPECT_TRUE(window_->bench().isVisible());
}

TEST_F(LayoutWindowTest, TheMatchBoardCanHaveTheMiddleBesideTheBenchAndStaysThere) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "newcomer")));
  window_->setStation(Station::skeleton);
  QTest::qWait(50);
  app::Chapter::keepAll(*window_, true);
  QTest::qWait(50);
  QWidget& board = child("match-board");
  ASSERT_TRUE(board.isVisible());
  EXPECT_EQ(board.height(), 262);
  ASSERT_TRUE(test::click(*window_, "board-beside"));
  QTest::qWait(50);
  EXPECT_TRUE(board.isVisible());
  EXPECT_GT(board.height(), 300);
  EXPECT_LT(placeOf(board).right(), placeOf(child("instruments")).left());
  EXPECT_GT(placeOf(board).left(), placeOf(window_->bench()).right());
  QTest::qWait(200);
  EXPECT_EQ(window_->size(), QSize(1280, 800));
  test::look(*window_, "board-beside");
  // It still matches: the first slot is chosen by a click on its place.
  auto& match = dynamic_cast<app::MatchBoard&>(board);
  QTest::mouseClick(&board, Qt::LeftButton, {}, match.slotPoint(0).toPoint());
  EXPECT_EQ(match.chosen(), match.places().at(0).id);
  window_->setStation(Station::shape);
  EXPECT_FALSE(board.isVisible());
  window_->setStation(Station::skeleton);
  EXPECT_TRUE(board.isVisible());
  end();
  begin();
  window_->resize(1280, 800);
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "newcomer")));
  window_->setStation(Station::skeleton);
  QTest::qWait(50);
  EXPECT_LT(placeOf(child("match-board")).right(), placeOf(child("instruments")).left()) << "as it was left";
  ASSERT_TRUE(test::click(*window_, "board-beside"));
  QTest::qWait(50);
  EXPECT_EQ(child("match-board").height(), 262);
  EXPECT_GT(placeOf(child("match-board")).left(), placeOf(child("instruments")).left());
}

TEST_F(LayoutWindowTest, TheTryoutShowsTheGameAndTellsItWhatToDo) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  window_->setStation(Station::tryout);
  EXPECT_TRUE(test::find<QWidget>(*window_, "game-picture") != nullptr);
  EXPECT_TRUE(test::find<QWidget>(*window_, "trial-use") == nullptr) << "there is no game yet";
  ASSERT_TRUE(test::click(*window_, "start-game"));
  auto* picture = dynamic_cast<app::GamePicture*>(&child("game-picture"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return !picture->picture().isNull(); }, test::kPatience_ms));
  const auto brightness = [&] {
    double sum = 0;
    const QImage small = picture->picture().scaled(16, 10, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    for (int y = 0; y < small.height(); ++y)
      for (int x = 0; x < small.width(); ++x) sum += qGray(small.pixel(x, y));
    return sum / (small.width() * small.height());
  };
  ASSERT_TRUE(test::click(*window_, "trial-show"));
  const double day = brightness();
  test::find<QSlider>(*window_, "trial-night")->setValue(100);
  EXPECT_TRUE(QTest::qWaitFor([&] { return brightness() < day * 0.7; }, test::kPatience_ms))
      << day << " by day, " << brightness() << " by night";
  // The log is narrowed to what it says about this mod.
  ASSERT_TRUE(QTest::qWaitFor([&] { return test::find<QLabel>(*window_, "log-loaded") != nullptr; },
                              test::kPatience_ms));
  ASSERT_TRUE(test::click(*window_, "log-only-ours"));
  EXPECT_TRUE(test::find<QLabel>(*window_, "log-loaded") == nullptr);
  ASSERT_TRUE(test::click(*window_, "start-game"));
  EXPECT_TRUE(QTest::qWaitFor([&] { return picture->picture().isNull(); }, test::kPatience_ms));
}

}  // namespace rakugo
