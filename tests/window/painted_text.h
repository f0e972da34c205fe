// What a widget writes: its texts with the places where they stand, caught by a paint device that draws
// nothing.
#pragma once

#include <QPaintDevice>
#include <QPaintEngine>
#include <QWidget>
#include <vector>

namespace rakugo::test {

struct PaintedText {
  QString text;
  QRectF box;  ///< in the widget, logical pixels
};

class TextCatcher : public QPaintEngine {
 public:
  TextCatcher() : QPaintEngine(AllFeatures) {}
  bool begin(QPaintDevice*) override { return true; }
  bool end() override { return true; }
  void updateState(const QPaintEngineState& state) override {
    if ((state.state() & DirtyTransform) != 0) place_ = state.transform();
  }
  void drawTextItem(const QPointF& at, const QTextItem& item) override {
    if (item.text().trimmed().isEmpty()) return;
    const QRectF box(at.x(), at.y() - item.ascent(), item.width(), item.ascent() + item.descent());
    texts.push_back({item.text(), place_.mapRect(box)});
  }
  void drawPixmap(const QRectF&, const QPixmap&, const QRectF&) override {}
  void drawImage(const QRectF&, const QImage&, const QRectF&, Qt::ImageConversionFlags) override {}
  void drawPath(const QPainterPath&) override {}
  void drawPolygon(const QPointF*, int, PolygonDrawMode) override {}
  void drawRects(const QRectF*, int) override {}
  void drawLines(const QLineF*, int) override {}
  void drawEllipse(const QRectF&) override {}
  [[nodiscard]] Type type() const override { return User; }
  std::vector<PaintedText> texts;

 private:
  QTransform place_;
};

class TextDevice : public QPaintDevice {
 public:
  explicit TextDevice(const QWidget& like) : like_(like) {}
  [[nodiscard]] QPaintEngine* paintEngine() const override { return &catcher; }
  mutable TextCatcher catcher;

 protected:
  [[nodiscard]] int metric(PaintDeviceMetric what) const override {
    switch (what) {
      case PdmWidth:
        return like_.width();
      case PdmHeight:
        return like_.height();
      case PdmDepth:
        return 32;
      case PdmDpiX:
      case PdmPhysicalDpiX:
        return like_.logicalDpiX();
      case PdmDpiY:
      case PdmPhysicalDpiY:
        return like_.logicalDpiY();
      case PdmDevicePixelRatio:
        return 1;
      case PdmDevicePixelRatioScaled:
        return static_cast<int>(devicePixelRatioFScale());
      default:
        return 0;
    }
  }

 private:
  const QWidget& like_;
};

/// All that the widget itself writes, without what lies in it; in the order in which it is written.
inline std::vector<PaintedText> paintedTexts(QWidget& widget) {
  TextDevice device(widget);
  widget.render(&device, QPoint(), QRegion(), QWidget::RenderFlags());
  return device.catcher.texts;
}

}  // namespace rakugo::test
