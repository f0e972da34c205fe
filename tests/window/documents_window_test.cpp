// Documents in the real window: nothing that was typed is lost, whatever happens beside it.
#include "base/files.h"
#include "mod/store.h"
#include "window_fixture.h"

using namespace rakugo;

class DocumentsWindowTest : public test::WindowFixture {
 protected:
  void retitle(const char* title) {
    session().edit(QStringLiteral("Retitle"), [&](mod::ModState& s) { s.card.title = title; });
  }
  static std::string journal(const QString& mod) { return app::DiskSide::journalOf(test::s8(mod)).string(); }
  // What a kill leaves: the journal as it is at this moment, put back once the window has gone.
  void killAndStartAgain(const QString& mod) {
    ASSERT_TRUE(test::settle(*window_));
    const auto bytes = base::readFile(journal(mod));
    ASSERT_TRUE(bytes.ok());
    session().history().markSaved();
    window_.reset();
    ASSERT_TRUE(base::writeFileAtomic(journal(mod), *bytes).ok());
    newWindow();
  }
};

TEST_F(DocumentsWindowTest, EditsOfARunThatWasKilledAreOfferedAndTakenBack) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  retitle("One");
  retitle("Two");
  session().undo();
  retitle("Three");
  killAndStartAgain(mod);
  int lines = 0;
  whenDialogOpens("take-back", [&](QWidget& dialog) {
    lines = test::find<QListWidget>(dialog, "take-back-lines")->count();
    press(dialog, "take-back-yes");
  });
  ASSERT_TRUE(open(mod));
  (void)QTest::qWaitFor([&] { return session().state().card.title == std::string("Three"); },
                        test::kPatience_ms);
  ASSERT_EQ(session().state().card.title, std::string("Three"));
  ASSERT_EQ(lines, 4);
  ASSERT_TRUE(session().history().dirty());
  // Each can be undone, down to what was saved.
  for (int i = 0; i < 4; ++i) QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  ASSERT_EQ(session().state().card.title, std::string("Lamplight"));
  ASSERT_TRUE(!session().history().dirty());
}

TEST_F(DocumentsWindowTest, EditsThatAreLeftOutAreGoneForGood) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  retitle("One");
  killAndStartAgain(mod);
  bool asked = false;
  whenDialogOpens("take-back", [&](QWidget& dialog) {
    asked = true;
    press(dialog, "take-back-no");
  });
  ASSERT_TRUE(open(mod));
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(asked); }, test::kPatience_ms));
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(!session().found()); }, test::kPatience_ms));
  ASSERT_EQ(session().state().card.title, std::string("Lamplight"));
  ASSERT_TRUE(test::settle(*window_));
  window_.reset();
  newWindow();
  ASSERT_TRUE(open(mod));
  QTest::qWait(200);
  ASSERT_TRUE(QApplication::activeModalWidget() == nullptr);
}

TEST_F(DocumentsWindowTest, AModClosedInOrderLeavesNoJournal) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  retitle("One");
  QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(window_->close());
  window_.reset();
  ASSERT_TRUE(!QFile::exists(QString::fromStdString(journal(mod))));
  newWindow();
}

TEST_F(DocumentsWindowTest, WhatAnotherProgramChangesIsShownAndTaken) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  session().edit(QStringLiteral("Ours"), [](mod::ModState& s) { s.objects.front().title = "Ours"; });
  mod::ModState theirs = *mod::loadMod(session().folder());
  theirs.card.title = "Theirs";
  ASSERT_TRUE(
      base::writeFileAtomic(session().folder() / "mod.json", mod::documentTexts(theirs)["mod.json"]).ok());
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(test::find<QPushButton>(*window_, "notice-look") != nullptr); },
      test::kPatience_ms));
  QString lines;
  whenDialogOpens("outside", [&](QWidget& dialog) {
    auto* list = test::find<QListWidget>(dialog, "outside-lines");
    for (int i = 0; i < list->count(); ++i) lines += list->item(i)->text() + QLatin1Char('\n');
    press(dialog, "outside-take");
  });
  ASSERT_TRUE(test::click(*window_, "notice-look"));
  ASSERT_EQ(lines.trimmed(), QStringLiteral("mod.json, /title: \"Lamplight\", on disk \"Theirs\""));
  ASSERT_EQ(session().state().card.title, std::string("Theirs"));
  ASSERT_EQ(session().state().objects.begin()->second.title, std::string("Ours"));
  ASSERT_TRUE(session().history().dirty());  // ours is not on disk yet
  ASSERT_TRUE(test::settle(*window_));
  QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(told(), QStringLiteral("Saved"));
  ASSERT_EQ(mod::loadMod(session().folder())->card.title, std::string("Theirs"));
  ASSERT_EQ(mod::loadMod(session().folder())->objects.begin()->second.title, std::string("Ours"));
}

