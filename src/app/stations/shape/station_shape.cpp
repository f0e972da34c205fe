#include <QCheckBox>
#include <QHBoxLayout>
#include <QMenu>
#include <array>
#include <cmath>
#include <functional>

#include "app/stations/shape/comparison_panel.h"
#include "app/stations/shape/correction_panel.h"
#include "app/stations/shape/outfit_panel.h"
#include "app/stations/shape/parts_panel.h"
#include "app/stations/shape/station_shape.h"
#include "app/stations/shape/structure_panel.h"
#include "app/stations/station_panel.h"
#include "app/widgets/chapter.h"
#include "app/widgets/gauge.h"
#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "check/verdicts.h"
#include "prepare/edit_steps.h"
#include "scene/gap.h"

namespace rakugo::app {
namespace {

QString litres(double l) {
  return ShapeStation::tr("%1 litres")
      .arg(q(l < 1000 ? base::numberText(l, l < 100 ? 2 : 0)
                      : base::groupedText(static_cast<uint64_t>(std::llround(l)))));
}

}  // namespace

ShapeStation::ShapeStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  makeSize();
  makeDirection();
  makeOrigin();
  makeMeasuring();
  parts_chapter_ = addChapter("shape/parts", tr("Parts"),
                              {"part.", "parts.", "mesh.triangles", "mesh.vertices", "mesh.part_triangles",
                               "mesh.no_triangles", "mesh.no_surface", "lighter.missing"});
  parts_ = new PartsPanel(session_, bench_, this);
  parts_chapter_->body()->addWidget(parts_);
  connect(parts_, &PartsPanel::chosenChanged, this, &ShapeStation::refreshChosen);
  outfit_chapter_ = addChapter("shape/outfit", tr("Outfit"), {"region.", "seam.", "variant."});
  outfit_ = new OutfitPanel(session_, bench_, this);
  outfit_chapter_->body()->addWidget(outfit_);
  structure_chapter_ = addChapter("shape/structure", tr("Structure"), {"mesh."});
  structure_ = new StructurePanel(session_, bench_, this);
  structure_chapter_->body()->addWidget(structure_);
  corrections_chapter_ = addChapter("shape/corrections", tr("Corrections"), {"step."});
  corrections_ = new CorrectionPanel(session_, bench_, this);
  corrections_chapter_->body()->addWidget(corrections_);
  comparison_chapter_ = addChapter("shape/comparison", tr("Beside the example"), {});
  comparison_ = new ComparisonPanel(session_, this);
  comparison_chapter_->body()->addWidget(comparison_);
  connect(&session_, &Session::sceneChanged, comparison_, &ComparisonPanel::refresh);
  connect(comparison_, &ComparisonPanel::compared, this, &ShapeStation::sayChapters);
  connect(structure_, &StructurePanel::looked, this, &ShapeStation::sayChapters);
  column_->addStretch();
  connect(&bench_, &Bench::gapAsked, this,
          [this](const QString& part, const QString& beside) { measureGap(s(part), s(beside)); });
  connect(&bench_, &Bench::pointPicked, this, &ShapeStation::putOriginAt);
  connect(&bench_, &Bench::pivotPicked, this, [this](glm::vec3 at) {
    parts_->putPivot(base::Json{{"to", "point"}, {"point", prepare::pointJson(at)}});
  });
  connect(&bench_, &Bench::frontChosen, this, &ShapeStation::faceForward);
  connect(&bench_, &Bench::quarterTurned, this, &ShapeStation::turnQuarters);
  connect(&bench_, &Bench::partClicked, this, [this](const QString& key) { parts_->choose(s(key)); });
}

