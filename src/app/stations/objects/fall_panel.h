// Lets the object fall in the bench, by its mass, its hull and the restitution of its shape, and says what
// came of it.
#pragma once

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>
#include <optional>

#include "app/bench/bench.h"
#include "app/shell/session.h"
#include "geometry/falling.h"

class QDoubleSpinBox;
class QLabel;
class QPushButton;

namespace rakugo::app {

class FallPanel : public QWidget {
  Q_OBJECT
 public:
  FallPanel(Session& session, Bench& bench, QWidget* parent);
  /// The object or its scene is another one: what falls stops.
  void refresh();
  /// Ends a fall that is going on, and shows the object as it stands.
  void stop();

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  void begin();
  void goOn();
  void sayResult();
  Session& session_;
  Bench& bench_;
  QDoubleSpinBox* height_;
  QPushButton* drop_;
  QLabel* said_;
  QTimer frames_;
  QElapsedTimer clock_;
  std::optional<geometry::Fall> fall_;
  std::shared_ptr<const BenchBody> of_;
  int rested_frames_ = 0;
};

}  // namespace rakugo::app
