// How a sheet's triangles and their faults are drawn over the picture.
#pragma once

#include <QPixmap>
#include <QSizeF>

#include "app/stations/surface/sheet_map.h"
#include "app/widgets/theme.h"

namespace rakugo::app {

/// Where the picture is seen, and what is drawn over it.
struct SheetView {
  QSize size;        ///< of what is drawn into
  QPointF corner;    ///< where the picture's top left is
  double scale = 0;  ///< pixels that a whole picture takes
  bool outlines = true, faults = true, night = false;
  qreal ratio = 1;  ///< pixels of the screen to one of the view
  [[nodiscard]] QPointF shownAt(glm::vec2 uv) const {
    return corner + QPointF(static_cast<double>(uv.x), static_cast<double>(uv.y)) * scale;
  }
  bool operator==(const SheetView&) const = default;
};

/// The pattern of a fault, for a legend.
QPixmap faultMark(SheetFault fault, qreal scale);

/// Faults as tinted patterns, edges of triangles, and borders of islands above them. Of very many triangles
/// the borders alone. Any thread. Cost: linear in what is in sight, once `progress` is cancelled nothing
/// more.
void drawSheetMap(QPainter& painter, const SheetMap& map, const SheetView& view, const Theme& theme,
                  const base::Progress* progress = nullptr);

}  // namespace rakugo::app
