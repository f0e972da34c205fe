// The contents: found, filtered, made, renamed, copied and removed, by mouse and keys, and all of it undone.
#include <QAbstractItemModelTester>
#include <QComboBox>
#include <QDropEvent>
#include <QFloat16>
#include <QMenu>
#include <QMimeData>

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

TEST_F(ContentsWindowTest, ASourceIsRenamedWithItsFilesAndThatIsUndoneSavedAndOpenedAgain) {
  const QString mod = test::copyOfMod(*folder_, "lamplight");
  ASSERT_TRUE(open(mod));
  const auto before = mod::documentTexts(session().state());
  const std::string was = session().state().sources.begin()->first;
  const auto digest = session().state().sources.begin()->second.files;
  const auto there = [&](const char* name) {
    return QFileInfo::exists(mod + QStringLiteral("/sources/") + QLatin1String(name) +
                             QStringLiteral("/quay_lamp.glb"));
  };
  ASSERT_TRUE(test::clickRow(*window_, ("source-" + was).c_str()));
  QTest::keyClick(&list(), Qt::Key_F2);
  name(QStringLiteral("lamp-from-anna"));
  EXPECT_TRUE(shown().contains(QStringLiteral("source-lamp-from-anna")));
  EXPECT_EQ(session().state().models.begin()->second.source, "lamp-from-anna");
  EXPECT_TRUE(there("lamp-from-anna"));
  for (const check::Finding& f : session().examination()->findings) ADD_FAILURE() << f.sentence;
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(mod::documentTexts(session().state()), before);
  for (const check::Finding& f : session().examination()->findings) ADD_FAILURE() << f.sentence;
  session().redo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(session().saveNow().isEmpty());
  const auto saved = mod::loadMod(mod.toStdString());
  ASSERT_TRUE(saved);
  ASSERT_TRUE(saved->sources.contains("lamp-from-anna"));
  EXPECT_FALSE(saved->sources.contains(was));
  EXPECT_EQ(saved->sources.at("lamp-from-anna").files, digest);
  // Opened again, the files under the old name are out of the way and not lost.
  window_.reset();
  newWindow();
  ASSERT_TRUE(open(mod));
  EXPECT_FALSE(there(was.c_str()));
  EXPECT_TRUE(QFileInfo::exists(mod + QStringLiteral("/build/left-over/sources/") + app::q(was)));
  for (const check::Finding& f : session().examination()->findings) ADD_FAILURE() << f.sentence;
}

TEST_F(ContentsWindowTest, ASourceGoesWithTheModelsThatAreMadeOfItAndIsCopiedUnderAFreeName) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  const auto before = mod::documentTexts(session().state());
  const std::string source = session().state().sources.begin()->first;
  ASSERT_TRUE(test::clickRow(*window_, ("source-" + source).c_str()));
  ASSERT_TRUE(take("thing-copy"));
  ASSERT_EQ(session().state().sources.size(), 2U);
  EXPECT_TRUE(session().state().sources.contains(source + "-2"));
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_TRUE(test::clickRow(*window_, ("source-" + source).c_str()));
  whenDialogOpens("remove-used", [&](QWidget& dialog) {
    EXPECT_GE(test::find<QListWidget>(dialog, "remove-used-lines")->count(), 2);
    press(dialog, "yes");
  });
  QTest::keyClick(&list(), Qt::Key_Delete);
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(session().state().sources.empty());
  EXPECT_TRUE(session().state().models.empty());
  EXPECT_TRUE(session().state().objects.begin()->second.pieces.empty());
  session().undo();
  ASSERT_TRUE(test::settle(*window_));
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

TEST_F(ContentsWindowTest, AModelThatIsDroppedOnAnObjectBecomesAPieceOfIt) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  auto* view = test::find<app::ContentsView>(*window_, "contents-list");
  ASSERT_NE(view, nullptr);
  auto* rows = view->model();
  const auto indexOf = [&](const char* key) {
    return rows
        ->match(rows->index(0, 0), app::ContentsRows::key_role, QString::fromLatin1(key), 1, Qt::MatchExactly)
        .value(0);
  };
  const QModelIndex model = indexOf("model-quay-block"), object = indexOf("object-tug");
  ASSERT_TRUE(model.isValid() && object.isValid());
  EXPECT_TRUE(model.flags().testFlag(Qt::ItemIsDragEnabled));
  EXPECT_FALSE(object.flags().testFlag(Qt::ItemIsDragEnabled));
  const std::unique_ptr<QMimeData> data(rows->mimeData({model}));
  ASSERT_NE(data, nullptr);
  EXPECT_FALSE(rows->canDropMimeData(data.get(), Qt::CopyAction, -1, -1, indexOf("source-tug")));
  const auto before = session().state().objects.at("tug").pieces.size();
  // As Qt does once the mouse lets go over the row.
  const QPoint at = test::rowOf(*window_, "object-tug").center();
  QDragEnterEvent enter(at, Qt::CopyAction, data.get(), Qt::LeftButton, {});
  QApplication::sendEvent(view->viewport(), &enter);
  QDragMoveEvent over(at, Qt::CopyAction, data.get(), Qt::LeftButton, {});
  QApplication::sendEvent(view->viewport(), &over);
  EXPECT_TRUE(over.isAccepted());
  QDropEvent drop(at, Qt::CopyAction, data.get(), Qt::LeftButton, {});
  QApplication::sendEvent(view->viewport(), &drop);
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(session().state().objects.at("tug").pieces.size(), before + 1);
  EXPECT_EQ(session().state().objects.at("tug").pieces.back().model, "quay-block");
  session().undo();
  EXPECT_EQ(session().state().objects.at("tug").pieces.size(), before);
}

