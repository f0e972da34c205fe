// The bench under mouse and keys: turning the view, what is pointed at, the tools.
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/bench/bench.h"
#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {

std::optional<BenchHit> Bench::under(QPointF at) const {
  // What is shown elsewhere than at rest is not where its triangles are.
  if (!scene_ || pose_) return std::nullopt;
  glm::vec3 origin, direction;
  camera_.ray({at.x(), at.y()}, viewSize(), origin, direction);
  return hit(*scene_, origin, direction);
}

std::optional<glm::vec3> Bench::sideUnder(QPointF at) const {
  const auto found = under(at);
  if (!found) return std::nullopt;
  // The side of the box that what is pointed at looks to, among those that can be forward.
  const glm::vec3 up = scene_->frame.turned ? scene_->up : geometry::axisVector(scene_->frame.up);
  const glm::vec3 level = found->normal - up * glm::dot(found->normal, up);
  if (glm::length(level) < 0.2F) return std::nullopt;
  return geometry::axisVector(geometry::nearestAxis(level));
}

std::optional<Snap> Bench::snapUnder(QPointF at) const {
  const auto found = under(at);
  if (!found) return std::nullopt;
  constexpr double kNear_px = 12;
  const auto& c = found->corners;
  const Snap wanted[] = {{SnapTo::vertex, c[0]},
                         {SnapTo::vertex, c[1]},
                         {SnapTo::vertex, c[2]},
                         {SnapTo::edge_middle, (c[0] + c[1]) * 0.5F},
                         {SnapTo::edge_middle, (c[1] + c[2]) * 0.5F},
                         {SnapTo::edge_middle, (c[2] + c[0]) * 0.5F},
                         {SnapTo::face_centre, (c[0] + c[1] + c[2]) / 3.0F}};
  Snap best{SnapTo::surface, found->position};
  double nearest = kNear_px;
  for (const Snap& one : wanted) {
    const auto p = project(one.position);
    if (!p) continue;
    const QPointF d = *p - at;
    // A vertex goes before what is a little nearer: triangles are often smaller than the pointer.
    const double apart = std::hypot(d.x(), d.y()) + (one.to == SnapTo::vertex ? 0 : 3);
    if (apart < nearest) nearest = apart, best = one;
  }
  return best;
}

void Bench::viewMoved() {
  rest_.start();
  update();
}

void Bench::mousePressEvent(QMouseEvent* event) {
  pressed_ = last_ = event->position();
  moved_ = false;
  if (event->button() != Qt::LeftButton) return;
  if (drawsOutline()) outline_ = {pressed_};
  ring_ = ringUnder(pressed_);
  ring_dragged_ = ring_.has_value();
  if (ring_dragged_) {
    ring_from_ = angleOn(rings()[*ring_], pressed_).value_or(0);
    ring_by_ = 0;
    handle_axis_.reset();
    handle_dragged_ = false;
    return;
  }
  end_ = endUnder(pressed_);
  end_pulled_ = end_.has_value();
  if (end_pulled_) return;
  handle_axis_ = tool_ == Tool::look_round ? handleUnder(pressed_) : std::nullopt;
  handle_dragged_ = handle_axis_.has_value();
  handle_by_ = glm::vec3(0);
}

std::optional<int> Bench::endUnder(QPointF at) const {
  if (!pose_ || tool_ != Tool::look_round) return std::nullopt;
  std::optional<int> best;
  double nearest = 11;
  for (size_t i = 0; i < pose_->ends.size(); ++i) {
    const auto p = project(pose_->ends[i].first);
    if (!p) continue;
    const QPointF d = *p - at;
    if (const double apart = std::hypot(d.x(), d.y()); apart < nearest)
      nearest = apart, best = static_cast<int>(i);
  }
  return best;
}

void Bench::pullEnd(QPointF at, bool done) {
  if (!pose_ || !end_ || static_cast<size_t>(*end_) >= pose_->ends.size()) return;
  // As deep as it was: on the plane through it across the line of sight.
  glm::vec3 origin, direction;
  camera_.ray({at.x(), at.y()}, viewSize(), origin, direction);
  const glm::vec3 axis = glm::normalize(camera_.target - camera_.position());
  const float deep = glm::dot(pose_->ends[static_cast<size_t>(*end_)].first - origin, axis);
  Q_EMIT endPulled(*end_, origin + direction * (deep / std::max(glm::dot(direction, axis), 1e-4F)), done);
}

float Bench::handleLength() const {
  // As long as the same share of the picture, however far away.
  const float size = camera_.distance_m * std::tan(camera_.field_of_view_rad * 0.5F);
  return size * 0.22F;
}

glm::vec3 Bench::handleValue() const {
  if (handle_sort_ != Handle::scale) return handle_by_;
  // Pulled by the arrow's own length it is twice as large as it was.
  glm::vec3 factors(1);
  if (handle_axis_)
    factors[*handle_axis_] =
        std::clamp(std::round((1 + handle_by_[*handle_axis_] / handleLength()) * 100) / 100, 0.05F, 20.0F);
  return factors;
}