void ShapeStation::makeSize() {
  size_chapter_ = addChapter("shape/size", tr("Size"), {"size.", "grid."});
  QVBoxLayout* column = size_chapter_->body();
  const QString names[3] = {tr("Length"), tr("Width"), tr("Height")};
  for (const int i : {2, 0, 1}) {
    gauges_[i] = new Gauge(names[i], this);
    column->addWidget(gauges_[i]);
    connect(gauges_[i], &Gauge::typed, this, [this, i](double length) { fitTo(i, length); });
  }
  reach_ = new Gauge(tr("Reach"), this, [](double m) { return q(base::lengthText(m)); });
  reach_->setToolTip(tr("How far the farthest vertex is from the origin"));
  volume_ = new Gauge(tr("Volume"), this, litres);
  volume_->setToolTip(tr("What the closed shells hold"));
  proportions_ = new QCheckBox(tr("Keep the proportions"), this);
  proportions_->setObjectName(QStringLiteral("keep-proportions"));
  proportions_->setChecked(true);
  column->addWidget(proportions_);
  column->addWidget(reach_);
  column->addWidget(volume_);
  more_ = quietText({}, this);
  more_->setObjectName(QStringLiteral("unit-guess"));
  column->addWidget(more_);
  whole_ = new QPushButton(tr("Scale by a whole factor…"), this);
  whole_->setObjectName(QStringLiteral("whole-factor"));
  column->addWidget(whole_, 0, Qt::AlignLeft);
  connect(whole_, &QPushButton::clicked, this, &ShapeStation::offerWholeFactors);
}

// A second click on a tool's button leaves the tool.
QPushButton* ShapeStation::toolButton(QHBoxLayout* row, const char* name, const QString& text,
                                      const QString& tip, Bench::Tool tool) {
  auto* button = new QPushButton(text, this);
  button->setObjectName(QLatin1String(name));
  button->setToolTip(tip);
  row->addWidget(button);
  connect(button, &QPushButton::clicked, this, [this, tool] {
    bench_.setTool(bench_.tool() == tool ? Bench::Tool::look_round : tool);
    bench_.setFocus();
  });
  return button;
}

void ShapeStation::makeDirection() {
  direction_chapter_ = addChapter("shape/direction", tr("Direction"), {"axes."});
  auto* tools = new QHBoxLayout;
  point_ = toolButton(tools, "point-front", tr("Point at the front"),
                      tr("Point at the side that faces forward"), Bench::Tool::point_front);
  rings_ = toolButton(tools, "turn-rings", tr("Turn by rings"),
                      tr("Drag a ring round the model: it turns by quarters"), Bench::Tool::turn_rings);
  tools->addStretch();
  direction_chapter_->body()->addLayout(tools);
  way_ = quietText({}, this);
  direction_chapter_->body()->addWidget(way_);
}

void ShapeStation::makeOrigin() {
  origin_chapter_ = addChapter("shape/origin", tr("Origin"), {"origin.", "placement."});
  auto* places = new QHBoxLayout;
  origin_ = toolButton(places, "pick-origin", tr("Click the origin"),
                       tr("Click the place in the bench that is to be the origin"), Bench::Tool::pick_point);
  floor_ = new QPushButton(tr("Drop to the floor"), this);
  floor_->setObjectName(QStringLiteral("drop-to-floor"));
  floor_->setToolTip(tr("The origin stays where it is but for its height"));
  places->addWidget(floor_);
  places->addStretch();
  origin_chapter_->body()->addLayout(places);
  connect(floor_, &QPushButton::clicked, this, &ShapeStation::dropToFloor);
}

void ShapeStation::makeMeasuring() {
  measuring_chapter_ = addChapter("shape/measuring", tr("Measuring"), {});
  auto* measuring = new QHBoxLayout;
  measure_ =
      toolButton(measuring, "measure", tr("Length"), tr("From one point to another"), Bench::Tool::measure);
  angle_ = toolButton(measuring, "measure-angle", tr("Angle"), tr("Between three points"),
                      Bench::Tool::measure_angle);
  gap_ = toolButton(measuring, "measure-gap", tr("Gap"), tr("The least distance between two parts"),
                    Bench::Tool::measure_gap);
  clear_ = new QPushButton(tr("Clear"), this);
  clear_->setObjectName(QStringLiteral("clear-notes"));
  clear_->setProperty("quiet", true);
  clear_->setToolTip(tr("Takes what was measured out of the drawing"));
  clear_->setVisible(false);
  measuring->addWidget(clear_);
  measuring->addStretch();
  measuring_chapter_->body()->addLayout(measuring);
  connect(clear_, &QPushButton::clicked, &bench_, &Bench::clearNotes);
  connect(&bench_, &Bench::notesChanged, this, [this] {
    clear_->setVisible(!bench_.notes().empty());
    sayChapters();
  });
}

