#include "app/stations/shape/structure_panel.h"

#include <QHBoxLayout>

#include "app/widgets/panels.h"
#include "base/text.h"
#include "check/structure_faults.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {
namespace {

using scene::FaultCode;

QString sentence(FaultCode code, uint64_t count) {
  const check::FaultRow& row = check::faultRow(code);
  return q(base::countText(count, row.label_one, row.label_many));
}

}  // namespace

StructurePanel::StructurePanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  facts_ = quietText({}, this);
  facts_->setObjectName(QStringLiteral("structure-facts"));
  column->addWidget(facts_);
  rows_ = new QVBoxLayout;
  rows_->setSpacing(2);
  column->addLayout(rows_);
  look_ = new QPushButton(this);
  look_->setObjectName(QStringLiteral("look-thoroughly"));
  look_->setToolTip(
      tr("Triangles that cross, that are hidden inside, or that share their place on the picture"));
  column->addWidget(look_);
  connect(look_, &QPushButton::clicked, this, [this] {
    if (looking_)
      looking_->cancel();
    else
      lookThoroughly();
  });
}

StructurePanel::~StructurePanel() {
  if (looking_) looking_->cancel();  // the worker is waited for
}

void StructurePanel::refresh(const std::string& part) {
  const check::ModelState* state = session_.prepared();
  setVisible(state != nullptr && state->structure != nullptr);
  if (state == nullptr || !state->structure) return;
  if (model_ != state->prepared.model || part_ != part) walked_.reset();
  model_ = state->prepared.model;
  part_ = part;
  const bool looked = thorough_of_ == model_, thorough = looked || state->thorough;
  structure_ = looked ? thorough_ : state->structure;

  uint64_t shells = 0, borders = 0, most_triangles = 0;
  uint32_t index_bits = 16;
  double area_m2 = 0;
  std::optional<double> volume_m3;
  bool known = false;
  for (const scene::PartStructure& s : *structure_) {
    if (!part_.empty() && model_->node(s.node).key != part_) continue;
    known = true;
    shells += s.shells;
    borders += s.open_loops.size();
    area_m2 += s.area_m2;
    most_triangles = std::max(most_triangles, s.triangles);
    index_bits = std::max(index_bits, s.index_bits);
    if (s.volume_m3) volume_m3 = volume_m3.value_or(0) + *s.volume_m3;
  }
  setVisible(known);
  QStringList facts = {
      q(base::countText(shells, "shell", "shells")),
      borders == 0 ? tr("closed") : q(base::countText(borders, "open border", "open borders")),
      tr("%1 m² of surface").arg(q(base::numberText(area_m2, 3)))};
  if (volume_m3) facts << tr("holds %1 litres").arg(q(base::numberText(*volume_m3 * 1000, 2)));
  // A budget that each part has for itself, and how its vertices are numbered.
  if (state->kind != nullptr && state->kind->max_part_triangles > 0)
    facts << tr("%1 of %2 triangles in a part")
                 .arg(q(base::groupedText(most_triangles)),
                      q(base::groupedText(static_cast<uint64_t>(state->kind->max_part_triangles))));
  facts << tr("indices of %1 bits").arg(index_bits);
  facts_->setText(facts.join(QStringLiteral(" · ")));

  clearLayout(rows_);
  faults_ = meant_ = 0;
  for (const bool meant : {false, true}) {
    bool first = true;
    for (const check::FaultRow& row : check::faultTable()) {
      if (scene::needsThoroughLook(row.code) && !thorough) continue;
      const check::FoundFault found = foundOf(row.code);
      if (found.count == 0 || found.asked == meant) continue;
      // Off a block's axes is everything that is no block.
      if (row.code == FaultCode::unaligned_edges && meant) continue;
      if (meant && first) rows_->addWidget(quietText(tr("As it may be meant:"), this));
      first = false;
      ++(meant ? meant_ : faults_);
      addRow(found);
    }
    if (!meant && faults_ == 0) rows_->addWidget(quietText(tr("No faults."), this));
  }
  look_->setVisible(!thorough || looking_ != nullptr);
  look_->setText(looking_ ? tr("Looking… click to cancel") : tr("Look thoroughly"));
}

check::FoundFault StructurePanel::foundOf(FaultCode code) const {
  const check::ModelState* state = session_.prepared();
  return check::foundFault(code, *model_, *structure_, session_.book(),
                           state != nullptr ? state->kind : nullptr, part_);
}

