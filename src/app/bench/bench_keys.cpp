// The bench under the keyboard: turning, moving and coming nearer, and a crosshair that points as the mouse
// does.
#include <QKeyEvent>
#include <QPainter>
#include <algorithm>
#include <optional>

#include "app/bench/bench.h"
#include "app/bench/tools/bench_tool.h"
#include "app/widgets/theme.h"

namespace rakugo::app {
namespace {

std::optional<QPointF> arrowOf(int key) {
  switch (key) {
    case Qt::Key_Left:
      return QPointF(-1, 0);
    case Qt::Key_Right:
      return QPointF(1, 0);
    case Qt::Key_Up:
      return QPointF(0, -1);
    case Qt::Key_Down:
      return QPointF(0, 1);
    default:
      return std::nullopt;
  }
}

}  // namespace

void Bench::keyPressEvent(QKeyEvent* event) {
  done_.clear();
  if (at_work_->holds() && at_work_->type(*event)) return update();
  if (const auto arrow = arrowOf(event->key())) return arrowPressed(*arrow, event->modifiers());
  switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      camera_.zoomAt(0.85F, viewSize() * 0.5F, viewSize());
      return viewMoved();
    case Qt::Key_Minus:
      camera_.zoomAt(1 / 0.85F, viewSize() * 0.5F, viewSize());
      return viewMoved();
    case Qt::Key_Return:
    case Qt::Key_Enter:
      // A typed number is taken at once, though the button is still down.
      if (at_work_->typed() && !key_drags_) return at_work_->letGo(last_, true);
      return enterPressed();
    case Qt::Key_Escape:
      if (crosshair_ && tool_ == Tool::look_round) return leaveCrosshair();
      leaveCrosshair();
      return setTool(Tool::look_round);
    default:
      QOpenGLWidget::keyPressEvent(event);
  }
}

// With a crosshair the arrows move it, a pixel at a time with shift; with the control key, or without a
// crosshair, they turn the view, and with shift move it.
void Bench::arrowPressed(QPointF arrow, Qt::KeyboardModifiers with) {
  const bool turns = (with & Qt::ControlModifier) != 0, fine = (with & Qt::ShiftModifier) != 0;
  if (!turns && !crosshair_ && tool_ != Tool::look_round) showCrosshair();
  if (!turns && crosshair_) return moveCrosshair(arrow * (fine ? 1 : 8));
  constexpr float kTurn_px = 20;
  const glm::vec2 by(-arrow.x() * kTurn_px, -arrow.y() * kTurn_px);
  if (fine)
    camera_.pan(by, viewSize());
  else
    camera_.orbit(by);
  viewMoved();
}

void Bench::showCrosshair() {
  crosshair_ = QPointF(width() / 2.0, height() / 2.0);
  hover(*crosshair_);
  update();
}

void Bench::leaveCrosshair() {
  if (std::exchange(key_drags_, false)) at_work_->letGo(*crosshair_, key_moved_);
  crosshair_.reset();
  setPointed({});
  at_work_->leave();
  update();
}

void Bench::moveCrosshair(QPointF by) {
  const QPointF to(std::clamp(crosshair_->x() + by.x(), 0.0, width() - 1.0),
                   std::clamp(crosshair_->y() + by.y(), 0.0, height() - 1.0));
  crosshair_ = to;
  if (key_drags_) {
    key_moved_ = true;
    at_work_->drag(key_pressed_, to);
  } else {
    hover(to);
  }
  update();
}

// What a click does where the crosshair is; what a drag begins is ended by the next Enter.
void Bench::enterPressed() {
  if (!crosshair_) return showCrosshair();
  if (std::exchange(key_drags_, false)) {
    at_work_->letGo(*crosshair_, key_moved_);
  } else if (at_work_->press(*crosshair_)) {
    key_drags_ = true;
    key_moved_ = false;
    key_pressed_ = *crosshair_;
  } else {
    at_work_->click(*crosshair_);
  }
  update();
}

void Bench::paintCrosshair(QPainter& painter) {
  if (!crosshair_ || !hasFocus()) return;
  const QPointF at = *crosshair_;
  for (const auto& [color, wide] : {std::pair(theme().sheet, 4.0), {theme().click, 1.6}}) {
    painter.setPen(QPen(color, wide));
    for (const QPointF& way : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
      painter.drawLine(at + way * 5, at + way * 15);
  }
  if (key_drags_) label(painter, at + QPointF(0, 28), tr("Arrows drag, Enter lets go"), theme().click, true);
}

}  // namespace rakugo::app
