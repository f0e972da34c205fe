#include <QCheckBox>
#include <QHBoxLayout>
#include <array>
#include <cmath>

#include "app/gauge.h"
#include "app/panels.h"
#include "app/stations.h"
#include "app/structure_panel.h"
#include "base/text.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {

ShapeStation::ShapeStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  const QString names[3] = {tr("Length"), tr("Width"), tr("Height")};
  for (const int i : {2, 0, 1}) {
    gauges_[i] = new Gauge(names[i], this);
    column_->addWidget(gauges_[i]);
    connect(gauges_[i], &Gauge::typed, this, [this, i](double length) { fitTo(i, length); });
  }
  proportions_ = new QCheckBox(tr("Keep the proportions"), this);
  proportions_->setObjectName(QStringLiteral("keep-proportions"));
  proportions_->setChecked(true);
  column_->addWidget(proportions_);
  auto* tools = new QHBoxLayout;
  point_ = new QPushButton(tr("Point at the front"), this);
  point_->setObjectName(QStringLiteral("point-front"));
  measure_ = new QPushButton(tr("Measure"), this);
  measure_->setObjectName(QStringLiteral("measure"));
  tools->addWidget(point_);
  tools->addWidget(measure_);
  tools->addStretch();
  column_->addLayout(tools);
  origin_ = new QPushButton(tr("Click the origin"), this);
  origin_->setObjectName(QStringLiteral("pick-origin"));
  origin_->setToolTip(tr("Click the place in the bench that is to be the origin"));
  column_->addWidget(origin_, 0, Qt::AlignLeft);
  connect(point_, &QPushButton::clicked, this, [this] {
    bench_.setTool(Bench::Tool::point_front);
    bench_.setFocus();
  });
  connect(measure_, &QPushButton::clicked, this, [this] {
    bench_.setTool(bench_.tool() == Bench::Tool::measure ? Bench::Tool::look_round : Bench::Tool::measure);
    bench_.setFocus();
  });
  connect(origin_, &QPushButton::clicked, this, [this] {
    bench_.setTool(bench_.tool() == Bench::Tool::pick_point ? Bench::Tool::look_round
                                                            : Bench::Tool::pick_point);
    bench_.setFocus();
  });
  connect(&bench_, &Bench::pointPicked, this, &ShapeStation::putOriginAt);
  connect(&bench_, &Bench::frontChosen, this, &ShapeStation::faceForward);
  connect(&bench_, &Bench::partClicked, this, [this](const QString& key) { choosePart(s(key)); });
  way_ = quietText({}, this);
  column_->addWidget(way_);
  column_->addWidget(hairline(this));
  counts_ = heading(tr("Parts"), this);
  column_->addWidget(counts_);
  parts_ = new QVBoxLayout;
  parts_->setSpacing(2);
  column_->addLayout(parts_);
  column_->addWidget(hairline(this));
  structure_ = new StructurePanel(session_, bench_, this);
  column_->addWidget(structure_);
  column_->addStretch();
}

