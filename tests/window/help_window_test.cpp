// Help where one stands: pages for chapters, findings and steps; the search; the examples of the start page.
#include <QFloat16>
#include <QLabel>
#include <QLineEdit>
#include <QTextBrowser>

#include "app/help/help_panel.h"
#include "app/shell/examples.h"
#include "app/widgets/chapter.h"
#include "check/context.h"
#include "mod/store.h"
#include "prepare/step.h"
#include "window_fixture.h"

namespace rakugo {

class HelpWindowTest : public test::WindowFixture {
 protected:
  app::HelpPanel& help() { return *window_->findChild<app::HelpPanel*>(); }
  QString title() { return window_->findChild<QLabel*>(QStringLiteral("help-title"))->text(); }
  QString text() { return window_->findChild<QTextBrowser*>(QStringLiteral("help-text"))->toPlainText(); }
  void key(Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QWidget* at = QApplication::focusWidget();
    QTest::keyClick(at != nullptr ? at : static_cast<QWidget*>(window_.get()), key, with);
    QTest::qWait(20);
  }
};

TEST_F(HelpWindowTest, EveryChapterCheckAndStepHasAPageAndEveryLinkLeadsToOne) {
  app::HelpPages& pages = help().pages();
  for (const app::Chapter* chapter : window_->findChildren<app::Chapter*>()) {
    const app::HelpPage* page = pages.find(chapter->head()->helpPage());
    ASSERT_TRUE(page != nullptr) << test::s8(chapter->head()->helpPage());
    EXPECT_EQ(page->title, chapter->head()->text());
  }
  for (const check::CheckRow& row : check::checkTable())
    ASSERT_TRUE(pages.find(QStringLiteral("check/") + QLatin1String(row.id))) << row.id;
  for (const prepare::StepKind& kind : prepare::stepKinds())
    ASSERT_TRUE(pages.find(QStringLiteral("step/") + QLatin1String(kind.id))) << kind.id;
  std::vector<const app::HelpPage*> all = pages.written();
  EXPECT_GE(all.size(), 30U);
  for (const char* id : {"check/size.unit", "check/bones.missing", "step/weld"})
    all.push_back(pages.find(QString::fromLatin1(id)));
  const QRegularExpression link(QStringLiteral("\\]\\(([^)]*)\\)"));
  for (const app::HelpPage* page : all) {
    EXPECT_GT(page->text.size(), 80) << test::s8(page->id);
    for (auto at = link.globalMatch(page->text); at.hasNext();)
      EXPECT_TRUE(pages.find(at.next().captured(1)) != nullptr) << test::s8(page->id);
  }
}

TEST_F(HelpWindowTest, AChapterAndAFindingLeadToTheirPagesAndEscGoesBackToTheWork) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  window_->setStation(app::Station::shape);
  ASSERT_FALSE(help().isVisible());
  ASSERT_TRUE(test::click(*window_, "why-shape-size"));
  ASSERT_TRUE(help().isVisible());
  EXPECT_EQ(title(), QStringLiteral("Size"));
  EXPECT_LE(window_->width(), 1280) << "the window has not grown";
  // A finding's page speaks with the words of the game's rulebook.
  QWidget* why = test::chooseFinding(*window_, "size.unit", "why-");
  ASSERT_TRUE(why);
  QTest::mouseClick(why, Qt::LeftButton);
  EXPECT_EQ(help().page(), QStringLiteral("check/size.unit"));
  EXPECT_TRUE(text().contains(QStringLiteral("taller than the church"))) << test::s8(text());
  ASSERT_TRUE(test::click(*window_, "help-back"));
  EXPECT_EQ(help().page(), QStringLiteral("shape/size"));
  key(Qt::Key_Escape);
  EXPECT_FALSE(help().isVisible());
  test::look(*window_, "help-closed");
}

