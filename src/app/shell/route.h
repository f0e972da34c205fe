// The route: a line with a stop a station, each with its open findings; Build at its end.
#pragma once

#include <QAbstractButton>
#include <QWidget>
#include <array>
#include <vector>

#include "check/context.h"
#include "check/finding.h"

class QLabel;
class QPushButton;

namespace rakugo::app {

using check::Station;
inline constexpr std::array<Station, 7> kStations = {Station::sources, Station::shape,   Station::skeleton,
                                                     Station::surface, Station::objects, Station::bundle,
                                                     Station::tryout};

QString stationTitle(Station station);
/// The station where a finding of that check is mended.
Station stationOf(const std::string& check);

class RouteStop : public QAbstractButton {
  Q_OBJECT
 public:
  RouteStop(Station station, QWidget* parent);
  void setCounts(size_t stops, size_t shows, size_t tidy, bool known);
  [[nodiscard]] Station station() const { return station_; }
  [[nodiscard]] QSize sizeHint() const override { return {112, 54}; }
  /// Where the line passes, in the stop's own coordinates.
  [[nodiscard]] QPoint knot() const { return {16, 17}; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  /// The route checks the stop that is stood at. Qt's own exclusive groups would take the others out of the
  /// keyboard's tab order.
  void nextCheckState() override {}

 private:
  Station station_;
  size_t stops_ = 0, shows_ = 0, tidy_ = 0;
  bool known_ = false;
};

class Route : public QWidget {
  Q_OBJECT
 public:
  explicit Route(QWidget* parent = nullptr);
  void setStation(Station station);
  [[nodiscard]] Station station() const { return station_; }
  void setFindings(const std::vector<check::Finding>& findings, bool known);
  [[nodiscard]] QPushButton* buildButton() const { return build_; }
  void setState(const QString& text);

 Q_SIGNALS:
  void chosen(Station station);
  void buildAsked();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<RouteStop*> stops_;
  QPushButton* build_;
  QLabel* state_;
  Station station_ = Station::sources;
};

}  // namespace rakugo::app
