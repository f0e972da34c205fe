#include "app/stations/skeleton/try_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QSlider>
#include <algorithm>
#include <cmath>

#include "app/widgets/panels.h"
#include "base/text.h"
#include "check/verdicts.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {
namespace {

constexpr double kDegrees = 180 / 3.14159265358979;
constexpr int kTicks_s = 60;  // of the slider to a second
const char* const kTurns[] = {"forward_deg", "side_deg", "up_deg"};

// What carries each bone of a rig from its rest to a pose, in the model's space.
std::vector<glm::mat4> bent(const scene::Model& model, const packing::Rig& rig, const scene::Pose& pose) {
  const auto rest = scene::worldMatrices(model), now = scene::worldMatrices(model, pose);
  std::vector<glm::mat4> out;
  for (const scene::NodeIndex i : rig.nodes)
    out.push_back(std::abs(glm::determinant(rest[i.value()])) > 1e-20F
                      ? now[i.value()] * glm::inverse(rest[i.value()])
                      : glm::mat4(1));
  return out;
}

}  // namespace

TryPanel::TryPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  what_ = new QComboBox(this);
  what_->setObjectName(QStringLiteral("movement"));
  what_->setAccessibleName(tr("What the game does with its figures"));
  column->addWidget(what_);
  column->addWidget(makeTimes());
  as_game_ = new QCheckBox(tr("Just as the game plays it"), this);
  as_game_->setObjectName(QStringLiteral("as-game"));
  as_game_->setToolTip(
      tr("The game puts its own turns on bones of its names. Otherwise the movement is fitted to this body, "
         "whatever its bones are called and however they lie."));
  column->addWidget(as_game_);
  said_ = quietText({}, this);
  said_->setObjectName(QStringLiteral("try-said"));
  column->addWidget(said_);
  let_go_ = new QPushButton(tr("Let go of what is pulled"), this);
  let_go_->setObjectName(QStringLiteral("let-go"));
  column->addWidget(let_go_);
  column->addWidget(makeTurns());
  all_ = new QPushButton(tr("All moments…"), this);
  all_->setObjectName(QStringLiteral("all-moments"));
  all_->setCheckable(true);
  all_->setToolTip(tr("What each of the game's movements makes of the model"));
  column->addWidget(all_);
  moments_ = new QWidget(this);
  rows_ = new QVBoxLayout(moments_);
  rows_->setContentsMargins(0, 0, 0, 0);
  rows_->setSpacing(0);
  column->addWidget(moments_);
  listen();
  setVisible(false);
}

QWidget* TryPanel::makeTimes() {
  times_ = new QWidget(this);
  auto* times = new QHBoxLayout(times_);
  times->setContentsMargins(0, 0, 0, 0);
  play_ = new QPushButton(tr("Play"), times_);
  play_->setObjectName(QStringLiteral("play"));
  play_->setCheckable(true);
  time_ = new QSlider(Qt::Horizontal, times_);
  time_->setObjectName(QStringLiteral("moment"));
  time_->setAccessibleName(tr("The moment that is shown"));
  times->addWidget(play_);
  times->addWidget(time_, 1);
  return times_;
}

QWidget* TryPanel::makeTurns() {
  turns_ = new QWidget(this);
  auto* turns = new QVBoxLayout(turns_);
  turns->setContentsMargins(0, 0, 0, 0);
  turn_title_ = plainText({}, turns_);
  turns->addWidget(turn_title_);
  const QString names[] = {tr("about forward"), tr("about the side"), tr("about up")};
  for (int i = 0; i < 3; ++i) {
    auto* row = new QHBoxLayout;
    angles_[i] = new QDoubleSpinBox(turns_);
    angles_[i]->setObjectName(QStringLiteral("turn-") + QLatin1String(kTurns[i]));
    angles_[i]->setAccessibleName(tr("Turn the bone %1, in degrees").arg(names[i]));
    angles_[i]->setRange(-180, 180);
    angles_[i]->setDecimals(1);
    angles_[i]->setSingleStep(1);
    angles_[i]->setSuffix(QStringLiteral("°"));
    angles_[i]->setKeyboardTracking(false);
    row->addWidget(angles_[i]);
    row->addWidget(quietText(names[i], turns_), 1);
    turns->addLayout(row);
    connect(angles_[i], &QDoubleSpinBox::valueChanged, this, [this, i](double v) { turn(kTurns[i], v); });
  }
  propose_ = new QPushButton(turns_);
  propose_->setObjectName(QStringLiteral("turn-proposed"));
  propose_->setToolTip(tr("So that the bone points as the game's own does at rest"));
  turns->addWidget(propose_);
  connect(propose_, &QPushButton::clicked, this, &TryPanel::propose);
  return turns_;
}

