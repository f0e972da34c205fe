#include "app/bench/tools/picking_tools.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"

namespace rakugo::app {

bool FrontTool::hover(QPointF at) {
  side_ = bench_.sideUnder(at);
  return true;
}

void FrontTool::click(QPointF at) {
  const auto side = bench_.sideUnder(at);
  if (!side) return;
  Q_EMIT bench_.frontChosen(*side);
  bench_.setTool(Bench::Tool::look_round);
}

QString FrontTool::prompt() const {
  return Bench::tr("Point at the side that faces forward, then click. Esc leaves it as it is.");
}

// The side's frame.
void FrontTool::paintFrame(QPainter& painter) const {
  const BenchScene& scene = *bench_.scene();
  const glm::vec3 n = *side_, c = scene.bounds_m.center(), half = scene.bounds_m.size() * 0.5F;
  const glm::vec3 up = scene.frame.turned ? scene.up : geometry::axisVector(scene.frame.up);
  const glm::vec3 across = glm::cross(up, n);
  QPolygonF frame;
  for (const auto& [a, b] :
       std::initializer_list<std::pair<float, float>>{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
    if (const auto p = bench_.project(c + half * (n + across * a + up * b))) frame << *p;
  QColor wash = theme().click;
  wash.setAlpha(46);
  painter.setBrush(wash);
  painter.setPen(QPen(theme().click, 1.5));
  painter.drawPolygon(frame);
}

void FrontTool::paint(QPainter& painter) {
  if (!side_ || !bench_.scene()) return;
  paintFrame(painter);
  const geometry::Bounds& box = bench_.scene()->bounds_m;
  const glm::vec3 half = box.size() * 0.5F, start = box.center() + half * *side_,
                  tip = start + *side_ * glm::length(half) * 0.7F;
  const auto a = bench_.project(start), b = bench_.project(tip);
  if (!a || !b) return;
  painter.setPen(QPen(theme().click, 3));
  painter.drawLine(*a, *b);
  QString name = q(geometry::axisName(geometry::nearestAxis(*side_)));
  name.replace(QLatin1Char('-'), QChar(0x2212));
  bench_.label(painter, *b, Bench::tr("the %1 side will face forward").arg(name), theme().click, true);
}

void PlaceTool::click(QPointF at) {
  const auto found = bench_.snapUnder(at);
  if (!found) return;
  bench_.setTool(Bench::Tool::look_round);
  if (pivot_)
    Q_EMIT bench_.pivotPicked(found->position);
  else
    Q_EMIT bench_.pointPicked(found->position);
}

QString PlaceTool::prompt() const {
  return pivot_ ? Bench::tr("Click where the part's pivot is to be. Esc leaves it as it is.")
                : Bench::tr("Click where the origin is to be. Esc leaves it as it is.");
}

bool OutlineTool::press(QPointF at) {
  drawn_ = {at};
  return true;
}

void OutlineTool::drag(QPointF, QPointF to) { drawn_ << to; }

void OutlineTool::letGo(QPointF, bool moved) {
  QPolygonF drawn = std::exchange(drawn_, {});
  const QRectF box = drawn.boundingRect();
  if (!moved || !bench_.scene() || (box.width() < 4 && box.height() < 4)) return;
  if (box_) drawn = QPolygonF({box.topLeft(), box.topRight(), box.bottomRight(), box.bottomLeft()});
  // A hand makes many corners; what lies on a straight line needs none.
  QPolygonF corners;
  for (const QPointF& p : drawn)
    if (corners.isEmpty() || std::hypot(p.x() - corners.back().x(), p.y() - corners.back().y()) >= 6)
      corners << p;
  while (corners.size() > 400)
    for (qsizetype i = corners.size() - 1; i > 0; i -= 2) corners.remove(i);
  if (corners.size() < 3) return;
  // On a plane through what is looked at.
  const render::Camera& camera = bench_.camera();
  const glm::vec3 axis = glm::normalize(camera.target - camera.position());
  std::vector<glm::vec3> outline;
  for (const QPointF& p : corners) {
    glm::vec3 origin, direction;
    bench_.rayAt(p, origin, direction);
    const float away = glm::dot(camera.target - origin, axis) / std::max(glm::dot(direction, axis), 1e-4F);
    outline.push_back(origin + direction * away);
  }
  const std::optional<glm::vec3> eye = camera.parallel ? std::nullopt : std::optional(camera.position());
  bench_.setTool(Bench::Tool::look_round);
  Q_EMIT bench_.outlinePicked(outline, eye, axis);
}

void OutlineTool::paint(QPainter& painter) {
  if (drawn_.isEmpty()) return;
  QColor wash = theme().click;
  wash.setAlpha(40);
  painter.setBrush(wash);
  QPen pen(theme().click, 1.5);
  pen.setDashPattern({5, 3});
  painter.setPen(pen);
  if (box_)
    painter.drawRect(QRectF(drawn_.front(), drawn_.back()).normalized());
  else
    painter.drawPolygon(drawn_);
}

QString OutlineTool::prompt() const {
  return box_ ? Bench::tr("Drag a box round the vertices. Esc leaves it.")
              : Bench::tr("Draw round the vertices. Esc leaves it.");
}

void PieceTool::click(QPointF at) {
  const auto found = bench_.under(at);
  if (!found) return;
  const QString part = q(bench_.scene()->parts[found->part].key);
  bench_.setTool(Bench::Tool::look_round);
  Q_EMIT bench_.piecePicked(part, found->position);
}

QString PieceTool::prompt() const { return Bench::tr("Click a loose piece. Esc leaves it."); }

std::vector<Bench::Ring> QuarterTool::rings() const {
  std::vector<Bench::Ring> out;
  if (!bench_.scene() || bench_.scene()->bounds_m.empty()) return out;
  // Round the model, or as much of it as the picture has room for: a ring must be in reach.
  const render::Camera& camera = bench_.camera();
  const float room = camera.distance_m * std::tan(camera.field_of_view_rad * 0.5F) * 0.8F,
              radius = std::min(glm::length(bench_.scene()->bounds_m.size()) * 0.52F, room);
  for (int i = 0; i < 3; ++i) {
    glm::vec3 axis(0);
    axis[i] = 1;
    out.push_back({camera.target, axis, radius, i});
  }
  return out;
}

bool QuarterTool::press(QPointF at) { return ring_.take(rings(), at); }

void QuarterTool::drag(QPointF, QPointF to) { ring_.turn(rings(), to, 90); }

void QuarterTool::letGo(QPointF, bool moved) {
  const double by_deg = ring_.letGo();
  const auto ring = ring_.ring();
  if (!moved || !ring || by_deg == 0) return;
  bench_.setTool(Bench::Tool::look_round);
  Q_EMIT bench_.quarterTurned(static_cast<int>(*ring), static_cast<int>(std::lround(by_deg / 90)));
}

bool QuarterTool::hover(QPointF at) { return ring_.pointAt(rings(), at); }

void QuarterTool::paint(QPainter& painter) { ring_.paint(painter, rings(), bench_); }

QString QuarterTool::prompt() const {
  return Bench::tr("Drag a ring round: the model turns by quarters. Esc leaves it.");
}

}  // namespace rakugo::app
