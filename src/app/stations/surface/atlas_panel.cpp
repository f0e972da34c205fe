#include "app/stations/surface/atlas_panel.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "check/surface_cost.h"
#include "prepare/edit_steps.h"
#include "prepare/surface/shared_sheet.h"

namespace rakugo::app {
namespace {

QString nameOf(const scene::Model& model, scene::MaterialIndex i) {
  const scene::Material& m = model.materials[i.value()];
  return q(m.name.empty() ? m.key : m.name);
}

// What may be decoded to say what merging would bring: a second or two.
constexpr uint64_t kMostPixels = 48ULL << 20;

uint64_t pixelsOf(const scene::Model& model, const std::vector<scene::MaterialIndex>& materials) {
  uint64_t out = 0;
  for (const scene::MaterialIndex i : materials)
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::ImageIndex image = (model.materials[i.value()].*slot.use).image;
      if (!image.valid() || !model.images[image.value()].bytes) continue;
      if (const auto info = formats::pictureInfo(*model.images[image.value()].bytes, "picture"))
        out += uint64_t{info->width} * info->height;
    }
  return out;
}

uint32_t sheetSide(const rulebook::Rulebook& book) {
  return book.picture_max_side > 0 ? std::clamp(book.picture_max_side, 16U, 8192U)
                                   : prepare::AtlasOptions().most_side;
}

}  // namespace

// What the model's materials can become, and what that would bring.
struct AtlasPanel::Found {
  struct Trial {
    std::string problem;     ///< why it does not go
    bool too_large = false;  ///< to be tried for nothing
    double scale = 1;        ///< of the pictures
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
      if (pixelsOf(*model, group) > kMostPixels) {
        found->trials.emplace_back().too_large = true;
        continue;
      }
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
    auto* said = quietText(
        trial.too_large
            ? tr("Their pictures are so large that merging them takes a while; it is not tried before.")
            : difference(found.now, trial.after),
        this);
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
  addSharing();
  const size_t used = scene::usedMaterials(*model_).size();
  size_t can = 0;
  for (const auto& group : groups.groups) can += group.size() - 1;
  state_ = used < 2   ? tr("one material")
           : can == 0 ? tr("none can be merged")
                      : tr("%1 materials, %2 would do").arg(used).arg(used - can);
  if (used < 2) rows_->addWidget(quietText(tr("Nothing to merge: all wears one material."), this));
  Q_EMIT stateChanged();
}

// Other models whose materials are merged too can have their sheet in the same picture.
void AtlasPanel::addSharing() {
  const mod::ModState& mod = session_.state();
  if (!mod.models.contains(session_.model())) return;
  const mod::StepDoc* own = prepare::sheetStep(mod.models.at(session_.model()));
  if (own == nullptr) return;
  const std::string sheet = base::textOf(own->values, "name");
  const bool shares = base::textOf(own->values, "part").starts_with("quarter_");
  QStringList with, others;
  for (const auto& [name, doc] : mod.models) {
    const mod::StepDoc* step = prepare::sheetStep(doc);
    if (step == nullptr || name == session_.model()) continue;
    const bool same = shares && base::textOf(step->values, "name") == sheet &&
                      base::textOf(step->values, "part").starts_with("quarter_");
    (same ? with : others) << q(name);
  }
  if (!with.isEmpty())
    rows_->addWidget(plainText(tr("The sheet %1 is shared with %2: one picture for all.")
                                   .arg(q(sheet), with.join(QStringLiteral(", "))),
                               this));
  if (others.isEmpty()) return;
  auto* row = new QHBoxLayout;
  auto* choice = new QComboBox(this);
  choice->setObjectName(QStringLiteral("share-with"));
  choice->setAccessibleName(tr("A model to share the sheet with"));
  choice->addItems(others);
  auto* share = new QPushButton(tr("Share the sheet with it"), this);
  share->setObjectName(QStringLiteral("share-sheet"));
  share->setToolTip(tr("Both have a quarter of one picture, which the game loads once; up to four models"));
  connect(share, &QPushButton::clicked, this, [this, choice] {
    base::Status done;
    const std::string other_model = s(choice->currentText());
    uint32_t side = 0;
    if (const auto& x = session_.examination(); x && session_.prepared() != nullptr)
      if (const auto other = x->context.models.find(other_model);
          other != x->context.models.end() && other->second.prepared.model)
        side =
            prepare::sideToShare(*session_.prepared()->prepared.model,
                                 session_.state().models.at(session_.model()), *other->second.prepared.model,
                                 session_.state().models.at(other_model), session_.book().picture_max_side);
    session_.edit(tr("Share a sheet"), [&](mod::ModState& state) {
      mod::ModState next = state;
      done = prepare::shareSheet(next, session_.model(), other_model, side);
      if (done) state = std::move(next);
    });
    if (!done) Q_EMIT tell(q(done.error().text()));
  });
  row->addWidget(choice, 1);
  row->addWidget(share);
  rows_->addLayout(row);
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