std::optional<int> Bench::handleUnder(QPointF at) const {
  if (!handle_ || handle_sort_ == Handle::turn) return std::nullopt;
  const auto from = project(*handle_);
  if (!from) return std::nullopt;
  std::optional<int> best;
  double nearest = 7;
  for (int i = 0; i < 3; ++i) {
    glm::vec3 axis(0);
    axis[i] = handleLength();
    const auto to = project(*handle_ + axis);
    if (!to) continue;
    const QPointF d = *to - *from, p = at - *from;
    const double length2 = d.x() * d.x() + d.y() * d.y();
    // An axis that is looked at end on cannot be dragged along.
    if (length2 < 100) continue;
    const double t = std::clamp((p.x() * d.x() + p.y() * d.y()) / length2, 0.15, 1.1);
    const QPointF off = p - d * t;
    if (const double apart = std::hypot(off.x(), off.y()); apart < nearest) {
      nearest = apart;
      best = i;
    }
  }
  return best;
}

void Bench::finishOutline() {
  QPolygonF drawn = std::move(outline_);
  outline_.clear();
  const QRectF box = drawn.boundingRect();
  if (!scene_ || (box.width() < 4 && box.height() < 4)) return;
  if (tool_ == Tool::pick_box)
    drawn = QPolygonF({box.topLeft(), box.topRight(), box.bottomRight(), box.bottomLeft()});
  // A hand makes many corners; what lies on a straight line needs none.
  QPolygonF corners;
  for (const QPointF& p : drawn)
    if (corners.isEmpty() || std::hypot(p.x() - corners.back().x(), p.y() - corners.back().y()) >= 6)
      corners << p;
  while (corners.size() > 400)
    for (qsizetype i = corners.size() - 1; i > 0; i -= 2) corners.remove(i);
  if (corners.size() < 3) return;
  std::vector<glm::vec3> outline;
  glm::vec3 origin(0), toward(0, 0, 1);
  for (const QPointF& p : corners) {
    glm::vec3 direction;
    camera_.ray({p.x(), p.y()}, viewSize(), origin, direction);
    // On a plane through what is looked at.
    const glm::vec3 axis = glm::normalize(camera_.target - camera_.position());
    const float away = glm::dot(camera_.target - origin, axis) / std::max(glm::dot(direction, axis), 1e-4F);
    outline.push_back(origin + direction * away);
    toward = axis;
  }
  setTool(Tool::look_round);
  Q_EMIT outlinePicked(outline, camera_.parallel ? std::nullopt : std::optional(camera_.position()), toward);
}

void Bench::mouseMoveEvent(QMouseEvent* event) {
  const QPointF d = event->position() - last_;
  if (event->buttons() != Qt::NoButton) {
    if ((event->position() - pressed_).manhattanLength() > 4) moved_ = true;
    if (moved_ && drawsOutline()) {
      outline_ << event->position();
    } else if (moved_ && end_pulled_) {
      pullEnd(event->position(), false);
    } else if (moved_ && ring_dragged_) {
      turnRing(event->position());
    } else if (moved_ && handle_dragged_ && handle_axis_) {
      glm::vec3 axis(0);
      axis[*handle_axis_] = handleLength();
      const auto from = project(*handle_), to = project(*handle_ + axis);
      if (from && to) {
        const QPointF way = *to - *from, pulled = event->position() - pressed_;
        const double length2 = way.x() * way.x() + way.y() * way.y();
        handle_by_ =
            axis * static_cast<float>((pulled.x() * way.x() + pulled.y() * way.y()) / std::max(length2, 1.0));
        Q_EMIT pickedDragged(handleValue(), false);
      }
    } else if (moved_) {
      const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
      if ((event->buttons() & Qt::LeftButton) != 0 && !shift)
        camera_.orbit({d.x(), d.y()});
      else
        camera_.pan({d.x(), d.y()}, viewSize());
    }
  } else if (tool_ == Tool::turn_rings || (handle_ && handle_sort_ == Handle::turn)) {
    const auto ring = ringUnder(event->position());
    if (ring != ring_) update();
    ring_ = ring;
  } else if (pose_ && !pose_->ends.empty()) {
    const auto end = endUnder(event->position());
    if (end != end_) update();
    end_ = end;
  } else if (tool_ == Tool::look_round && handle_) {
    const auto axis = handleUnder(event->position());
    if (axis != handle_axis_) update();
    handle_axis_ = axis;
  } else if (tool_ == Tool::point_front) {
    hovered_side_ = sideUnder(event->position());
  } else if (snaps()) {
    hovered_ = snapUnder(event->position());
  }
  if (!weights_of_.empty() && event->buttons() == Qt::NoButton) {
    const auto share = weightUnder(event->position());
    hovered_weight_.reset();
    if (share) hovered_weight_ = std::pair(event->position(), *share);
    update();
  }
  last_ = event->position();
  if (event->buttons() != Qt::NoButton && moved_ && !drawsOutline() && !handle_dragged_ && !ring_dragged_ &&
      !end_pulled_)
    viewMoved();
  else if (drawsOutline() || handle_dragged_ || ring_dragged_ || end_pulled_)
    update();
  else if (tool_ != Tool::look_round)
    update();
}

