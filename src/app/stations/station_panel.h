// The instrument at the right, whatever its station.
#pragma once

#include <QWidget>

#include "app/bench/bench.h"
#include "app/shell/session.h"

class QScrollArea;
class QVBoxLayout;

namespace rakugo::app {

/// What every station has: a column, and a refresh that keeps whatever the person is typing in.
class StationPanel : public QWidget {
  Q_OBJECT
 public:
  StationPanel(Session& session, Bench& bench, QWidget* parent);
  /// Brings all that is shown to the present state. Called after every edit and examination.
  virtual void refresh() = 0;
  /// Brings a place into sight: a field, a part.
  virtual void showPlace(const check::FindingPlace& place) { (void)place; }

 Q_SIGNALS:
  void addModelAsked();
  void buildAsked();
  void tell(const QString& text, bool good);
  void goTo(const QString& object, const QString& field);

 protected:
  Session& session_;
  Bench& bench_;
  QVBoxLayout* column_;
  QScrollArea* area_;
};

}  // namespace rakugo::app
