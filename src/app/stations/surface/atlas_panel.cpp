#include "app/stations/surface/atlas_panel.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {
namespace {

QString nameOf(const scene::Model& model, scene::MaterialIndex i) {
  const scene::Material& m = model.materials[i.value()];
  return q(m.name.empty() ? m.key : m.name);
}

}  // namespace

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
  session_.background().post([this, model, generation = generation_](base::Progress&) -> Background::Finish {
    auto groups = std::make_shared<const prepare::AtlasGroups>(prepare::atlasGroups(*model));
    return [this, groups, generation] {
      if (generation == generation_) show(*groups);
    };
  });
}

void AtlasPanel::show(const prepare::AtlasGroups& groups) {
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
  const uint32_t most = session_.book().picture_max_side;
  session_.edit(tr("Merge materials"), [&](mod::ModState& mod) {
    auto* doc = mod.models.change(session_.model());
    if (doc == nullptr) return;
    base::Json values{{"materials", materials}, {"name", session_.model()}};
    if (most > 0) values["side"] = std::clamp(most, 16U, 8192U);
    prepare::insertByRank(*doc, prepare::makeStep(*doc, "atlas", values));
  });
}

}  // namespace rakugo::app