TEST_F(DocumentsWindowTest, ASaveRefusesToWriteOverAnothersChangeUntilTold) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  retitle("Ours");
  ASSERT_TRUE(base::writeFileAtomic(session().folder() / "mod.json", std::string_view("{ half")).ok());
  session().save();  // before the change was noticed
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(told().contains(QStringLiteral("Another program changed"))) << qPrintable(told());
  ASSERT_TRUE(session().history().dirty());
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(test::find<QPushButton>(*window_, "notice-look") != nullptr); },
      test::kPatience_ms));
  // What cannot be read cannot be taken; that is said and the notice stays.
  whenDialogOpens("outside", [&](QWidget& dialog) { press(dialog, "outside-take"); });
  ASSERT_TRUE(test::click(*window_, "notice-look"));
  ASSERT_TRUE(told().contains(QStringLiteral("mod.json"))) << qPrintable(told());
  ASSERT_EQ(session().state().card.title, std::string("Ours"));
  whenDialogOpens("outside", [&](QWidget& dialog) { press(dialog, "outside-keep"); });
  ASSERT_TRUE(test::click(*window_, "notice-look"));
  ASSERT_TRUE(test::settle(*window_));
  QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(told(), QStringLiteral("Saved"));
  ASSERT_EQ(mod::loadMod(session().folder())->card.title, std::string("Ours"));
}

TEST_F(DocumentsWindowTest, OurOwnSavesAreNoNews) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  for (const char* title : {"A", "B", "C"}) {
    retitle(title);
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(test::settle(*window_));
  }
  QTest::qWait(600);
  ASSERT_TRUE(!session().outside());
  ASSERT_TRUE(test::find<QPushButton>(*window_, "notice-look") == nullptr);
}

TEST_F(DocumentsWindowTest, UndoIsKeptWhenAnotherModIsOpenedAndLeftAgain) {
  const QString one = test::copyOfMod(*folder_, "lamplight"), two = test::copyOfMod(*folder_, "first-lamp");
  ASSERT_TRUE(open(one));
  retitle("One");
  QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(open(two));
  ASSERT_TRUE(!session().history().canUndo());
  retitle("Not wanted");
  whenDialogOpens("unsaved", [&](QWidget& dialog) { press(dialog, "unsaved-leave"); });
  ASSERT_TRUE(open(one));
  ASSERT_EQ(session().history().undoLabel(), std::string("Retitle"));
  session().undo();
  ASSERT_EQ(session().state().card.title, std::string("Lamplight"));
  whenDialogOpens("unsaved", [&](QWidget& dialog) { press(dialog, "unsaved-save"); });
  ASSERT_TRUE(open(two));
  // What was left out can still be had by undoing that.
  ASSERT_TRUE(session().state().card.title != "Not wanted");
  session().undo();
  ASSERT_EQ(session().state().card.title, std::string("Not wanted"));
  ASSERT_EQ(mod::loadMod(test::s8(one))->card.title, std::string("Lamplight"));
}

TEST_F(DocumentsWindowTest, GoingBackFromTheQuestionChangesNothing) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  retitle("One");
  whenDialogOpens("unsaved", [&](QWidget& dialog) { QTest::keyClick(&dialog, Qt::Key_Escape); });
  ASSERT_TRUE(!window_->close());
  ASSERT_EQ(session().state().card.title, std::string("One"));
  ASSERT_TRUE(session().history().dirty());
}
