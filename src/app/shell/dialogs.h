// The questions Rakugo asks in a window of their own.
#pragma once

#include <QDialog>

#include "mod/changes.h"
#include "mod/journal.h"
#include "prepare/newer/incoming.h"

class QDialogButtonBox;
class QLabel;
class QListWidget;
class QVBoxLayout;

namespace rakugo::app {

/// What every question has: a heading, a text, a list that can be read through, and named buttons.
class Question : public QDialog {
  Q_OBJECT
 public:
  /// `name` is the dialog's object name; its buttons are called `<name>-yes` and so on.
  Question(const char* name, const QString& title, const QString& text, QWidget* parent);
  /// Adds a list of lines, scrolling when it is long.
  QListWidget* addLines(const QStringList& lines);
  /// Adds a button; `result` is what `exec` gives back. The first one added is the default.
  void addChoice(const char* name, const QString& text, int result);

 protected:
  QVBoxLayout* column_;
  QDialogButtonBox* buttons_;
};

/// Offers the unsaved edits of an earlier run. True: take them back.
bool askTakeBack(const mod::JournalContent& found, QWidget* parent);
/// Shows what differs on disk. The answer: 1 take what is on disk, 2 keep what is open here, 0 neither yet.
int askOutside(const std::vector<mod::Difference>& differences, bool unsaved, QWidget* parent);
/// Asks which of several things found in an archive or a folder are taken in. Empty: none.
std::vector<prepare::Given> askSourceChoice(const std::vector<prepare::Given>& given, QWidget* parent);
/// Asks about unsaved edits before a mod is left. The answer: 1 save, 2 leave them out, 0 stay.
int askUnsaved(const QString& title, QWidget* parent);

}  // namespace rakugo::app
