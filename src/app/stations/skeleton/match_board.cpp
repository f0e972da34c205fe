#include "app/stations/skeleton/match_board.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>

#include "app/widgets/theme.h"

namespace rakugo::app {
namespace {

constexpr double kTop = 26, kBottom = 12, kReach_px = 9;

// Arms are drawn hanging, whatever pose they are modelled in: two figures side by side have no room for arms
// held out, and every pose comes to look alike.
QPointF hanging(QPointF at) {
  constexpr double kShoulder_x = 0.105, kShoulder_y = 0.82, kLeast = 1.1;  // radians below level
  const double beside = std::abs(at.x()) - kShoulder_x, below = kShoulder_y - at.y();
  if (beside <= 0 || at.y() < 0.3) return at;
  const double away = std::hypot(beside, below), angle = std::max(std::atan2(below, beside), kLeast);
  return {std::copysign(kShoulder_x + away * std::cos(angle), at.x()), kShoulder_y - away * std::sin(angle)};
}

// Of so many points the one that the pointer is at; -1: none.
template <class PointOf>
int nearestTo(QPointF at, size_t count, PointOf pointOf) {
  int best = -1;
  double nearest = kReach_px;
  for (size_t i = 0; i < count; ++i) {
    const QPointF d = pointOf(i) - at;
    if (const double apart = std::hypot(d.x(), d.y()); apart < nearest)
      nearest = apart, best = static_cast<int>(i);
  }
  return best;
}

}  // namespace

MatchBoard::MatchBoard(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("match-board"));
  setAccessibleName(tr("Match board"));
  setAccessibleDescription(
      tr("The game's bones on the left, the model's on the right. Arrow keys choose a bone of the game."));
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setMinimumHeight(262);
  setMaximumHeight(262);  // of its chapter
}

void MatchBoard::setMatch(std::vector<Slot> slots, std::vector<Bone> bones) {
  const QString kept = chosen();
  slots_ = std::move(slots);
  bones_ = std::move(bones);
  over_slot_ = over_bone_ = dragged_ = chosen_ = -1;
  for (size_t i = 0; i < slots_.size(); ++i)
    if (slots_[i].id == kept) chosen_ = static_cast<int>(i);
  update();
}

void MatchBoard::choose(const QString& slot) {
  int next = -1;
  for (size_t i = 0; i < slots_.size(); ++i)
    if (slots_[i].id == slot) next = static_cast<int>(i);
  if (next == chosen_) return;
  chosen_ = next;
  update();
  Q_EMIT chosenChanged(chosen());
}

QString MatchBoard::chosen() const {
  return chosen_ < 0 ? QString() : slots_[static_cast<size_t>(chosen_)].id;
}

// A figure that faces the eye has its left on the right of the picture.
QPointF MatchBoard::placed(QPointF at, double left, double right) const {
  const double high = height() - kTop - kBottom, wide = right - left;
  const double scale = std::min(high, wide / 0.56);
  at = hanging(at);
  return {(left + right) / 2 + std::clamp(at.x(), -0.27, 0.27) * scale,
          height() - kBottom - (high - scale) / 2 - std::clamp(at.y(), -0.02, 1.02) * scale};
}

QPointF MatchBoard::slotPoint(size_t slot) const { return placed(slots_[slot].at, 0, width() / 2.0); }
QPointF MatchBoard::bonePoint(size_t bone) const { return placed(bones_[bone].at, width() / 2.0, width()); }

int MatchBoard::slotUnder(QPointF at) const {
  return nearestTo(at, slots_.size(), [this](size_t i) { return slotPoint(i); });
}
int MatchBoard::boneUnder(QPointF at) const {
  return nearestTo(at, bones_.size(), [this](size_t i) { return bonePoint(i); });
}