void TryPanel::listen() {
  connect(all_, &QPushButton::toggled, this, &TryPanel::fillMoments);
  connect(what_, &QComboBox::currentIndexChanged, this, &TryPanel::choose);
  connect(play_, &QPushButton::toggled, this, &TryPanel::play);
  connect(time_, &QSlider::valueChanged, this, [this] {
    if (!clock_.isActive()) show();
  });
  // A hand on the slider stops what plays.
  connect(time_, &QSlider::sliderPressed, this, [this] { play_->setChecked(false); });
  connect(as_game_, &QCheckBox::toggled, this, &TryPanel::show);
  connect(let_go_, &QPushButton::clicked, this, [this] {
    pulls_.clear();
    show();
  });
  connect(&bench_, &Bench::endPulled, this, &TryPanel::pull);
  connect(&clock_, &QTimer::timeout, this, &TryPanel::tick);
  clock_.setInterval(33);
}

void TryPanel::tick() {
  const rulebook::Movement& movement = stage_->skeleton->movements[static_cast<size_t>(movement_)];
  const double length = static_cast<double>(time_->maximum()) / kTicks_s;
  double at_s = began_s_ + static_cast<double>(since_.elapsed()) / 1000;
  if (movement.loops && length > 0) at_s = std::fmod(at_s, length);
  time_->setValue(static_cast<int>(std::lround(std::min(at_s, length) * kTicks_s)));
  show();
  if (!movement.loops && at_s >= length) play_->setChecked(false);
}

void TryPanel::setStoodAt(bool here) {
  here_ = here;
  if (!here) play_->setChecked(false);
  show();
}

void TryPanel::hideEvent(QHideEvent* event) {
  play_->setChecked(false);
  QWidget::hideEvent(event);
}

void TryPanel::setBone(const std::string& key) {
  bone_ = key;
  fillTurns();
}

void TryPanel::refresh() {
  setUp();
  const bool some = stage_ != nullptr;
  setVisible(some);
  if (!some) {
    play_->setChecked(false);
    movement_ = -1;
    pulls_.clear();
    show();
    return;
  }
  if (what_->count() != static_cast<int>(stage_->skeleton->movements.size()) + 1 ||
      what_->property("skeleton").toString() != q(stage_->skeleton->id)) {
    const QSignalBlocker quiet(what_);
    what_->clear();
    what_->setProperty("skeleton", q(stage_->skeleton->id));
    what_->addItem(tr("At rest"));
    for (const rulebook::Movement& movement : stage_->skeleton->movements) what_->addItem(q(movement.title));
    movement_ = -1;
  }
  choose();
  fillTurns();
  fillMoments();
}

void TryPanel::setUp() {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  const std::shared_ptr<const BenchScene>& scene = session_.scene();
  const rulebook::Skeleton* skeleton = state != nullptr && state->kind != nullptr
                                           ? session_.book().findSkeleton(state->kind->skeleton)
                                           : nullptr;
  if (skeleton == nullptr || !state->bones || !state->prepared.model || !scene ||
      scene->made_from != state->prepared.model || scene->rig.empty()) {
    stage_.reset();
    return;
  }
  if (stage_ && stage_->model == state->prepared.model && stage_->skeleton == skeleton &&
      stage_->ghost == scene->ghost_model)
    return;
  const auto figure = prepare::gameFigure(session_.book(), *skeleton);
  stage_.reset();
  if (!figure) return;
  // Pulled limbs are those of the model before; a correction keeps them where they were pulled to.
  stage_ = std::make_unique<Stage>();
  Stage& stage = *stage_;
  stage.model = state->prepared.model;
  stage.ghost = scene->ghost_model;
  stage.figure = *figure;
  stage.skeleton = skeleton;
  stage.named = prepare::bonesByGameName(*stage.model, *skeleton);
  if (stage.ghost) stage.ghost_named = prepare::bonesByGameName(*stage.ghost, *skeleton);
  // What bears no name of the game's is taken as it was matched.
  prepare::SlotBones bones = stage.named;
  for (size_t s = 0; s < bones.size(); ++s)
    if (!bones[s].valid()) bones[s] = state->bones->slots[s].bone;
  stage.retarget.emplace(*stage.model, bones, *skeleton, session_.book(), stage.figure);
  stage.chains = prepare::chainsToPull(bones, *skeleton);
  std::erase_if(pulls_, [&](const prepare::Pull& one) {
    return one.chain != prepare::kPullHips && one.chain >= skeleton->chains.size();
  });
}

