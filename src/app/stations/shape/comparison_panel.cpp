#include "app/stations/shape/comparison_panel.h"

#include <QGridLayout>
#include <algorithm>
#include <cmath>

#include "app/widgets/panels.h"
#include "base/text.h"
#include "prepare/edit_steps.h"
#include "prepare/objects/point_edits.h"

namespace rakugo::app {
ComparisonPanel::ComparisonPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  title_ = heading({}, this);
  title_->setObjectName(QStringLiteral("beside"));
  title_->setWordWrap(true);
  column->addWidget(title_);
  rows_ = new QVBoxLayout;
  rows_->setSpacing(2);
  column->addLayout(rows_);
  more_ = new QPushButton(this);
  more_->setObjectName(QStringLiteral("beside-more"));
  more_->setProperty("quiet", true);
  column->addWidget(more_, 0, Qt::AlignLeft);
  connect(more_, &QPushButton::clicked, this, [this] {
    all_ = !all_;
    list();
  });
}

void ComparisonPanel::refresh() {
  const auto& scene = session_.scene();
  const bool some = scene && scene->ghost_model && scene->made_from && scene->model == session_.model();
  setVisible(some);
  if (!some) return;
  title_->setText(tr("Beside %1").arg(q(scene->ghost_title)));
  const auto doc = session_.state().models.find(session_.model());
  std::vector<scene::NamedPlace> points = doc != session_.state().models.end()
                                              ? prepare::pointsOf(doc->second)
                                              : std::vector<scene::NamedPlace>();
  if (of_ != scene->made_from || beside_ != scene->ghost_model || points_ != points) {
    points_ = std::move(points);
    compare(scene);
  }
  list();
}

void ComparisonPanel::compare(std::shared_ptr<const BenchScene> scene) {
  of_ = scene->made_from;
  beside_ = scene->ghost_model;
  found_.reset();
  background_.post([this, own = of_, points = points_, scene](base::Progress&) -> Background::Finish {
    auto found = std::make_shared<const scene::ModelComparison>(
        scene::compareModels({*own, 1, points}, {*scene->ghost_model, 1, scene->ghost_points}));
    return [this, own, points, other = scene->ghost_model, found] {
      if (of_ != own || beside_ != other || points_ != points) return;  // another pair is on its way
      found_ = found;
      list();
      Q_EMIT compared();
    };
  });
}

// What can be taken over from it at once: how high it is.
void ComparisonPanel::offerHeight() {
  const check::ModelState* state = session_.prepared();
  const auto& scene = session_.scene();
  if (state == nullptr || !scene || !scene->ghost_extents_m) return;
  const double own = prepare::gameExtents(state->box_m, state->prepared.model->frame, session_.book()).z,
               other = scene->ghost_extents_m->z;
  if (!(own > 0 && other > 0) || std::abs(own / other - 1) < 0.01) return;
  auto* take = new QPushButton(tr("Make it %1 high, as that is").arg(q(base::lengthText(other))), this);
  take->setObjectName(QStringLiteral("beside-height"));
  connect(take, &QPushButton::clicked, this, [this, factor = other / own] {
    session_.edit(tr("Take a height"),
                  [&](mod::ModState& mod) { prepare::scaleBy(mod.models[session_.model()], factor); });
  });
  rows_->addWidget(take, 0, Qt::AlignLeft);
}

// Attachment points that the kind knows and only the other has, where it has them.
void ComparisonPanel::offerPoints() {
  const check::ModelState* state = session_.prepared();
  const auto& scene = session_.scene();
  if (state == nullptr || state->kind == nullptr || !scene) return;
  std::vector<scene::NamedPlace> taken;
  for (const scene::NamedPlace& place : scene->ghost_points)
    if (state->kind->findPoint(place.name) != nullptr &&
        std::none_of(points_.begin(), points_.end(), [&](const auto& own) { return own.name == place.name; }))
      taken.push_back(place);
  if (taken.empty()) return;
  std::vector<std::string> names;
  for (const scene::NamedPlace& place : taken)
    names.push_back(base::lowerAscii(state->kind->findPoint(place.name)->title));
  auto* take = new QPushButton(tr("Take its attachment points"), this);
  take->setObjectName(QStringLiteral("beside-points"));
  take->setToolTip(tr("At the same places: %1").arg(q(base::listText(names, 8))));
  connect(take, &QPushButton::clicked, this, [this, taken] {
    session_.edit(tr("Take attachment points"), [&](mod::ModState& mod) {
      if (auto* doc = mod.models.change(session_.model()))
        prepare::putPoints(*doc, taken, session_.book().side());
    });
  });
  rows_->addWidget(take, 0, Qt::AlignLeft);
}

QString ComparisonPanel::summary() const {
  if (!found_) return {};
  const size_t count = found_->differences.size();
  return count == 0 ? tr("nothing differs") : q(base::countText(count, "difference", "differences"));
}

void ComparisonPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  list();
}

void ComparisonPanel::list() {
  // A scroll area is not told of what changes while it is not seen.
  if (!isVisible()) return;
  clearLayout(rows_);
  more_->setVisible(false);
  if (!found_) {
    rows_->addWidget(quietText(tr("Looking…"), this));
    return;
  }
  // Counts side by side, then what differs in words; "the first" is this model.
  auto* table = new QWidget(this);
  auto* grid = new QGridLayout(table);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setVerticalSpacing(1);
  const auto row = [&](const QString& what, uint64_t own, uint64_t other) {
    const int at = grid->rowCount();
    QLabel* name = quietText(what, table);
    name->setWordWrap(false);
    grid->addWidget(name, at, 0);
    for (const auto& [column, value] : {std::pair(1, own), std::pair(2, other)}) {
      QLabel* number = plainText(q(base::groupedText(value)), table);
      number->setWordWrap(false);
      number->setAlignment(Qt::AlignRight);
      grid->addWidget(number, at, column);
    }
  };
  row(tr("parts"), found_->a.parts, found_->b.parts);
  row(tr("triangles"), found_->a.triangles, found_->b.triangles);
  row(tr("vertices"), found_->a.vertices, found_->b.vertices);
  if (found_->a.bones + found_->b.bones > 0) row(tr("bones"), found_->a.bones, found_->b.bones);
  if (const size_t own = found_->points.only_a.size() + found_->points.both.size(),
      other = found_->points.only_b.size() + found_->points.both.size();
      own + other > 0)
    row(tr("attachment points"), own, other);
  rows_->addWidget(table);
  offerHeight();
  offerPoints();
  const size_t count = found_->differences.size(), shown = all_ ? count : 0;
  for (size_t i = 0; i < shown; ++i) {
    // "The first" and "the second" of the core are the model and what stands behind it.
    QString text = q(found_->differences[i]);
    text.replace(QStringLiteral("the first"), tr("this one"))
        .replace(QStringLiteral("the second"), tr("the other"));
    rows_->addWidget(quietText(text, this));
  }
  if (count == 0) rows_->addWidget(quietText(tr("Nothing else differs."), this));
  more_->setVisible(count > 0);
  more_->setText(all_ ? tr("Less")
                      : q(base::countText(count, "difference", "differences")) + QStringLiteral("…"));
}

}  // namespace rakugo::app
