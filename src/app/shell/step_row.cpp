#include "app/shell/step_row.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace rakugo::app {

StepRow::StepRow(const std::string& id, size_t number, bool marked, QWidget* parent)
    : QWidget(parent), id_(id), marked_(marked) {
  setObjectName(QStringLiteral("step-") + q(id));
  setFocusPolicy(Qt::StrongFocus);
  layout_ = new QHBoxLayout(this);
  layout_->setContentsMargins(2, 1, 0, 1);
  layout_->setSpacing(2);
  number_ = quietText(QString::number(number), this);
  number_->setObjectName(QStringLiteral("number-") + q(id));
  number_->setFixedWidth(24);
  number_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  number_->setContentsMargins(2, 4, 0, 0);
  number_->setCursor(Qt::SizeVerCursor);
  number_->setToolTip(tr("Drag the step to another place; or Alt with up and down"));
  number_->installEventFilter(this);
  layout_->addWidget(number_, 0, Qt::AlignTop);
  setAccessibleDescription(tr("Alt with up and down moves it, Delete removes it"));
}

bool StepRow::eventFilter(QObject* watched, QEvent* event) {
  if (watched != number_) return QWidget::eventFilter(watched, event);
  const auto* mouse = dynamic_cast<QMouseEvent*>(event);
  if (mouse == nullptr) return false;
  const QPoint at = mouse->globalPosition().toPoint();
  if (event->type() == QEvent::MouseButtonPress && mouse->button() == Qt::LeftButton) {
    pressed_ = at;
    setFocus(Qt::MouseFocusReason);
    return true;
  }
  if (event->type() == QEvent::MouseMove && (mouse->buttons() & Qt::LeftButton) != 0) {
    dragging_ = dragging_ || (at - pressed_).manhattanLength() >= QApplication::startDragDistance();
    if (dragging_) Q_EMIT dragged(at);
    return true;
  }
  if (event->type() == QEvent::MouseButtonRelease && std::exchange(dragging_, false)) {
    Q_EMIT dropped(at);
    return true;
  }
  return false;
}

void StepRow::keyPressEvent(QKeyEvent* event) {
  const int by = event->key() == Qt::Key_Up ? -1 : event->key() == Qt::Key_Down ? 1 : 0;
  if (event->key() == Qt::Key_Escape && std::exchange(dragging_, false)) return Q_EMIT dragLeft();
  if (by != 0 && event->modifiers() == Qt::AltModifier) return Q_EMIT moveAsked(by);
  if (by != 0 && event->modifiers() == Qt::NoModifier) return Q_EMIT stepFocusAsked(by);
  if (event->key() == Qt::Key_Delete) return Q_EMIT removeAsked();
  QWidget::keyPressEvent(event);
}

void StepRow::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  if (marked_) painter.fillRect(rect(), theme().wash);
  if (!hasFocus()) return;
  painter.setPen(QPen(theme().click, 2));
  painter.drawRect(rect().adjusted(1, 1, -1, -1));
}

void StepRow::focusInEvent(QFocusEvent* event) {
  QWidget::focusInEvent(event);
  revealPlace(this, rect());
  update();
}

void StepRow::focusOutEvent(QFocusEvent* event) {
  QWidget::focusOutEvent(event);
  update();
}

void StepRow::contextMenuEvent(QContextMenuEvent* event) { Q_EMIT menuAsked(event->globalPos()); }

}  // namespace rakugo::app
