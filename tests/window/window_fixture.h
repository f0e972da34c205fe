// What the window's tests share: a folder of their own, a window on it, and ways to look at what it says.
#pragma once

#include <QDialog>
#include <QFloat16>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSettings>
#include <QTimer>

#include "window_driver.h"

namespace rakugo::test {

/// A window and a folder of its own for each test. What tests need before the window is there, they do in a
/// SetUp of their own.
class WindowFixture : public testing::Test {
 protected:
  void SetUp() override { begin(); }
  void TearDown() override { end(); }
  void begin() {
    folder_ = std::make_unique<QTemporaryDir>();
    // As somebody has it who has unfolded everything; layout_window_test.cpp tells of folding.
    if (unfolded_) QSettings().setValue(QStringLiteral("chapters/all"), true);
    qputenv("RAKUGO_GAME", (folder_->path() + QStringLiteral("/game")).toUtf8());
    newWindow();
  }
  void newWindow() {
    window_ = std::make_unique<app::MainWindow>();
    window_->move(0, 0);
    window_->show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(window_.get(), kPatience_ms));
    // No window manager runs in the test's X server; shortcuts need an active window.
    QApplication::setActiveWindow(window_.get());
  }
  void end() {
    // What is not saved is thrown away; nobody is there to be asked.
    if (window_ && session().isOpen()) session().history().markSaved();
    window_.reset();
    folder_.reset();
  }
  [[nodiscard]] app::Session& session() { return window_->session(); }
  [[nodiscard]] QString told() {
    auto* label = find<QLabel>(*window_, "told");
    return label != nullptr ? label->text() : QString();
  }
  bool open(const QString& mod) { return window_->openMod(mod) && settle(*window_) && session().isOpen(); }
  /// Waits until a dialog of that name is open.
  QWidget* dialog(const char* name) {
    QWidget* found = nullptr;
    (void)QTest::qWaitFor(
        [&] {
          QWidget* top = QApplication::activeModalWidget();
          found =
              top != nullptr && top->objectName() == QLatin1String(name) && top->isVisible() ? top : nullptr;
          return found != nullptr;
        },
        kPatience_ms);
    return found;
  }
  /// Runs `act` as soon as a dialog opens; for what blocks in the dialog's own loop.
  void whenDialogOpens(const char* name, const std::function<void(QWidget&)>& act) {
    auto* wait = new QTimer(window_.get());
    QObject::connect(wait, &QTimer::timeout, window_.get(), [=] {
      QWidget* top = QApplication::activeModalWidget();
      if (top == nullptr || top->objectName() != QLatin1String(name) || !top->isVisible()) return;
      wait->stop();
      wait->deleteLater();
      act(*top);
      // A dialog that is still open after a failure would hold the test until its time runs out.
      if (::testing::Test::HasFatalFailure())
        if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) dialog->reject();
    });
    wait->start(20);
  }
  static void press(QWidget& root, const char* button) {
    auto* found = find<QPushButton>(root, button);
    ASSERT_TRUE(found != nullptr) << button;
    QTest::mouseClick(found, Qt::LeftButton);
  }
  bool unfolded_ = true;  ///< chapters are open from the start
  std::unique_ptr<QTemporaryDir> folder_;
  std::unique_ptr<app::MainWindow> window_;
};

}  // namespace rakugo::test
