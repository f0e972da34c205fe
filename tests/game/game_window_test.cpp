// The game's window by mouse and keys, its log, and the line to another program.
#include <QFloat16>

#include <QAbstractItemModelTester>
#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QListView>
#include <QLocalServer>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <filesystem>

#include "base/files.h"
#include "standin/game_window.h"
#include "support/made_bundle.h"
#include "support/test_folder.h"

namespace rakugo {

using standin::Play;

// Long enough for a loaded machine that draws in software, short of a hang.
static constexpr int kPatience_ms = 60000;

class GameWindowTest : public QObject {
  Q_OBJECT
 private:
  test::TestFolder own_;
  std::vector<standin::LogLine> log_;
  std::unique_ptr<standin::GameWindow> window_;
  const standin::Game::Say say_ = [this](const standin::LogLine& line) { log_.push_back(line); };

  void write(const std::vector<bundle::ObjectRecord>& things) {
    QVERIFY(base::writeFileAtomic(own_.path() / "m.rkb", test::madeBundle(things)));
  }
  void choose(const std::string& object) {
    for (int i = 0; i < 12 && window_->chosen() != object; ++i) QTest::keyClick(window_.get(), Qt::Key_Tab);
    QCOMPARE(QString::fromStdString(window_->chosen()), QString::fromStdString(object));
  }
  QByteArray said(const char* event) const {
    for (const auto& line : log_)
      if (line.event == event) return QByteArray::fromStdString(line.message);
    return {};
  }

 private Q_SLOTS:
  void init() {
    log_.clear();
    write(test::harbourThings());
    window_ = std::make_unique<standin::GameWindow>(own_.path(), say_);
    window_->show();
    QVERIFY(QTest::qWaitForWindowExposed(window_.get(), kPatience_ms));
    QApplication::setActiveWindow(window_.get());
    window_->setFocus();
    QTRY_VERIFY_WITH_TIMEOUT(!said("loaded").isEmpty(), kPatience_ms);
  }
  void cleanup() { window_.reset(); }

  void everythingIsReachedByKeysAlone() {
    choose("m/mate");
    QTest::keyClick(window_.get(), Qt::Key_Return);
    QCOMPARE(window_->play().doing(), Play::Doing::walking);
    choose("m/coat");
    QTest::keyClick(window_.get(), Qt::Key_Return);
    choose("m/lantern");
    QTest::keyClick(window_.get(), Qt::Key_Return);
    QCOMPARE(window_->play().coat(), std::string("m/coat"));
    QCOMPARE(window_->play().gear(), std::string("m/lantern"));
    const glm::vec3 from = window_->play().figureAt();
    QTest::keyPress(window_.get(), Qt::Key_Up);
    QTRY_VERIFY_WITH_TIMEOUT(glm::distance(from, window_->play().figureAt()) > 0.2F, kPatience_ms);
    QTest::keyRelease(window_.get(), Qt::Key_Up);
    const glm::vec3 stopped = window_->play().figureAt();
    QTest::qWait(120);
    QCOMPARE(window_->play().figureAt(), stopped);
    QTest::keyClick(window_.get(), Qt::Key_E);
    QVERIFY(window_->play().sight()->own_eyes);
    choose("m/boat");
    QTest::keyClick(window_.get(), Qt::Key_Return);
    QCOMPARE(window_->play().doing(), Play::Doing::sailing);
    QTest::keyPress(window_.get(), Qt::Key_Up);
    QTRY_VERIFY_WITH_TIMEOUT(window_->play().speed_mps() > 0.3F, kPatience_ms);
    // The window loses the focus while the key is down: nobody sails on by themselves.
    QFocusEvent out(QEvent::FocusOut);
    QApplication::sendEvent(window_.get(), &out);
    const float speed = window_->play().speed_mps();
    QTRY_VERIFY_WITH_TIMEOUT(window_->play().speed_mps() < speed * 0.7F, kPatience_ms);
    for (int i = 0; i < 5; ++i) QTest::keyClick(window_.get(), Qt::Key_Backspace);
    QCOMPARE(window_->play().doing(), Play::Doing::looking);
  }

  void theLogIsReadNarrowedAndCopied() {
    auto* list = window_->findChild<QListView*>();
    QVERIFY(list && list->isVisible());
    const int all = list->model()->rowCount();
    QVERIFY(all > 6);
    auto* only = window_->findChild<QCheckBox*>(QStringLiteral("log-complaints"));
    QTest::mouseClick(only, Qt::LeftButton, {}, QPoint(9, only->height() / 2));
    QVERIFY(list->model()->rowCount() < all);
    for (int row = 0; row < list->model()->rowCount(); ++row)
      QVERIFY(!list->model()->index(row, 0).data().toString().startsWith(QStringLiteral("·")));
    QTest::mouseClick(window_->findChild<QPushButton*>(QStringLiteral("log-copy")), Qt::LeftButton);
    QVERIFY(
        QApplication::clipboard()->text().contains(QStringLiteral("wreck does not say how deep it floats")));
    window_->setFocus();
    QTest::keyClick(window_.get(), Qt::Key_L);
    QVERIFY(!list->isVisible());
  }