void TryPanel::choose() {
  const int wanted = what_->currentIndex() - 1;
  if (wanted != movement_) {
    movement_ = wanted;
    pulls_.clear();
    const QSignalBlocker quiet(time_);
    const double length =
        atRest() ? 0 : double{scene::durationOf(stage_->figure->animation(static_cast<size_t>(movement_)))};
    time_->setRange(0, static_cast<int>(std::lround(length * kTicks_s)));
    // What is looked at first is what the game's rules look at.
    const auto* moments =
        atRest() ? nullptr : &stage_->skeleton->movements[static_cast<size_t>(movement_)].moments_s;
    time_->setValue(moments != nullptr && !moments->empty()
                        ? static_cast<int>(std::lround(moments->front() * kTicks_s))
                        : 0);
    play_->setChecked(false);
  }
  show();
}

double TryPanel::moment() const { return static_cast<double>(time_->value()) / kTicks_s; }

void TryPanel::show() {
  const bool moves = !atRest();
  times_->setVisible(moves && time_->maximum() > 0);
  as_game_->setVisible(moves);
  said_->setVisible(moves);
  let_go_->setVisible(moves && !pulls_.empty());
  if (!here_ || !moves || !isVisibleTo(parentWidget())) {
    bench_.setPose(nullptr);
    return;
  }
  const std::shared_ptr<const BenchScene>& scene = session_.scene();
  if (!scene || scene->made_from != stage_->model) return;
  scene::Pose figure = scene::restPose(stage_->figure->model);
  scene::poseAt(stage_->figure->animation(static_cast<size_t>(movement_)), static_cast<float>(moment()),
                figure);
  const bool as_game = as_game_->isChecked();
  scene::Pose pose = as_game ? prepare::playedByGame(*stage_->model, stage_->named, *stage_->figure, figure)
                             : stage_->retarget->of(figure);
  if (!as_game)
    pose = prepare::pulled(*stage_->model, *stage_->retarget, *stage_->skeleton, std::move(pose), pulls_);
  auto shown = std::make_shared<BenchPose>();
  shown->bones = bent(*stage_->model, scene->rig, pose);
  if (stage_->ghost)
    shown->ghost_bones =
        bent(*stage_->ghost, scene->ghost_rig,
             prepare::playedByGame(*stage_->ghost, stage_->ghost_named, *stage_->figure, figure));
  if (!as_game) {
    const auto world = scene::worldMatrices(*stage_->model, pose);
    for (const size_t chain : stage_->chains) {
      const scene::NodeIndex end = prepare::endOfChain(stage_->retarget->bones(), *stage_->skeleton, chain);
      shown->ends.emplace_back(glm::vec3(world[end.value()][3]), stage_->skeleton->chains[chain].title);
    }
    if (const scene::NodeIndex hips = prepare::hipsOf(stage_->retarget->bones(), *stage_->skeleton);
        hips.valid())
      shown->ends.emplace_back(glm::vec3(world[hips.value()][3]), s(tr("Hips")));
  }
  bench_.setPose(std::move(shown));
  if (!clock_.isActive()) said_->setText(said(moment()));
}

QString TryPanel::said(double at_s) const {
  const prepare::MomentOff off =
      prepare::momentOff(*stage_->model, *stage_->retarget, *stage_->skeleton, *stage_->figure, stage_->named,
                         static_cast<size_t>(movement_), at_s);
  if (off.bones.empty())
    return tr(
        "◆ No bone bears the game's name yet: the game would move nothing. Here it is shown as matched.");
  const prepare::BoneOff* worst = nullptr;
  for (const prepare::BoneOff& one : off.bones)
    if (worst == nullptr || one.turned_rad > worst->turned_rad) worst = &one;
  const check::MomentVerdict verdict = check::verdictOf(off, *stage_->skeleton);
  QStringList out;
  if (verdict.turned_off != nullptr)
    out << tr("◆ In the game %1 is %2° off.")
               .arg(q(stage_->skeleton->bones[verdict.turned_off->slot].title),
                    q(base::numberText(verdict.turned_off->turned_rad * kDegrees, 0)));
  else
    out << tr("✓ The game has every bone within %1° of this.")
               .arg(q(base::numberText(std::ceil(worst->turned_rad * kDegrees), 0)));
  QStringList back;
  for (const prepare::BoneOff* one : verdict.bent_back) back << q(stage_->skeleton->bones[one->slot].title);
  if (!back.isEmpty()) out << tr("◆ Bent backwards: %1.").arg(back.join(QStringLiteral(", ")));
  if (verdict.off_floor != nullptr)
    out << tr("◆ A foot is %1 mm %2.")
               .arg(q(base::numberText(std::abs(verdict.off_floor->risen_m) * 1000, 0)),
                    verdict.off_floor->risen_m > 0 ? tr("too high") : tr("too low"));
  return out.join(QLatin1Char(' '));
}

