// Goes along with a first mod: one thing to do at a time, ticked off by what the person really did.
#pragma once

#include <QFrame>

#include "app/shell/session.h"

class QLabel;
class QPushButton;

namespace rakugo::app {

class Guide : public QFrame {
  Q_OBJECT
 public:
  explicit Guide(Session& session, QWidget* parent = nullptr);
  void begin();
  void leave();
  /// Looks at the session and says the next thing to do. Nothing happens while the guide is not wanted.
  void refresh(bool game_running);
  [[nodiscard]] bool going() const { return going_; }
  /// The number of the step that is to be done, from 0; kSteps when all are done.
  [[nodiscard]] int step() const { return step_; }
  static int steps();

 Q_SIGNALS:
  /// The person wants to be shown where the step is done.
  void showAsked(const rakugo::check::Finding& finding);
  void stationAsked(int station);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void showIt();
  Session& session_;
  QLabel* text_;
  QPushButton* show_;
  bool going_ = false, tried_ = false;
  int step_ = 0;
};

}  // namespace rakugo::app
