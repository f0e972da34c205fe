#include "app/widgets/gauge.h"

#include <QLineEdit>
#include <QPainter>
#include <QRegularExpression>
#include <cmath>

#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {

std::optional<double> typedLength(const QString& text) {
  static const QRegularExpression kLength(
      QStringLiteral("^\\s*([0-9]+(?:[.,][0-9]+)?)\\s*(mm|cm|m|in|ft)?\\s*$"));
  const auto match = kLength.match(text);
  if (!match.hasMatch()) return std::nullopt;
  const double number = match.captured(1).replace(QLatin1Char(','), QLatin1Char('.')).toDouble();
  const QString unit = match.captured(2);
  const double factor = unit == QLatin1String("mm")   ? 0.001
                        : unit == QLatin1String("cm") ? 0.01
                        : unit == QLatin1String("in") ? 0.0254
                        : unit == QLatin1String("ft") ? 0.3048
                                                      : 1;
  return number > 0 ? std::optional<double>(number * factor) : std::nullopt;
}

Gauge::Gauge(const QString& name, QWidget* parent, std::function<QString(double)> text)
    : QWidget(parent), name_(name), text_(std::move(text)) {
  setFixedHeight(78);
  edit_ = new QLineEdit(this);
  edit_->setObjectName(QStringLiteral("gauge-") + name.toLower());
  edit_->setAccessibleName(name);
  edit_->setAlignment(Qt::AlignRight);
  if (text_) {
    // It follows from the three extents: read, not typed.
    edit_->setReadOnly(true);
    edit_->setStyleSheet(QStringLiteral("border: none; background: transparent;"));
    return;
  }
  text_ = [](double length) { return q(base::lengthText(length)); };
  edit_->setToolTip(tr("Type a length to fit: 2.4 m, 240 cm"));
  connect(edit_, &QLineEdit::editingFinished, this, [this] {
    if (!edit_->isModified()) return;
    edit_->setModified(false);
    if (const auto length = typedLength(edit_->text()))
      Q_EMIT typed(*length);
    else
      setValue(value_, band_, ghost_);
  });
}

void Gauge::setValue(double value, std::optional<rulebook::Band> band, std::optional<double> ghost) {
  value_ = value;
  band_ = band;
  ghost_ = ghost;
  if (!edit_->hasFocus() || !edit_->isModified()) edit_->setText(text_(value));
  edit_->setModified(false);
  update();
}

void Gauge::resizeEvent(QResizeEvent*) {
  // What is only read has no frame to keep in line with others, and a volume in litres can be a long number.
  const int wide = edit_->isReadOnly() ? 170 : 96;
  edit_->setGeometry(width() - wide, 0, wide, 27);
}

void Gauge::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(typeface(13, true));
  p.setPen(t.ink);
  p.drawText(QRectF(0, 0, width() - 100, 27), Qt::AlignVCenter, name_);
  if (value_ <= 0) return;
  // The rule is logarithmic, so that a thing a hundred times too large is still on it.
  double low = value_, high = value_;
  if (band_) low = std::min(low, std::max(band_->min, 1e-3)), high = std::max(high, band_->max);
  // The ghost too, unless it is of another order altogether.
  if (ghost_ && *ghost_ > value_ / 30 && *ghost_ < value_ * 30)
    low = std::min(low, *ghost_), high = std::max(high, *ghost_);
  low /= 1.6;
  high *= 1.6;
  const double left = 2, right = width() - 2.0, y = 46;
  const auto x = [&](double v) {
    return left + (right - left) * std::clamp(std::log(v / low) / std::log(high / low), 0.0, 1.0);
  };
  p.setPen(QPen(t.quiet, 1));
  p.drawLine(QPointF(left, y), QPointF(right, y));
  for (double power = std::pow(10, std::floor(std::log10(low))); power <= high; power *= 10)
    for (int k = 1; k < 10; ++k) {
      const double v = power * k;
      if (v < low || v > high) continue;
      p.setPen(QPen(t.quiet, k == 1 ? 1.2 : 0.7));
      p.drawLine(QPointF(x(v), y - (k == 1 ? 5 : 3)), QPointF(x(v), y));
    }
  const bool inside = !band_ || band_->holds(value_);
  if (band_) {
    p.setPen(QPen(t.good, 5, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(x(std::max(band_->min, low)), y + 3), QPointF(x(band_->max), y + 3));
  }
  if (ghost_ && *ghost_ > low && *ghost_ < high) {
    p.setPen(QPen(t.ink, 1, Qt::DashLine));
    p.drawLine(QPointF(x(*ghost_), y - 10), QPointF(x(*ghost_), y + 10));
  }
  // The value: a plumb bob; vermilion, and hollow, when it hangs outside the band.
  const double vx = x(value_);
  p.setPen(QPen(inside ? t.good : t.stops, 2));
  p.setBrush(inside ? QBrush(t.good) : QBrush(t.paper));
  p.drawPolygon(QPolygonF({{vx - 5, y - 13}, {vx + 5, y - 13}, {vx, y - 3}}));
  p.setFont(typeface(11));
  p.setPen(t.quiet);
  QString said;
  if (band_) said = QObject::tr("%1 to %2").arg(text_(band_->min), text_(band_->max));
  if (ghost_)
    said += (said.isEmpty() ? QString() : QStringLiteral("  ·  ")) +
            QObject::tr("the ghost: %1").arg(text_(*ghost_));
  p.drawText(QRectF(0, 57, width(), 18), Qt::AlignVCenter, said);
}

}  // namespace rakugo::app
