#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QSettings>
#include <algorithm>
#include <map>

#include "app/stations/skeleton/match_board.h"
#include "app/stations/skeleton/station_skeleton.h"
#include "app/stations/skeleton/try_panel.h"
#include "app/stations/station_panel.h"
#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"
#include "app/widgets/row_list.h"
#include "base/phrase.h"
#include "base/text.h"
#include "prepare/edit_steps.h"
#include "prepare/outfit/ghosts.h"
#include "prepare/step.h"

namespace rakugo::app {
namespace {

// A place as the board has it: to the left and up, as shares of a body's height.
QPointF onBoard(glm::vec3 at, const prepare::GameAxes& axes, float floor, float height, float middle) {
  return {static_cast<double>((glm::dot(at, axes.side) - middle) / height),
          static_cast<double>((glm::dot(at, axes.up) - floor) / height)};
}

}  // namespace

SkeletonStation::SkeletonStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  addMatch();
  addWeights();
  movement_chapter_ =
      addChapter("skeleton/movements", tr("Movements"),
                 {"skin.", "animation.", "bones.aims", "bones.bends", "bones.floor", "bones.pose"});
  try_ = new TryPanel(session_, bench_, this);
  movement_chapter_->body()->addWidget(try_);
  bones_chapter_ = addChapter("skeleton/bones", tr("Bones of the model"),
                              {"bones.ends", "bones.needless", "bones.limit", "bones.unequal"});
  list_ = new RowList(QStringLiteral("bones-list"), tr("Bones of the model"), this);
  bones_chapter_->body()->addWidget(list_);
  connect(list_, &RowList::chosen, this, [this](const QString& row) {
    const std::string key = s(row).substr(std::char_traits<char>::length("bone-"));
    chooseBone(chosen_ == key ? std::string() : key);
  });
  connect(list_, &RowList::pointedAt, this, [this](const QString& row) {
    bench_.setBones(here_, row.isEmpty() ? chosen_ : s(row).substr(std::char_traits<char>::length("bone-")));
  });
  column_->addStretch();
  board_beside_->setChecked(QSettings().value(QStringLiteral("board-beside")).toBool());
}

bool SkeletonStation::besideWanted() const { return board_beside_->isChecked(); }