  void aCommandThatSaysNothingOfTheLightLeavesTheDuskGoOn() {
    QLocalServer server;
    const QString name = QString::fromStdString((own_.path() / "line").string());
    QVERIFY(server.listen(name) && window_->connectTo(name) && server.waitForNewConnection(2000));
    QLocalSocket* game = server.nextPendingConnection();
    QTest::keyClick(window_.get(), Qt::Key_N);
    QTest::qWait(60);  // dusk has begun
    game->write("{\"do\":\"reload\"}\n");
    QTRY_VERIFY_WITH_TIMEOUT(window_->night() > 0.9F, kPatience_ms);
    game->write("{\"do\":\"day\"}\n");
    QTRY_VERIFY_WITH_TIMEOUT(window_->night() < 0.05F, kPatience_ms);
  }

  void theLogModelKeepsItsPromisesAndForgetsTheOldest() {
    standin::LogModel model;
    const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::Fatal);
    for (int i = 0; i < standin::LogModel::kMost + 50; ++i)
      model.add({i % 3 == 0 ? "error" : "info", "x", "f", "m", "o", "", "line " + std::to_string(i)});
    QCOMPARE(model.rowCount(), standin::LogModel::kMost);
    QCOMPARE(model.index(0).data().toString(), QStringLiteral("· line 50"));
    QCOMPARE(model.index(0).data(Qt::ToolTipRole).toString(), QStringLiteral("f · m · o"));
    QVERIFY(!model.data(QModelIndex(), Qt::DisplayRole).isValid());
  }

  void anotherProgramFollowsAndGivesCommands() {
    QLocalServer server;
    const QString name = QString::fromStdString((own_.path() / "line").string());
    QVERIFY(!window_->connectTo(name));
    QVERIFY(server.listen(name));
    QVERIFY(window_->connectTo(name));
    QVERIFY(server.waitForNewConnection(2000));
    QLocalSocket* game = server.nextPendingConnection();
    const auto next = [&]() -> base::Json {
      if (!QTest::qWaitFor([&] { return game->canReadLine(); }, kPatience_ms)) return {};
      return base::parseJson(game->readLine().trimmed().toStdString(), "t").value();
    };
    const base::Json hello = next();
    QCOMPARE(hello["say"], base::Json("hello"));
    QCOMPARE(hello["protocol"], base::Json(1));
    game->write("{\"do\":\"use\",\"object\":\"m/wreck\",\"id\":4}\n");
    const base::Json warning = next();
    QCOMPARE(warning["say"], base::Json("log"));
    QCOMPARE(warning["field"], base::Json("helm"));
    QCOMPARE(warning["object"], base::Json("wreck"));
    QCOMPARE(next()["event"], base::Json("sails"));
    const base::Json done = next();
    QCOMPARE(done["say"], base::Json("done"));
    QCOMPARE(done["id"], base::Json(4));
    QCOMPARE(window_->play().doing(), Play::Doing::sailing);
    game->write("{\"do\":\"dance\",\"id\":5}\nnot json\n");
    QCOMPARE(next()["say"], base::Json("refused"));
    QCOMPARE(next()["say"], base::Json("refused"));
    // A changed bundle is there when the answer comes.
    write({test::thing("stool", "fitting")});
    game->write("{\"do\":\"reload\",\"id\":6}\n");
    QStringList events;
    for (base::Json line = next(); line.is_object(); line = next()) {
      if (line["say"] == "done") break;
      events << QString::fromStdString(line["event"].get<std::string>());
    }
    QVERIFY(events.contains(QStringLiteral("loaded")));
    QCOMPARE(window_->play().doing(), Play::Doing::walking);
    // Endless nonsense ends the line, not the game.
    game->write(QByteArray(3 << 20, 'x'));
    QTRY_COMPARE_WITH_TIMEOUT(game->state(), QLocalSocket::UnconnectedState, kPatience_ms);
    QTest::keyClick(window_.get(), Qt::Key_N);
    QTest::qWait(80);
  }
};

}  // namespace rakugo

int main(int argc, char** argv) {
  QSurfaceFormat::setDefaultFormat(rakugo::render::surfaceFormat());
  QApplication app(argc, argv);
  rakugo::GameWindowTest tests;
  return QTest::qExec(&tests, argc, argv);
}
#include "game_window_test.moc"
