#include "app/stations/objects/place_editor.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QPushButton>
#include <QSettings>
#include <QSignalBlocker>
#include <cmath>

#include "app/widgets/panels.h"
#include "base/text.h"

namespace rakugo::app {
namespace {

const QString kSnapKey = QStringLiteral("objects/snap");
constexpr std::array<double, 4> kSteps_m = {0.01, 0.05, 0.1, 0.5};

}  // namespace

QDoubleSpinBox* narrowNumber(const QString& name, const QString& title, const QString& suffix,
                             QWidget* parent) {
  auto* out = new QDoubleSpinBox(parent);
  out->setObjectName(name);
  out->setAccessibleName(title);
  out->setToolTip(title);
  out->setSuffix(suffix);
  out->setKeyboardTracking(false);
  out->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  out->setMinimumWidth(84);
  return out;
}

PlaceEditor::PlaceEditor(const QString& thing, const QString& from, QWidget* parent)
    : QWidget(parent), thing_(thing) {
  auto* rows = new QVBoxLayout(this);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(6);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(4);
  const std::array<QString, 3> ids = {QStringLiteral("forward"), QStringLiteral("side"),
                                      QStringLiteral("up")};
  const std::array<QString, 3> names = {tr("Forward"), tr("Left"), tr("Up")};
  grid->addWidget(quietText(tr("Where"), this), 0, 1);
  grid->addWidget(quietText(tr("Turned about it"), this), 0, 2);
  for (size_t i = 0; i < 3; ++i) {
    const int row = static_cast<int>(i) + 1;
    grid->addWidget(quietText(names[i], this), row, 0);
    at_[i] = narrowNumber(thing + QStringLiteral("-at-") + ids[i], tr("%1, from %2").arg(names[i], from),
                          tr(" m"), this);
    at_[i]->setDecimals(3);
    at_[i]->setRange(-1000, 1000);
    at_[i]->setSingleStep(0.01);
    connect(at_[i], &QDoubleSpinBox::valueChanged, this, [this] { takeNumbers(true); });
    turn_[i] = narrowNumber(thing + QStringLiteral("-turn-") + ids[i],
                            tr("Turned about the axis: %1").arg(names[i]), tr("°"), this);
    turn_[i]->setDecimals(1);
    turn_[i]->setRange(-360, 360);
    turn_[i]->setSingleStep(5);
    connect(turn_[i], &QDoubleSpinBox::valueChanged, this, [this] { takeNumbers(false); });
    grid->addWidget(at_[i], row, 1);
    grid->addWidget(turn_[i], row, 2);
  }
  grid->setColumnStretch(1, 1);
  grid->setColumnStretch(2, 1);
  rows->addLayout(grid);
  auto* hand = new QHBoxLayout;
  hand->setSpacing(6);
  turn_by_hand_ = new QPushButton(tr("Turn by hand"), this);
  turn_by_hand_->setObjectName(QStringLiteral("turn-") + thing);
  turn_by_hand_->setCheckable(true);
  turn_by_hand_->setProperty("quiet", true);
  turn_by_hand_->setToolTip(tr("A ring in the bench in place of the arrows"));
  connect(turn_by_hand_, &QPushButton::toggled, this, &PlaceEditor::handChanged);
  hand->addWidget(turn_by_hand_);
  about_ = new QComboBox(this);
  about_->setObjectName(QStringLiteral("turn-%1-about").arg(thing));
  about_->setAccessibleName(tr("What the ring turns about"));
  about_->setToolTip(about_->accessibleName());
  about_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  about_->setMinimumContentsLength(8);
  about_->addItems({tr("about forward"), tr("about the side"), tr("about up")});
  about_->setCurrentIndex(2);
  connect(about_, &QComboBox::currentIndexChanged, this, &PlaceEditor::handChanged);
  hand->addWidget(about_, 1);
  rows->addLayout(hand);
  // How it moves is a habit of the person, not of the thing: one for all, kept.
  snap_ = new QComboBox(this);
  snap_->setObjectName(QStringLiteral("snap-") + thing);
  snap_->setAccessibleName(tr("What draws it while it is dragged"));
  snap_->setToolTip(snap_->accessibleName());
  snap_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  snap_->setMinimumContentsLength(8);
  snap_->addItem(tr("moves freely"), QStringLiteral("free"));
  snap_->addItem(tr("moves to what is near"), QStringLiteral("near"));
  for (const double step : kSteps_m)
    snap_->addItem(tr("moves in steps of %1").arg(q(base::lengthText(step))), QString::number(step));
  connect(snap_, &QComboBox::activated, this,
          [this] { QSettings().setValue(kSnapKey, snap_->currentData().toString()); });
  rows->addWidget(snap_);
  put_ = new QPushButton(tr("Put it where I click"), this);
  put_->setObjectName(QStringLiteral("put-") + thing);
  put_->setCheckable(true);
  put_->setProperty("quiet", true);
  put_->setToolTip(tr("The next click in the bench says where on the surface it stands"));
  connect(put_, &QPushButton::toggled, this, &PlaceEditor::handChanged);
  rows->addWidget(put_, 0, Qt::AlignLeft);
}

void PlaceEditor::show(const prepare::PiecePlace& place, const prepare::GameAxes& axes) {
  place_ = place;
  axes_ = axes;
  snap_->setCurrentIndex(std::max(0, snap_->findData(QSettings().value(kSnapKey).toString())));
  const glm::dvec3 at(place.position_m[0], place.position_m[1], place.position_m[2]);
  const glm::dquat turn(place.turn[3], place.turn[0], place.turn[1], place.turn[2]);
  const glm::dvec3 angles = prepare::anglesOf(axes, glm::quat(glm::normalize(turn)));
  const std::array<glm::vec3, 3> along = {axes.forward, axes.side, axes.up};
  for (size_t i = 0; i < 3; ++i) {
    const QSignalBlocker quiet_at(at_[i]), quiet_turn(turn_[i]);
    at_[i]->setValue(glm::dot(at, glm::dvec3(along[i])));
    turn_[i]->setValue(angles[static_cast<int>(i)]);
  }
}

// What was not typed stays as exact as it was.
void PlaceEditor::takeNumbers(bool position) {
  prepare::PiecePlace next = place_;
  if (position) {
    const glm::dvec3 at = glm::dvec3(axes_.forward) * at_[0]->value() +
                          glm::dvec3(axes_.side) * at_[1]->value() + glm::dvec3(axes_.up) * at_[2]->value();
    next.position_m = {at.x + 0.0, at.y + 0.0, at.z + 0.0};
  } else {
    const glm::dquat turn = prepare::turnOf(axes_, {turn_[0]->value(), turn_[1]->value(), turn_[2]->value()});
    next.turn = {turn.x, turn.y, turn.z, turn.w};
  }
  place_ = next;
  Q_EMIT edited(next);
}

bool PlaceEditor::turnsByHand() const { return turn_by_hand_->isChecked(); }
size_t PlaceEditor::turnsAbout() const { return static_cast<size_t>(std::max(0, about_->currentIndex())); }
glm::vec3 PlaceEditor::turnAxis() const {
  return std::array<glm::vec3, 3>{axes_.forward, axes_.side, axes_.up}[turnsAbout()];
}

std::array<double, 4> PlaceEditor::turnedBy(const std::array<double, 4>& turn, double degrees) const {
  const glm::dquat was = glm::normalize(glm::dquat(turn[3], turn[0], turn[1], turn[2]));
  const glm::dquat now = glm::normalize(glm::angleAxis(glm::radians(degrees), glm::dvec3(turnAxis())) * was);
  return {now.x, now.y, now.z, now.w};
}

prepare::SnapOptions PlaceEditor::snap(double near_m) const {
  if (snap_->currentData() == QStringLiteral("near")) return {0, near_m};
  return {snap_->currentData().toString().toDouble(), 0};
}

double PlaceEditor::snappedAngle(double degrees) const {
  constexpr double kStep_deg = 5;
  return snap(0).step_m > 0 ? std::round(degrees / kStep_deg) * kStep_deg : degrees;
}

bool PlaceEditor::putsByClick() const { return put_->isChecked(); }
void PlaceEditor::clickWasUsed() { put_->setChecked(false); }
QWidget* PlaceEditor::first() const { return at_[0]; }

}  // namespace rakugo::app
