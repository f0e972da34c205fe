#include "app/bench/tools/hand_tool.h"

#include <QKeyEvent>
#include <QPainter>
#include <QScopeGuard>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {

bool HandTool::press(QPointF at) {
  by_m_ = glm::vec3(0);
  axis_.reset();
  forgetTyped();
  if (ring_.take(rings(), at)) {
    held_ = Held::ring;
  } else if (end_ = endUnder(at); end_) {
    held_ = Held::end;
  } else if (axis_ = arrowUnder(at); axis_) {
    held_ = Held::arrow;
  } else {
    held_ = Held::nothing;
  }
  return held_ != Held::nothing;
}

void HandTool::drag(QPointF from, QPointF to) {
  if (typed()) return;  // what was typed holds
  switch (held_) {
    case Held::nothing:
      return;
    case Held::end:
      return pullEnd(to, false);
    case Held::ring:
      if (ring_.turn(rings(), to, 1)) tell();
      return;
    case Held::arrow:
      break;
  }
  if (!bench_.handle() || !axis_) return;
  glm::vec3 axis(0);
  axis[*axis_] = reach();
  const auto a = bench_.project(bench_.handle()->at), b = bench_.project(bench_.handle()->at + axis);
  if (!a || !b) return;
  const QPointF way = *b - *a, pulled = to - from;
  const double length2 = way.x() * way.x() + way.y() * way.y();
  by_m_ = axis * static_cast<float>((pulled.x() * way.x() + pulled.y() * way.y()) / std::max(length2, 1.0));
  tell();
}

void HandTool::tell() {
  Q_EMIT bench_.pickedDragged(
      held_ == Held::ring ? glm::vec3(static_cast<float>(ring_.turned_deg()), 0, 0) : value(), false);
}

void HandTool::forgetTyped() {
  typed_.clear();
  typed_number_.reset();
}

bool HandTool::type(const QKeyEvent& event) {
  constexpr qsizetype kLongest = 12;
  const QString text = event.text();
  if (event.key() == Qt::Key_Backspace) {
    if (typed_.isEmpty()) return false;
    typed_.chop(1);
  } else if (event.key() == Qt::Key_Escape) {
    if (typed_.isEmpty()) return false;
    typed_.clear();
  } else if (text.size() == 1 && QStringLiteral("0123456789.,-").contains(text)) {
    if (typed_.size() < kLongest) typed_ += text == QStringLiteral(",") ? QStringLiteral(".") : text;
  } else {
    return false;
  }
  bool number = false;
  const double meant = typed_.toDouble(&number);
  typed_number_.reset();
  if (!number || (held_ == Held::arrow && (!bench_.handle() || !axis_))) return true;
  typed_number_ = meant;
  if (held_ == Held::ring) {
    ring_.turnTo(meant);
  } else {
    by_m_ = glm::vec3(0);
    by_m_[*axis_] = static_cast<float>(
        bench_.handle()->sort == Bench::Handle::scale ? (meant - 1) * static_cast<double>(reach()) : meant);
  }
  tell();
  return true;
}

void HandTool::letGo(QPointF at, bool moved) {
  const glm::vec3 dragged = value();
  const double turned_deg = ring_.letGo();
  // Whoever hears of it may ask whether it was typed.
  moved = moved || typed();
  const auto forget = qScopeGuard([this] { forgetTyped(); });
  switch (std::exchange(held_, Held::nothing)) {
    case Held::nothing:
      return;
    case Held::end:
      if (moved) pullEnd(at, true);
      return;
    case Held::ring:
      if (moved) Q_EMIT bench_.pickedDragged({static_cast<float>(turned_deg), 0, 0}, true);
      return;
    case Held::arrow:
      if (moved) Q_EMIT bench_.pickedDragged(dragged, true);
      return;
  }
}

