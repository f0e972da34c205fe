// The picture itself, with what lies on it: zoomed, moved, one channel alone, a level as the game picks it.
#pragma once

#include <QImage>
#include <QWidget>
#include <memory>
#include <optional>

#include "app/shell/background.h"
#include "app/stations/surface/sheet_drawing.h"

namespace rakugo::app {

/// What of a picture's values is shown.
enum class SheetChannel : unsigned char { all, red, green, blue, alpha };

/// Zooms with the wheel or a pinch about the pointer, moves where it is dragged with any button; a click
/// picks. Keys: plus and minus, arrows, 0 to see the whole picture, Enter picks in the middle.
class SheetCanvas : public QWidget {
  Q_OBJECT
 public:
  explicit SheetCanvas(QWidget* parent = nullptr);
  /// Null: no picture; the outlines are shown all the same, on a plain square.
  void setPicture(BenchPicture picture);
  /// Null: the map is still made.
  void setMap(std::shared_ptr<const SheetMap> map);
  /// The same picture as a target stores it, shown right of `divider`, a share of the sheet's width; null:
  /// the picture alone. Both have the same sides.
  void setStored(BenchPicture stored, double divider);
  /// A place of the picture (0 to 1) that is marked; an empty one marks nothing.
  void setMark(const QRectF& place);
  [[nodiscard]] const QImage& storedImage() const { return stored_image_; }
  void setChannel(SheetChannel channel);
  void setLevel(size_t level);
  void setChecker(bool on);
  void setOutlines(bool on);
  void setFaults(bool on);
  /// The triangle that is chosen, a position in the map.
  void setChosen(std::optional<size_t> triangle);
  void setPlaceholder(const QString& text);
  void fit();
  [[nodiscard]] const std::shared_ptr<const SheetMap>& map() const { return map_; }
  [[nodiscard]] std::optional<size_t> chosen() const { return chosen_; }
  [[nodiscard]] size_t level() const { return level_; }
  /// Whether all that lies over the picture is drawn as the view is now.
  [[nodiscard]] bool drawn() const;
  [[nodiscard]] double pixelsAPicture() const { return scale_; }
  /// Where a place of the picture (0 to 1) is seen, in the widget, and back.
  [[nodiscard]] QPointF shownAt(glm::vec2 uv) const;
  [[nodiscard]] glm::vec2 placeAt(QPointF at) const;
  /// The value there as stored in the level, or nothing beside the picture.
  [[nodiscard]] std::optional<QColor> valueAt(glm::vec2 uv) const;
  /// What the canvas shows of the level: tested without a screen.
  [[nodiscard]] const QImage& image() const { return image_; }
  [[nodiscard]] QSize sizeHint() const override { return {360, 360}; }

 Q_SIGNALS:
  void picked(std::optional<size_t> triangle);
  void pointed(std::optional<glm::vec2> uv);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool event(QEvent* event) override;

 private:
  void makeImage();
  [[nodiscard]] QImage imageOf(const BenchPicture& picture) const;
  void zoom(double factor, QPointF about);
  void paintMap(QPainter& painter);
  void drawBeside();
  [[nodiscard]] SheetView view() const;
  BenchPicture picture_, stored_;
  std::shared_ptr<const SheetMap> map_;
  QImage image_, stored_image_;
  double divider_ = 1;
  QRectF mark_;
  SheetChannel channel_ = SheetChannel::all;
  size_t level_ = 0;
  bool checker_ = false, outlines_ = true, faults_ = true, fitted_ = true;
  std::optional<size_t> chosen_;
  QString placeholder_;
  double scale_ = 300;  ///< pixels of the widget that a whole picture takes
  QPointF corner_;      ///< where the picture's top left is
  QPointF pressed_, dragged_;
  bool moved_ = false;
  QImage drawn_;  ///< of a large map: what lies over the picture, as `drawn_view_` has it
  std::shared_ptr<const SheetMap> drawn_of_;
  SheetView drawn_view_;
  Background background_;  ///< last, so that it ends before what its results are put into
};

}  // namespace rakugo::app