void MatchBoard::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  paintGround(p);
  paintLinks(p);
  paintBones(p);
  for (size_t i = 0; i < slots_.size(); ++i) paintSlot(p, i);
  if (dragged_ >= 0) {
    p.setPen(QPen(t.click, 2));
    p.drawLine(slotPoint(static_cast<size_t>(dragged_)), pointer_);
  }
  if (hasFocus()) {
    p.setPen(QPen(t.click, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
  }
}

void MatchBoard::paintGround(QPainter& p) const {
  const Theme& t = theme();
  p.setPen(Qt::NoPen);
  p.setBrush(t.sheet);
  p.drawRoundedRect(rect(), 4, 4);
  p.setFont(typeface(11));
  p.setPen(t.quiet);
  p.drawText(QRectF(8, 4, width() / 2.0 - 12, 18), Qt::AlignVCenter | Qt::AlignLeft, tr("the game's"));
  p.drawText(QRectF(width() / 2.0, 4, width() / 2.0 - 8, 18), Qt::AlignVCenter | Qt::AlignRight,
             tr("the model's"));
  // The game's body as a figure: round strokes along its bones.
  QColor flesh = t.hair;
  p.setPen(QPen(flesh, 13, Qt::SolidLine, Qt::RoundCap));
  for (size_t i = 0; i < slots_.size(); ++i)
    if (slots_[i].parent >= 0 && slots_[static_cast<size_t>(slots_[i].parent)].parent >= 0)
      p.drawLine(slotPoint(static_cast<size_t>(slots_[i].parent)), slotPoint(i));
}

// Which bone is whose: a hairline each, the one in question strong.
void MatchBoard::paintLinks(QPainter& p) const {
  const Theme& t = theme();
  for (size_t i = 0; i < slots_.size(); ++i) {
    if (slots_[i].bone < 0) continue;
    const bool strong = static_cast<int>(i) == chosen_ || static_cast<int>(i) == over_slot_ ||
                        (over_bone_ >= 0 && slots_[i].bone == over_bone_);
    QPen line(strong ? t.click : t.hair, strong ? 1.8 : 0.8);
    if (slots_[i].state == State::unsure) line.setDashPattern({4, 3});
    p.setPen(line);
    p.drawLine(slotPoint(i), bonePoint(static_cast<size_t>(slots_[i].bone)));
  }
}

void MatchBoard::paintBones(QPainter& p) const {
  const Theme& t = theme();
  p.setPen(QPen(t.quiet, 1.4));
  for (size_t i = 0; i < bones_.size(); ++i)
    if (bones_[i].parent >= 0) p.drawLine(bonePoint(static_cast<size_t>(bones_[i].parent)), bonePoint(i));
  for (size_t i = 0; i < bones_.size(); ++i) {
    // A surplus bone is a cross, one that is taken a dot.
    const QPointF at = bonePoint(i);
    const bool over = static_cast<int>(i) == over_bone_;
    if (bones_[i].surplus) {
      p.setPen(QPen(over ? t.click : t.quiet, 1.3));
      p.drawLine(at - QPointF(2.5, 2.5), at + QPointF(2.5, 2.5));
      p.drawLine(at - QPointF(2.5, -2.5), at + QPointF(2.5, -2.5));
    } else {
      p.setPen(QPen(t.sheet, 1));
      p.setBrush(over ? t.click : t.ink);
      p.drawEllipse(at, over ? 4.5 : 3, over ? 4.5 : 3);
    }
  }
}

void MatchBoard::paintSlot(QPainter& p, size_t i) const {
  const Theme& t = theme();
  const QPointF at = slotPoint(i);
  const bool chosen = static_cast<int>(i) == chosen_;
  const double r = chosen || static_cast<int>(i) == over_slot_ ? 6 : 4.5;
  // Full: sure. Half: perhaps. Hollow: nothing.
  const QColor color = slots_[i].state == State::sure     ? t.ink
                       : slots_[i].state == State::unsure ? t.shows
                       : slots_[i].state == State::empty  ? t.stops
                                                          : t.quiet;
  p.setPen(QPen(color, 1.8));
  p.setBrush(slots_[i].state == State::sure ? color : t.sheet);
  p.drawEllipse(at, r, r);
  if (slots_[i].state == State::unsure) {
    p.setBrush(color);
    p.drawPie(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r), 90 * 16, 180 * 16);
  }
  if (chosen) {
    p.setPen(QPen(t.click, 1.6));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(at, r + 3, r + 3);
  }
}

void MatchBoard::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  pointer_ = event->position();
  const int slot = slotUnder(pointer_), bone = boneUnder(pointer_);
  if (slot >= 0) {
    dragged_ = slot;
    choose(slots_[static_cast<size_t>(slot)].id);
  } else if (bone >= 0 && chosen_ >= 0) {
    Q_EMIT given(chosen(), bones_[static_cast<size_t>(bone)].key);
  }
}

void MatchBoard::mouseMoveEvent(QMouseEvent* event) {
  pointer_ = event->position();
  over_slot_ = slotUnder(pointer_);
  over_bone_ = boneUnder(pointer_);
  const int shown = over_bone_ >= 0   ? over_bone_
                    : over_slot_ >= 0 ? slots_[static_cast<size_t>(over_slot_)].bone
                                      : -1;
  Q_EMIT pointedAt(shown >= 0 ? bones_[static_cast<size_t>(shown)].key : QString());
  update();
}

void MatchBoard::mouseReleaseEvent(QMouseEvent* event) {
  const int from = std::exchange(dragged_, -1), bone = boneUnder(event->position());
  update();
  if (from >= 0 && bone >= 0 && slotUnder(event->position()) != from)
    Q_EMIT given(slots_[static_cast<size_t>(from)].id, bones_[static_cast<size_t>(bone)].key);
}

void MatchBoard::keyPressEvent(QKeyEvent* event) {
  const int count = static_cast<int>(slots_.size());
  const bool on = event->key() == Qt::Key_Down || event->key() == Qt::Key_Right,
             back = event->key() == Qt::Key_Up || event->key() == Qt::Key_Left;
  if (count == 0 || !(on || back)) return QWidget::keyPressEvent(event);
  const int next = chosen_ < 0 ? (on ? 0 : count - 1) : (chosen_ + (on ? 1 : count - 1)) % count;
  choose(slots_[static_cast<size_t>(next)].id);
}

void MatchBoard::leaveEvent(QEvent*) {
  over_slot_ = over_bone_ = -1;
  Q_EMIT pointedAt({});
  update();
}

bool MatchBoard::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const int slot = slotUnder(help->pos()), bone = boneUnder(help->pos());
    const QString text = slot >= 0   ? slots_[static_cast<size_t>(slot)].title
                         : bone >= 0 ? bones_[static_cast<size_t>(bone)].name
                                     : QString();
    QToolTip::showText(help->globalPos(), text, this);
    return true;
  }
  return QWidget::event(event);
}

}  // namespace rakugo::app