void ShapeStation::enableFor(bool known) {
  for (Gauge* gauge : gauges_) gauge->setVisible(known);
  reach_->setVisible(known);
  volume_->setVisible(false);
  more_->setVisible(false);
  point_->setEnabled(known);
  rings_->setEnabled(known);
  for (QPushButton* one : {measure_, angle_, gap_}) one->setEnabled(known);
  origin_->setEnabled(known);
  proportions_->setVisible(known);
  way_->setVisible(known);
  floor_->setEnabled(known);
}

void ShapeStation::refresh() {
  const check::ModelState* state = session_.prepared();
  const bool known = state != nullptr;
  enableFor(known);
  refreshOfPart();
  comparison_->refresh();
  outfit_->refresh();
  outfit_chapter_->setVisible(outfit_->concerned());
  const auto& scene = session_.scene();
  comparison_chapter_->setVisible(scene && scene->ghost_model && scene->model == session_.model());
  drawInBench();
  whole_->setVisible(known && state->kind != nullptr && state->kind->grid.cell_m > 0);
  if (known) {
    refreshGauges(*state);
    refreshWords(*state);
  }
  sayChapters();
  settleChapters(size_chapter_);
}

// What speaks of the chosen part, and of it alone.
void ShapeStation::refreshOfPart() {
  parts_->refresh();
  structure_->refresh(parts_->chosen());
  corrections_->refresh(parts_->chosen());
}

// Another part is chosen: the model is the same.
void ShapeStation::refreshChosen() {
  refreshOfPart();
  drawInBench();
  sayChapters();
}

// How things stand, a line a chapter: what is asked for where something is, else what is there.
void ShapeStation::sayChapters() {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  if (state == nullptr) {
    for (Chapter* one : chapters()) say(one, {});
    return;
  }
  const scene::Model& model = *state->prepared.model;
  const rulebook::Kind* kind = state->kind;
  // What is wrong is said shortly, by what was measured.
  const auto measured = [&](Chapter* chapter, const QString& right) {
    const check::Finding* f = gravestOf(chapter);
    return f == nullptr           ? right
           : !f->measured.empty() ? q(f->measured)
                                  : q(base::phrase(check::findCheck(f->check)->title));
  };
  const bool banded = kind != nullptr && (kind->length_m || kind->width_m || kind->height_m);
  const glm::vec3 extents = prepare::gameExtents(state->box_m, model.frame, session_.book());
  say(size_chapter_,
      measured(size_chapter_,
               banded ? tr("in the band") : tr("%1 high").arg(q(base::lengthText(extents[2])))),
      banded);
  say(direction_chapter_,
      model.frame.turned ? measured(direction_chapter_, tr("as the game has it")) : tr("not turned yet"),
      model.frame.turned);
  say(origin_chapter_,
      measured(origin_chapter_, model.frame.turned ? tr("where the game wants it") : QString()),
      model.frame.turned);
  const auto notes = bench_.notes().size();
  say(measuring_chapter_, notes == 0 ? QString() : tr("%1 in the drawing").arg(notes));
  const scene::Counts counts = scene::countsOf(model);
  const QString parts = kind != nullptr && kind->max_triangles > 0
                            ? tr("%1 of %2 triangles")
                                  .arg(q(base::groupedText(counts.triangles)),
                                       q(base::groupedText(static_cast<uint64_t>(kind->max_triangles))))
                            : tr("%1, %2").arg(q(base::countText(counts.parts, "part", "parts")),
                                               q(base::countText(counts.triangles, "triangle", "triangles")));
  say(parts_chapter_, parts, kind != nullptr && kind->max_triangles > 0);
  say(outfit_chapter_, measured(outfit_chapter_, tr("as the game's record has it")), true);
  const auto [faults, meant] = structure_->counts();
  QString structure = faults == 0 ? tr("no faults") : q(base::countText(faults, "fault", "faults"));
  if (meant > 0) structure = tr("%1, %2 meant").arg(structure).arg(meant);
  // Of the part that is chosen alone.
  if (const scene::NodeIndex part = scene::findPart(model, parts_->chosen());
      !parts_->chosen().empty() && part.valid())
    structure = tr("%1: %2").arg(q(model.node(part).name), structure);
  say(structure_chapter_, structure, faults == 0);
  say(corrections_chapter_, measured(corrections_chapter_, {}));
  say(comparison_chapter_, comparison_->summary());
}

