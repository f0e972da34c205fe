#include "app/shell/route.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <map>

#include "app/widgets/theme.h"

namespace rakugo::app {

QString stationTitle(Station station) {
  switch (station) {
    case Station::sources:
      return QObject::tr("Sources");
    case Station::shape:
      return QObject::tr("Shape");
    case Station::skeleton:
      return QObject::tr("Skeleton");
    case Station::surface:
      return QObject::tr("Surface");
    case Station::objects:
      return QObject::tr("Objects");
    case Station::bundle:
      return QObject::tr("Bundle");
    case Station::tryout:
      return QObject::tr("Tryout");
  }
  return {};
}

Station stationOf(const std::string& check) {
  const check::CheckRow* row = check::findCheck(check);
  return row != nullptr ? row->station : Station::shape;
}

RouteStop::RouteStop(Station station, QWidget* parent) : QAbstractButton(parent), station_(station) {
  setText(stationTitle(station));
  setCheckable(true);
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::PointingHandCursor);
  setObjectName(QStringLiteral("stop-") + QLatin1String(check::stationName(station)));
}

void RouteStop::setCounts(size_t stops, size_t shows, size_t tidy, bool known) {
  stops_ = stops;
  shows_ = shows;
  tidy_ = tidy;
  known_ = known;
  setAccessibleName(known ? tr("%1, %2 findings").arg(text()).arg(stops + shows + tidy) : text());
  update();
}

void RouteStop::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (underMouse() && !isChecked()) p.fillRect(rect().adjusted(2, 2, -2, -2), t.wash);
  const QPointF k = knot();
  p.setPen(QPen(isEnabled() ? t.click : t.hair, 2));
  p.setBrush(isChecked() ? t.click : t.paper);
  p.drawEllipse(k, 7, 7);
  p.setFont(typeface(14, isChecked()));
  p.setPen(isEnabled() ? (isChecked() ? t.ink : t.click) : t.quiet);
  p.drawText(QRect(30, 6, width() - 30, 22), Qt::AlignVCenter | Qt::AlignLeft, text());
  p.setFont(typeface(12));
  double x = 35;
  const auto mark = [&](size_t count, check::Severity severity) {
    if (count == 0) return;
    drawSeverity(p, {x, 38}, 9, severity);
    p.setPen(severityColor(severity));
    const QString number = QString::number(count);
    p.drawText(QPointF(x + 8, 42.5), number);
    x += 16 + p.fontMetrics().horizontalAdvance(number) + 5;
  };
  if (known_ && station_ != Station::tryout) {
    mark(stops_, check::Severity::stops);
    mark(shows_, check::Severity::shows);
    mark(tidy_, check::Severity::tidy);
    if (stops_ + shows_ + tidy_ == 0) {
      drawGood(p, {36, 38}, 11);
      p.setPen(t.good);
      p.drawText(QPointF(46, 42.5), tr("in order"));
    }
  }
  if (hasFocus()) {
    p.setPen(QPen(t.click, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(2, 2, -2, -2), 3, 3);
  }
}

Route::Route(QWidget* parent) : QWidget(parent) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(16, 4, 16, 4);
  layout->setSpacing(6);
  for (const Station station : kStations) {
    auto* stop = new RouteStop(station, this);
    stops_.push_back(stop);
    layout->addWidget(stop);
    connect(stop, &QAbstractButton::clicked, this, [this, station] { Q_EMIT chosen(station); });
  }
  layout->addStretch();
  state_ = new QLabel(this);
  state_->setObjectName(QStringLiteral("state"));
  state_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  state_->setProperty("tone", QByteArray("quiet"));
  layout->addWidget(state_);
  build_ = new QPushButton(tr("Build"), this);
  build_->setObjectName(QStringLiteral("build"));
  build_->setProperty("lead", true);
  build_->setMinimumWidth(96);
  build_->setToolTip(tr("Build the mod into a bundle"));
  layout->addWidget(build_);
  connect(build_, &QPushButton::clicked, this, &Route::buildAsked);
  setFixedHeight(64);
  stops_[0]->setChecked(true);
}

void Route::setStation(Station station) {
  station_ = station;
  for (RouteStop* stop : stops_) stop->setChecked(stop->station() == station);
}

void Route::setFindings(const std::vector<check::Finding>& findings, bool known) {
  std::map<Station, std::array<size_t, 3>> counts;
  for (const check::Finding& f : findings)
    if (!f.set_aside) ++counts[stationOf(f.check)][static_cast<size_t>(f.severity)];
  for (RouteStop* stop : stops_) {
    const std::array<size_t, 3>& of = counts[stop->station()];
    stop->setCounts(of[0], of[1], of[2], known);
  }
}

void Route::setState(const QString& text) { state_->setText(text); }

void Route::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), theme().paper);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(theme().hair, 1));
  p.drawLine(0, height() - 1, width(), height() - 1);
  // The line runs from knot to knot and on to Build, under the labels' height.
  p.setPen(QPen(theme().click, 2));
  for (size_t i = 0; i + 1 < stops_.size(); ++i) {
    const QPoint a = stops_[i]->pos() + stops_[i]->knot(), b = stops_[i + 1]->pos() + stops_[i + 1]->knot();
    p.drawLine(
        QPointF(a.x() + 30 + stops_[i]->fontMetrics().horizontalAdvance(stops_[i]->text()) + 14, a.y()),
        QPointF(b.x() - 8, b.y()));
  }
}

}  // namespace rakugo::app
