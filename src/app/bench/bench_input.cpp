// The bench under the mouse: turning the view, what is pointed at, the tools.
#include <QDropEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QNativeGestureEvent>
#include <QPointingDevice>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/bench/bench.h"
#include "app/bench/tools/bench_tool.h"
#include "app/widgets/drag_types.h"
#include "app/widgets/theme.h"

namespace rakugo::app {

std::optional<BenchHit> Bench::under(QPointF at) const {
  if (!scene_ || pose_ || peek_) return std::nullopt;
  glm::vec3 origin, direction;
  rayAt(at, origin, direction);
  return hit(*scene_, origin, direction, hitOptions());
}

HitOptions Bench::hitOptions() const {
  const std::optional<Cut>& cut = views().cut;
  return {pose_ ? posed_.get() : nullptr, presence_,
          cut ? std::optional(planeOf(*cut, *scene_)) : std::nullopt};
}

void Bench::rayAt(QPointF at, glm::vec3& origin, glm::vec3& direction) const {
  camera_.ray({at.x(), at.y()}, viewSize(), origin, direction);
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

void Bench::dragEnterEvent(QDragEnterEvent* event) {
  if (pieces_shown_ && event->mimeData()->hasFormat(QLatin1String(kModelsDragged)))
    event->acceptProposedAction();
}

void Bench::dropEvent(QDropEvent* event) {
  const QString names = QString::fromUtf8(event->mimeData()->data(QLatin1String(kModelsDragged)));
  if (names.isEmpty()) return;
  event->acceptProposedAction();
  Q_EMIT modelsDropped(names.split(QLatin1Char('\n')), event->position());
}

double Bench::metresPerPixel() const {
  return 2.0 * static_cast<double>(camera_.distance_m * std::tan(camera_.field_of_view_rad / 2)) /
         std::max(height(), 1);
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
  done_.clear();
  if (crosshair_) leaveCrosshair();
  pressed_ = last_ = event->position();
  moved_ = false;
  if (event->button() == Qt::LeftButton) tool_drags_ = at_work_->press(pressed_);
}

void Bench::mouseMoveEvent(QMouseEvent* event) {
  done_.clear();
  const QPointF at = event->position(), by = at - last_;
  if (event->buttons() == Qt::NoButton) {
    hover(at);
  } else {
    if ((at - pressed_).manhattanLength() > 4) moved_ = true;
    if (tool_drags_) {
      if (moved_) at_work_->drag(pressed_, at);
      update();
    } else if (moved_) {
      dragView(event, by);
    }
  }
  last_ = at;
}

void Bench::hover(QPointF at) {
  if (at_work_->hover(at)) update();
  std::optional<BenchHit> found;
  if (scene_ && !peek_ && (!pose_ || posed_)) {
    glm::vec3 origin, direction;
    rayAt(at, origin, direction);
    found = hit(*scene_, origin, direction, hitOptions());
  }
  setPointed(found ? scene_->parts[found->part].key : std::string());
  if (weights_of_.empty()) return;
  hovered_weight_.reset();
  if (const auto share = weightUnder(at)) hovered_weight_ = std::pair(at, *share);
  update();
}

void Bench::dragView(QMouseEvent* event, QPointF by) {
  const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
  if ((event->buttons() & Qt::LeftButton) != 0 && !shift)
    camera_.orbit({by.x(), by.y()});
  else
    camera_.pan({by.x(), by.y()}, viewSize());
  viewMoved();
}

void Bench::mouseReleaseEvent(QMouseEvent* event) {
  done_.clear();
  if (event->button() != Qt::LeftButton) return;
  if (std::exchange(tool_drags_, false))
    at_work_->letGo(event->position(), moved_);
  else if (!moved_)
    at_work_->click(event->position());
  update();
}

// Two fingers on a touchpad move the picture as a sheet of paper; a wheel, or the control key, comes nearer.
void Bench::wheelEvent(QWheelEvent* event) {
  const auto* device = event->pointingDevice();
  const bool pad = device != nullptr && device->type() == QInputDevice::DeviceType::TouchPad;
  if (pad && (event->modifiers() & Qt::ControlModifier) == 0) {
    const QPointF by =
        !event->pixelDelta().isNull() ? QPointF(event->pixelDelta()) : QPointF(event->angleDelta()) / 4;
    camera_.pan({by.x(), by.y()}, viewSize());
    return viewMoved();
  }
  camera_.zoomAt(std::pow(0.88F, static_cast<float>(event->angleDelta().y()) / 120),
                 {event->position().x(), event->position().y()}, viewSize());
  viewMoved();
}

// Two fingers that part come nearer, at the place between them.
bool Bench::event(QEvent* event) {
  if (event->type() == QEvent::NativeGesture) {
    const auto* gesture = static_cast<QNativeGestureEvent*>(event);
    if (gesture->gestureType() == Qt::ZoomNativeGesture) {
      camera_.zoomAt(1 / std::max(0.1F, 1 + static_cast<float>(gesture->value())),
                     {gesture->position().x(), gesture->position().y()}, viewSize());
      viewMoved();
      return true;
    }
  }
  return QOpenGLWidget::event(event);
}

void Bench::focusOutEvent(QFocusEvent* event) {
  if (crosshair_) leaveCrosshair();
  QOpenGLWidget::focusOutEvent(event);
}

void Bench::leaveEvent(QEvent*) {
  setPointed({});
  at_work_->leave();
  hovered_weight_.reset();
  update();
}

}  // namespace rakugo::app
