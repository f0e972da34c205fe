// The contents: found, filtered, made, renamed, copied and removed, by mouse and keys, and all of it undone.
#include <QAbstractItemModelTester>
#include <QFloat16>
#include <QMenu>

#include "app/contents/contents_view.h"
#include "app/shell/dialogs.h"
#include "mod/store.h"
#include "window_fixture.h"

namespace rakugo {

using app::ContentsRows;

class ContentsWindowTest : public test::WindowFixture {
 protected:
  app::ContentsView& list() {
    auto* found = window_->findChild<app::ContentsView*>();
    if (found == nullptr) throw std::runtime_error("no contents");
    return *found;
  }
  QStringList shown() {
    QStringList out;
    for (int i = 0; i < list().model()->rowCount(); ++i)
      if (const QString key = list().model()->index(i, 0).data(ContentsRows::key_role).toString();
          !key.isEmpty())
        out << key;
    return out;
  }
  // Opens the menu of the row that is at hand, and takes the entry of that name, in a submenu too.
  bool take(const char* action) {
    bool taken = false;
    if (!test::click(*window_, "contents-more")) return false;
    auto* menu = window_->findChild<QMenu*>(QStringLiteral("contents-menu"));
    if (menu == nullptr) return false;
    if (auto* found = menu->findChild<QAction*>(QLatin1String(action))) {
      found->trigger();
      taken = true;
    }
    menu->close();
    return taken && test::settle(*window_);
  }
  // Types a name into the popup that asks for one.
  void name(const QString& text) {
    ASSERT_TRUE(
        QTest::qWaitFor([] { return QApplication::activePopupWidget() != nullptr; }, test::kPatience_ms));
    auto* line = QApplication::activePopupWidget()->findChild<QLineEdit*>(QStringLiteral("value"));
    ASSERT_TRUE(line != nullptr);
    line->selectAll();
    QTest::keyClicks(line, text);
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(test::settle(*window_));
  }
};

TEST_F(ContentsWindowTest, ThingsAreFoundByWordsAndByWhatIsWrongWithThem) {
  const QAbstractItemModelTester tester(list().model(),
                                        QAbstractItemModelTester::FailureReportingMode::Fatal);
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  const QStringList all = shown();
  EXPECT_GT(all.size(), 6);
  auto* words = test::find<QLineEdit>(*window_, "contents-words");
  QTest::keyClicks(words, QStringLiteral("tug"));
  for (const QString& key : shown()) EXPECT_TRUE(key.contains(QStringLiteral("tug"))) << key;
  EXPECT_LT(shown().size(), all.size());
  EXPECT_GE(shown().size(), 2);
  words->clear();
  EXPECT_EQ(shown(), all);
  ASSERT_TRUE(test::click(*window_, "contents-only-open"));
  for (int i = 0; i < list().model()->rowCount(); ++i)
    EXPECT_NE(list().model()->index(i, 0).data(ContentsRows::mark_role), QVariant(3));
  ASSERT_TRUE(test::click(*window_, "contents-only-open"));
  EXPECT_EQ(shown(), all);
}

TEST_F(ContentsWindowTest, ARenamedModelTakesEveryReferenceAlongAndIsSavedSo) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  const auto before = mod::documentTexts(session().state());
  ASSERT_TRUE(test::clickRow(*window_, "model-quay-lamp"));
  QTest::keyClick(&list(), Qt::Key_F2);
  name(QStringLiteral("pier-lamp"));
  EXPECT_TRUE(shown().contains(QStringLiteral("model-pier-lamp")));
  EXPECT_FALSE(shown().contains(QStringLiteral("model-quay-lamp")));
  EXPECT_EQ(session().model(), "pier-lamp");
  EXPECT_EQ(session().state().objects.find("quay-lamp")->second.pieces.at(0).model, "pier-lamp");
  for (const check::Finding& f : session().examination()->findings) ADD_FAILURE() << f.sentence;
  ASSERT_TRUE(session().saveNow().isEmpty());
  const auto again = mod::loadMod(mod.toStdString());
  ASSERT_TRUE(again);
  EXPECT_TRUE(again->models.contains("pier-lamp"));
  EXPECT_FALSE(again->models.contains("quay-lamp"));
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(mod::documentTexts(session().state()), before) << "one undo takes all of it back";
}

