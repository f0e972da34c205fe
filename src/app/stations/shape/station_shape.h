// The instrument of the Shape station.
#pragma once

#include "app/bench/bench.h"
#include "app/shell/background.h"
#include "app/stations/station_panel.h"

class QCheckBox;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace rakugo::app {

class ComparisonPanel;
class CorrectionPanel;
class Gauge;
class OutfitPanel;
class StructurePanel;
class PartsPanel;

/// Gauges, direction, parts.
class ShapeStation : public StationPanel {
  Q_OBJECT
 public:
  ShapeStation(Session& session, Bench& bench, QWidget* parent);
  void refresh() override;
  void showPlace(const check::FindingPlace& place) override;
  /// What this station draws in the bench is seen while it is stood at.
  void setStoodAt(bool here);

 private:
  void makeSize();
  void makeDirection();
  void makeOrigin();
  void makeMeasuring();
  QPushButton* toolButton(QHBoxLayout* row, const char* name, const QString& text, const QString& tip,
                          Bench::Tool tool);
  void sayChapters();
  void refreshOfPart();
  void refreshChosen();
  void fitTo(int axis, double length_m);
  void faceForward(glm::vec3 direction);
  void putOriginAt(glm::vec3 point);
  void dropToFloor();
  void measureGap(const std::string& part, const std::string& beside);
  void offerWholeFactors();
  [[nodiscard]] bool originFound() const;
  [[nodiscard]] std::vector<Bench::Line> cellLines(const check::ModelState& state) const;
  void drawInBench();
  void enableFor(bool known);
  void refreshGauges(const check::ModelState& state);
  void refreshWords(const check::ModelState& state);
  void turnQuarters(int axis, int quarters);
  Chapter *size_chapter_, *direction_chapter_, *origin_chapter_, *measuring_chapter_, *parts_chapter_,
      *outfit_chapter_, *structure_chapter_, *corrections_chapter_, *comparison_chapter_;
  Gauge* gauges_[3];
  Gauge *reach_, *volume_;
  QPushButton* rings_;
  QPushButton* origin_;
  QCheckBox* proportions_;
  QLabel* more_;
  QPushButton *floor_, *whole_, *angle_, *gap_, *clear_;
  bool here_ = false;
  QLabel* way_;
  QPushButton* point_;
  QPushButton* measure_;
  PartsPanel* parts_;
  OutfitPanel* outfit_;
  CorrectionPanel* corrections_;
  StructurePanel* structure_;
  ComparisonPanel* comparison_;
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
