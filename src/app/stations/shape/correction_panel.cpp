#include "app/stations/shape/correction_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLineEdit>

#include "app/widgets/panels.h"
#include "base/text.h"
#include "prepare/picked/picked_edits.h"

namespace rakugo::app {
namespace {

using base::Json;

// What can be done with what was picked.
struct Action {
  const char* step;
  const char* title;
  const char* unit;   // of the amount; empty: the action has none
  const char* value;  // what the amount is at first
  bool axis, soft;
};
const Action kActions[] = {
    {"move_picked", QT_TRANSLATE_NOOP("CorrectionPanel", "Move"), "m", "0, 0, 0.1", false, true},
    {"turn_picked", QT_TRANSLATE_NOOP("CorrectionPanel", "Turn"), "degrees", "15", true, true},
    {"scale_picked", QT_TRANSLATE_NOOP("CorrectionPanel", "Scale"), "times", "1.1, 1.1, 1.1", false, true},
    {"bend_picked", QT_TRANSLATE_NOOP("CorrectionPanel", "Bend"), "degrees", "30", true, true},
    {"flatten_picked", QT_TRANSLATE_NOOP("CorrectionPanel", "Make flat"), "", "", true, true},
    {"snap_picked", QT_TRANSLATE_NOOP("CorrectionPanel", "Put on a grid"), "mm", "10", false, true},
    {"split_picked", QT_TRANSLATE_NOOP("CorrectionPanel", "Part off as"), "name", "piece", false, false},
    {"region_picked", QT_TRANSLATE_NOOP("CorrectionPanel", "Let it cover"), "", "", false, false},
    {"give_to_bone", QT_TRANSLATE_NOOP("CorrectionPanel", "Let it follow"), "percent", "100", false, true},
    {"smooth_weights", QT_TRANSLATE_NOOP("CorrectionPanel", "Smooth weights"), "times", "3", false, true}};

std::vector<double> numbers(const QString& text) {
  std::vector<double> out;
  for (QString one : text.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
    bool good = false;
    const double value = one.trimmed().replace(QChar(0x2212), QLatin1Char('-')).toDouble(&good);
    if (!good) return {};
    out.push_back(value);
  }
  return out;
}

}  // namespace

CorrectionPanel::CorrectionPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* pick = new QHBoxLayout;
  const auto button = [&](const char* name, const QString& text, const QString& tip) {
    auto* out = new QPushButton(text, this);
    out->setObjectName(QLatin1String(name));
    out->setToolTip(tip);
    return out;
  };
  box_ = button("pick-box", tr("Box"), tr("Drag a box round vertices in the bench"));
  outline_ = button("pick-outline", tr("Outline"), tr("Draw round vertices in the bench"));
  piece_ = button("pick-piece", tr("Piece"), tr("Click a loose piece in the bench"));
  pick->addWidget(quietText(tr("Pick a"), this));
  for (QPushButton* one : {box_, outline_, piece_}) pick->addWidget(one);
  pick->addStretch();
  column->addLayout(pick);
  front_ = new QCheckBox(tr("Only what is seen, not through it"), this);
  front_->setObjectName(QStringLiteral("pick-front"));
  column->addWidget(front_);
  found_ = quietText({}, this);
  found_->setObjectName(QStringLiteral("pick-found"));
  column->addWidget(found_);
  column->addLayout(makeValues());
  auto* row = new QHBoxLayout;
  apply_ = button("pick-apply", tr("Add the step"), tr("The step can be changed in its sentence afterwards"));
  forget_ = button("pick-forget", tr("Let go"), tr("Forgets what was picked"));
  row->addWidget(apply_);
  row->addWidget(forget_);
  row->addStretch();
  column->addLayout(row);
  listen();
  show();
}

QLayout* CorrectionPanel::makeValues() {
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  what_ = new QComboBox(this);
  what_->setObjectName(QStringLiteral("pick-action"));
  for (const Action& a : kActions) what_->addItem(tr(a.title), QLatin1String(a.step));
  axis_ = new QComboBox(this);
  axis_->setObjectName(QStringLiteral("pick-axis"));
  region_ = new QComboBox(this);
  region_->setObjectName(QStringLiteral("pick-region"));
  amount_ = new QLineEdit(this);
  amount_->setObjectName(QStringLiteral("pick-amount"));
  unit_ = quietText({}, this);
  unit_->setWordWrap(false);
  soft_label_ = quietText(tr("soft edge, mm"), this);
  soft_label_->setWordWrap(false);
  soft_ = new QLineEdit(QStringLiteral("0"), this);
  soft_->setObjectName(QStringLiteral("pick-soft"));
  soft_->setToolTip(tr("How far round what was picked the surface follows, less and less"));
  grid->addWidget(what_, 0, 0);
  grid->addWidget(axis_, 0, 1);
  grid->addWidget(region_, 0, 1);
  bone_ = new QComboBox(this);
  bone_->setObjectName(QStringLiteral("pick-bone"));
  grid->addWidget(bone_, 0, 1);
  grid->addWidget(amount_, 1, 0);
  grid->addWidget(unit_, 1, 1);
  grid->addWidget(soft_, 2, 0);
  grid->addWidget(soft_label_, 2, 1);
  return grid;
}