void ShapeStation::refresh() {
  clearLayout(parts_);
  const check::ModelState* state = session_.prepared();
  const bool known = state != nullptr;
  for (Gauge* gauge : gauges_) gauge->setVisible(known);
  point_->setEnabled(known);
  measure_->setEnabled(known);
  origin_->setEnabled(known);
  proportions_->setVisible(known);
  way_->setVisible(known);
  counts_->setVisible(known);
  structure_->refresh(chosen_);
  if (!known) return;
  const scene::Model& model = *state->prepared.model;
  const rulebook::Kind* kind = state->kind;
  const rulebook::Rulebook& book = session_.book();
  const glm::vec3 extents = prepare::gameExtents(model, book);
  std::optional<glm::vec3> ghost;
  if (kind != nullptr) {
    const auto& ghosts = session_.examination()->context.ghosts;
    if (const auto found = ghosts.find(kind->id); found != ghosts.end() && found->second.model) {
      // A ghost lies in the game's axes as it is.
      scene::Model own = *found->second.model;
      own.frame.turned = true;
      ghost = prepare::gameExtents(own, book);
    }
  }
  using Band = std::optional<rulebook::Band>;
  const std::array<Band, 3> bands = kind != nullptr
                                        ? std::array<Band, 3>{kind->length_m, kind->width_m, kind->height_m}
                                        : std::array<Band, 3>{};
  for (int i = 0; i < 3; ++i)
    gauges_[i]->setValue(extents[i], bands[static_cast<size_t>(i)],
                         ghost ? std::optional<double>((*ghost)[i]) : std::nullopt);
  way_->setText(
      model.frame.turned
          ? tr("Turned to the game's axes: %1 up, %2 forward.")
                .arg(q(geometry::axisName(book.up)), q(geometry::axisName(book.forward)))
          : tr("Not turned yet: %1 up and %2 forward, as it was written.")
                .arg(q(geometry::axisName(model.frame.up)), q(geometry::axisName(model.frame.forward))));
  const scene::Counts counts = scene::countsOf(model);
  QString text = tr("Parts: %1").arg(q(base::countText(counts.triangles, "triangle", "triangles")));
  if (kind != nullptr && kind->max_triangles > 0)
    text += tr(" of %1").arg(q(base::groupedText(static_cast<uint64_t>(kind->max_triangles))));
  counts_->setText(text);
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    int depth = 0;
    for (scene::NodeIndex up_node = node.parent; up_node.valid(); up_node = model.node(up_node).parent)
      ++depth;
    uint64_t triangles = 0;
    if (node.mesh.valid())
      for (const auto& p : model.mesh(node.mesh).primitives) triangles += p.indices.size() / 3;
    auto* row = new QWidget(this);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(std::min(depth, 6) * 12, 0, 0, 0);
    layout->setSpacing(2);
    auto* name = new QPushButton(q(node.name.empty() ? node.key : node.name), row);
    name->setObjectName(QStringLiteral("part-") + q(node.key));
    name->setProperty("quiet", true);
    name->setCheckable(true);
    name->setChecked(node.key == chosen_);
    name->setStyleSheet(QStringLiteral("text-align: left;"));
    connect(name, &QPushButton::clicked, this,
            [this, key = node.key] { choosePart(chosen_ == key ? std::string() : key); });
    layout->addWidget(name, 1);
    QString what = node.mesh.valid()       ? q(base::groupedText(triangles))
                   : node.camera.valid()   ? tr("camera")
                   : node.light.valid()    ? tr("light")
                   : node.children.empty() ? tr("empty")
                                           : tr("group");
    QLabel* count = quietText(what, row);
    count->setWordWrap(false);
    layout->addWidget(count);
    QPushButton* drop = signButton(Sign::remove, tr("Drop %1").arg(name->text()), row);
    drop->setObjectName(QStringLiteral("drop-") + q(node.key));
    connect(
        drop, &QPushButton::clicked, this, [this, key = node.key, label = tr("Drop %1").arg(name->text())] {
          session_.edit(label,
                        [&](mod::ModState& mod) { prepare::dropParts(mod.models[session_.model()], {key}); });
        });
    layout->addWidget(drop);
    parts_->addWidget(row);
  }
  if (state->same_parts)
    for (const scene::SameParts& same : *state->same_parts) addSameParts(model, same);
}

void ShapeStation::addSameParts(const scene::Model& model, const scene::SameParts& same) {
  std::vector<std::string> names;
  for (const scene::NodeIndex part : same.parts) names.push_back(model.node(part).name);
  parts_->addWidget(quietText(tr("%1 are the same part.").arg(q(base::listText(names, 4))), this));
  auto* keep = new QPushButton(tr("Keep one, note where the others stood"), this);
  keep->setObjectName(QStringLiteral("keep-one-") + q(model.node(same.parts[0]).key));
  keep->setToolTip(tr("The others are dropped; attachment points say where each copy belongs"));
  connect(keep, &QPushButton::clicked, this, [this, same, of = session_.prepared()->prepared.model] {
    const check::ModelState* now = session_.prepared();
    if (now == nullptr || now->prepared.model != of) return;  // the model has changed under the button
    session_.edit(tr("Keep one of %1 copies").arg(same.parts.size()), [&](mod::ModState& mod) {
      prepare::keepFirst(mod.models[session_.model()], *of, session_.book(), same);
    });
  });
  parts_->addWidget(keep);
}

void ShapeStation::choosePart(const std::string& key) {
  chosen_ = key;
  bench_.setSelectedPart(key);
  refresh();
}

void ShapeStation::showPlace(const check::FindingPlace& place) {
  if (!place.part.empty()) choosePart(place.part);
}

void ShapeStation::fitTo(int axis, double length_m) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  const double now = prepare::gameExtents(*state->prepared.model, session_.book())[axis];
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
  const mod::ModelDoc& doc = session_.state().models.at(session_.model());
  // The step speaks of the space before it: what it has moved already is added.
  glm::vec3 moved(0);
  for (size_t i = 0; i < doc.steps.size() && i < state->prepared.before.size(); ++i) {
    if (doc.steps[i].kind != "origin" || !doc.steps[i].enabled) continue;
    const scene::Model& after =
        i + 1 < state->prepared.before.size() ? *state->prepared.before[i + 1] : *state->prepared.model;
    moved = scene::boundsOf(*state->prepared.before[i]).min - scene::boundsOf(after).min;
    break;
  }
  base::Json at = base::Json::array();
  for (int i = 0; i < 3; ++i) at.push_back(std::round(static_cast<double>(point[i] + moved[i]) * 1e6) / 1e6);
  session_.edit(tr("Put the origin at a point"), [&](mod::ModState& mod) {
    prepare::setOrAddStep(mod.models[session_.model()], "origin", base::Json{{"to", "point"}, {"point", at}});
  });
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
