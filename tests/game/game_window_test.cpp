// The game's window by mouse and keys, its log, and the line to another program.
#include <gtest/gtest.h>

#include <QAbstractItemModelTester>
#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QFloat16>
#include <QListView>
#include <QLocalServer>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <filesystem>

#include "base/files.h"
#include "render/gpu.h"
#include "standin/game_window.h"
#include "support/made_bundle.h"
#include "support/test_folder.h"

namespace rakugo {

using standin::Play;

// Long enough for a loaded machine that draws in software, short of a hang.
static constexpr int kPatience_ms = 60000;

class GameWindowTest : public testing::Test {
 protected:
  test::TestFolder own_;
  std::vector<standin::LogLine> log_;
  std::unique_ptr<standin::GameWindow> window_;
  const standin::Game::Say say_ = [this](const standin::LogLine& line) { log_.push_back(line); };

  void write(const std::vector<bundle::ObjectRecord>& things) {
    ASSERT_TRUE(base::writeFileAtomic(own_.path() / "m.rkb", test::madeBundle(things)));
  }
  void choose(const std::string& object) {
    for (int i = 0; i < 12 && window_->chosen() != object; ++i) QTest::keyClick(window_.get(), Qt::Key_Tab);
    ASSERT_EQ(QString::fromStdString(window_->chosen()), QString::fromStdString(object));
  }
  QByteArray said(const char* event) const {
    for (const auto& line : log_)
      if (line.event == event) return QByteArray::fromStdString(line.message);
    return {};
  }

  void SetUp() override {
    log_.clear();
    write(test::harbourThings());
    window_ = std::make_unique<standin::GameWindow>(own_.path(), say_);
    window_->show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(window_.get(), kPatience_ms));
    QApplication::setActiveWindow(window_.get());
    window_->setFocus();
    ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(!said("loaded").isEmpty()); }, kPatience_ms));
  }
  void TearDown() override { window_.reset(); }
};

TEST_F(GameWindowTest, EverythingIsReachedByKeysAlone) {
  choose("m/mate");
  QTest::keyClick(window_.get(), Qt::Key_Return);
  ASSERT_EQ(window_->play().doing(), Play::Doing::walking);
  choose("m/coat");
  QTest::keyClick(window_.get(), Qt::Key_Return);
  choose("m/lantern");
  QTest::keyClick(window_.get(), Qt::Key_Return);
  ASSERT_EQ(window_->play().coat(), std::string("m/coat"));
  ASSERT_EQ(window_->play().gear(), std::string("m/lantern"));
  const glm::vec3 from = window_->play().figureAt();
  QTest::keyPress(window_.get(), Qt::Key_Up);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] { return static_cast<bool>(glm::distance(from, window_->play().figureAt()) > 0.2F); },
      kPatience_ms));
  QTest::keyRelease(window_.get(), Qt::Key_Up);
  const glm::vec3 stopped = window_->play().figureAt();
  QTest::qWait(120);
  ASSERT_EQ(window_->play().figureAt(), stopped);
  QTest::keyClick(window_.get(), Qt::Key_E);
  ASSERT_TRUE(window_->play().sight()->own_eyes);
  choose("m/boat");
  QTest::keyClick(window_.get(), Qt::Key_Return);
  ASSERT_EQ(window_->play().doing(), Play::Doing::sailing);
  QTest::keyPress(window_.get(), Qt::Key_Up);
  ASSERT_TRUE(
      QTest::qWaitFor([&] { return static_cast<bool>(window_->play().speed_mps() > 0.3F); }, kPatience_ms));
  // The window loses the focus while the key is down: nobody sails on by themselves.
  QFocusEvent out(QEvent::FocusOut);
  QApplication::sendEvent(window_.get(), &out);
  const float speed = window_->play().speed_mps();
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(window_->play().speed_mps() < speed * 0.7F); },
                              kPatience_ms));
  for (int i = 0; i < 5; ++i) QTest::keyClick(window_.get(), Qt::Key_Backspace);
  ASSERT_EQ(window_->play().doing(), Play::Doing::looking);
}

TEST_F(GameWindowTest, TheLogIsReadNarrowedAndCopied) {
  auto* list = window_->findChild<QListView*>();
  ASSERT_TRUE(list && list->isVisible());
  const int all = list->model()->rowCount();
  ASSERT_TRUE(all > 6);
  auto* only = window_->findChild<QCheckBox*>(QStringLiteral("log-complaints"));
  QTest::mouseClick(only, Qt::LeftButton, {}, QPoint(9, only->height() / 2));
  ASSERT_TRUE(list->model()->rowCount() < all);
  for (int row = 0; row < list->model()->rowCount(); ++row)
    ASSERT_TRUE(!list->model()->index(row, 0).data().toString().startsWith(QStringLiteral("·")));
  QTest::mouseClick(window_->findChild<QPushButton*>(QStringLiteral("log-copy")), Qt::LeftButton);
  ASSERT_TRUE(
      QApplication::clipboard()->text().contains(QStringLiteral("wreck does not say how deep it floats")));
  window_->setFocus();
  QTest::keyClick(window_.get(), Qt::Key_L);
  ASSERT_TRUE(!list->isVisible());
}

