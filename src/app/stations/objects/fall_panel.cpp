#include "app/stations/objects/fall_panel.h"

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <algorithm>

#include "app/shell/display.h"
#include "app/stations/objects/place_editor.h"
#include "app/widgets/panels.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

constexpr int kFrame_ms = 16, kLookAtIt = 90;  // frames for which the end is seen
constexpr double kLongest_s = 12;              // of a fall that does not come to rest

}  // namespace

FallPanel::FallPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  drop_ = new QPushButton(tr("Let it fall"), this);
  drop_->setObjectName(QStringLiteral("let-fall"));
  drop_->setToolTip(tr("In the bench, by its mass, its hull and the bounce and friction of its first shape"));
  connect(drop_, &QPushButton::clicked, this, &FallPanel::begin);
  row->addWidget(drop_);
  row->addWidget(quietText(tr("from"), this));
  height_ = narrowNumber(QStringLiteral("fall-from"), tr("How high its lowest point begins"), tr(" m"), this);
  height_->setRange(0.05, 20);
  height_->setValue(1);
  height_->setSingleStep(0.25);
  row->addWidget(height_, 1);
  row->addStretch(1);
  column->addLayout(row);
  said_ = quietText(QString(), this);
  said_->setObjectName(QStringLiteral("fell"));
  said_->setVisible(false);
  column->addWidget(said_);
  frames_.setInterval(kFrame_ms);
  connect(&frames_, &QTimer::timeout, this, &FallPanel::goOn);
}

void FallPanel::refresh() {
  const auto& scene = session_.scene();
  const bool has = session_.isOpen() && scene && scene->object == session_.object() && scene->body;
  setVisible(has);
  const auto body = has ? scene->body : nullptr;
  if (body == of_) return;
  of_ = body;
  stop();
  said_->setVisible(false);
}

void FallPanel::stop() {
  frames_.stop();
  fall_.reset();
  bench_.setFall(std::nullopt);
}

void FallPanel::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  stop();
}

void FallPanel::begin() {
  stop();
  if (!of_) return;
  const prepare::GameAxes axes = prepare::gameAxes(session_.book());
  fall_.emplace(prepare::fallingBody(of_->body), glm::dvec3(axes.up), height_->value());
  rested_frames_ = 0;
  said_->setVisible(false);
  // Who wants less motion sees how it ends.
  if (lessMotion()) fall_->advance(kLongest_s);
  clock_.start();
  frames_.start();
  goOn();
}

void FallPanel::goOn() {
  if (!fall_ || !session_.scene()) return stop();
  // As time goes by, but no further than a picture at a time on a slow machine.
  const double since = static_cast<double>(clock_.restart()) / 1000;
  fall_->advance(std::clamp(since, 0.0, 0.05));
  const glm::mat4& from = session_.scene()->from_object;
  bench_.setFall(from * fall_->place() * glm::inverse(from));
  if (!fall_->atRest() && fall_->time_s() < kLongest_s) return;
  if (rested_frames_++ == 0) sayResult();
  if (rested_frames_ > kLookAtIt) stop();
}

void FallPanel::sayResult() {
  const double lean = glm::degrees(fall_->lean_rad());
  QStringList lines;
  lines << (fall_->bounced_m() > 0.005 ? tr("It bounces to %1.").arg(q(base::lengthText(fall_->bounced_m())))
                                       : tr("It does not bounce."));
  if (!fall_->atRest())
    lines << tr("It still moves after %1 s.").arg(q(base::numberText(fall_->time_s(), 0)));
  else if (lean < 5)
    lines << tr("It comes to rest after %1 s, as it stands.").arg(q(base::numberText(fall_->time_s(), 1)));
  else
    lines << tr("It comes to rest after %1 s, fallen over: it leans by %2°.")
                 .arg(q(base::numberText(fall_->time_s(), 1)), q(base::numberText(lean, 0)));
  said_->setText(lines.join(QLatin1Char(' ')));
  said_->setVisible(true);
}

}  // namespace rakugo::app
