// All edits of the open mod, what each changed, and a way back to any of them.
#pragma once

#include <QDialog>

#include "app/shell/session.h"

class QListWidget;
class QPushButton;

namespace rakugo::app {

class EditsDialog : public QDialog {
  Q_OBJECT
 public:
  EditsDialog(Session& session, QWidget* parent);

 private:
  void list();
  /// Says what the edit of that row changed.
  void describe(int row);
  void goTo();
  Session& session_;
  QListWidget *edits_, *changed_;
  QPushButton* go_;
};

}  // namespace rakugo::app