void ShapeStation::refreshGauges(const check::ModelState& state) {
  const rulebook::Kind* kind = state.kind;
  const glm::vec3 extents = prepare::gameExtents(state.box_m, state.prepared.model->frame, session_.book());
  std::optional<glm::vec3> ghost;
  if (session_.scene() && session_.scene()->model == session_.model())
    ghost = session_.scene()->ghost_extents_m;
  using Band = std::optional<rulebook::Band>;
  const std::array<Band, 3> bands = kind != nullptr
                                        ? std::array<Band, 3>{kind->length_m, kind->width_m, kind->height_m}
                                        : std::array<Band, 3>{};
  for (int i = 0; i < 3; ++i)
    gauges_[i]->setValue(extents[i], bands[static_cast<size_t>(i)],
                         ghost ? std::optional<double>((*ghost)[i]) : std::nullopt);
  const bool shown = session_.scene() && session_.scene()->model == session_.model();
  reach_->setValue(state.reach_m, kind != nullptr ? kind->reach_m : Band(),
                   shown ? session_.scene()->ghost_reach_m : std::nullopt);
  const double held = scene::heldVolume_m3(*state.structure).value_or(0) * 1000;
  volume_->setVisible(held > 0);
  volume_->setValue(held, kind != nullptr ? kind->volume_l : Band(),
                    shown ? session_.scene()->ghost_volume_l : std::nullopt);
}

void ShapeStation::refreshWords(const check::ModelState& state) {
  const scene::Model& model = *state.prepared.model;
  const rulebook::Rulebook& book = session_.book();
  if (state.unit && !state.unit->taken && state.unit->confidence != check::Confidence::guess) {
    more_->setVisible(true);
    more_->setText(tr("Its lengths look like %1.").arg(q(state.unit->title)));
  }
  way_->setText(
      model.frame.turned
          ? tr("Turned to the game's axes: %1 up, %2 forward.")
                .arg(q(geometry::axisName(book.up)), q(geometry::axisName(book.forward)))
          : tr("Not turned yet: %1 up and %2 forward, as it was written.")
                .arg(q(geometry::axisName(model.frame.up)), q(geometry::axisName(model.frame.forward))));
}

void ShapeStation::showPlace(const check::FindingPlace& place) {
  if (!place.part.empty()) parts_->choose(place.part);
}

void ShapeStation::fitTo(int axis, double length_m) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  const double now = prepare::gameExtents(state->box_m, state->prepared.model->frame, session_.book())[axis];
  if (!(now > 0)) return;
  static constexpr const char* kAlong[] = {"length", "width", "height"};
  session_.edit(tr("Fit to %1").arg(q(base::lengthText(length_m))), [&](mod::ModState& mod) {
    mod::ModelDoc& doc = mod.models[session_.model()];
    if (proportions_->isChecked())
      prepare::scaleBy(doc, length_m / now);
    else
      prepare::stretchBy(doc, kAlong[axis], length_m / now);
  });
}

void ShapeStation::putOriginAt(glm::vec3 point) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  session_.edit(tr("Put the origin at a point"), [&](mod::ModState& mod) {
    prepare::originAt(mod.models[session_.model()], state->prepared, point);
  });
}

void ShapeStation::measureGap(const std::string& part, const std::string& beside) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  background_.post(
      [this, model = state->prepared.model, part, beside](base::Progress&) -> Background::Finish {
        const auto gap =
            scene::gapBetween(*model, scene::findPart(*model, part), scene::findPart(*model, beside));
        return [this, gap] {
          if (gap) bench_.addNote({{gap->from_m, gap->to_m}, q(base::lengthText(gap->distance_m))});
        };
      });
}

void ShapeStation::dropToFloor() {
  session_.edit(tr("Drop to the floor"), [&](mod::ModState& mod) {
    prepare::setOrAddStep(mod.models[session_.model()], "origin", base::Json{{"to", "floor"}});
  });
}

void ShapeStation::offerWholeFactors() {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr || state->kind == nullptr) return;
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  const rulebook::Grid& grid = state->kind->grid;
  const glm::vec3 extents = prepare::gameExtents(state->box_m, state->prepared.model->frame, session_.book());
  for (int factor = 2; factor <= 8; ++factor) {
    const auto fits = check::gridFit(grid, extents * static_cast<float>(factor));
    if (std::any_of(fits.begin(), fits.end(), [](const check::GridFit& f) { return f.cells > f.most; }))
      break;
    connect(menu->addAction(tr("%1 times as large").arg(factor)), &QAction::triggered, this, [this, factor] {
      session_.edit(tr("Scale by a whole factor"),
                    [&](mod::ModState& mod) { prepare::scaleBy(mod.models[session_.model()], factor); });
    });
  }
  if (menu->isEmpty()) menu->addAction(tr("It is as large as the grid allows"))->setEnabled(false);
  menu->popup(whole_->mapToGlobal(QPoint(0, whole_->height())));
}

