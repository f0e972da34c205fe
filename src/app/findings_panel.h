// The findings: each with what it does in the game, why, where, and its cure.
#pragma once

#include <QWidget>

#include "app/session.h"

class QScrollArea;
class QVBoxLayout;
class QLabel;

namespace rakugo::app {

class FindingsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsPanel(Session& session, QWidget* parent = nullptr);
  void refresh();

 Q_SIGNALS:
  void showAsked(const rakugo::check::Finding& finding);

 private:
  void addRow(const check::Finding& finding, int number);
  void mend(const check::Mend& mend);
  Session& session_;
  QVBoxLayout* column_;
  QLabel* title_;
  QScrollArea* area_;
};

}  // namespace rakugo::app
