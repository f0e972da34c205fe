// What goes on in the game, tried in the bench: night, and the switches that the rulebook names.
#pragma once

#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/session.h"

class QPushButton;
class QGridLayout;

namespace rakugo::app {

/// A view only: the mod stays as it is. What is turned on is shown in the game's look.
class LooksPanel : public QWidget {
  Q_OBJECT
 public:
  LooksPanel(Session& session, Bench& bench, QWidget* parent = nullptr);
  void refresh();
  /// "rain, night", or nothing.
  [[nodiscard]] QString state() const;

 Q_SIGNALS:
  void stateChanged();

 private:
  void sync();
  Session& session_;
  Bench& bench_;
  QGridLayout* rows_;
  std::vector<std::pair<std::string, QPushButton*>> buttons_;  ///< by the switch's id; "" is night
  std::string made_for_;                                       ///< id of the rulebook
};

}  // namespace rakugo::app