void Bench::mouseReleaseEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && drawsOutline() && moved_) {
    finishOutline();
    update();
    return;
  }
  if (event->button() == Qt::LeftButton && end_pulled_) {
    if (moved_) pullEnd(event->position(), true);
    end_pulled_ = false;
    update();
    return;
  }
  if (event->button() == Qt::LeftButton && ring_dragged_) {
    if (moved_)
      letRingGo();
    else
      ring_dragged_ = false;
    update();
    return;
  }
  if (event->button() == Qt::LeftButton && handle_dragged_) {
    handle_dragged_ = false;
    if (moved_) Q_EMIT pickedDragged(handleValue(), true);
    update();
    return;
  }
  if (moved_ || event->button() != Qt::LeftButton) return;
  if (tool_ == Tool::point_front) {
    if (const auto side = sideUnder(event->position())) {
      Q_EMIT frontChosen(*side);
      setTool(Tool::look_round);
    }
  } else if (tool_ == Tool::measure) {
    if (const auto found = snapUnder(event->position())) {
      if (measured_.size() % 2 == 0) measured_.clear();
      measured_.push_back(found->position);
      if (measured_.size() == 2)
        addNote(
            {measured_, q(base::lengthText(static_cast<double>(glm::distance(measured_[0], measured_[1]))))});
    }
  } else if (tool_ == Tool::measure_angle) {
    if (const auto found = snapUnder(event->position())) {
      measured_.push_back(found->position);
      if (measured_.size() == 3) {
        // At the second of the three.
        const glm::vec3 a = measured_[0] - measured_[1], b = measured_[2] - measured_[1];
        const float lengths = glm::length(a) * glm::length(b);
        if (lengths > 0) {
          const float angle = std::acos(std::clamp(glm::dot(a, b) / lengths, -1.0F, 1.0F));
          addNote(
              {measured_, tr("%1°").arg(q(base::numberText(static_cast<double>(glm::degrees(angle)), 1)))});
        }
        measured_.clear();
      }
    }
  } else if (tool_ == Tool::measure_gap) {
    if (const auto found = under(event->position())) {
      const QString key = q(scene_->parts[found->part].key);
      if (gap_from_.isEmpty() || gap_from_ == key) {
        gap_from_ = key;
      } else {
        const QString from = gap_from_;
        setTool(Tool::look_round);
        Q_EMIT gapAsked(from, key);
      }
    }
  } else if (tool_ == Tool::pick_point || tool_ == Tool::pick_pivot) {
    if (const auto found = snapUnder(event->position())) {
      const bool pivot = tool_ == Tool::pick_pivot;
      setTool(Tool::look_round);
      if (pivot)
        Q_EMIT pivotPicked(found->position);
      else
        Q_EMIT pointPicked(found->position);
    }
  } else if (tool_ == Tool::pick_piece) {
    if (const auto found = under(event->position())) {
      setTool(Tool::look_round);
      Q_EMIT piecePicked(q(scene_->parts[found->part].key), found->position);
    }
  } else if (!drawsOutline()) {
    const auto found = under(event->position());
    Q_EMIT partClicked(found ? q(scene_->parts[found->part].key) : QString());
  }
  update();
}

void Bench::wheelEvent(QWheelEvent* event) {
  camera_.zoomAt(std::pow(0.88F, static_cast<float>(event->angleDelta().y()) / 120),
                 {event->position().x(), event->position().y()}, viewSize());
  viewMoved();
}

void Bench::keyPressEvent(QKeyEvent* event) {
  const float turn = 20;
  switch (event->key()) {
    case Qt::Key_Left:
      camera_.orbit({turn, 0});
      break;
    case Qt::Key_Right:
      camera_.orbit({-turn, 0});
      break;
    case Qt::Key_Up:
      camera_.orbit({0, turn});
      break;
    case Qt::Key_Down:
      camera_.orbit({0, -turn});
      break;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      camera_.zoomAt(0.85F, viewSize() * 0.5F, viewSize());
      break;
    case Qt::Key_Minus:
      camera_.zoomAt(1 / 0.85F, viewSize() * 0.5F, viewSize());
      break;
    case Qt::Key_Escape:
      setTool(Tool::look_round);
      break;
    default:
      QOpenGLWidget::keyPressEvent(event);
      return;
  }
  viewMoved();
}

void Bench::leaveEvent(QEvent*) {
  hovered_side_.reset();
  hovered_weight_.reset();
  update();
}

}  // namespace rakugo::app