TEST_F(ContentsWindowTest, AFieldIsSetInSeveralObjectsInOneEdit) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  ASSERT_TRUE(test::clickRow(*window_, "object-tug"));
  ASSERT_TRUE(test::clickRow(*window_, "object-sea-coat", Qt::ControlModifier));
  ASSERT_TRUE(test::click(*window_, "contents-more"));
  auto* menu = test::find<QMenu>(*window_, "contents-menu");
  ASSERT_NE(menu, nullptr);
  auto* action = menu->findChild<QAction*>(QStringLiteral("thing-field"));
  ASSERT_NE(action, nullptr);
  EXPECT_TRUE(action->text().contains(QStringLiteral("all 2")));
  QString now;
  whenDialogOpens("set-field", [&](QWidget& dialog) {
    auto* which = dialog.findChild<QComboBox*>(QStringLiteral("set-field-which"));
    which->setCurrentIndex(which->findData(QStringLiteral("price")));
    now = dialog.findChild<QLabel*>(QStringLiteral("set-field-now"))->text();
    auto* value = dialog.findChild<QLineEdit*>(QStringLiteral("set-field-value"));
    auto* set = dialog.findChild<QPushButton*>(QStringLiteral("set-field-set"));
    QTest::keyClicks(value, QStringLiteral("dear"));
    EXPECT_FALSE(set->isEnabled());
    EXPECT_FALSE(dialog.findChild<QLabel*>(QStringLiteral("set-field-why"))->text().isEmpty());
    value->clear();
    QTest::keyClicks(value, QStringLiteral("35"));
    EXPECT_TRUE(set->isEnabled());
    test::look(*window_, "set-field");
    set->click();
    if (dialog.isVisible()) dialog.close();
  });
  action->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_TRUE(now.startsWith(QStringLiteral("Now: "))) << qPrintable(now);
  EXPECT_EQ(session().state().objects.at("tug").card.value("price", 0), 35);
  EXPECT_EQ(session().state().objects.at("sea-coat").card.value("price", 0), 35);
  EXPECT_NE(session().state().objects.at("quay-block").card.value("price", base::Json()), base::Json(35));
  session().undo();
  EXPECT_NE(session().state().objects.at("tug").card.value("price", base::Json()), base::Json(35));
}

TEST_F(ContentsWindowTest, WhatIsSureIsMendedInTheMarkedThingsAlone) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "slipway")));
  ASSERT_TRUE(test::clickRow(*window_, "model-tug"));
  ASSERT_TRUE(test::settle(*window_));
  const auto others = session().state().models.at("quay-block");
  ASSERT_TRUE(test::click(*window_, "contents-more"));
  auto* menu = test::find<QMenu>(*window_, "contents-menu");
  ASSERT_NE(menu, nullptr);
  auto* action = menu->findChild<QAction*>(QStringLiteral("thing-mend"));
  ASSERT_NE(action, nullptr) << "the tug has findings with one mend";
  action->trigger();
  menu->close();
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_FALSE(session().state().models.at("tug").steps.empty());
  EXPECT_EQ(session().state().models.at("quay-block"), others);
}

TEST_F(ContentsWindowTest, AllEditsAreListedWithWhatTheyChangedAndGoneBackTo) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  session().edit(QStringLiteral("Dearer"),
                 [](mod::ModState& state) { state.objects.front().card["price"] = 77; });
  session().edit(QStringLiteral("Other title"), [](mod::ModState& state) { state.card.title = "Another"; });
  session().edit(QStringLiteral("Third"), [](mod::ModState& state) { state.card.author = "Somebody"; });
  ASSERT_TRUE(test::settle(*window_));
  QStringList listed, changed;
  whenDialogOpens("edits", [&](QWidget& dialog) {
    auto* list = dialog.findChild<QListWidget*>(QStringLiteral("edits-list"));
    for (int i = 0; i < list->count(); ++i) listed << list->item(i)->text();
    list->setCurrentRow(2);
    auto* what = dialog.findChild<QListWidget*>(QStringLiteral("edits-changed"));
    for (int i = 0; i < what->count(); ++i) changed << what->item(i)->text();
    test::look(*window_, "edits");
    dialog.findChild<QPushButton*>(QStringLiteral("edits-go"))->click();
    dialog.close();
  });
  window_->findChild<QAction*>(QStringLiteral("all-edits"))->trigger();
  ASSERT_TRUE(test::settle(*window_));
  ASSERT_EQ(listed.size(), 4);
  EXPECT_TRUE(listed[0].contains(QStringLiteral("Third")));
  EXPECT_TRUE(listed[3].contains(QStringLiteral("opened")));
  ASSERT_EQ(changed.size(), 1);
  EXPECT_TRUE(changed.front().contains(QStringLiteral("77"))) << qPrintable(changed.front());
  EXPECT_EQ(session().state().objects.begin()->second.card.value("price", 0), 77);
  EXPECT_NE(session().state().card.title, "Another");
  // What was undone in this way can be done again.
  session().redo();
  EXPECT_EQ(session().state().card.title, "Another");
}

}  // namespace rakugo
