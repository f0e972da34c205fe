#include <QCheckBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <cmath>

#include "app/gauge.h"
#include "app/panels.h"
#include "app/stations.h"
#include "base/text.h"

namespace rakugo::app {

ShapeStation::ShapeStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  const QString names[3] = {tr("Length"), tr("Width"), tr("Height")};
  for (const int i : {2, 0, 1}) {
    gauges_[i] = new Gauge(names[i], this);
    column_->addWidget(gauges_[i]);
    connect(gauges_[i], &Gauge::typed, this, [this, i](double length) { fitTo(i, length); });
  }
  auto* tools = new QHBoxLayout;
  point_ = new QPushButton(tr("Point at the front"), this);
  point_->setObjectName(QStringLiteral("point-front"));
  measure_ = new QPushButton(tr("Measure"), this);
  measure_->setObjectName(QStringLiteral("measure"));
  tools->addWidget(point_);
  tools->addWidget(measure_);
  tools->addStretch();
  column_->addLayout(tools);
  connect(point_, &QPushButton::clicked, this, [this] {
    bench_.setTool(Bench::Tool::point_front);
    bench_.setFocus();
  });
  connect(measure_, &QPushButton::clicked, this, [this] {
    bench_.setTool(bench_.tool() == Bench::Tool::measure ? Bench::Tool::look_round : Bench::Tool::measure);
    bench_.setFocus();
  });
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
  column_->addStretch();
}

void ShapeStation::refresh() {
  clearLayout(parts_);
  const auto& x = session_.examination();
  const auto state = x ? x->context.models.find(session_.model()) : decltype(x->context.models.find(""))();
  const bool known = x && state != x->context.models.end() && state->second.prepared.model;
  for (Gauge* gauge : gauges_) gauge->setVisible(known);
  point_->setEnabled(known);
  measure_->setEnabled(known);
  way_->setVisible(known);
  counts_->setVisible(known);
  if (!known) return;
  const scene::Model& model = *state->second.prepared.model;
  const rulebook::Kind* kind = state->second.kind;
  const glm::vec3 size = scene::boundsOf(model).size();
  const rulebook::Rulebook& book = session_.book();
  const glm::vec3 forward =
                      glm::abs(geometry::axisVector(model.frame.turned ? book.forward : model.frame.forward)),
                  up = glm::abs(geometry::axisVector(model.frame.turned ? book.up : model.frame.up));
  const glm::vec3 axes[3] = {forward, glm::abs(glm::cross(up, forward)), up};
  std::optional<geometry::Bounds> ghost;
  if (kind != nullptr)
    if (const auto found = x->context.ghosts.find(kind->id);
        found != x->context.ghosts.end() && found->second.model)
      ghost = scene::boundsOf(*found->second.model);
  const glm::vec3 game_axes[3] = {glm::abs(geometry::axisVector(book.forward)), glm::abs(book.side()),
                                  glm::abs(geometry::axisVector(book.up))};
  const std::optional<rulebook::Band> bands[3] = {kind != nullptr ? kind->length_m : std::nullopt,
                                                  kind != nullptr ? kind->width_m : std::nullopt,
                                                  kind != nullptr ? kind->height_m : std::nullopt};
  for (int i = 0; i < 3; ++i)
    gauges_[i]->setValue(glm::dot(size, axes[i]), bands[i],
                         ghost ? std::optional<double>(glm::dot(ghost->size(), game_axes[i])) : std::nullopt);
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
                   : node.camera           ? tr("camera")
                   : node.light            ? tr("light")
                   : node.children.empty() ? tr("empty")
                                           : tr("group");
    QLabel* count = quietText(what, row);
    count->setWordWrap(false);
    layout->addWidget(count);
    QPushButton* drop = signButton(Sign::remove, tr("Drop %1").arg(name->text()), row);
    drop->setObjectName(QStringLiteral("drop-") + q(node.key));
    connect(drop, &QPushButton::clicked, this,
            [this, key = node.key, label = tr("Drop %1").arg(name->text())] {
              session_.edit(label, [&](mod::ModState& mod) {
                mod::ModelDoc& doc = mod.models[session_.model()];
                for (mod::StepDoc& step : doc.steps)
                  if (step.kind == "drop" && step.enabled && step.values["parts"].is_array()) {
                    step.values["parts"].push_back(key);
                    return;
                  }
                prepare::insertByRank(
                    doc, prepare::makeStep(doc, "drop", base::Json{{"parts", base::Json::array({key})}}));
              });
            });
    layout->addWidget(drop);
    parts_->addWidget(row);
  }
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
  const auto& x = session_.examination();
  if (!x) return;
  const auto state = x->context.models.find(session_.model());
  if (state == x->context.models.end() || !state->second.prepared.model) return;
  const scene::Model& model = *state->second.prepared.model;
  const rulebook::Rulebook& book = session_.book();
  const glm::vec3 forward =
                      glm::abs(geometry::axisVector(model.frame.turned ? book.forward : model.frame.forward)),
                  up = glm::abs(geometry::axisVector(model.frame.turned ? book.up : model.frame.up));
  const glm::vec3 axes[3] = {forward, glm::abs(glm::cross(up, forward)), up};
  const double now = glm::dot(scene::boundsOf(model).size(), axes[axis]);
  if (!(now > 0)) return;
  const double factor = length_m / now;
  session_.edit(tr("Fit to %1").arg(q(base::lengthText(length_m))), [&](mod::ModState& mod) {
    mod::ModelDoc& doc = mod.models[session_.model()];
    // One scale step carries all fitting; typing again changes its factor.
    for (mod::StepDoc& step : doc.steps)
      if (step.kind == "scale" && step.enabled && step.values["factor"].is_number()) {
        step.values["factor"] = step.values["factor"].get<double>() * factor;
        return;
      }
    prepare::insertByRank(doc, prepare::makeStep(doc, "scale", base::Json{{"factor", factor}}));
  });
}

void ShapeStation::faceForward(glm::vec3 direction) {
  const auto& x = session_.examination();
  if (!x) return;
  const auto state = x->context.models.find(session_.model());
  if (state == x->context.models.end() || !state->second.prepared.model) return;
  const scene::Frame frame = state->second.prepared.model->frame;
  const rulebook::Rulebook book = session_.book();
  session_.edit(tr("Turn to face forward"), [&](mod::ModState& mod) {
    mod::ModelDoc& doc = mod.models[session_.model()];
    for (mod::StepDoc& step : doc.steps) {
      if (step.kind != "turn" || !step.enabled) continue;
      const auto forward = geometry::axisFromName(step.values.value("forward", "")),
                 up = geometry::axisFromName(step.values.value("up", ""));
      if (!forward || !up) continue;
      // The step speaks in the sides of what it turns: carry the chosen side back through the turn.
      const glm::mat3 turn = geometry::quarterTurn(*forward, *up, book.forward, book.up);
      step.values["forward"] = geometry::axisName(geometry::nearestAxis(glm::transpose(turn) * direction));
      return;
    }
    prepare::insertByRank(
        doc, prepare::makeStep(doc, "turn",
                               base::Json{{"forward", geometry::axisName(geometry::nearestAxis(direction))},
                                          {"up", geometry::axisName(frame.up)}}));
  });
}

}  // namespace rakugo::app