void TryPanel::play(bool on) {
  play_->setText(on ? tr("Stop") : tr("Play"));
  if (!on || atRest()) {
    if (clock_.isActive()) {
      clock_.stop();
      show();
    }
    return;
  }
  began_s_ = time_->value() >= time_->maximum() ? 0 : moment();
  since_.start();
  said_->clear();
  clock_.start();
}

void TryPanel::pull(int end, glm::vec3 to, bool) {
  if (atRest() || static_cast<size_t>(end) > stage_->chains.size()) return;
  play_->setChecked(false);
  // Behind the chains stand the hips.
  const auto at = static_cast<size_t>(end);
  const size_t chain = at < stage_->chains.size() ? stage_->chains[at] : prepare::kPullHips;
  std::erase_if(pulls_, [&](const prepare::Pull& one) { return one.chain == chain; });
  pulls_.push_back({chain, to});
  show();
}

void TryPanel::fillTurns() {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  const scene::NodeIndex bone = stage_ && state != nullptr && state->prepared.model
                                    ? scene::findPart(*state->prepared.model, bone_)
                                    : scene::NodeIndex();
  turns_->setVisible(stage_ != nullptr && bone.valid());
  if (!stage_ || !bone.valid()) return;
  turn_title_->setText(tr("Turn %1 at rest").arg(q(state->prepared.model->node(bone).name)));
  const auto proposed = proposedAngles();
  propose_->setVisible(proposed.has_value());
  if (proposed)
    propose_->setText(tr("As the game's: %1°, %2°, %3° more")
                          .arg(q(base::numberText((*proposed)[0], 0)), q(base::numberText((*proposed)[1], 0)),
                               q(base::numberText((*proposed)[2], 0))));
  const mod::StepDoc* step = prepare::boneTurn(session_.state().models.at(session_.model()), bone_);
  for (int i = 0; i < 3; ++i) {
    const QSignalBlocker quiet(angles_[i]);
    angles_[i]->setValue(step != nullptr && step->values.contains(kTurns[i]) &&
                                 step->values[kTurns[i]].is_number()
                             ? step->values[kTurns[i]].get<double>()
                             : 0);
  }
}

void TryPanel::propose() {
  if (!stage_ || bone_.empty()) return;
  const auto angles = proposedAngles();
  if (!angles) return;
  session_.edit(tr("Turn a bone"), [&](mod::ModState& mod) {
    mod::ModelDoc& doc = mod.models[session_.model()];
    const mod::StepDoc* known = prepare::boneTurn(doc, bone_);
    // On top of what the step turns it by already: near enough for small angles, and seen at once.
    for (int i = 0; i < 3; ++i) {
      const double had =
          known != nullptr && known->values.contains(kTurns[i]) && known->values[kTurns[i]].is_number()
              ? known->values[kTurns[i]].get<double>()
              : 0;
      prepare::turnBone(doc, bone_, kTurns[i],
                        std::round(std::clamp(had + (*angles)[i], -180.0, 180.0) * 10) / 10);
      known = prepare::boneTurn(doc, bone_);
    }
  });
}

std::optional<glm::dvec3> TryPanel::proposedAngles() const {
  if (!stage_) return std::nullopt;
  const scene::NodeIndex bone = scene::findPart(*stage_->model, bone_);
  const prepare::SlotBones& bones = stage_->retarget->bones();
  for (size_t slot = 0; slot < bones.size(); ++slot) {
    if (!bone.valid() || bones[slot] != bone) continue;
    const glm::dvec3 angles = prepare::anglesOf(prepare::gameAxes(stage_->model->frame, session_.book()),
                                                stage_->retarget->proposedTurn(slot));
    if (glm::length(angles) >= 1) return angles;
  }
  return std::nullopt;
}

void TryPanel::goTo(size_t movement, double at_s) {
  what_->setCurrentIndex(static_cast<int>(movement) + 1);
  play_->setChecked(false);
  time_->setValue(static_cast<int>(std::lround(at_s * kTicks_s)));
  show();
}

