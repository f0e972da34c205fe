#include "app/shell/guide.h"

#include <QFile>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <algorithm>

#include "app/shell/route.h"
#include "app/widgets/panels.h"

namespace rakugo::app {
namespace {

// What is to be done, and the checks that must have nothing left to say for it to be done. Words are the
// mends' own.
struct Step {
  const char* text;
  std::vector<const char*> checks;
  Station station;
};

const std::vector<Step>& allSteps() {
  static const std::vector<Step> kSteps = {
      {QT_TRANSLATE_NOOP("Guide",
                         "The gauges at the right say that the model is a hundred times too large. Press the "
                         "first cure under Findings, below."),
       {"size.unit"},
       Station::shape},
      {QT_TRANSLATE_NOOP(
           "Guide",
           "It lies on its side: the game's up and forward are others. Press the cure that turns "
           "it, or point at its front."),
       {"axes.differ", "axes.facing"},
       Station::shape},
      {QT_TRANSLATE_NOOP(
           "Guide",
           "It stands beside its own place, and sizes lie beside the mesh. Put the origin at the "
           "floor's centre and bake what is left."),
       {"origin.place", "placement.not_baked"},
       Station::shape},
      {QT_TRANSLATE_NOOP("Guide",
                         "One picture is not found, for a capital letter. Take the one that is there."),
       {"picture.missing", "picture.damaged"},
       Station::surface},
      {QT_TRANSLATE_NOOP("Guide", "Tell the game what each material is: give the roles it asks for."),
       {"role.missing"},
       Station::surface},
      {QT_TRANSLATE_NOOP("Guide", "A camera and a light came along. Drop them."),
       {"part.stray"},
       Station::shape},
      {QT_TRANSLATE_NOOP("Guide", "Fill in the card: what it is called, what it costs, what it is for."),
       {"field.empty", "field.limits"},
       Station::objects},
      {QT_TRANSLATE_NOOP(
           "Guide", "Place what the game hangs on it, turn the bench to a good angle and take the icon."),
       {"point.missing", "icon.missing", "icon.size", "role.missing"},
       Station::objects},
      {QT_TRANSLATE_NOOP("Guide",
                         "Nothing is left to say against it. Press Build, at the end of the line above."),
       {},
       Station::bundle},
      {QT_TRANSLATE_NOOP("Guide", "It is built. Go to Tryout and start the game."), {}, Station::tryout}};
  return kSteps;
}

}  // namespace

int Guide::steps() { return static_cast<int>(allSteps().size()); }

Guide::Guide(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
  setObjectName(QStringLiteral("guide"));
  setProperty("notice", true);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(16, 16, 12, 8);
  row->setSpacing(8);
  text_ = new QLabel(this);
  text_->setObjectName(QStringLiteral("guide-text"));
  text_->setWordWrap(true);
  text_->setFont(typeface(14));
  row->addWidget(text_, 1);
  show_ = new QPushButton(tr("Show me where"), this);
  show_->setObjectName(QStringLiteral("guide-show"));
  connect(show_, &QPushButton::clicked, this, &Guide::showIt);
  row->addWidget(show_);
  auto* leave = new QPushButton(tr("Go on alone"), this);
  leave->setObjectName(QStringLiteral("guide-leave"));
  leave->setProperty("quiet", true);
  connect(leave, &QPushButton::clicked, this, &Guide::leave);
  row->addWidget(leave);
  hide();
}

void Guide::begin() {
  going_ = true;
  tried_ = false;
  step_ = 0;
  text_->setText(tr("Looking at the model…"));
  show();
}

void Guide::leave() {
  going_ = false;
  hide();
}

void Guide::refresh(bool game_running) {
  if (!going_ || !session_.isOpen() || !session_.isExamined()) return;
  tried_ = tried_ || game_running;
  const auto& findings = session_.examination()->findings;
  const auto said = [&](const char* check) {
    return std::any_of(findings.begin(), findings.end(),
                       [&](const check::Finding& f) { return f.check == check && !f.set_aside; });
  };
  const bool built = QFile::exists(q(session_.output().string()));
  step_ = 0;
  for (const Step& step : allSteps()) {
    bool done = std::none_of(step.checks.begin(), step.checks.end(), said);
    if (step.station == Station::bundle) done = built;
    if (step.station == Station::tryout) done = tried_;
    if (!done) break;
    ++step_;
  }
  if (step_ == steps()) {
    text_->setText(tr(
        "That was the whole way: from a file to a thing in the game. The same line serves for any model."));
    show_->hide();
  } else {
    text_->setText(tr(allSteps()[static_cast<size_t>(step_)].text));
    show_->show();
  }
  setAccessibleDescription(text_->text());
  update();
}

void Guide::showIt() {
  if (step_ >= steps() || !session_.examination()) return;
  const Step& step = allSteps()[static_cast<size_t>(step_)];
  for (const check::Finding& f : session_.examination()->findings)
    for (const char* check : step.checks)
      if (f.check == check) return Q_EMIT showAsked(f);
  Q_EMIT stationAsked(static_cast<int>(step.station));
}

void Guide::paintEvent(QPaintEvent* event) {
  QFrame::paintEvent(event);
  // How far one has come: a short rule with a mark for each step.
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double left = 18, gap = 22, y = 9;
  for (int i = 0; i < steps(); ++i) {
    const QPointF at(left + i * gap, y);
    if (i > 0) {
      p.setPen(QPen(i <= step_ ? theme().good : theme().hair, 2));
      p.drawLine(QPointF(at.x() - gap + 5, y), QPointF(at.x() - 5, y));
    }
    p.setPen(QPen(i < step_ ? theme().good : i == step_ ? theme().click : theme().hair, 2));
    p.setBrush(i < step_ ? theme().good : QColor(Qt::transparent));
    p.drawEllipse(at, 3.5, 3.5);
  }
}

}  // namespace rakugo::app
