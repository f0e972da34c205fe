// Texel density in the bench: the scale over it, and parts in its colours.
#pragma once

#include <QObject>
#include <QPointer>

#include "app/bench/bench.h"
#include "app/shell/session.h"
#include "app/stations/surface/density_scale.h"

namespace rakugo::app {

class DensityView : public QObject {
  Q_OBJECT
 public:
  DensityView(Session& session, Bench& bench, QObject* parent);
  /// While it is shown, parts of the chosen model wear the colour of what is farthest from the band.
  void setShown(bool shown);
  [[nodiscard]] const DensityScale& scale() const { return *scale_; }

 Q_SIGNALS:
  void picked(const QString& material);

 private:
  void refresh();
  Session& session_;
  Bench& bench_;
  QPointer<DensityScale> scale_;  ///< goes with the bench, before this when the window closes
  bool shown_ = false;
  uint64_t generation_ = 0;
};

}  // namespace rakugo::app