void TryPanel::fillMoments() {
  clearLayout(rows_);
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  const bool some = stage_ && state != nullptr && state->moments;
  all_->setVisible(some);
  moments_->setVisible(some && all_->isChecked());
  if (!some || !all_->isChecked()) return;
  int number = 0;
  for (const prepare::MomentOff& moment : *state->moments) addMoment(moment, number++);
  number = 0;
  if (state->skin_faults)
    for (const prepare::SkinFault& fault : *state->skin_faults) addSkinFault(fault, number++);
}

QPushButton* TryPanel::addPlaceRow(const QString& what, const QString& text, const QString& name,
                                   size_t movement, double at_s, std::optional<glm::vec3> mark) {
  // What the movement is called gives way to what is said of it.
  auto* button = new QPushButton(moments_);
  const QFontMetrics metrics = button->fontMetrics();
  constexpr int kWide = 226;
  const QString tail = QStringLiteral(" · ") + text;
  button->setText(metrics.elidedText(what, Qt::ElideRight, kWide - metrics.horizontalAdvance(tail)) + tail);
  button->setObjectName(name);
  button->setProperty("quiet", true);
  button->setStyleSheet(QStringLiteral("text-align: left;"));
  button->setToolTip(what + tail);
  button->setAccessibleName(what + tail);
  connect(button, &QPushButton::clicked, this, [this, movement, at_s, mark] {
    goTo(movement, at_s);
    bench_.showMarks(mark ? std::vector<glm::vec3>{*mark} : std::vector<glm::vec3>());
  });
  rows_->addWidget(button);
  return button;
}

QString TryPanel::placeText(size_t movement, double at_s) const {
  return tr("%1 %2 s").arg(q(stage_->skeleton->movements[movement].title), q(base::numberText(at_s, 2)));
}

void TryPanel::addMoment(const prepare::MomentOff& moment, int number) {
  const rulebook::Skeleton& skeleton = *stage_->skeleton;
  double degrees = 0, feet_m = 0;
  QStringList details;
  for (const prepare::BoneOff& bone : moment.bones) {
    degrees = std::max(degrees, bone.turned_rad * kDegrees);
    // Less is not seen, and no news.
    if (bone.turned_rad * kDegrees >= 3 || bone.moved_m >= 0.01 || bone.bends_back)
      details << (bone.bends_back ? tr("%1: %2°, %3 mm, bent backwards") : tr("%1: %2°, %3 mm"))
                     .arg(q(skeleton.bones[bone.slot].title),
                          q(base::numberText(bone.turned_rad * kDegrees, 1)),
                          q(base::numberText(bone.moved_m * 1000, 0)));
    for (const rulebook::Chain& chain : skeleton.chains)
      if (chain.plants && chain.bones.back() == skeleton.bones[bone.slot].id)
        feet_m = std::max(feet_m, std::abs(bone.risen_m));
  }
  const bool good = check::verdictOf(moment, skeleton).good();
  QPushButton* made = addPlaceRow(
      (good ? QStringLiteral("✓ ") : QStringLiteral("◆ ")) + placeText(moment.movement, moment.at_s),
      tr("%1°, feet %2 mm").arg(q(base::numberText(degrees, 0)), q(base::numberText(feet_m * 1000, 0))),
      QStringLiteral("moment-%1").arg(number), moment.movement, moment.at_s, std::nullopt);
  // Bone by bone what is off, for who wants to know which.
  if (!details.isEmpty())
    made->setToolTip(made->toolTip() + QLatin1Char('\n') + details.join(QLatin1Char('\n')));
}

void TryPanel::addSkinFault(const prepare::SkinFault& fault, int number) {
  using Sort = prepare::SkinFaultSort;
  const QString much =
      fault.sort == Sort::stretched   ? tr("stretched %1 ×").arg(q(base::numberText(fault.much, 1)))
      : fault.sort == Sort::collapsed ? tr("pinched to a %1th").arg(q(base::numberText(fault.much, 0)))
      : fault.sort == Sort::twisted   ? tr("wrung %1 ×").arg(q(base::numberText(fault.much, 1)))
                                      : tr("left behind %1").arg(q(base::lengthText(fault.much)));
  addPlaceRow(QStringLiteral("◆ ") + placeText(fault.movement, fault.at_s), tr("skin %1").arg(much),
              QStringLiteral("skin-%1").arg(number), fault.movement, fault.at_s, fault.place_m);
}

void TryPanel::turn(const char* which, double degrees) {
  if (!stage_ || bone_.empty()) return;
  session_.edit(
      tr("Turn a bone"),
      [&](mod::ModState& mod) { prepare::turnBone(mod.models[session_.model()], bone_, which, degrees); },
      QStringLiteral("turn-bone ") + q(bone_) + QLatin1String(which));
}

}  // namespace rakugo::app