void SkeletonStation::addMatch() {
  match_chapter_ = addChapter("skeleton/match", tr("Bones of the game"), {"bones."});
  QVBoxLayout* column = match_chapter_->body();
  said_ = plainText({}, this);
  said_->setObjectName(QStringLiteral("bones-found"));
  column->addWidget(said_);
  family_said_ = plainText({}, this);
  family_said_->setObjectName(QStringLiteral("family-said"));
  column->addWidget(family_said_);
  use_family_ = new QPushButton(this);
  use_family_->setObjectName(QStringLiteral("use-family"));
  use_family_->setToolTip(tr("Adds the steps that were kept with those bones"));
  column->addWidget(use_family_);
  connect(use_family_, &QPushButton::clicked, this, &SkeletonStation::useFamily);
  board_ = new MatchBoard(this);
  column->addWidget(board_);
  board_there_ = quietText(tr("The match board stands beside the bench."), this);
  board_there_->hide();
  column->addWidget(board_there_);
  board_beside_ = new QPushButton(tr("Board beside the bench"), this);
  board_beside_->setObjectName(QStringLiteral("board-beside"));
  board_beside_->setProperty("quiet", true);
  board_beside_->setCheckable(true);
  board_beside_->setToolTip(tr("As large as there is room for, in the middle of the window"));
  column->addWidget(board_beside_, 0, Qt::AlignLeft);
  beside_ = new QWidget;
  beside_->setObjectName(QStringLiteral("beside-skeleton"));
  beside_->setMinimumWidth(240);
  auto* there = new QVBoxLayout(beside_);
  there->setContentsMargins(8, 8, 8, 8);
  there->addWidget(heading(tr("Match board"), beside_));
  beside_->hide();
  connect(board_beside_, &QPushButton::toggled, this, &SkeletonStation::putBoard);
  slots_ = new QComboBox(this);
  slots_->setObjectName(QStringLiteral("slot"));
  slots_->setAccessibleName(tr("A bone that the game looks for"));
  column->addWidget(slots_);
  bones_ = new QComboBox(this);
  bones_->setObjectName(QStringLiteral("slot-bone"));
  bones_->setAccessibleName(tr("The model's bone for it"));
  column->addWidget(bones_);
  reason_ = quietText({}, this);
  reason_->setObjectName(QStringLiteral("slot-reason"));
  column->addWidget(reason_);
  auto* row = new QHBoxLayout;
  sure_ = new QPushButton(this);
  sure_->setObjectName(QStringLiteral("take-sure"));
  sure_->setToolTip(tr("A step gives these bones the game's names"));
  all_ = new QPushButton(this);
  all_->setObjectName(QStringLiteral("take-all"));
  all_->setToolTip(tr("The unsure ones too: look at them first"));
  row->addWidget(sure_);
  row->addWidget(all_);
  row->addStretch();
  column->addLayout(row);
  connect(board_, &MatchBoard::chosenChanged, this, &SkeletonStation::chooseSlot);
  connect(board_, &MatchBoard::pointedAt, this,
          [this](const QString& key) { bench_.setBones(here_, key.isEmpty() ? chosen_ : s(key)); });
  connect(board_, &MatchBoard::given, this,
          [this](const QString& slot, const QString& key) { give(s(slot), s(key)); });
  connect(slots_, &QComboBox::activated, this,
          [this](int at) { board_->choose(slots_->itemData(at).toString()); });
  connect(bones_, &QComboBox::activated, this, [this](int at) {
    if (!board_->chosen().isEmpty()) give(s(board_->chosen()), s(bones_->itemData(at).toString()));
  });
  connect(sure_, &QPushButton::clicked, this, [this] { take(true); });
  connect(all_, &QPushButton::clicked, this, [this] { take(false); });
}

void SkeletonStation::putBoard(bool beside) {
  QSettings().setValue(QStringLiteral("board-beside"), beside);
  board_there_->setVisible(beside);
  if (beside) {
    board_->setMaximumHeight(QWIDGETSIZE_MAX);
    beside_->layout()->addWidget(board_);
    static_cast<QVBoxLayout*>(beside_->layout())->setStretchFactor(board_, 1);
  } else {
    board_->setMaximumHeight(board_->minimumHeight());
    QVBoxLayout* column = match_chapter_->body();
    column->insertWidget(column->indexOf(board_there_), board_);
  }
  board_->setVisible(true);
  beside_->setVisible(beside && isVisible());
}

void SkeletonStation::addWeights() {
  weights_chapter_ = addChapter("skeleton/weights", tr("Weights"),
                                {"weights.", "bones.weights", "bones.sums", "bones.gone"});
  weights_ = new QWidget(this);
  auto* weights = new QVBoxLayout(weights_);
  weights->setContentsMargins(0, 0, 0, 0);
  weights_said_ = plainText({}, weights_);
  weights_said_->setObjectName(QStringLiteral("weights-said"));
  weights->addWidget(weights_said_);
  see_weights_ = new QCheckBox(tr("Show what follows the chosen bone"), weights_);
  see_weights_->setObjectName(QStringLiteral("see-weights"));
  weights->addWidget(see_weights_);
  connect(see_weights_, &QCheckBox::toggled, this, &SkeletonStation::showWeightsOf);
  weights_chapter_->body()->addWidget(weights_);
  donor_row_ = new QWidget(this);
  auto* donor = new QHBoxLayout(donor_row_);
  donor->setContentsMargins(0, 0, 0, 0);
  donors_ = new QComboBox(donor_row_);
  donors_->setObjectName(QStringLiteral("weights-donor"));
  donors_->setAccessibleName(tr("Whose weights are taken"));
  donors_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  donors_->setMinimumContentsLength(10);
  auto* take_weights = new QPushButton(tr("Take weights"), donor_row_);
  take_weights->setObjectName(QStringLiteral("take-weights"));
  take_weights->setToolTip(tr("Each vertex takes those of the nearest place, and the bones they speak of"));
  donor->addWidget(donors_, 1);
  donor->addWidget(take_weights);
  weights_chapter_->body()->addWidget(donor_row_);
  connect(take_weights, &QPushButton::clicked, this, &SkeletonStation::takeWeights);
}