TEST_F(ContentsWindowTest, ANameThatCannotBeIsToldAndChangesNothing) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  ASSERT_TRUE(test::clickRow(*window_, "object-quay-lamp"));
  QTest::keyClick(&list(), Qt::Key_F2);
  name(QStringLiteral("no/slash"));
  EXPECT_TRUE(told().startsWith(QStringLiteral("◆"))) << told();
  EXPECT_TRUE(session().state().objects.contains("quay-lamp"));
  EXPECT_FALSE(session().history().dirty());
}

TEST_F(ContentsWindowTest, ThingsAreCopiedMadeAndRemovedByTheMenuAndByKeys) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  const auto before = mod::documentTexts(session().state());
  ASSERT_TRUE(test::clickRow(*window_, "object-quay-lamp"));
  ASSERT_TRUE(take("thing-copy"));
  EXPECT_TRUE(shown().contains(QStringLiteral("object-quay-lamp-2")));
  // A second model of one source, and an object of that.
  ASSERT_TRUE(test::clickRow(*window_, ("source-" + session().state().sources.begin()->first).c_str()));
  ASSERT_TRUE(take("new-model"));
  EXPECT_EQ(session().state().models.size(), 2U);
  const std::string made = session().model();
  EXPECT_TRUE(session().state().models.find(made)->second.steps.empty());
  ASSERT_TRUE(test::clickRow(*window_, ("model-" + made).c_str()));
  ASSERT_TRUE(take("new-object-fitting"));
  EXPECT_EQ(session().state().objects.find(session().object())->second.pieces.at(0).model, made);
  // What is used is removed only when that is said, and what names it goes along.
  ASSERT_TRUE(test::clickRow(*window_, ("model-" + made).c_str()));
  whenDialogOpens("remove-used", [](QWidget& dialog) { press(dialog, "no"); });
  QTest::keyClick(&list(), Qt::Key_Delete);
  EXPECT_TRUE(session().state().models.contains(made));
  whenDialogOpens("remove-used", [](QWidget& dialog) { press(dialog, "yes"); });
  QTest::keyClick(&list(), Qt::Key_Delete);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_FALSE(session().state().models.contains(made));
  for (const auto& [object, doc] : session().state().objects)
    for (const mod::PieceDoc& piece : doc.pieces) EXPECT_NE(piece.model, made);
  while (session().history().canUndo()) session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(mod::documentTexts(session().state()), before);
}

TEST_F(ContentsWindowTest, OfASourceItIsSaidWhoRenamesAndRemovesIt) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  const auto before = mod::documentTexts(session().state());
  ASSERT_TRUE(test::clickRow(*window_, ("source-" + session().state().sources.begin()->first).c_str()));
  for (const Qt::Key key : {Qt::Key_F2, Qt::Key_Delete}) {
    window_->findChild<QLabel*>(QStringLiteral("told"))->clear();
    QTest::keyClick(&list(), key);
    EXPECT_TRUE(told().contains(QStringLiteral("rakugo-tool source"))) << told();
  }
  EXPECT_EQ(mod::documentTexts(session().state()), before);
}

TEST_F(ContentsWindowTest, SeveralThingsAreRemovedAtOnce) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  const size_t objects = session().state().objects.size();
  ASSERT_GE(objects, 2U);
  QStringList keys;
  for (const QString& key : shown())
    if (key.startsWith(QStringLiteral("object-"))) keys << key;
  ASSERT_TRUE(test::clickRow(*window_, keys[0].toUtf8().constData()));
  ASSERT_TRUE(test::clickRow(*window_, keys[1].toUtf8().constData(), Qt::ControlModifier));
  EXPECT_EQ(list().marked().size(), 2U);
  QTest::keyClick(&list(), Qt::Key_Delete);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(session().state().objects.size(), objects - 2);
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(session().state().objects.size(), objects);
}

TEST_F(ContentsWindowTest, AThingIsChosenByKeysAndTheListKeepsTheKeyboard) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  QTest::keyClick(window_.get(), Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
  QTest::qWait(20);
  list().setFocus();
  ASSERT_TRUE(test::clickRow(*window_, "model-tug"));
  QTest::keyClick(&list(), Qt::Key_Up);
  QTest::keyClick(&list(), Qt::Key_Return);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_NE(session().model(), "tug");
  EXPECT_TRUE(list().hasFocus());
}

}  // namespace rakugo
