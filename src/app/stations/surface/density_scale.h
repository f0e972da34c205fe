// A scale over the bench: how many pixels of its picture each material shows to a metre, beside what the kind
// allows.
#pragma once

#include <QWidget>
#include <optional>
#include <string>
#include <vector>

#include "rulebook/rulebook.h"

namespace rakugo::app {

/// Lies at the bottom of the widget over which it is shown. A click on a mark chooses its material.
class DensityScale : public QWidget {
  Q_OBJECT
 public:
  /// What a material shows, against the band.
  enum class Side : unsigned char { within, below, above };
  struct Mark {
    std::string material;
    QString name;
    double texels_per_m = 0;
    Side side = Side::within;
  };
  explicit DensityScale(QWidget* over);
  /// Marks lie on a scale of powers; none: the scale says so.
  void setMarks(std::vector<Mark> marks, std::optional<rulebook::Band> band);
  [[nodiscard]] const std::vector<Mark>& marks() const { return marks_; }
  /// Where a mark is drawn, in this widget.
  [[nodiscard]] QPointF placeOf(const Mark& mark) const;
  /// The colour that parts wear in the bench.
  static QColor colorOf(Side side);

 Q_SIGNALS:
  void picked(const QString& material);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;
  bool event(QEvent* event) override;

 private:
  [[nodiscard]] double across(double texels_per_m) const;
  [[nodiscard]] const Mark* at(QPointF place) const;
  void settle();
  std::vector<Mark> marks_;
  std::optional<rulebook::Band> band_;
  double least_ = 16, most_ = 4096;
};

}  // namespace rakugo::app