void SkeletonStation::setStoodAt(bool here) {
  here_ = here;
  bench_.setBones(here, chosen_);
  try_->setStoodAt(here);
  // Habits lie on disk, and another window may have kept one.
  if (here)
    background_.post([this](base::Progress&) -> Background::Finish {
      return [this, habits = prepare::loadHabits(prepare::habitsFolder())] {
        habits_ = habits;
        showFamily();
      };
    });
  showWeightsOf();
}

void SkeletonStation::chooseBone(const std::string& key) {
  // With it the slot that it fills, if there is one.
  QString slot;
  if (!key.empty())
    for (const MatchBoard::Slot& one : board_->places())
      if (one.bone >= 0 && board_->bones()[static_cast<size_t>(one.bone)].key == q(key)) slot = one.id;
  const QSignalBlocker quiet(board_);
  board_->choose(slot);
  chosen_ = key;
  bench_.setBones(here_, chosen_);
  try_->setBone(chosen_);
  showWeightsOf();
  refresh();
}

void SkeletonStation::chooseSlot(const QString& slot) {
  showSlot(slot);
  const check::ModelState* state = session_.prepared();
  const prepare::SlotMatch* match = state != nullptr && state->bones ? state->bones->find(s(slot)) : nullptr;
  chosen_ =
      match != nullptr && match->bone.valid() ? state->prepared.model->node(match->bone).key : std::string();
  bench_.setBones(here_, chosen_);
  try_->setBone(chosen_);
  showWeightsOf();
}

void SkeletonStation::showFamily() {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  std::optional<prepare::FamilyFit> fit;
  const scene::Model* source = nullptr;
  if (state != nullptr && state->prepared.model && state->bones) {
    const prepare::Prepared& p = state->prepared;
    source = p.before.empty() ? p.model.get() : p.before.front().get();
    fit = prepare::familyOf(*source, habits_, session_.book().id);
  }
  size_t missing = 0;
  if (fit) {
    mod::ModelDoc doc = session_.state().models.at(session_.model());
    missing = prepare::addSteps(doc, prepare::stepsFor(habits_[fit->habit], *source));
  }
  family_said_->setVisible(missing > 0);
  use_family_->setVisible(missing > 0);
  if (missing == 0) return;
  QString said = tr("Its bones are those of “%1”").arg(q(habits_[fit->habit].name));
  if (!fit->missing.empty()) said = tr("%1, without %2").arg(said, q(base::listText(fit->missing, 3)));
  if (!fit->extra.empty()) said = tr("%1, and %2 beside them").arg(said, q(base::listText(fit->extra, 3)));
  family_said_->setText(said + QLatin1Char('.'));
  use_family_->setText(tr("Take its %1").arg(q(base::countText(missing, "step", "steps"))));
}

void SkeletonStation::useFamily() {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr || !state->prepared.model) return;
  const prepare::Prepared& p = state->prepared;
  const scene::Model& source = p.before.empty() ? *p.model : *p.before.front();
  const auto fit = prepare::familyOf(source, habits_, session_.book().id);
  if (!fit) return;
  session_.edit(tr("Replay \"%1\"").arg(q(habits_[fit->habit].name)), [&](mod::ModState& mod) {
    prepare::addSteps(mod.models[session_.model()], prepare::stepsFor(habits_[fit->habit], source));
  });
}

