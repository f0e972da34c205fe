#include "app/stations/surface/density_scale.h"

#include <QEvent>
#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>

#include "app/widgets/theme.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

constexpr int kHigh_px = 64, kWidest_px = 460, kMargin_px = 12, kLine_px = 40;
constexpr double kNear_px = 9;

}  // namespace

DensityScale::DensityScale(QWidget* over) : QWidget(over) {
  setObjectName(QStringLiteral("density-scale"));
  setAccessibleName(tr("Pixels to a metre"));
  over->installEventFilter(this);
  hide();
  settle();
}

QColor DensityScale::colorOf(Side side) {
  return side == Side::within ? theme().good : side == Side::below ? theme().click : theme().stops;
}

void DensityScale::setMarks(std::vector<Mark> marks, std::optional<rulebook::Band> band) {
  marks_ = std::move(marks);
  band_ = band;
  // From the least to the most that is to be seen, with some air; whole powers of two.
  double least = 1e9, most = 0;
  for (Mark& mark : marks_) {
    mark.side = band_ && mark.texels_per_m < band_->min   ? Side::below
                : band_ && mark.texels_per_m > band_->max ? Side::above
                                                          : Side::within;
    least = std::min(least, mark.texels_per_m);
    most = std::max(most, mark.texels_per_m);
  }
  if (band_) {
    least = std::min(least, band_->min);
    most = std::max(most, band_->max);
  }
  if (most <= 0 || least <= 0) least = std::max(1.0, most / 64), most = std::max(most, 64.0);
  least_ = std::exp2(std::floor(std::log2(least) - 0.25));
  most_ = std::exp2(std::ceil(std::log2(most) + 0.25));
  QStringList said;
  for (const Mark& mark : marks_)
    said << tr("%1: %2").arg(mark.name, q(base::numberText(mark.texels_per_m, 0)));
  setAccessibleDescription(said.join(QStringLiteral(", ")));
  update();
}

double DensityScale::across(double texels_per_m) const {
  const double share =
      (std::log2(std::max(texels_per_m, 1e-6)) - std::log2(least_)) / (std::log2(most_) - std::log2(least_));
  return kMargin_px + std::clamp(share, 0.0, 1.0) * (width() - 2 * kMargin_px);
}

QPointF DensityScale::placeOf(const Mark& mark) const { return {across(mark.texels_per_m), kLine_px}; }

const DensityScale::Mark* DensityScale::at(QPointF place) const {
  const Mark* out = nullptr;
  double nearest = kNear_px;
  for (const Mark& mark : marks_)
    if (const double off = std::abs(placeOf(mark).x() - place.x()); off <= nearest) {
      nearest = off;
      out = &mark;
    }
  return out;
}

void DensityScale::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Theme& t = theme();
  p.fillRect(rect(), t.paper);
  p.setPen(t.hair);
  p.drawRect(rect().adjusted(0, 0, -1, -1));
  p.setFont(typeface(11));
  p.setPen(t.quiet);
  const QString title =
      !band_ ? tr("Pixels to a metre")
             : tr("Pixels to a metre: %1 to %2 are allowed")
                   .arg(q(base::numberText(band_->min, 0)), q(base::numberText(band_->max, 0)));
  p.drawText(QRect(kMargin_px, 2, width() - 2 * kMargin_px, 16), Qt::AlignLeft | Qt::AlignVCenter,
             marks_.empty() ? tr("No material shows a picture on a surface.") : title);
  if (band_) {
    QColor fill = t.good;
    fill.setAlpha(60);
    p.fillRect(QRectF(QPointF(across(band_->min), kLine_px - 7), QPointF(across(band_->max), kLine_px + 7)),
               fill);
  }
  p.drawLine(QPointF(kMargin_px, kLine_px), QPointF(width() - kMargin_px, kLine_px));
  // Figures, as many as there is room for.
  double last = -100;
  for (double v = least_; v <= most_ * 1.01; v *= 2) {
    const double x = across(v);
    p.drawLine(QPointF(x, kLine_px), QPointF(x, kLine_px + 4));
    const QString text = q(base::numberText(v, 0));
    const double wide = p.fontMetrics().horizontalAdvance(text);
    const double left = std::clamp(x - wide / 2, 2.0, width() - wide - 2);
    if (left < last + 8) continue;
    p.drawText(QPointF(left, kLine_px + 18), text);
    last = left + wide;
  }
  // A shape for each side of the band, not its colour alone.
  for (const Mark& mark : marks_) {
    const QPointF c = placeOf(mark);
    p.setPen(QPen(t.paper, 1));
    p.setBrush(colorOf(mark.side));
    constexpr double r = 6;
    if (mark.side == Side::within) {
      p.drawEllipse(c, r - 1, r - 1);
    } else {
      const double up = mark.side == Side::above ? -1 : 1;
      p.drawPolygon(QPolygonF({c + QPointF(0, up * r), c + QPointF(-r, -up * r), c + QPointF(r, -up * r)}));
    }
  }
  p.setPen(t.ink);
  last = -100;
  std::vector<const Mark*> order;
  for (const Mark& mark : marks_) order.push_back(&mark);
  std::sort(order.begin(), order.end(),
            [](const Mark* a, const Mark* b) { return a->texels_per_m < b->texels_per_m; });
  for (const Mark* mark : order) {
    const double wide = p.fontMetrics().horizontalAdvance(mark->name);
    const double left = std::clamp(placeOf(*mark).x() - wide / 2, 2.0, std::max(2.0, width() - wide - 2));
    if (left < last + 8) continue;  // its tip says it
    p.drawText(QPointF(left, kLine_px - 11), mark->name);
    last = left + wide;
  }
}

void DensityScale::mousePressEvent(QMouseEvent* event) {
  if (const Mark* mark = at(event->position())) Q_EMIT picked(q(mark->material));
}

bool DensityScale::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = dynamic_cast<QHelpEvent*>(event);
    const Mark* mark = help != nullptr ? at(help->pos()) : nullptr;
    if (mark != nullptr)
      QToolTip::showText(help->globalPos(), tr("%1 shows %2 pixels of its picture to a metre")
                                                .arg(mark->name, q(base::numberText(mark->texels_per_m, 0))));
    return true;
  }
  return QWidget::event(event);
}

bool DensityScale::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::Resize) settle();
  return QWidget::eventFilter(watched, event);
}

void DensityScale::settle() {
  const QWidget* over = parentWidget();
  const int wide = std::min(kWidest_px, over->width() - 24);
  setGeometry((over->width() - wide) / 2, over->height() - kHigh_px - 10, wide, kHigh_px);
}

}  // namespace rakugo::app