void CorrectionPanel::listen() {
  connect(box_, &QPushButton::clicked, this, [this] { begin(Bench::Tool::pick_box); });
  connect(outline_, &QPushButton::clicked, this, [this] { begin(Bench::Tool::pick_outline); });
  connect(piece_, &QPushButton::clicked, this, [this] { begin(Bench::Tool::pick_piece); });
  connect(what_, &QComboBox::currentIndexChanged, this, [this] {
    amount_->setText(QLatin1String(kActions[what_->currentIndex()].value));
    show();
  });
  amount_->setText(QLatin1String(kActions[0].value));
  connect(apply_, &QPushButton::clicked, this, &CorrectionPanel::apply);
  connect(amount_, &QLineEdit::returnPressed, this, &CorrectionPanel::apply);
  connect(forget_, &QPushButton::clicked, this, &CorrectionPanel::forget);
  connect(front_, &QCheckBox::toggled, this, [this](bool on) {
    if (!selection_ || selection_->outline.empty()) return;
    prepare::Selection other = *selection_;
    other.front_only = on;
    look(std::move(other), false);
  });
  connect(&bench_, &Bench::outlinePicked, this, &CorrectionPanel::outlineDrawn);
  connect(&bench_, &Bench::piecePicked, this,
          [this](const QString& part, glm::vec3 point) { pieceClicked(s(part), point); });
  connect(&bench_, &Bench::pickedDragged, this, &CorrectionPanel::drag);
  connect(axis_, &QComboBox::currentIndexChanged, this, &CorrectionPanel::showHandle);
}

bool CorrectionPanel::present() const {
  return !session_.busy() && session_.prepared() != nullptr && session_.prepared()->prepared.model == of_;
}

void CorrectionPanel::refresh(const std::string& part) {
  part_ = part;
  const check::ModelState* state = session_.prepared();
  setVisible(state != nullptr);
  if (state == nullptr) return forget();
  if (of_model_ != session_.model()) {
    of_model_ = session_.model();
    forget();
  }
  const QString chosen = region_->currentData().toString();
  region_->clear();
  if (state->kind != nullptr)
    for (const rulebook::Region& r : state->kind->regions) region_->addItem(q(r.title), q(r.id));
  if (const int at = region_->findData(chosen); at >= 0) region_->setCurrentIndex(at);
  const QString bone = bone_->currentData().toString();
  bone_->clear();
  if (session_.scene() && session_.scene()->model == session_.model())
    for (const BenchBone& one : session_.scene()->bones) bone_->addItem(q(one.name), q(one.key));
  if (const int at = bone_->findData(bone); at >= 0) bone_->setCurrentIndex(at);
  // A model that has changed is looked at again: the selection is by place and holds.
  if (selection_ && !present() && !looking_ && dragged_step_.empty()) look(*selection_, false);
  show();
}

void CorrectionPanel::setStoodAt(bool here) {
  here_ = here;
  show();
}

void CorrectionPanel::begin(Bench::Tool tool) {
  bench_.setTool(bench_.tool() == tool ? Bench::Tool::look_round : tool);
  bench_.setFocus();
}

void CorrectionPanel::outlineDrawn(const std::vector<glm::vec3>& outline, std::optional<glm::vec3> eye,
                                   glm::vec3 toward) {
  prepare::Selection selection;
  selection.part = part_;
  selection.outline = outline;
  selection.eye = eye;
  if (!eye) selection.toward = toward;
  selection.front_only = front_->isChecked();
  look(std::move(selection), part_.empty());
}

void CorrectionPanel::pieceClicked(const std::string& part, glm::vec3 point) {
  prepare::Selection selection;
  selection.part = part;
  selection.piece_at = point;
  look(std::move(selection), false);
}