// Whether the examination says that the model's origin is not where it should be.
bool ShapeStation::originFound() const {
  const auto& examination = session_.examination();
  return examination && std::any_of(examination->findings.begin(), examination->findings.end(),
                                    [&](const check::Finding& f) {
                                      return f.check == "origin.place" && f.place.model == session_.model();
                                    });
}

// The cells that the model should fill, and whether it does.
std::vector<Bench::Line> ShapeStation::cellLines(const check::ModelState& state) const {
  std::vector<Bench::Line> lines;
  const rulebook::Kind* kind = state.kind;
  const geometry::Bounds& box = state.box_m;
  if (kind == nullptr || kind->grid.cell_m <= 0 || !state.prepared.model->frame.turned || box.empty())
    return lines;
  const prepare::GameAxes axes = prepare::gameAxes(state.prepared.model->frame, session_.book());
  const glm::vec3 way[3] = {axes.forward, axes.side, axes.up};
  const glm::vec3 extents = prepare::gameExtents(box, state.prepared.model->frame, session_.book());
  const auto fits = check::gridFit(kind->grid, extents);
  // Where its origin is off it stands beside its cells, however large it is.
  const bool good =
      std::all_of(fits.begin(), fits.end(), [](const check::GridFit& fit) { return fit.fits; }) &&
      !originFound();
  glm::vec3 half[3], middle(0);
  for (size_t a = 0; a < 3; ++a) {
    half[a] = way[a] * static_cast<float>(fits[a].wanted_m / 2);
    if (a == 2 && kind->origin == rulebook::OriginRule::floor_centre) middle += half[a];
  }
  for (size_t a = 0; a < 3; ++a) {
    const glm::vec3 b = half[(a + 1) % 3], c = half[(a + 2) % 3];
    for (const float s : {-1.0F, 1.0F})
      for (const float t : {-1.0F, 1.0F})
        lines.push_back({{middle - half[a] + b * s + c * t, middle + half[a] + b * s + c * t}, false, good});
  }
  return lines;
}

void ShapeStation::setStoodAt(bool here) {
  here_ = here;
  drawInBench();
  corrections_->setStoodAt(here);
}

// What belongs to this station is drawn while it is stood at.
void ShapeStation::drawInBench() {
  const check::ModelState* state = session_.prepared();
  if (!here_ || state == nullptr) {
    bench_.showLines({});
    bench_.showNames({});
    bench_.showWashes({});
    return;
  }
  std::vector<Bench::Line> lines = cellLines(*state);
  for (Bench::Line& line : parts_->pivotLines()) lines.push_back(std::move(line));
  lines.insert(lines.end(), outfit_->lines().begin(), outfit_->lines().end());
  bench_.showLines(std::move(lines));
  bench_.showNames(outfit_->names());
  bench_.showWashes(outfit_->washes());
}

void ShapeStation::turnQuarters(int axis, int quarters) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  // The ring stands on an axis of the model's space; the step speaks of the game's.
  const prepare::GameAxes axes = prepare::gameAxes(state->prepared.model->frame, session_.book());
  for (const auto& [name, way] :
       {std::pair("forward", axes.forward), std::pair("side", axes.side), std::pair("up", axes.up)}) {
    const float along = way[axis];
    if (std::abs(along) < 0.9F) continue;
    session_.edit(tr("Turn by quarters"), [&, about = name](mod::ModState& mod) {
      prepare::rotateBy(mod.models[session_.model()], about, (along > 0 ? 90.0 : -90.0) * quarters);
    });
    return;
  }
}

void ShapeStation::faceForward(glm::vec3 direction) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  session_.edit(tr("Turn to face forward"), [&](mod::ModState& mod) {
    mod::ModelDoc& doc = mod.models[session_.model()];
    prepare::setOrAddStep(doc, "turn",
                          prepare::turnToFace(doc, state->prepared.model->frame, session_.book(), direction));
  });
}

}  // namespace rakugo::app
