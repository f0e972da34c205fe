#include "app/stations/surface/atlas_panel.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "check/surface_cost.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {
namespace {

QString nameOf(const scene::Model& model, scene::MaterialIndex i) {
  const scene::Material& m = model.materials[i.value()];
  return q(m.name.empty() ? m.key : m.name);
}

uint32_t sheetSide(const rulebook::Rulebook& book) {
  return book.picture_max_side > 0 ? std::clamp(book.picture_max_side, 16U, 8192U)
                                   : prepare::AtlasOptions().most_side;
}

}  // namespace

// What the model's materials can become, and what that would bring.
struct AtlasPanel::Found {
  struct Trial {
    std::string problem;  ///< why it does not go
    double scale = 1;     ///< of the pictures
    check::SurfaceCost after;
  };
  prepare::AtlasGroups groups;
  check::SurfaceCost now;
  std::vector<Trial> trials;  ///< one a group
};

AtlasPanel::AtlasPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName(QStringLiteral("atlas-panel"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  first_ = plainText({}, this);
  first_->setObjectName(QStringLiteral("roles-first"));
  first_->hide();
  column->addWidget(first_);
  rows_ = new QVBoxLayout;
  column->addLayout(rows_);
  rows_->setSpacing(6);
}

void AtlasPanel::setLikely(size_t count) {
  first_->setVisible(count > 0);
  first_->setText(
      count == 1 ? tr("Give the role that is likely first: what is merged plays one role.")
                 : tr("Give the %1 roles that are likely first: what is merged plays one role.").arg(count));
}

void AtlasPanel::refresh() {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  const auto model = state != nullptr ? state->prepared.model : nullptr;
  if (model == model_) return;
  model_ = model;
  ++generation_;
  clearLayout(rows_);
  state_.clear();
  if (!model) return;
  rows_->addWidget(quietText(tr("Looking…"), this));
  trials_.cancel();
  trials_.post([this, model, book = session_.sharedBook(), name = session_.model(),
                target = session_.target(),
                generation = generation_](base::Progress& progress) -> Background::Finish {
    auto found = std::make_shared<Found>();
    found->groups = prepare::atlasGroups(*model);
    const auto built_for = book->targetNamed(target);
    if (built_for) found->now = check::surfaceCost(*model, *book, *built_for);
    // Each is tried, so that one sees what it would bring before it is a step.
    for (const auto& group : found->groups.groups) {
      scene::Model merged = *model;
      prepare::AtlasOptions options;
      options.name = name;
      options.most_side = sheetSide(*book);
      const auto report = prepare::mergeIntoAtlas(merged, group, options, &progress);
      Found::Trial& trial = found->trials.emplace_back();
      if (!report) trial.problem = report.error().message;
      if (report) trial.scale = report->scale;
      if (report && built_for) trial.after = check::surfaceCost(merged, *book, *built_for);
    }
    return [this, found, generation] {
      if (generation == generation_) show(*found);
    };
  });
}

// "9 draws, then 6 · 853 kB, then 410 kB · 210 to 905 pixels to a metre, then 480".
QString AtlasPanel::difference(const check::SurfaceCost& now, const check::SurfaceCost& after) {
  const auto density = [](const check::SurfaceCost& cost) -> QString {
    if (!cost.texels_per_m) return QStringLiteral("–");
    const QString low = q(base::numberText(cost.texels_per_m->first, 0)),
                  high = q(base::numberText(cost.texels_per_m->second, 0));
    return low == high ? low : tr("%1 to %2").arg(low, high);
  };
  return tr("Materials: %1, then %2 · draws: %3, then %4 · pictures: %5, then %6 · pixels to a metre: %7, "
            "then %8")
      .arg(now.materials)
      .arg(after.materials)
      .arg(now.draws)
      .arg(after.draws)
      .arg(q(base::sizeText(now.bytes)), q(base::sizeText(after.bytes)), density(now), density(after));
}

void AtlasPanel::show(const Found& found) {
  const prepare::AtlasGroups& groups = found.groups;
  clearLayout(rows_);
  size_t number = 0;
  for (const auto& group : groups.groups) {
    QStringList names;
    std::vector<std::string> keys;
    for (const scene::MaterialIndex i : group) {
      names << nameOf(*model_, i);
      keys.push_back(model_->materials[i.value()].key);
    }
    rows_->addWidget(plainText(tr("Can be one: %1").arg(names.join(QStringLiteral(", "))), this));
    const Found::Trial& trial = found.trials[number];
    if (!trial.problem.empty()) {
      rows_->addWidget(quietText(q(trial.problem), this));
      ++number;
      continue;
    }
    auto* said = quietText(difference(found.now, trial.after), this);
    said->setObjectName(QStringLiteral("merge-brings-%1").arg(number));
    rows_->addWidget(said);
    if (trial.scale < 1)
      rows_->addWidget(quietText(
          tr("The pictures shrink to %1 % of their sides to fit.").arg(std::lround(trial.scale * 100)),
          this));
    auto* merge = new QPushButton(tr("Merge these %1").arg(group.size()), this);
    merge->setObjectName(QStringLiteral("merge-%1").arg(number++));
    merge->setToolTip(
        tr("A step puts their pictures onto one sheet; UVs follow, and what one sees stays the same"));
    connect(merge, &QPushButton::clicked, this, [this, keys] { this->merge(keys); });
    rows_->addWidget(merge, 0, Qt::AlignLeft);
  }
  for (const auto& [i, why] : groups.apart)
    rows_->addWidget(quietText(tr("%1 stays by itself: %2.").arg(nameOf(*model_, i), q(why)), this));
  const size_t used = scene::usedMaterials(*model_).size();
  size_t can = 0;
  for (const auto& group : groups.groups) can += group.size() - 1;
  state_ = used < 2   ? tr("one material")
           : can == 0 ? tr("none can be merged")
                      : tr("%1 materials, %2 would do").arg(used).arg(used - can);
  if (used < 2) rows_->addWidget(quietText(tr("Nothing to merge: all wears one material."), this));
  Q_EMIT stateChanged();
}

void AtlasPanel::merge(const std::vector<std::string>& materials) {
  session_.edit(tr("Merge materials"), [&](mod::ModState& mod) {
    auto* doc = mod.models.change(session_.model());
    if (doc == nullptr) return;
    base::Json values{{"materials", materials}, {"name", session_.model()}};
    values["side"] = sheetSide(session_.book());
    prepare::insertByRank(*doc, prepare::makeStep(*doc, "atlas", values));
  });
}

}  // namespace rakugo::app