void CorrectionPanel::look(prepare::Selection selection, bool find_part) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  looking_ = true;
  background_.post([this, model = state->prepared.model, selection = std::move(selection),
                    find_part](base::Progress&) mutable -> Background::Finish {
    if (find_part) selection.part = prepare::partInOutline(*model, selection);
    std::string why = "Nothing lies in what was drawn.";
    std::vector<glm::vec3> places;
    if (!selection.part.empty())
      if (const auto picked = prepare::pick(*model, selection, why)) places = prepare::pickedPlaces(*picked);
    return [this, model, selection = std::move(selection), places = std::move(places), why]() mutable {
      looking_ = false;
      of_ = model;
      places_ = std::move(places);
      why_ = q(why);
      selection_.reset();
      if (!places_.empty() || !selection.part.empty()) selection_ = std::move(selection);
      // The model may have changed meanwhile; what was picked is by place and holds.
      const check::ModelState* now = session_.prepared();
      if (selection_ && now != nullptr && now->prepared.model != of_ && of_model_ == session_.model())
        look(*selection_, false);
      show();
    };
  });
}

void CorrectionPanel::show() {
  const Action& a = kActions[what_->currentIndex()];
  const std::string step = a.step;
  const bool some = selection_ && !places_.empty();
  found_->setText(some ? tr("%1 of %2 picked.")
                             .arg(q(base::countText(places_.size(), "place", "places")),
                                  q(selection_->part.substr(selection_->part.rfind('/') + 1)))
                  : selection_ || !why_.isEmpty() ? why_
                                                  : tr("Nothing is picked."));
  for (QWidget* one : std::initializer_list<QWidget*>{what_, apply_, forget_}) one->setVisible(some);
  const bool region = step == "region_picked";
  axis_->setVisible(some && a.axis);
  region_->setVisible(some && region);
  const bool weights = step == "give_to_bone" || step == "smooth_weights";
  bone_->setVisible(some && step == "give_to_bone" && bone_->count() > 0);
  amount_->setVisible(some && *a.unit != 0);
  unit_->setVisible(some && *a.unit != 0);
  unit_->setText(tr(a.unit));
  soft_->setVisible(some && a.soft);
  soft_label_->setVisible(some && a.soft);
  apply_->setEnabled((!region || region_->count() > 0) && (!weights || bone_->count() > 0));
  if (some && weights && bone_->count() == 0)
    found_->setText(tr("The model has no bones that it could follow."));
  const QString kept = axis_->currentText();
  const QSignalBlocker quiet(axis_);
  axis_->clear();
  if (step == "bend_picked")
    for (const char* from : {"x", "y", "z"})
      for (const char* to : {"x", "y", "z"})
        if (from != to) axis_->addItem(tr("%1 towards %2").arg(QLatin1String(from), QLatin1String(to)));
  if (step == "turn_picked" || step == "flatten_picked")
    for (const char* axis : {"x", "y", "z"})
      axis_->addItem((step[0] == 't' ? tr("about %1") : tr("across %1")).arg(QLatin1String(axis)));
  if (const int at = axis_->findText(kept); at >= 0) axis_->setCurrentIndex(at);
  showHandle();
}

// What is picked, and what pulls, stretches or turns it: a hand's way to the numbers below.
void CorrectionPanel::showHandle() {
  const std::string step = kActions[what_->currentIndex()].step;
  const bool some = here_ && selection_ && !places_.empty();
  const bool turned = step == "turn_picked" || step == "bend_picked";
  std::optional<glm::vec3> handle;
  if (some && (turned || step == "move_picked" || step == "scale_picked")) {
    handle = glm::vec3(0);
    for (const glm::vec3& p : places_) *handle += p / static_cast<float>(places_.size());
  }
  std::vector<glm::vec3> shown = some ? places_ : std::vector<glm::vec3>();
  for (glm::vec3& p : shown) p += dragged_by_;
  const auto axisOf = [](QChar name) {
    glm::vec3 out(0);
    out[name == QLatin1Char('x') ? 0 : name == QLatin1Char('y') ? 1 : 2] = 1;
    return out;
  };
  glm::vec3 axis(0, 0, 1);
  const QString named = axis_->currentText();
  if (step == "turn_picked" && !named.isEmpty()) axis = axisOf(named.back());
  // From the one axis towards the other is a turn about the third.
  if (step == "bend_picked" && !named.isEmpty())
    axis = glm::cross(axisOf(named.front()), axisOf(named.back()));
  bench_.showPicked(std::move(shown), handle,
                    turned                   ? Bench::Handle::turn
                    : step == "scale_picked" ? Bench::Handle::scale
                                             : Bench::Handle::move,
                    axis);
}

