#include "app/structure_panel.h"

#include <QCoreApplication>
#include <QHBoxLayout>

#include "app/panels.h"
#include "base/text.h"
#include "check/fault_meaning.h"
#include "prepare/edit_steps.h"
#include "prepare/fault_mends.h"

namespace rakugo::app {
namespace {

using scene::FaultCode;

// What a sort of fault is called, for one and for several; whether only a thorough look finds it.
struct Words {
  FaultCode code;
  const char* one;
  const char* many;
  bool thorough;
};

constexpr Words kWords[] = {
    {FaultCode::flipped_triangles, QT_TRANSLATE_NOOP("StructurePanel", "triangle faces the wrong way"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles face the wrong way"), false},
    {FaultCode::inside_out_shells, QT_TRANSLATE_NOOP("StructurePanel", "shell faces inward"),
     QT_TRANSLATE_NOOP("StructurePanel", "shells face inward"), false},
    {FaultCode::duplicate_triangles, QT_TRANSLATE_NOOP("StructurePanel", "triangle is there twice"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles are there twice"), false},
    {FaultCode::nonmanifold_edges, QT_TRANSLATE_NOOP("StructurePanel", "edge of three faces or more"),
     QT_TRANSLATE_NOOP("StructurePanel", "edges of three faces or more"), false},
    {FaultCode::nonmanifold_vertices, QT_TRANSLATE_NOOP("StructurePanel", "vertex where surfaces only touch"),
     QT_TRANSLATE_NOOP("StructurePanel", "vertices where surfaces only touch"), false},
    {FaultCode::degenerate_triangles, QT_TRANSLATE_NOOP("StructurePanel", "triangle without a surface"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles without a surface"), false},
    {FaultCode::needle_triangles, QT_TRANSLATE_NOOP("StructurePanel", "triangle thin as a needle"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles thin as needles"), false},
    {FaultCode::normals_missing, QT_TRANSLATE_NOOP("StructurePanel", "vertex without a normal"),
     QT_TRANSLATE_NOOP("StructurePanel", "vertices without a normal"), false},
    {FaultCode::normals_bad, QT_TRANSLATE_NOOP("StructurePanel", "wrong normal"),
     QT_TRANSLATE_NOOP("StructurePanel", "wrong normals"), false},
    {FaultCode::unused_vertices, QT_TRANSLATE_NOOP("StructurePanel", "vertex that nothing uses"),
     QT_TRANSLATE_NOOP("StructurePanel", "vertices that nothing uses"), false},
    {FaultCode::coincident_vertices, QT_TRANSLATE_NOOP("StructurePanel", "vertex that could be joined"),
     QT_TRANSLATE_NOOP("StructurePanel", "vertices that could be joined"), false},
    {FaultCode::specks, QT_TRANSLATE_NOOP("StructurePanel", "speck"),
     QT_TRANSLATE_NOOP("StructurePanel", "specks"), false},
    {FaultCode::self_intersections, QT_TRANSLATE_NOOP("StructurePanel", "pair of triangles that cross"),
     QT_TRANSLATE_NOOP("StructurePanel", "pairs of triangles that cross"), true},
    {FaultCode::hidden_triangles, QT_TRANSLATE_NOOP("StructurePanel", "triangle hidden inside"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles hidden inside"), true},
    {FaultCode::open_edges, QT_TRANSLATE_NOOP("StructurePanel", "open edge"),
     QT_TRANSLATE_NOOP("StructurePanel", "open edges"), false},
    {FaultCode::shapeless_vertices, QT_TRANSLATE_NOOP("StructurePanel", "vertex that carries no shape"),
     QT_TRANSLATE_NOOP("StructurePanel", "vertices that carry no shape"), false},
    {FaultCode::unaligned_edges, QT_TRANSLATE_NOOP("StructurePanel", "edge off the block's axes"),
     QT_TRANSLATE_NOOP("StructurePanel", "edges off the block's axes"), false},
    {FaultCode::uvs_missing, QT_TRANSLATE_NOOP("StructurePanel", "vertex without UVs"),
     QT_TRANSLATE_NOOP("StructurePanel", "vertices without UVs"), false},
    {FaultCode::uvs_outside, QT_TRANSLATE_NOOP("StructurePanel", "vertex beyond its picture"),
     QT_TRANSLATE_NOOP("StructurePanel", "vertices beyond their picture"), false},
    {FaultCode::uvs_overlapping, QT_TRANSLATE_NOOP("StructurePanel", "triangle that shares its UVs"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles that share their UVs"), true},
    {FaultCode::uvs_mirrored, QT_TRANSLATE_NOOP("StructurePanel", "triangle mirrored on its picture"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles mirrored on their picture"), false},
    {FaultCode::uvs_collapsed, QT_TRANSLATE_NOOP("StructurePanel", "triangle on one point of its picture"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles on one point of a picture"), false},
    {FaultCode::uvs_stretched, QT_TRANSLATE_NOOP("StructurePanel", "triangle whose picture is drawn out"),
     QT_TRANSLATE_NOOP("StructurePanel", "triangles whose picture is drawn out"), false}};

QString sentence(FaultCode code, uint64_t count) {
  for (const Words& w : kWords)
    if (w.code == code)
      return q(base::groupedText(count)) + QLatin1Char(' ') +
             QCoreApplication::translate("StructurePanel", count == 1 ? w.one : w.many);
  return {};
}

}  // namespace

StructurePanel::StructurePanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(heading(tr("Structure"), this));
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
  const bool thorough = thorough_of_ == model_;
  structure_ = thorough ? thorough_ : state->structure;

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
  const bool grid = state->kind != nullptr && state->kind->grid.cell_m > 0;
  const bool linear = grid && state->kind->grid.linear;
  size_t faults = 0;
  for (const bool meant : {false, true}) {
    bool first = true;
    for (const Words& w : kWords) {
      // Where a kind asks for flat faces along its cells, these are faults.
      const bool asked =
          linear && (w.code == FaultCode::shapeless_vertices || w.code == FaultCode::unaligned_edges);
      const bool may_be = !check::meaningOf(w.code, session_.book()).fine.empty();
      if ((may_be && !asked) != meant || (w.thorough && !thorough)) continue;
      // Off a block's axes is everything that is no block.
      if (w.code == FaultCode::unaligned_edges && !grid) continue;
      const scene::Fault fault = sumOf(w.code);
      if (fault.count == 0) continue;
      if (meant && first) rows_->addWidget(quietText(tr("As it may be meant:"), this));
      first = false;
      faults += meant ? 0 : 1;
      addRow(w.code, fault);
    }
    if (!meant && faults == 0) rows_->addWidget(quietText(tr("No faults."), this));
  }
  look_->setVisible(!thorough || looking_ != nullptr);
  look_->setText(looking_ ? tr("Looking… click to cancel") : tr("Look thoroughly"));
}

scene::Fault StructurePanel::sumOf(FaultCode code) const {
  scene::Fault out;
  for (const scene::PartStructure& s : *structure_) {
    if (!part_.empty() && model_->node(s.node).key != part_) continue;
    out.count += s.fault(code).count;
    for (const glm::vec3& at : s.fault(code).marks)
      if (out.marks.size() < scene::kMostMarks) out.marks.push_back(at);
  }
  return out;
}

void StructurePanel::addRow(FaultCode code, const scene::Fault& fault) {
  const bool here = walked_ == code;
  auto* name = new QPushButton(sentence(code, fault.count), this);
  name->setObjectName(QStringLiteral("fault-") + QLatin1String(scene::faultName(code)));
  name->setProperty("quiet", true);
  name->setCheckable(true);
  name->setChecked(here);
  name->setStyleSheet(QStringLiteral("text-align: left;"));
  connect(name, &QPushButton::clicked, this, [this, code] { walk(code, walked_ == code ? 0 : 1); });
  rows_->addWidget(name);
  if (here) addWalk(code, fault.marks.size());
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
  const auto mends = prepare::mendsOf(code, glm::length(session_.prepared()->box_m.size()));
  for (const prepare::FaultMend& mend : mends) {
    auto* button = new QPushButton(q(mend.label), walk_);
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
  const std::vector<glm::vec3> marks = sumOf(code).marks;
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
    };
  });
  refresh(part_);
}

}  // namespace rakugo::app
