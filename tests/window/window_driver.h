// Drives the real window with mouse and keys.
#pragma once

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <QApplication>
#include <QTemporaryDir>
#include <QTest>

#include "app/shell/main_window.h"
#include "qt_printing.h"

namespace rakugo::test {

/// How long anything is waited for: long enough for a loaded machine that draws in software, short of a hang.
inline constexpr int kPatience_ms = 60000;

/// The program as main() sets it up, with settings of its own. One a process. `samples` of each pixel: one is
/// enough for tests, and costs half the time where no graphics card draws.
std::unique_ptr<QApplication> startProgram(int& argc, char** argv, int samples = 0);

inline std::string s8(const QString& text) { return text.toStdString(); }

/// Waits until the examination is of the present state and everything is painted. False when that takes too
/// long.
bool settle(app::MainWindow& window);
/// The same without waiting until all mends were tried, which takes long where a step does.
bool examined(app::MainWindow& window);
/// The visible widget of that object name; fails loudly with null when there is none.
template <class T = QWidget>
T* find(QWidget& root, const char* name) {
  for (T* one : root.findChildren<T*>(QString::fromUtf8(name)))
    if (one->isVisible()) return one;
  return nullptr;
}
/// Clicks the middle of a widget with the left button, or of a row or a sign of a list, after scrolling it
/// into sight. False when there is none.
bool click(app::MainWindow& window, const char* name);
/// Clicks the first finding of that check whose card has a button of that name, "mend-" or "more-", and gives
/// the button; null when there is none.
QWidget* chooseFinding(app::MainWindow& window, const char* check, const char* button);
/// Rows of findings that are listed, headings left out.
int listedFindings(app::MainWindow& window);
/// Where a thing's row of the contents is, in their list: "model-quay-lamp". Empty when there is none.
QRect rowOf(app::MainWindow& window, const char* key);
/// Clicks that row.
bool clickRow(app::MainWindow& window, const char* key, Qt::KeyboardModifiers with = {});
/// A copy of a demo mod in a folder of its own, without what was built.
QString copyOfMod(const QTemporaryDir& folder, const char* name);
/// Saves what the screen shows of the window.
bool shoot(app::MainWindow& window, const QString& file);
/// The same as <name>.png into the folder that RAKUGO_LOOK names, for whoever wants to see what a test sees;
/// nothing without it.
void look(app::MainWindow& window, const char* name);

}  // namespace rakugo::test
