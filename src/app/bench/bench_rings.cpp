// Rings to turn by: round the model, in quarters, and round what was picked, by the degree.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/bench/bench.h"
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

}  // namespace

std::vector<Bench::Ring> Bench::rings() const {
  std::vector<Ring> out;
  if (tool_ == Tool::turn_rings && scene_ && !scene_->bounds_m.empty()) {
    // Round the model, or as much of it as the picture has room for: a ring must be in reach.
    const float room = camera_.distance_m * std::tan(camera_.field_of_view_rad * 0.5F) * 0.8F,
                radius = std::min(glm::length(scene_->bounds_m.size()) * 0.52F, room);
    for (int i = 0; i < 3; ++i) {
      glm::vec3 axis(0);
      axis[i] = 1;
      out.push_back({camera_.target, axis, radius, i});
    }
  } else if (tool_ == Tool::look_round && handle_ && handle_sort_ == Handle::turn) {
    const glm::vec3 a = glm::abs(handle_turn_axis_);
    out.push_back({*handle_, handle_turn_axis_, handleLength(),
                   a.x > a.y && a.x > a.z ? 0
                   : a.y > a.z            ? 1
                                          : 2});
  }
  return out;
}

std::vector<glm::vec3> Bench::ringPlaces(const Ring& ring, double from_deg, double to_deg) const {
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

std::optional<size_t> Bench::ringUnder(QPointF at) const {
  const std::vector<Ring> all = rings();
  std::optional<size_t> best;
  double nearest = 8;
  for (size_t r = 0; r < all.size(); ++r) {
    if (!angleOn(all[r], at)) continue;
    std::optional<QPointF> last;
    for (const glm::vec3& place : ringPlaces(all[r], 0, 360)) {
      const auto now = project(place);
      if (now && last) {
        const QPointF d = *now - *last, p = at - *last;
        const double length2 = std::max(d.x() * d.x() + d.y() * d.y(), 1e-9);
        const QPointF off = p - d * std::clamp((p.x() * d.x() + p.y() * d.y()) / length2, 0.0, 1.0);
        if (const double apart = std::hypot(off.x(), off.y()); apart < nearest) nearest = apart, best = r;
      }
      last = now;
    }
  }
  return best;
}

std::optional<double> Bench::angleOn(const Ring& ring, QPointF at) const {
  glm::vec3 origin, direction, u, v;
  camera_.ray({at.x(), at.y()}, viewSize(), origin, direction);
  const float facing = glm::dot(glm::normalize(direction), ring.axis);
  if (std::abs(facing) < 0.12F) return std::nullopt;
  const glm::vec3 place =
      origin + glm::normalize(direction) * (glm::dot(ring.center - origin, ring.axis) / facing) - ring.center;
  across(ring.axis, u, v);
  return static_cast<double>(glm::degrees(std::atan2(glm::dot(place, v), glm::dot(place, u))));
}

void Bench::turnRing(QPointF at) {
  const std::vector<Ring> all = rings();
  if (!ring_ || *ring_ >= all.size()) return;
  const auto angle = angleOn(all[*ring_], at);
  if (!angle) return;
  // The shorter way round from where it stands; whole turns are not counted.
  const double by = std::remainder(*angle - ring_from_, 360.0);
  ring_by_ = tool_ == Tool::turn_rings ? std::round(by / 90) * 90 : std::round(by);
  if (tool_ == Tool::look_round) Q_EMIT pickedDragged({static_cast<float>(ring_by_), 0, 0}, false);
}

void Bench::letRingGo() {
  ring_dragged_ = false;
  const double by = std::exchange(ring_by_, 0.0);
  if (tool_ == Tool::look_round) {
    Q_EMIT pickedDragged({static_cast<float>(by), 0, 0}, true);
  } else if (ring_ && by != 0) {
    const int axis = static_cast<int>(*ring_);
    setTool(Tool::look_round);
    Q_EMIT quarterTurned(axis, static_cast<int>(std::lround(by / 90)));
  }
}

void Bench::paintRings(QPainter& painter) {
  const std::vector<Ring> all = rings();
  static const QString kNames[] = {QStringLiteral("x"), QStringLiteral("y"), QStringLiteral("z")};
  for (size_t r = 0; r < all.size(); ++r) {
    const auto drawn = [&](double from, double to) {
      QPolygonF out;
      for (const glm::vec3& place : ringPlaces(all[r], from, to))
        if (const auto p = project(place)) out << *p;
      return out;
    };
    const bool held = ring_ == r;
    const QColor color = theme().axes[all[r].color];
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(color, held ? 3.2 : 1.8));
    painter.drawPolyline(drawn(0, 360));
    if (held && ring_dragged_) {
      // From where it was taken to where it stands now, as an angle on a technical drawing.
      QPolygonF wedge = drawn(ring_from_, ring_from_ + ring_by_);
      const auto middle = project(all[r].center);
      if (middle && wedge.size() > 1) {
        QColor wash = color;
        wash.setAlpha(50);
        painter.setBrush(wash);
        painter.setPen(QPen(color, 1.2));
        const QPointF end = wedge.back();
        wedge << *middle;
        painter.drawPolygon(wedge);
        label(painter, end, tr("%1°").arg(q(base::numberText(ring_by_, 0))), color, true);
      }
    } else if (held) {
      if (const auto p = project(ringPlaces(all[r], 45, 45).front()))
        label(painter, *p, tr("about %1").arg(kNames[all[r].color]), color, true);
    }
  }
  if (tool_ == Tool::turn_rings)
    label(painter, {width() / 2.0, height() - 22.0},
          tr("Drag a ring round: the model turns by quarters. Esc leaves it."), theme().click, true);
}

}  // namespace rakugo::app