TEST_F(HelpWindowTest, F1IsAboutWhatHasTheKeyboard) {
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "first-lamp")));
  window_->setStation(app::Station::shape);
  auto* head = test::find<app::ChapterHead>(*window_, "chapter-origin");
  ASSERT_TRUE(head);
  head->setFocus();
  key(Qt::Key_F1);
  EXPECT_EQ(help().page(), QStringLiteral("shape/origin"));
  EXPECT_TRUE(help().isAncestorOf(QApplication::focusWidget())) << "it can be read by keys at once";
  key(Qt::Key_Escape);
  EXPECT_TRUE(head->hasFocus());
  key(Qt::Key_F, Qt::ControlModifier | Qt::ShiftModifier);
  key(Qt::Key_F1);
  EXPECT_TRUE(help().page().startsWith(QStringLiteral("check/"))) << test::s8(help().page());
  key(Qt::Key_Escape);
  key(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
  key(Qt::Key_F1);
  EXPECT_EQ(help().page(), QStringLiteral("start/preparation"));
}

TEST_F(HelpWindowTest, WordsAreFoundInAllPages) {
  app::HelpPages& pages = help().pages();
  const auto first = [&](const char* words) {
    const auto hits = pages.search(QString::fromLatin1(words));
    return hits.empty() ? QString() : hits.front().page->id;
  };
  EXPECT_EQ(first("unit"), QStringLiteral("check/size.unit"));
  EXPECT_EQ(first("WEIGHTS"), QStringLiteral("skeleton/weights"));
  EXPECT_EQ(first("gapes body"), QStringLiteral("check/seam.gap"));
  EXPECT_TRUE(pages.search(QStringLiteral("zyzzyva")).empty());
  EXPECT_TRUE(pages.search(QStringLiteral("  ")).empty());
  EXPECT_TRUE(pages.search(QStringLiteral("(*[")).empty()) << "no pattern of one's own";
  ASSERT_TRUE(open(test::copyOfMod(*folder_, "lamplight")));
  key(Qt::Key_F1, Qt::ShiftModifier);
  ASSERT_TRUE(help().isVisible());
  EXPECT_EQ(help().page(), QString());
  auto* words = test::find<QLineEdit>(*window_, "help-search");
  ASSERT_TRUE(words);
  QTest::keyClicks(words, QStringLiteral("seam"));
  EXPECT_TRUE(text().contains(QStringLiteral("A seam to the body gapes")));
  QTest::keyClicks(words, QStringLiteral(" zyzzyva"));
  EXPECT_TRUE(text().startsWith(QStringLiteral("No page has these words"))) << test::s8(text());
}

TEST_F(HelpWindowTest, TheStartPageOffersEveryExampleWithAPictureAndOpensACopy) {
  qputenv("HOME", folder_->path().toUtf8());
  std::set<std::string> listed;
  for (const app::ExampleMod& one : app::exampleMods()) {
    const auto loaded = mod::loadMod(one.folder);
    ASSERT_TRUE(loaded) << one.folder;
    EXPECT_EQ(test::s8(one.title), loaded->card.title);
    EXPECT_FALSE(one.teaches.isEmpty()) << one.folder;
    EXPECT_FALSE(one.picture().isNull()) << one.folder;
    listed.insert(one.folder.filename().string());
  }
  for (const auto& entry : std::filesystem::directory_iterator(RAKUGO_SOURCE_DIR "/examples/mods"))
    if (std::filesystem::exists(entry.path() / "mod.json"))
      EXPECT_TRUE(listed.count(entry.path().filename().string()) != 0) << entry.path();
  ASSERT_TRUE(test::click(*window_, "example-footstool"));
  ASSERT_TRUE(QTest::qWaitFor([&] { return session().isOpen(); }, test::kPatience_ms));
  ASSERT_TRUE(test::settle(*window_));
  EXPECT_EQ(session().state().card.title, "My footstool");
  EXPECT_EQ(session().folder().parent_path(), std::filesystem::canonical(test::s8(folder_->path())) / "mods");
}

}  // namespace rakugo
