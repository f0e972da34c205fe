#include "app/bench/tools/bench_rings.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

// Two directions across an axis, the second a quarter turn further by the right hand.
void across(glm::vec3 axis, glm::vec3& u, glm::vec3& v) {
  const glm::vec3 other = std::abs(axis.x) < 0.9F ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0);
  u = glm::normalize(other - axis * glm::dot(other, axis));
  v = glm::cross(axis, u);
}

// How far a place on the picture lies off a line on it.
double apartFrom(QPointF at, QPointF a, QPointF b) {
  const QPointF d = b - a, p = at - a;
  const double length2 = std::max(d.x() * d.x() + d.y() * d.y(), 1e-9);
  const QPointF off = p - d * std::clamp((p.x() * d.x() + p.y() * d.y()) / length2, 0.0, 1.0);
  return std::hypot(off.x(), off.y());
}

}  // namespace

std::vector<glm::vec3> ringPlaces(const Bench::Ring& ring, double from_deg, double to_deg) {
  glm::vec3 u, v;
  across(ring.axis, u, v);
  std::vector<glm::vec3> out;
  const int steps = std::max(2, static_cast<int>(std::ceil(std::abs(to_deg - from_deg) / 5)));
  for (int i = 0; i <= steps; ++i) {
    const double at = (from_deg + (to_deg - from_deg) * i / steps) * 3.14159265358979 / 180;
    out.push_back(ring.center +
                  (u * static_cast<float>(std::cos(at)) + v * static_cast<float>(std::sin(at))) *
                      ring.radius);
  }
  return out;
}

std::optional<size_t> RingDrag::under(const std::vector<Bench::Ring>& rings, QPointF at) const {
  std::optional<size_t> best;
  double nearest = 8;
  for (size_t r = 0; r < rings.size(); ++r) {
    if (!angleOn(rings[r], at)) continue;
    std::optional<QPointF> last;
    for (const glm::vec3& place : ringPlaces(rings[r], 0, 360)) {
      const auto now = bench_.project(place);
      if (now && last)
        if (const double apart = apartFrom(at, *last, *now); apart < nearest) nearest = apart, best = r;
      last = now;
    }
  }
  return best;
}

std::optional<double> RingDrag::angleOn(const Bench::Ring& ring, QPointF at) const {
  glm::vec3 origin, direction, u, v;
  bench_.rayAt(at, origin, direction);
  const float facing = glm::dot(glm::normalize(direction), ring.axis);
  if (std::abs(facing) < 0.12F) return std::nullopt;
  const glm::vec3 place =
      origin + glm::normalize(direction) * (glm::dot(ring.center - origin, ring.axis) / facing) - ring.center;
  across(ring.axis, u, v);
  return static_cast<double>(glm::degrees(std::atan2(glm::dot(place, v), glm::dot(place, u))));
}

bool RingDrag::pointAt(const std::vector<Bench::Ring>& rings, QPointF at) {
  const auto now = under(rings, at);
  return std::exchange(ring_, now) != now;
}

bool RingDrag::take(const std::vector<Bench::Ring>& rings, QPointF at) {
  ring_ = under(rings, at);
  taken_ = ring_.has_value();
  if (taken_) from_deg_ = angleOn(rings[*ring_], at).value_or(0);
  by_deg_ = 0;
  return taken_;
}

bool RingDrag::turn(const std::vector<Bench::Ring>& rings, QPointF at, double step_deg) {
  if (!ring_ || *ring_ >= rings.size()) return false;
  const auto angle = angleOn(rings[*ring_], at);
  if (!angle) return false;
  // The shorter way round from where it stands; whole turns are not counted.
  by_deg_ = std::round(std::remainder(*angle - from_deg_, 360.0) / step_deg) * step_deg;
  return true;
}

double RingDrag::letGo() {
  taken_ = false;
  return std::exchange(by_deg_, 0.0);
}

void RingDrag::forget() {
  ring_.reset();
  taken_ = false;
}

void RingDrag::paint(QPainter& painter, const std::vector<Bench::Ring>& rings, Bench& bench) const {
  static const QString kNames[] = {QStringLiteral("x"), QStringLiteral("y"), QStringLiteral("z")};
  for (size_t r = 0; r < rings.size(); ++r) {
    const auto drawn = [&](double from, double to) {
      QPolygonF out;
      for (const glm::vec3& place : ringPlaces(rings[r], from, to))
        if (const auto p = bench.project(place)) out << *p;
      return out;
    };
    const bool held = ring_ == r;
    const QColor color = theme().axes[rings[r].color];
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(color, held ? 3.2 : 1.8));
    painter.drawPolyline(drawn(0, 360));
    if (held && taken_) {
      // From where it was taken to where it stands now, as an angle on a technical drawing.
      QPolygonF wedge = drawn(from_deg_, from_deg_ + by_deg_);
      const auto middle = bench.project(rings[r].center);
      if (!middle || wedge.size() < 2) continue;
      QColor wash = color;
      wash.setAlpha(50);
      painter.setBrush(wash);
      painter.setPen(QPen(color, 1.2));
      const QPointF end = wedge.back();
      wedge << *middle;
      painter.drawPolygon(wedge);
      bench.label(painter, end, Bench::tr("%1°").arg(q(base::numberText(by_deg_, 2))), color, true);
    } else if (held) {
      if (const auto p = bench.project(ringPlaces(rings[r], 45, 45).front()))
        bench.label(painter, *p, Bench::tr("about %1").arg(kNames[rings[r].color]), color, true);
    }
  }
}

}  // namespace rakugo::app