void CorrectionPanel::apply() {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr || !selection_ || places_.empty()) return;
  const Action& a = kActions[what_->currentIndex()];
  const std::string step = a.step;
  const std::vector<double> typed = numbers(amount_->text());
  if (!present()) return found_->setText(tr("The model is being prepared; once more in a moment."));
  const auto wrong = [this](const QString& why) {
    amount_->setFocus();
    amount_->selectAll();
    found_->setText(why);
  };
  if (a.soft) {
    const std::vector<double> soft = numbers(soft_->text());
    if (soft.size() != 1 || soft[0] < 0) return wrong(tr("A soft edge is a number of millimetres."));
  }
  Json values = ways();
  if (step == "move_picked" || step == "scale_picked") {
    if (typed.size() != 3) return wrong(tr("Three numbers are wanted, as 0, 0, 0.1."));
    values[step == "move_picked" ? "by" : "factors"] = typed;
  } else if (step == "split_picked") {
    if (amount_->text().trimmed().isEmpty()) return wrong(tr("The new part needs a name."));
    values["name"] = s(amount_->text().trimmed());
  } else if (step == "region_picked") {
    values["region"] = s(region_->currentData().toString());
  } else if (*a.unit != 0) {
    if (typed.size() != 1) return wrong(tr("One number is wanted."));
    if (step == "give_to_bone") values["bone"] = s(bone_->currentData().toString());
    values[step == "snap_picked"      ? "grid_mm"
           : step == "give_to_bone"   ? "percent"
           : step == "smooth_weights" ? "rounds"
                                      : "degrees"] = typed[0];
  }
  session_.edit(tr("%1 what was picked").arg(tr(a.title)), [&](mod::ModState& mod) {
    prepare::addPickedStep(mod.models[session_.model()], state->prepared, step, values, *selection_);
  });
  // It is done; what was picked has moved on.
  if (step == "region_picked" || step == "split_picked" || step == "move_picked") forget();
}

// What beside the amount says how it is done: about which axis, and how soft the edge is.
Json CorrectionPanel::ways() const {
  const Action& a = kActions[what_->currentIndex()];
  const std::string step = a.step;
  Json values = Json::object();
  if (const std::vector<double> soft = numbers(soft_->text()); a.soft && soft.size() == 1 && soft[0] >= 0)
    values["soft_mm"] = soft[0];
  if (step == "turn_picked" || step == "flatten_picked") values["axis"] = s(axis_->currentText().right(1));
  if (step == "bend_picked") {
    values["along"] = s(axis_->currentText().left(1));
    values["toward"] = s(axis_->currentText().right(1));
  }
  return values;
}

void CorrectionPanel::drag(glm::vec3 value, bool done) {
  const check::ModelState* state = session_.prepared();
  // At another station the handle is a piece's.
  if (state == nullptr || !selection_ || bench_.piecesShown()) return;
  // A pull begins on what is seen; while it lasts, each value is followed by a preparation.
  if (dragged_step_.empty() && !present()) return;
  const std::string kind = kActions[what_->currentIndex()].step;
  const bool moved = kind == "move_picked", turned = kind == "turn_picked" || kind == "bend_picked";
  Json amount = Json::array();
  for (int i = 0; i < 3; ++i) amount.push_back(std::round(static_cast<double>(value[i]) * 1e5) / 1e5);
  if (turned) amount = static_cast<double>(value.x);
  const char* key = moved ? "by" : turned ? "degrees" : "factors";
  if (dragged_step_.empty()) ++drags_;
  if (moved) dragged_by_ = value;
  // One edit of many values, so that one undo takes the whole pull back.
  session_.edit(
      tr("%1 what was picked").arg(tr(kActions[what_->currentIndex()].title)),
      [&](mod::ModState& mod) {
        mod::ModelDoc& doc = mod.models[session_.model()];
        if (dragged_step_.empty()) {
          Json values = ways();
          values[key] = amount;
          dragged_step_ = prepare::addPickedStep(doc, state->prepared, kind, values, *selection_);
        } else {
          for (mod::StepDoc& step : doc.steps)
            if (step.id == dragged_step_) step.values[key] = amount;
        }
      },
      QStringLiteral("pull-%1").arg(drags_));
  if (done) forget();
}

void CorrectionPanel::forget() {
  selection_.reset();
  places_.clear();
  why_.clear();
  dragged_step_.clear();
  dragged_by_ = glm::vec3(0);
  show();
}

}  // namespace rakugo::app