void SkeletonStation::fillDonors() {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  const bool some = state != nullptr && state->prepared.model && skeleton() != nullptr &&
                    state->prepared.model->frame.turned;
  donor_row_->setVisible(some);
  if (!some) return;
  const QString kept = donors_->currentData().toString();
  donors_->clear();
  if (!prepare::donorKinds(session_.book()).empty()) donors_->addItem(tr("The game's own"), QString());
  const auto& x = session_.examination();
  for (const auto& [name, other] : x ? x->context.models : base::SharedMap<check::ModelState>())
    if (name != session_.model() && other.prepared.model && !scene::usedJoints(*other.prepared.model).empty())
      donors_->addItem(q(name), q(name));
  donors_->setCurrentIndex(std::max(0, donors_->findData(kept)));
  donor_row_->setVisible(donors_->count() > 0);
}

void SkeletonStation::takeWeights() {
  const std::string donor = s(donors_->currentData().toString());
  session_.edit(tr("Take weights"), [&](mod::ModState& mod) {
    mod::ModelDoc& doc = mod.models[session_.model()];
    base::Json values{{"kind", ""}, {"most_mm", 100.0}};
    if (!donor.empty()) values["model"] = donor;
    prepare::insertByRank(doc, prepare::makeStep(doc, "copy_weights", std::move(values)));
  });
}

void SkeletonStation::showWeightsOf() {
  bench_.showWeightsOf(here_ && see_weights_->isChecked() ? chosen_ : std::string());
}

void SkeletonStation::showPlace(const check::FindingPlace&) { refresh(); }

const rulebook::Skeleton* SkeletonStation::skeleton() const {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  return state != nullptr && state->kind != nullptr ? session_.book().findSkeleton(state->kind->skeleton)
                                                    : nullptr;
}

void SkeletonStation::refresh() {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  const bool some = state != nullptr && session_.scene() && session_.scene()->model == session_.model() &&
                    !session_.scene()->bones.empty();
  const rulebook::Skeleton* wanted = skeleton();
  const bool matched = some && wanted != nullptr && state->bones != nullptr;
  for (QWidget* one : std::initializer_list<QWidget*>{board_, slots_, bones_, reason_, sure_, all_})
    one->setVisible(matched);
  weights_->setVisible(matched);
  for (Chapter* one : {weights_chapter_, movement_chapter_, bones_chapter_}) one->setVisible(some);
  said_->setText(state == nullptr ? tr("The mod holds no model yet; its bones will stand here.")
                                  : saying(*state, wanted, some));
  if (matched) {
    fillBoard(*state, *wanted);
    showSlot(board_->chosen());
    showWeights(*state->weights, *state->kind);
  }
  try_->refresh();
  showFamily();
  fillDonors();
  showWeightsOf();
  if (some)
    listBones(*state->prepared.model, matched ? wanted : nullptr);
  else
    list_->setRows({});
  sayChapters(state, some ? wanted : nullptr);
  settleChapters(match_chapter_);
}

void SkeletonStation::sayChapters(const check::ModelState* state, const rulebook::Skeleton* wanted) {
  const auto short_of = [&](Chapter* chapter, const QString& right) {
    const check::Finding* f = gravestOf(chapter);
    return f != nullptr ? q(base::phrase(check::findCheck(f->check)->title)) : right;
  };
  QString match;
  size_t named = 0;
  if (state != nullptr && wanted != nullptr && state->bones) {
    for (size_t i = 0; i < wanted->bones.size(); ++i) {
      const scene::NodeIndex bone = state->bones->slots[i].bone;
      named += bone.valid() && state->prepared.model->node(bone).name == wanted->bones[i].id ? 1 : 0;
    }
    match = tr("%1 of %2 found").arg(named).arg(wanted->bones.size());
  }
  say(match_chapter_, match, wanted != nullptr && named == wanted->bones.size());
  say(weights_chapter_, short_of(weights_chapter_, tr("well formed")), true);
  say(movement_chapter_,
      short_of(movement_chapter_, wanted != nullptr ? tr("as the game plays them") : QString()),
      wanted != nullptr);
  const size_t count = session_.scene() ? session_.scene()->bones.size() : 0;
  say(bones_chapter_, q(base::countText(count, "bone", "bones")));
}

