// A step of the preparation compared with what was before it: held, before it; let go, after it.
#include <QAbstractSpinBox>
#include <QApplication>
#include <QKeyEvent>
#include <QKeySequenceEdit>
#include <QLineEdit>

#include "app/shell/preparation.h"
#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

constexpr Qt::Key kBefore = Qt::Key_B;

bool isTyping() {
  const QWidget* focus = QApplication::focusWidget();
  return QApplication::activePopupWidget() != nullptr || qobject_cast<const QLineEdit*>(focus) != nullptr ||
         qobject_cast<const QAbstractSpinBox*>(focus) != nullptr ||
         qobject_cast<const QKeySequenceEdit*>(focus) != nullptr;
}

bool isInStep(const QWidget* widget, int step) {
  for (; widget != nullptr; widget = widget->parentWidget())
    if (widget->property("step").isValid()) return widget->property("step").toInt() == step;
  return false;
}

QString count(size_t triangles) { return q(base::countText(triangles, "triangle", "triangles")); }

}  // namespace

int Preparation::stepAt() const {
  const QWidget* focus = QApplication::focusWidget();
  int focused = -1;
  for (const QWidget* row : findChildren<QWidget*>()) {
    if (!row->property("step").isValid() || !row->isVisible()) continue;
    if (row->underMouse()) return row->property("step").toInt();
    if (focus != nullptr && row->isAncestorOf(focus)) focused = row->property("step").toInt();
  }
  return focused;
}

bool Preparation::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::Leave && watched->property("step").isValid()) {
    if (watched->property("step").toInt() == compared_ && !held_) endComparing();
    return false;
  }
  const bool over = compared_ >= 0 && !held_;
  // A click anywhere else ends it, wherever the pointer went while it was held.
  if (over && event->type() == QEvent::MouseButtonPress)
    if (const auto* clicked = qobject_cast<QWidget*>(watched);
        clicked != nullptr && !isInStep(clicked, compared_))
      endComparing();
  if (event->type() != QEvent::KeyPress && event->type() != QEvent::KeyRelease) return false;
  const auto* key = static_cast<QKeyEvent*>(event);
  if (over && event->type() == QEvent::KeyPress && key->key() != kBefore) endComparing();
  if (key->key() != kBefore || key->modifiers() != Qt::NoModifier || !isVisible() || isTyping()) return false;
  if (event->type() == QEvent::KeyRelease) {
    if (held_ && !key->isAutoRepeat()) letGoBefore();
    return held_;
  }
  if (held_) return true;
  const int step = stepAt();
  if (step < 0 || key->isAutoRepeat()) return false;
  holdBefore(step);
  return true;
}

void Preparation::holdBefore(int step) {
  held_ = true;
  if (compared_ == step && scenes_) return showCompared();
  compared_ = step;
  scenes_.reset();
  session_.compareStep(static_cast<size_t>(step), [this, step](const std::optional<StepScenes>& made) {
    if (compared_ != step || !made) return;
    scenes_ = made;
    showCompared();
  });
}

void Preparation::letGoBefore() {
  held_ = false;
  if (scenes_) showCompared();
}

void Preparation::showCompared() {
  const StepScenes& both = *scenes_;
  const int number = compared_ + 1;
  if (held_) {
    const size_t before = both.triangles - both.changed + both.gone;
    return Q_EMIT peekAsked(both.before, tr("Before step %1: %2").arg(number).arg(count(before)));
  }
  QString says;
  if (both.changed == 0 && both.gone == 0)
    says = tr("Step %1 changes nothing that is seen").arg(number);
  else if (both.changed == both.triangles)
    says = tr("After step %1: all of its %2 have changed").arg(number).arg(count(both.triangles));
  else if (both.changed == 0)
    says = tr("After step %1: %2 left, %3 gone").arg(number).arg(count(both.triangles)).arg(both.gone);
  else
    says = tr("After step %1: %2 of %3 have changed, and are tinted")
               .arg(number)
               .arg(both.changed)
               .arg(count(both.triangles));
  Q_EMIT peekAsked(both.after, says);
}

void Preparation::endComparing() {
  held_ = false;
  if (compared_ < 0) return;
  compared_ = -1;
  scenes_.reset();
  Q_EMIT peekAsked(nullptr, {});
}

}  // namespace rakugo::app
