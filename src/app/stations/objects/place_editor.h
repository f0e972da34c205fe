// Where something stands and how it is turned: numbers, a ring in the bench, or a click there.
#pragma once

#include <QWidget>
#include <array>

#include "prepare/objects/piece_edits.h"
#include "prepare/objects/snapping.h"

class QComboBox;
class QDoubleSpinBox;
class QPushButton;

namespace rakugo::app {

class PlaceEditor : public QWidget {
  Q_OBJECT
 public:
  /// `thing` is "piece" or "point": controls are called by it ("piece-at-forward", "turn-piece",
  /// "put-piece"). `from` says from where positions count.
  PlaceEditor(const QString& thing, const QString& from, QWidget* parent);
  /// Shows a place; nothing is told.
  void show(const prepare::PiecePlace& place, const prepare::GameAxes& axes);
  [[nodiscard]] const prepare::PiecePlace& place() const { return place_; }
  /// Whether a ring turns it in place of arrows that move it, and about which of the game's axes: forward,
  /// side, up.
  [[nodiscard]] bool turnsByHand() const;
  [[nodiscard]] size_t turnsAbout() const;
  /// The axis that the ring turns about; a unit vector.
  [[nodiscard]] glm::vec3 turnAxis() const;
  /// The place that is shown, turned so many degrees about that axis.
  [[nodiscard]] std::array<double, 4> turnedBy(const std::array<double, 4>& turn, double degrees) const;
  /// What draws it while it is dragged along an axis: the grid, and what is near when that is so many metres
  /// away in the picture.
  [[nodiscard]] prepare::SnapOptions snap(double near_m) const;
  /// The same turn, of a step where things move in steps.
  [[nodiscard]] double snappedAngle(double degrees) const;
  /// Whether the next click in the bench says where it is put.
  [[nodiscard]] bool putsByClick() const;
  void clickWasUsed();
  /// The number that the keyboard goes to first.
  [[nodiscard]] QWidget* first() const;

 Q_SIGNALS:
  void edited(const rakugo::prepare::PiecePlace& place);
  void handChanged();

 private:
  QDoubleSpinBox* makeNumber(const QString& name, const QString& title, const QString& suffix);
  void takeNumbers(bool position);
  QString thing_;
  prepare::PiecePlace place_;
  prepare::GameAxes axes_;
  std::array<QDoubleSpinBox*, 3> at_{}, turn_{};  ///< along and about forward, side and up
  QPushButton *turn_by_hand_, *put_;
  QComboBox *about_, *snap_;
};

/// A spin box as narrow as two of them side by side in an instrument want it.
QDoubleSpinBox* narrowNumber(const QString& name, const QString& title, const QString& suffix,
                             QWidget* parent);

}  // namespace rakugo::app