QString SkeletonStation::saying(const check::ModelState& state, const rulebook::Skeleton* wanted,
                                bool some) const {
  const QString kind = state.kind != nullptr ? q(base::lowerAscii(state.kind->title)) : QString();
  if (wanted == nullptr && !some)
    return state.kind != nullptr ? tr("This model has no bones, and a %1 needs none.").arg(kind)
                                 : tr("This model has no bones.");
  if (wanted == nullptr)
    return tr("This model has bones; a %1 needs none, and the game will not move them.").arg(kind);
  if (!some)
    return tr("This model has no bones. A %1 moves by %2, found by their names: export the model with its "
              "skeleton, or choose another kind in Objects.")
        .arg(kind, q(base::countText(wanted->bones.size(), "bone", "bones")));
  size_t named = 0, sure = 0, unsure = 0;
  for (size_t i = 0; i < wanted->bones.size() && state.bones; ++i) {
    const prepare::SlotMatch& match = state.bones->slots[i];
    const bool own = match.bone.valid() && state.prepared.model->node(match.bone).name == wanted->bones[i].id;
    named += own ? 1 : 0;
    sure += !own && match.sure ? 1 : 0;
    unsure += !own && match.bone.valid() && !match.sure ? 1 : 0;
  }
  QString out = tr("%1 of the game's %2 bones are found by name").arg(named).arg(wanted->bones.size());
  if (sure > 0) out = tr("%1, %2 more are sure").arg(out).arg(sure);
  if (unsure > 0) out = tr("%1, %2 perhaps").arg(out).arg(unsure);
  out += QLatin1Char('.');
  if (state.bones && state.bones->facing == prepare::BoneMatch::Facing::backward)
    out += QStringLiteral(" ◆ ") + tr("The body faces backwards.");
  if (state.bones && state.bones->sides_swapped)
    out += QStringLiteral(" ◆ ") + tr("What their names call left lies on the right.");
  return out;
}

namespace {

struct BoardBones {
  std::vector<MatchBoard::Bone> bones;
  std::map<std::string, int> by_key;  // a node's key -> its place in `bones`
};

// The model's bones on the board, each tied to the nearest bone above it.
BoardBones boardBones(const check::ModelState& state, const std::vector<BenchBone>& shown,
                      const rulebook::Rulebook& book) {
  const scene::Model& model = *state.prepared.model;
  const prepare::GameAxes axes = prepare::gameAxes(model.frame, book);
  float low = 1e30F, high = -1e30F, left = 1e30F, right = -1e30F;
  for (const glm::vec3& corner : {state.box_m.min, state.box_m.max}) {
    low = std::min(low, glm::dot(corner, axes.up));
    high = std::max(high, glm::dot(corner, axes.up));
    left = std::min(left, glm::dot(corner, axes.side));
    right = std::max(right, glm::dot(corner, axes.side));
  }
  const float height = std::max(high - low, 1e-4F);
  BoardBones out;
  for (const BenchBone& bone : shown) {
    out.by_key[bone.key] = static_cast<int>(out.bones.size());
    out.bones.push_back(
        {q(bone.key), q(bone.name), onBoard(bone.head_m, axes, low, height, (left + right) / 2)});
  }
  for (const scene::NodeIndex i : state.bones->surplus)
    if (const auto at = out.by_key.find(model.node(i).key); at != out.by_key.end())
      out.bones[static_cast<size_t>(at->second)].surplus = true;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const auto own = out.by_key.find(model.node(i).key);
    if (own == out.by_key.end()) continue;
    for (scene::NodeIndex up = model.node(i).parent; up.valid(); up = model.node(up).parent)
      if (const auto at = out.by_key.find(model.node(up).key); at != out.by_key.end()) {
        out.bones[static_cast<size_t>(own->second)].parent = at->second;
        break;
      }
  }
  return out;
}