TEST_F(GameWindowTest, ACommandThatSaysNothingOfTheLightLeavesTheDuskGoOn) {
  QLocalServer server;
  const QString name = QString::fromStdString((own_.path() / "line").string());
  ASSERT_TRUE(server.listen(name) && window_->connectTo(name) && server.waitForNewConnection(2000));
  QLocalSocket* game = server.nextPendingConnection();
  QTest::keyClick(window_.get(), Qt::Key_N);
  QTest::qWait(60);  // dusk has begun
  game->write("{\"do\":\"reload\"}\n");
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(window_->night() > 0.9F); }, kPatience_ms));
  game->write("{\"do\":\"day\"}\n");
  ASSERT_TRUE(QTest::qWaitFor([&] { return static_cast<bool>(window_->night() < 0.05F); }, kPatience_ms));
}

TEST_F(GameWindowTest, TheLogModelKeepsItsPromisesAndForgetsTheOldest) {
  standin::LogModel model;
  const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::Fatal);
  for (int i = 0; i < standin::LogModel::kMost + 50; ++i)
    model.add({i % 3 == 0 ? "error" : "info", "x", "f", "m", "o", "", "line " + std::to_string(i)});
  ASSERT_EQ(model.rowCount(), standin::LogModel::kMost);
  ASSERT_EQ(model.index(0).data().toString(), QStringLiteral("· line 50"));
  ASSERT_EQ(model.index(0).data(Qt::ToolTipRole).toString(), QStringLiteral("f · m · o"));
  ASSERT_TRUE(!model.data(QModelIndex(), Qt::DisplayRole).isValid());
}

TEST_F(GameWindowTest, AnotherProgramFollowsAndGivesCommands) {
  QLocalServer server;
  const QString name = QString::fromStdString((own_.path() / "line").string());
  ASSERT_TRUE(!window_->connectTo(name));
  ASSERT_TRUE(server.listen(name));
  ASSERT_TRUE(window_->connectTo(name));
  ASSERT_TRUE(server.waitForNewConnection(2000));
  QLocalSocket* game = server.nextPendingConnection();
  const auto next = [&]() -> base::Json {
    if (!QTest::qWaitFor([&] { return game->canReadLine(); }, kPatience_ms)) return {};
    return base::parseJson(game->readLine().trimmed().toStdString(), "t").value();
  };
  const base::Json hello = next();
  ASSERT_EQ(hello["say"], base::Json("hello"));
  ASSERT_EQ(hello["protocol"], base::Json(1));
  game->write("{\"do\":\"use\",\"object\":\"m/wreck\",\"id\":4}\n");
  const base::Json warning = next();
  ASSERT_EQ(warning["say"], base::Json("log"));
  ASSERT_EQ(warning["field"], base::Json("helm"));
  ASSERT_EQ(warning["object"], base::Json("wreck"));
  ASSERT_EQ(next()["event"], base::Json("sails"));
  const base::Json done = next();
  ASSERT_EQ(done["say"], base::Json("done"));
  ASSERT_EQ(done["id"], base::Json(4));
  ASSERT_EQ(window_->play().doing(), Play::Doing::sailing);
  game->write("{\"do\":\"dance\",\"id\":5}\nnot json\n");
  ASSERT_EQ(next()["say"], base::Json("refused"));
  ASSERT_EQ(next()["say"], base::Json("refused"));
  // A changed bundle is there when the answer comes.
  write({test::thing("stool", "fitting")});
  game->write("{\"do\":\"reload\",\"id\":6}\n");
  QStringList events;
  for (base::Json line = next(); line.is_object(); line = next()) {
    if (line["say"] == "done") break;
    events << QString::fromStdString(line["event"].get<std::string>());
  }
  ASSERT_TRUE(events.contains(QStringLiteral("loaded")));
  ASSERT_EQ(window_->play().doing(), Play::Doing::walking);
  // Endless nonsense ends the line, not the game.
  game->write(QByteArray(3 << 20, 'x'));
  (void)QTest::qWaitFor([&] { return game->state() == QLocalSocket::UnconnectedState; }, kPatience_ms);
  ASSERT_EQ(game->state(), QLocalSocket::UnconnectedState);
  QTest::keyClick(window_.get(), Qt::Key_N);
  QTest::qWait(80);
}

}  // namespace rakugo

int main(int argc, char** argv) {
  testing::InitGoogleTest(&argc, argv);
  QSurfaceFormat::setDefaultFormat(rakugo::render::surfaceFormat());
  const QApplication app(argc, argv);
  return RUN_ALL_TESTS();
}