void HandTool::click(QPointF at) {
  if (bench_.clicksPlace()) {
    if (const auto found = bench_.under(at)) Q_EMIT bench_.surfaceClicked(*found);
    return;
  }
  if (const std::string point = bench_.pointUnder(at); !point.empty())
    return Q_EMIT bench_.pointClicked(q(point));
  if (bench_.piecesShown()) Q_EMIT bench_.objectPieceClicked(q(bench_.pieceUnder(at)));
  const auto found = bench_.under(at);
  Q_EMIT bench_.partClicked(found ? q(bench_.scene()->parts[found->part].key) : QString());
  if (found) Q_EMIT bench_.surfaceClicked(*found);
}

bool HandTool::hover(QPointF at) {
  if (bench_.handle() && bench_.handle()->sort == Bench::Handle::turn) return ring_.pointAt(rings(), at);
  if (bench_.pose() && !bench_.pose()->ends.empty()) {
    const auto now = endUnder(at);
    return std::exchange(end_, now) != now;
  }
  const auto now = arrowUnder(at);
  return std::exchange(axis_, now) != now;
}

void HandTool::shownChanged() {
  if (held_ != Held::end) end_.reset();
  if (!bench_.handle() && held_ != Held::arrow) axis_.reset();
  if (!bench_.handle() && held_ != Held::ring) ring_.forget();
}

std::vector<Bench::Ring> HandTool::rings() const {
  const auto& handle = bench_.handle();
  if (!handle || handle->sort != Bench::Handle::turn) return {};
  const glm::vec3 a = glm::abs(handle->axis);
  return {{handle->at, handle->axis, reach(), a.x > a.y && a.x > a.z ? 0 : a.y > a.z ? 1 : 2}};
}

std::optional<int> HandTool::endUnder(QPointF at) const {
  if (!bench_.pose()) return std::nullopt;
  std::optional<int> best;
  double nearest = 11;
  const auto& ends = bench_.pose()->ends;
  for (size_t i = 0; i < ends.size(); ++i) {
    const auto p = bench_.project(ends[i].first);
    if (!p) continue;
    const QPointF d = *p - at;
    if (const double apart = std::hypot(d.x(), d.y()); apart < nearest)
      nearest = apart, best = static_cast<int>(i);
  }
  return best;
}

void HandTool::pullEnd(QPointF at, bool done) {
  const auto& pose = bench_.pose();
  if (!pose || !end_ || static_cast<size_t>(*end_) >= pose->ends.size()) return;
  // As deep as it was: on the plane through it across the line of sight.
  glm::vec3 origin, direction;
  bench_.rayAt(at, origin, direction);
  const render::Camera& camera = bench_.camera();
  const glm::vec3 axis = glm::normalize(camera.target - camera.position());
  const float deep = glm::dot(pose->ends[static_cast<size_t>(*end_)].first - origin, axis);
  Q_EMIT bench_.endPulled(*end_, origin + direction * (deep / std::max(glm::dot(direction, axis), 1e-4F)),
                          done);
}

float HandTool::reach() const {
  return bench_.camera().distance_m * std::tan(bench_.camera().field_of_view_rad * 0.5F) * 0.22F;
}

glm::vec3 HandTool::value() const {
  if (!bench_.handle() || bench_.handle()->sort != Bench::Handle::scale) return by_m_;
  // Pulled by the arrow's own length it is twice as large as it was.
  glm::vec3 factors(1);
  if (axis_)
    factors[*axis_] = std::clamp(
        typed() ? static_cast<float>(*typed_number_) : std::round((1 + by_m_[*axis_] / reach()) * 100) / 100,
        0.05F, 20.0F);
  return factors;
}

std::optional<int> HandTool::arrowUnder(QPointF at) const {
  const auto& handle = bench_.handle();
  if (!handle || handle->sort == Bench::Handle::turn) return std::nullopt;
  const auto from = bench_.project(handle->at);
  if (!from) return std::nullopt;
  std::optional<int> best;
  double nearest = 7;
  for (int i = 0; i < 3; ++i) {
    glm::vec3 axis(0);
    axis[i] = reach();
    const auto to = bench_.project(handle->at + axis);
    if (!to) continue;
    const QPointF d = *to - *from, p = at - *from;
    const double length2 = d.x() * d.x() + d.y() * d.y();
    // An axis that is looked at end on cannot be dragged along.
    if (length2 < 100) continue;
    const double t = std::clamp((p.x() * d.x() + p.y() * d.y()) / length2, 0.15, 1.1);
    const QPointF off = p - d * t;
    if (const double apart = std::hypot(off.x(), off.y()); apart < nearest) nearest = apart, best = i;
  }
  return best;
}