// The game's slots on the board, each with the bone that it was matched with.
std::vector<MatchBoard::Slot> boardSlots(const check::ModelState& state, const rulebook::Skeleton& wanted,
                                         double person_m, const std::map<std::string, int>& by_key) {
  std::vector<MatchBoard::Slot> out;
  for (size_t i = 0; i < wanted.bones.size(); ++i) {
    const rulebook::Bone& bone = wanted.bones[i];
    const prepare::SlotMatch& match = state.bones->slots[i];
    MatchBoard::Slot slot;
    slot.id = q(bone.id);
    slot.title = q(bone.title);
    slot.at = {bone.at_m[1] / person_m, bone.at_m[2] / person_m};
    for (size_t k = 0; k < i; ++k)
      if (wanted.bones[k].id == bone.parent) slot.parent = static_cast<int>(k);
    if (match.bone.valid())
      if (const auto at = by_key.find(state.prepared.model->node(match.bone).key); at != by_key.end())
        slot.bone = at->second;
    slot.state = match.sure           ? MatchBoard::State::sure
                 : match.bone.valid() ? MatchBoard::State::unsure
                 : bone.required      ? MatchBoard::State::empty
                                      : MatchBoard::State::not_needed;
    out.push_back(std::move(slot));
  }
  return out;
}

// The sign says how a slot stands: full, half, or nothing.
QString signOf(MatchBoard::State state) {
  switch (state) {
    case MatchBoard::State::sure:
      return QStringLiteral("✓ ");
    case MatchBoard::State::unsure:
      return QStringLiteral("? ");
    case MatchBoard::State::empty:
      return QStringLiteral("◆ ");
    case MatchBoard::State::not_needed:
      break;
  }
  return QStringLiteral("· ");
}

}  // namespace

void SkeletonStation::fillBoard(const check::ModelState& state, const rulebook::Skeleton& wanted) {
  const rulebook::Rulebook& book = session_.book();
  BoardBones bones = boardBones(state, session_.scene()->bones, book);
  std::vector<MatchBoard::Slot> slots =
      boardSlots(state, wanted, std::max(book.person_height_m, 0.01), bones.by_key);
  const QString chosen = board_->chosen();
  slots_->clear();
  slots_->addItem(tr("Choose a bone of the game"), QString());
  for (const MatchBoard::Slot& slot : slots) slots_->addItem(signOf(slot.state) + slot.title, slot.id);
  board_->setMatch(std::move(slots), std::move(bones.bones));
  slots_->setCurrentIndex(std::max(0, slots_->findData(chosen)));
  size_t sure = 0, all = 0;
  for (const auto& [slot, key, is_sure] : takable(state, wanted)) {
    ++all;
    sure += is_sure ? 1 : 0;
  }
  sure_->setVisible(sure > 0);
  sure_->setText(tr("Take the %1 sure ones").arg(sure));
  all_->setVisible(all > sure);
  all_->setText(sure > 0 ? tr("All %1").arg(all) : tr("Take all %1").arg(all));
}

// What could be given the game's name and has it not yet.
std::vector<std::tuple<std::string, std::string, bool>> SkeletonStation::takable(
    const check::ModelState& state, const rulebook::Skeleton& wanted) {
  std::vector<std::tuple<std::string, std::string, bool>> out;
  const scene::Model& model = *state.prepared.model;
  for (const prepare::SlotMatch& match : state.bones->slots) {
    if (!match.bone.valid()) continue;
    const std::string& name = model.node(match.bone).name;
    if (name == match.slot || wanted.findBone(name) != nullptr) continue;
    out.emplace_back(match.slot, model.node(match.bone).key, match.sure);
  }
  return out;
}

