#include "app/bench/tools/measuring_tools.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {
bool SnappingTool::hover(QPointF at) {
  hovered_ = bench_.snapUnder(at);
  return true;
}

void SnappingTool::paint(QPainter& painter) {
  if (!hovered_) return;
  const auto p = bench_.project(hovered_->position);
  if (!p) return;
  const QString what = hovered_->to == SnapTo::vertex        ? Bench::tr("vertex")
                       : hovered_->to == SnapTo::edge_middle ? Bench::tr("middle of an edge")
                       : hovered_->to == SnapTo::face_centre ? Bench::tr("centre of a face")
                                                             : Bench::tr("on the surface");
  painter.setPen(QPen(theme().click, 1.8));
  painter.setBrush(Qt::NoBrush);
  painter.drawRect(QRectF(p->x() - 6, p->y() - 6, 12, 12));
  bench_.label(painter, *p + QPointF(0, -22), what, theme().click);
}

void MeasuringTool::click(QPointF at) {
  const auto found = bench_.snapUnder(at);
  if (!found) return;
  // What was measured stays in sight until the next measurement begins.
  if (places_.size() == count_) places_.clear();
  places_.push_back(found->position);
  if (places_.size() < count_) return;
  if (const QString text = told(places_); !text.isEmpty()) bench_.addNote({places_, text});
}

void MeasuringTool::paint(QPainter& painter) {
  SnappingTool::paint(painter);
  painter.setPen(QPen(theme().click, 1.8));
  painter.setBrush(theme().sheet);
  for (const glm::vec3& place : places_)
    if (const auto p = bench_.project(place)) painter.drawEllipse(*p, 4, 4);
}

QString LengthTool::told(const std::vector<glm::vec3>& places) const {
  return q(base::lengthText(static_cast<double>(glm::distance(places[0], places[1]))));
}

QString LengthTool::prompt() const {
  if (places_.size() == 2) return {};
  return places_.empty() ? Bench::tr("Click the first point on the model. Esc ends measuring.")
                         : Bench::tr("Click the second point.");
}

QString AngleTool::told(const std::vector<glm::vec3>& places) const {
  const glm::vec3 a = places[0] - places[1], b = places[2] - places[1];
  const float lengths = glm::length(a) * glm::length(b);
  if (!(lengths > 0)) return {};
  const float angle = glm::degrees(std::acos(std::clamp(glm::dot(a, b) / lengths, -1.0F, 1.0F)));
  return Bench::tr("%1°").arg(q(base::numberText(static_cast<double>(angle), 1)));
}

QString AngleTool::prompt() const {
  return Bench::tr("Click three points; the angle is at the second. Esc ends measuring.");
}

void GapTool::click(QPointF at) {
  const auto found = bench_.under(at);
  if (!found) return;
  const QString key = q(bench_.scene()->parts[found->part].key);
  if (from_.isEmpty() || from_ == key) {
    from_ = key;
    return;
  }
  const QString from = from_;
  bench_.setTool(Bench::Tool::look_round);
  Q_EMIT bench_.gapAsked(from, key);
}

QString GapTool::prompt() const {
  return from_.isEmpty() ? Bench::tr("Click the first of two parts. Esc leaves it.")
                         : Bench::tr("Click the other part.");
}

}  // namespace rakugo::app