void HandTool::paint(QPainter& painter) {
  paintEnds(painter);
  ring_.paint(painter, rings(), bench_);
  paintArrows(painter);
}

void HandTool::paintEnds(QPainter& painter) {
  if (!bench_.pose() || !bench_.showsBones()) return;
  const auto& ends = bench_.pose()->ends;
  for (size_t i = 0; i < ends.size(); ++i) {
    const auto p = bench_.project(ends[i].first);
    if (!p) continue;
    const bool at = end_ && static_cast<size_t>(*end_) == i;
    // A weight on a plumb line: a ring that can be taken hold of.
    painter.setPen(QPen(theme().click, at ? 2.6 : 1.6));
    painter.setBrush(at ? theme().click : theme().sheet);
    painter.drawEllipse(*p, at ? 8 : 7, at ? 8 : 7);
    painter.setPen(QPen(at ? theme().sheet : theme().click, 1.4));
    painter.drawLine(*p - QPointF(3.5, 0), *p + QPointF(3.5, 0));
    painter.drawLine(*p - QPointF(0, 3.5), *p + QPointF(0, 3.5));
    if (at) bench_.label(painter, *p + QPointF(0, -20), q(ends[i].second), theme().click, true);
  }
}

void HandTool::paintArrow(QPainter& painter, QPointF from, QPointF to, int axis, bool scales) {
  const QPointF way = to - from;
  const double length = std::hypot(way.x(), way.y());
  if (length < 10) return;
  static const QString kNames[] = {QStringLiteral("x"), QStringLiteral("y"), QStringLiteral("z")};
  const QPointF u = way / length, side(-u.y(), u.x());
  painter.setPen(QPen(theme().axes[axis], axis_ == axis ? 3.4 : 2));
  painter.setBrush(theme().axes[axis]);
  painter.drawLine(from, to);
  // An arrow's head, or a block's face: told apart without a word.
  if (scales)
    painter.drawPolygon(
        QPolygonF({to + u * 8 + side * 4, to + u * 8 - side * 4, to - side * 4, to + side * 4}));
  else
    painter.drawPolygon(QPolygonF({to + u * 9, to + side * 4, to - side * 4}));
  if (axis_ == axis) bench_.label(painter, to + u * 20, kNames[axis], theme().axes[axis], true);
}

void HandTool::paintArrows(QPainter& painter) {
  const auto& handle = bench_.handle();
  if (!handle || handle->sort == Bench::Handle::turn) return;
  // Moving, the handle goes along; stretching, it stays in the middle of what grows.
  const bool dragged = held_ == Held::arrow, scales = handle->sort == Bench::Handle::scale;
  const glm::vec3 along = dragged && !scales ? by_m_ : glm::vec3(0);
  const auto from = bench_.project(handle->at + along);
  if (!from) return;
  for (int i = 0; i < 3; ++i) {
    glm::vec3 axis(0);
    axis[i] = reach();
    const glm::vec3 pulled = dragged && scales && axis_ == i ? by_m_ : along;
    if (const auto to = bench_.project(handle->at + axis + pulled))
      paintArrow(painter, *from, *to, i, scales);
  }
  painter.setPen(QPen(theme().ink, 1.4));
  painter.setBrush(theme().sheet);
  painter.drawEllipse(*from, 4, 4);
  if (dragged && axis_)
    bench_.label(painter, *from + QPointF(0, 24),
                 !typed_.isEmpty() ? (scales ? Bench::tr("%1 times") : Bench::tr("%1 m")).arg(typed_)
                 : scales          ? Bench::tr("%1 times").arg(q(base::numberText(value()[*axis_], 2)))
                                   : q(base::lengthText(by_m_[*axis_])),
                 theme().click, true);
}

}  // namespace rakugo::app
