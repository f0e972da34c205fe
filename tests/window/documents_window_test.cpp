// Documents in the real window: nothing that was typed is lost, whatever happens beside it.
#include "base/files.h"
#include "mod/store.h"
#include "window_fixture.h"

using namespace rakugo;

class DocumentsWindowTest : public test::WindowFixture {
  Q_OBJECT

  void retitle(const char* title) {
    session().edit(QStringLiteral("Retitle"), [&](mod::ModState& s) { s.card.title = title; });
  }
  static std::string journal(const QString& mod) { return app::DiskSide::journalOf(test::s8(mod)).string(); }
  // What a kill leaves: the journal as it is at this moment, put back once the window has gone.
  void killAndStartAgain(const QString& mod) {
    QVERIFY(test::settle(*window_));
    const auto bytes = base::readFile(journal(mod));
    QVERIFY(bytes.ok());
    session().history().markSaved();
    window_.reset();
    QVERIFY(base::writeFileAtomic(journal(mod), *bytes).ok());
    newWindow();
  }

 private Q_SLOTS:
  void init() { begin(); }
  void cleanup() { end(); }

  void editsOfARunThatWasKilledAreOfferedAndTakenBack() {
    const QString mod = test::copyOfMod(*folder_, "lamplight");
    QVERIFY(open(mod));
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
    QVERIFY(open(mod));
    QTRY_COMPARE_WITH_TIMEOUT(session().state().card.title, std::string("Three"), test::kPatience_ms);
    QCOMPARE(lines, 4);
    QVERIFY(session().history().dirty());
    // Each can be undone, down to what was saved.
    for (int i = 0; i < 4; ++i) QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(session().state().card.title, std::string("Lamplight"));
    QVERIFY(!session().history().dirty());
  }

  void editsThatAreLeftOutAreGoneForGood() {
    const QString mod = test::copyOfMod(*folder_, "lamplight");
    QVERIFY(open(mod));
    retitle("One");
    killAndStartAgain(mod);
    bool asked = false;
    whenDialogOpens("take-back", [&](QWidget& dialog) {
      asked = true;
      press(dialog, "take-back-no");
    });
    QVERIFY(open(mod));
    QTRY_VERIFY_WITH_TIMEOUT(asked, test::kPatience_ms);
    QTRY_VERIFY_WITH_TIMEOUT(!session().found(), test::kPatience_ms);
    QCOMPARE(session().state().card.title, std::string("Lamplight"));
    QVERIFY(test::settle(*window_));
    window_.reset();
    newWindow();
    QVERIFY(open(mod));
    QTest::qWait(200);
    QVERIFY(QApplication::activeModalWidget() == nullptr);
  }

  void aModClosedInOrderLeavesNoJournal() {
    const QString mod = test::copyOfMod(*folder_, "lamplight");
    QVERIFY(open(mod));
    retitle("One");
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QVERIFY(window_->close());
    window_.reset();
    QVERIFY(!QFile::exists(QString::fromStdString(journal(mod))));
    newWindow();
  }

  void whatAnotherProgramChangesIsShownAndTaken() {
    const QString mod = test::copyOfMod(*folder_, "lamplight");
    QVERIFY(open(mod));
    session().edit(QStringLiteral("Ours"),
                   [](mod::ModState& s) { s.objects.begin()->second.title = "Ours"; });
    mod::ModState theirs = *mod::loadMod(session().folder());
    theirs.card.title = "Theirs";
    QVERIFY(
        base::writeFileAtomic(session().folder() / "mod.json", mod::documentTexts(theirs)["mod.json"]).ok());
    QTRY_VERIFY_WITH_TIMEOUT(test::find<QPushButton>(*window_, "notice-look") != nullptr, test::kPatience_ms);
    QString lines;
    whenDialogOpens("outside", [&](QWidget& dialog) {
      auto* list = test::find<QListWidget>(dialog, "outside-lines");
      for (int i = 0; i < list->count(); ++i) lines += list->item(i)->text() + QLatin1Char('\n');
      press(dialog, "outside-take");
    });
    QVERIFY(test::click(*window_, "notice-look"));
    QCOMPARE(lines.trimmed(), QStringLiteral("mod.json, /title: \"Lamplight\", on disk \"Theirs\""));
    QCOMPARE(session().state().card.title, std::string("Theirs"));
    QCOMPARE(session().state().objects.begin()->second.title, std::string("Ours"));
    QVERIFY(session().history().dirty());  // ours is not on disk yet
    QVERIFY(test::settle(*window_));
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(told(), QStringLiteral("Saved"));
    QCOMPARE(mod::loadMod(session().folder())->card.title, std::string("Theirs"));
    QCOMPARE(mod::loadMod(session().folder())->objects.begin()->second.title, std::string("Ours"));
  }

