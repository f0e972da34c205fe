#include "app/stations/surface/sheet_drawing.h"

#include <QPainter>

namespace rakugo::app {
namespace {

constexpr size_t kMostInner = 60'000;  // lines between triangles; above, islands' borders alone

QColor faultColor(const Theme& t, SheetFault fault) {
  switch (fault) {
    case SheetFault::overlapping:
      return t.stops;
    case SheetFault::collapsed:
      return t.shows;
    case SheetFault::stretched:
      return t.click;
    case SheetFault::mirrored:
      return t.good;
    case SheetFault::none:
      break;
  }
  return {};
}

// Never colour alone: each fault has a pattern of its own.
Qt::BrushStyle faultPattern(SheetFault fault) {
  switch (fault) {
    case SheetFault::overlapping:
      return Qt::DiagCrossPattern;
    case SheetFault::collapsed:
      return Qt::Dense4Pattern;
    case SheetFault::stretched:
      return Qt::HorPattern;
    case SheetFault::mirrored:
      return Qt::BDiagPattern;
    case SheetFault::none:
      break;
  }
  return Qt::NoBrush;
}

}  // namespace

QPixmap faultMark(SheetFault fault, qreal scale) {
  constexpr int kSide = 13;
  QPixmap out(QSize(kSide, kSide) * scale);
  out.setDevicePixelRatio(scale);
  out.fill(theme().sheet);
  QPainter p(&out);
  p.setPen(faultColor(theme(), fault));
  p.setBrush(QBrush(faultColor(theme(), fault), faultPattern(fault)));
  p.drawRect(QRectF(0.5, 0.5, kSide - 1, kSide - 1));
  return out;
}

void drawSheetMap(QPainter& p, const SheetMap& map, const SheetView& view, const Theme& t,
                  const base::Progress* progress) {
  const auto shown = [&](glm::vec2 uv) { return view.shownAt(uv); };
  const QRectF seen = QRectF(QPointF(), view.size).adjusted(-2, -2, 2, 2);
  const auto polygon = [&](const SheetTriangle& one) {
    return QPolygonF({shown(one.uv[0]), shown(one.uv[1]), shown(one.uv[2])});
  };
  if (view.faults)
    for (const SheetTriangle& one : map.triangles) {
      if (progress != nullptr && progress->cancelled()) return;
      if (one.fault == SheetFault::none) continue;
      const QPolygonF area = polygon(one);
      if (!area.boundingRect().adjusted(-1, -1, 1, 1).intersects(seen)) continue;
      // Light enough for the picture to be seen through many of them.
      QColor color = faultColor(t, one.fault);
      p.setPen(Qt::NoPen);
      if (one.fault != SheetFault::overlapping) {  // which lie on each other many times
        color.setAlpha(48);
        p.setBrush(color);
        p.drawPolygon(area);
      }
      color.setAlpha(150);
      p.setBrush(QBrush(color, faultPattern(one.fault)));
      p.drawPolygon(area);
    }
  p.setBrush(Qt::NoBrush);
  if (view.outlines) {
    const auto draw = [&](const std::vector<std::pair<glm::vec2, glm::vec2>>& edges, const QPen& halo,
                          const QPen& line) {
      QList<QLineF> lines;
      for (const auto& [a, b] : edges) {
        const QLineF one(shown(a), shown(b));
        if (QRectF(one.p1(), one.p2()).normalized().adjusted(-1, -1, 1, 1).intersects(seen)) lines << one;
      }
      // A lighter line below: ink is seen on dark pictures too.
      if (halo.style() != Qt::NoPen) {
        p.setPen(halo);
        p.drawLines(lines);
      }
      p.setPen(line);
      p.drawLines(lines);
    };
    QColor quiet = t.ink, light = t.paper;
    quiet.setAlpha(110);
    light.setAlpha(160);
    if (map.inner.size() <= kMostInner) draw(map.inner, QPen(Qt::NoPen), QPen(quiet, 1));
    draw(map.borders, QPen(light, 3), QPen(t.ink, 1));
  }
}

}  // namespace rakugo::app