void SkeletonStation::showSlot(const QString& slot) {
  const check::ModelState* state = session_.prepared();
  slots_->setCurrentIndex(std::max(0, slots_->findData(slot)));
  const prepare::SlotMatch* match =
      state != nullptr && state->bones && !slot.isEmpty() ? state->bones->find(s(slot)) : nullptr;
  bones_->setVisible(match != nullptr);
  if (match == nullptr) {
    reason_->setText(
        tr("● sure   ◐ perhaps   ○ nothing found   × surplus. Drag a bone of the game onto one of "
           "the model's, or click one and then the other."));
    return;
  }
  const std::string key = match->bone.valid() ? state->prepared.model->node(match->bone).key : std::string();
  bones_->clear();
  // What a step has said can be taken back; what was found is found again.
  if (prepare::boneNamedAs(session_.state().models.at(session_.model()), s(slot)))
    bones_->addItem(tr("Take the name back"), QString());
  else if (key.empty())
    bones_->addItem(tr("No bone"), QString());
  for (const MatchBoard::Bone& bone : board_->bones()) bones_->addItem(bone.name, bone.key);
  bones_->setCurrentIndex(std::max(0, bones_->findData(q(key))));
  reason_->setText(match->bone.valid()
                       ? tr("%1 %. %2").arg(std::lround(match->confidence * 100)).arg(q(match->reason))
                       : q(match->reason));
}

void SkeletonStation::showWeights(const scene::WeightReport& weights, const rulebook::Kind& kind) {
  QStringList said = {
      tr("%1, up to %2 each.")
          .arg(q(base::countText(weights.vertices, "vertex", "vertices")),
               q(base::countText(static_cast<uint64_t>(weights.most_influences), "bone", "bones")))};
  if (weights.without_weight > 0)
    said << tr("◆ %1 none.")
                .arg(q(base::countText(weights.without_weight, "vertex follows", "vertices follow")));
  if (weights.over_limit > 0)
    said << tr("◆ %1 more than %2.")
                .arg(q(base::countText(weights.over_limit, "vertex follows", "vertices follow")))
                .arg(kind.max_influences);
  if (weights.sum_off > 0)
    said << tr("◆ %1 not one.")
                .arg(q(
                    base::countText(weights.sum_off, "vertex's weights sum to", "vertices' weights sum to")));
  const bool good = weights.without_weight + weights.over_limit + weights.sum_off == 0;
  if (good) said << tr("✓ All sum to one.");
  weights_said_->setText(said.join(QLatin1Char(' ')));
}

void SkeletonStation::give(const std::string& slot, const std::string& key) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  session_.edit(tr("Match a bone"), [&](mod::ModState& mod) {
    prepare::nameBones(mod.models[session_.model()], {{slot, key}});
  });
}

void SkeletonStation::take(bool only_sure) {
  const check::ModelState* state = session_.prepared();
  const rulebook::Skeleton* wanted = skeleton();
  if (state == nullptr || wanted == nullptr || !state->bones) return;
  std::vector<std::pair<std::string, std::string>> names;
  for (const auto& [slot, key, sure] : takable(*state, *wanted))
    if (sure || !only_sure) names.emplace_back(slot, key);
  session_.edit(tr("Take %1").arg(q(base::countText(names.size(), "match", "matches"))),
                [&](mod::ModState& mod) { prepare::nameBones(mod.models[session_.model()], names); });
}

void SkeletonStation::listBones(const scene::Model& model, const rulebook::Skeleton* wanted) {
  std::map<std::string, const BenchBone*> by_key;
  for (const BenchBone& bone : session_.scene()->bones) by_key[bone.key] = &bone;
  std::vector<int> depths(model.nodes.size(), -1);
  std::vector<ListRow> rows;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    const auto bone = by_key.find(node.key);
    if (bone == by_key.end()) continue;
    depths[i.value()] = node.parent.valid() ? depths[node.parent.value()] + 1 : 0;
    ListRow row;
    row.id = QStringLiteral("bone-") + q(node.key);
    row.name = q(node.name.empty() ? node.key : node.name);
    row.indent = depths[i.value()];
    row.chosen = node.key == chosen_;
    if (wanted != nullptr && bone->second->required) {
      row.amount = tr("✓ known");
      row.said = tr("The game looks for a bone of this name.");
      row.good = true;
    }
    rows.push_back(std::move(row));
  }
  list_->setRows(std::move(rows));
}

}  // namespace rakugo::app