void StructurePanel::addRow(const check::FoundFault& fault) {
  const FaultCode code = fault.code;
  const bool here = walked_ == code;
  auto* name = new NameButton(sentence(code, fault.count), this);
  name->setObjectName(QStringLiteral("fault-") + QLatin1String(scene::faultName(code)));
  name->setProperty("quiet", true);
  name->setCheckable(true);
  name->setChecked(here);
  name->setStyleSheet(QStringLiteral("text-align: left;"));
  connect(name, &QPushButton::clicked, this, [this, code] { walk(code, walked_ == code ? 0 : 1); });
  rows_->addWidget(name);
  if (here) addWalk(code, fault.marks_m.size());
}

// Under the fault that is walked: where one is, what mends it, and what it does in the game.
void StructurePanel::addWalk(FaultCode code, size_t places) {
  walk_ = new QWidget(this);
  auto* column = new QVBoxLayout(walk_);
  column->setContentsMargins(8, 0, 0, 4);
  column->setSpacing(4);
  if (places > 1) {
    auto* row = new QHBoxLayout;
    row->setSpacing(2);
    QLabel* where = quietText(tr("Place %1 of %2").arg(at_ + 1).arg(places), walk_);
    where->setObjectName(QStringLiteral("fault-place"));
    where->setWordWrap(false);
    row->addWidget(where, 1);
    for (const bool on : {false, true}) {
      QPushButton* step =
          signButton(on ? Sign::later : Sign::earlier, on ? tr("Next place") : tr("Place before"), walk_);
      step->setObjectName(on ? QStringLiteral("fault-next") : QStringLiteral("fault-before"));
      connect(step, &QPushButton::clicked, this, [this, code, on] { walk(code, on ? 1 : -1); });
      row->addWidget(step);
    }
    column->addLayout(row);
  }
  const auto mends = check::mendsOf(code, glm::length(session_.prepared()->box_m.size()));
  for (const check::FaultMend& mend : mends) {
    auto* button = new NameButton(q(mend.label), walk_);
    button->setObjectName(QStringLiteral("mend-") + QLatin1String(scene::faultName(code)));
    connect(button, &QPushButton::clicked, this, [this, mend] {
      if (session_.prepared() == nullptr || session_.prepared()->prepared.model != model_) return;
      session_.edit(q(mend.label), [&](mod::ModState& mod) {
        prepare::setOrAddStep(mod.models[session_.model()], mend.step, mend.values);
      });
    });
    column->addWidget(button, 0, Qt::AlignLeft);
  }
  const check::FaultMeaning meaning = check::meaningOf(code, session_.book());
  QString text = q(meaning.reason);
  // Where a button mends it, that says what to do.
  for (const std::string& more : {mends.empty() ? meaning.cure : std::string(), meaning.fine})
    if (!more.empty()) text += QLatin1Char(' ') + q(more);
  QLabel* words = quietText(text, walk_);
  words->setObjectName(QStringLiteral("fault-meaning"));
  column->addWidget(words);
  rows_->addWidget(walk_);
}

// By 0 ends the walk; otherwise to the next place or the one before, round and round.
void StructurePanel::walk(FaultCode code, int by) {
  const std::vector<glm::vec3> marks = foundOf(code).marks_m;
  if (by == 0 || marks.empty()) {
    walked_.reset();
    bench_.showMarks({});
  } else {
    const auto count = static_cast<int>(marks.size());
    at_ = walked_ == code ? static_cast<size_t>((static_cast<int>(at_) + by + count) % count) : 0;
    walked_ = code;
    bench_.showMarks(marks, at_);
  }
  refresh(part_);
  if (walked_ && walk_) reveal(walk_);
}

void StructurePanel::lookThoroughly() {
  looking_ = std::make_shared<base::Progress>();
  background_.post([this, model = model_, progress = looking_](base::Progress&) -> Background::Finish {
    auto found = scene::structureOf(*model, 1, {}, progress.get());
    return [this, model, found = std::move(found)]() mutable {
      looking_.reset();
      if (found) {
        thorough_of_ = model;
        thorough_ = std::make_shared<const std::vector<scene::PartStructure>>(std::move(found).value());
      }
      refresh(part_);
      Q_EMIT looked();
    };
  });
  refresh(part_);
}

}  // namespace rakugo::app