  void aSaveRefusesToWriteOverAnothersChangeUntilTold() {
    const QString mod = test::copyOfMod(*folder_, "lamplight");
    QVERIFY(open(mod));
    retitle("Ours");
    QVERIFY(base::writeFileAtomic(session().folder() / "mod.json", std::string_view("{ half")).ok());
    session().save();  // before the change was noticed
    QVERIFY(test::settle(*window_));
    QVERIFY2(told().contains(QStringLiteral("Another program changed")), qPrintable(told()));
    QVERIFY(session().history().dirty());
    QTRY_VERIFY_WITH_TIMEOUT(test::find<QPushButton>(*window_, "notice-look") != nullptr, test::kPatience_ms);
    // What cannot be read cannot be taken; that is said and the notice stays.
    whenDialogOpens("outside", [&](QWidget& dialog) { press(dialog, "outside-take"); });
    QVERIFY(test::click(*window_, "notice-look"));
    QVERIFY2(told().contains(QStringLiteral("mod.json")), qPrintable(told()));
    QCOMPARE(session().state().card.title, std::string("Ours"));
    whenDialogOpens("outside", [&](QWidget& dialog) { press(dialog, "outside-keep"); });
    QVERIFY(test::click(*window_, "notice-look"));
    QVERIFY(test::settle(*window_));
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QCOMPARE(told(), QStringLiteral("Saved"));
    QCOMPARE(mod::loadMod(session().folder())->card.title, std::string("Ours"));
  }

  void ourOwnSavesAreNoNews() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    for (const char* title : {"A", "B", "C"}) {
      retitle(title);
      QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
      QVERIFY(test::settle(*window_));
    }
    QTest::qWait(600);
    QVERIFY(!session().outside());
    QVERIFY(test::find<QPushButton>(*window_, "notice-look") == nullptr);
  }

  void undoIsKeptWhenAnotherModIsOpenedAndLeftAgain() {
    const QString one = test::copyOfMod(*folder_, "lamplight"), two = test::copyOfMod(*folder_, "first-lamp");
    QVERIFY(open(one));
    retitle("One");
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier);
    QVERIFY(test::settle(*window_));
    QVERIFY(open(two));
    QVERIFY(!session().history().canUndo());
    retitle("Not wanted");
    whenDialogOpens("unsaved", [&](QWidget& dialog) { press(dialog, "unsaved-leave"); });
    QVERIFY(open(one));
    QCOMPARE(session().history().undoLabel(), std::string("Retitle"));
    session().undo();
    QCOMPARE(session().state().card.title, std::string("Lamplight"));
    whenDialogOpens("unsaved", [&](QWidget& dialog) { press(dialog, "unsaved-save"); });
    QVERIFY(open(two));
    // What was left out can still be had by undoing that.
    QVERIFY(session().state().card.title != "Not wanted");
    session().undo();
    QCOMPARE(session().state().card.title, std::string("Not wanted"));
    QCOMPARE(mod::loadMod(test::s8(one))->card.title, std::string("Lamplight"));
  }

  void goingBackFromTheQuestionChangesNothing() {
    QVERIFY(open(test::copyOfMod(*folder_, "lamplight")));
    retitle("One");
    whenDialogOpens("unsaved", [&](QWidget& dialog) { QTest::keyClick(&dialog, Qt::Key_Escape); });
    QVERIFY(!window_->close());
    QCOMPARE(session().state().card.title, std::string("One"));
    QVERIFY(session().history().dirty());
  }
};

int main(int argc, char** argv) { return test::runTests<DocumentsWindowTest>(argc, argv); }

#include "documents_window_test.moc"
