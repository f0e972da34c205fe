#include "app/stations/shape/outfit_panel.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QSignalBlocker>
#include <QSlider>
#include <algorithm>
#include <utility>

#include "app/widgets/panels.h"
#include "app/widgets/theme.h"
#include "base/text.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {
namespace {

using base::Json;

// The entry of a region; null when nothing covers it.
const scene::RegionCover* coverOf(const check::ModelState& state, const std::string& region) {
  for (const scene::RegionCover& cover : *state.regions)
    if (cover.region == region) return &cover;
  return nullptr;
}

}  // namespace

OutfitPanel::OutfitPanel(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  const auto part = [&](const QString& title, QVBoxLayout*& rows) {
    auto* out = new QWidget(this);
    auto* own = new QVBoxLayout(out);
    own->setContentsMargins(0, 0, 0, 0);
    own->addWidget(heading(title, out));
    rows = new QVBoxLayout;
    rows->setSpacing(2);
    own->addLayout(rows);
    column->addWidget(out);
    return out;
  };
  region_part_ = part(tr("Regions"), regions_);
  from_body_ = new QPushButton(region_part_);
  from_body_->setObjectName(QStringLiteral("regions-from-body"));
  from_body_->setText(tr("Take all from the body"));
  from_body_->setToolTip(tr("Each triangle gets the region of the body that it lies nearest to"));
  region_part_->layout()->addWidget(from_body_);
  connect(from_body_, &QPushButton::clicked, this, [this] {
    const check::ModelState* state = session_.prepared();
    if (state != nullptr && state->kind != nullptr)
      edit(tr("Take regions from the body"), "region_nearest", Json{{"kind", state->kind->id}}, true);
  });
  size_part_ = part(tr("Sizes"), sizes_);
  between_ = quietText({}, size_part_);
  slider_ = new QSlider(Qt::Horizontal, size_part_);
  slider_->setObjectName(QStringLiteral("size-slider"));
  slider_->setRange(0, 100);
  size_part_->layout()->addWidget(between_);
  size_part_->layout()->addWidget(slider_);
  connect(slider_, &QSlider::valueChanged, this, &OutfitPanel::blend);
  seam_part_ = part(tr("Seams to the body"), seams_);
}

void OutfitPanel::edit(const QString& label, const char* kind, Json values, bool once) {
  session_.edit(label, [&](mod::ModState& mod) {
    mod::ModelDoc& doc = mod.models[session_.model()];
    if (once)
      prepare::setOrAddStep(doc, kind, values);
    else
      prepare::insertByRank(doc, prepare::makeStep(doc, kind, std::move(values)));
  });
}

void OutfitPanel::refresh() {
  const check::ModelState* state = session_.prepared();
  const rulebook::Kind* kind = state != nullptr ? state->kind : nullptr;
  const bool regions = kind != nullptr && !kind->regions.empty(),
             seams = kind != nullptr && !kind->body.empty(),
             sizes = kind != nullptr && kind->variants.size() > 1;
  concerned_ = regions || seams || sizes;
  region_part_->setVisible(regions);
  size_part_->setVisible(sizes);
  seam_part_->setVisible(seams);
  from_body_->setVisible(seams);
  clearLayout(regions_);
  clearLayout(sizes_);
  clearLayout(seams_);
  names_.clear();
  washes_.clear();
  lines_.clear();
  if (of_model_ != session_.model()) {
    of_model_ = session_.model();
    chosen_.clear();
    blended_.clear();
  }
  if (regions) listRegions(*state);
  if (sizes) listSizes(*state);
  if (seams) listSeams(*state);
}

void OutfitPanel::listRegions(const check::ModelState& state) {
  for (const rulebook::Region& r : state.kind->regions)
    addRegion(r.id, q(r.title), coverOf(state, r.id), r.required ? tr("◆ missing") : tr("not worn"));
  for (const scene::RegionCover& cover : *state.regions)
    if (state.kind->findRegion(cover.region) == nullptr)
      addRegion(cover.region, cover.region.empty() ? tr("no region") : q(cover.region), &cover, {});
}

// One that is not in the record has no word for its absence.
void OutfitPanel::addRegion(const std::string& id, const QString& title, const scene::RegionCover* cover,
                            const QString& absent) {
  auto* row = new QWidget(this);
  auto* layout = new QHBoxLayout(row);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(2);
  auto* button = new QPushButton(title, row);
  button->setObjectName(QStringLiteral("region-") + q(id));
  button->setProperty("quiet", true);
  button->setCheckable(true);
  button->setChecked(id == chosen_ && cover != nullptr);
  button->setEnabled(cover != nullptr);
  button->setStyleSheet(QStringLiteral("text-align: left;"));
  connect(button, &QPushButton::clicked, this,
          [this, id] { chooseRegion(chosen_ == id ? std::string() : id); });
  layout->addWidget(button, 1);
  // A sign beside the word: what is wrong is not told by colour alone.
  QString what = absent;
  if (cover != nullptr) what = q(base::groupedText(cover->triangles));
  if (absent.isEmpty() && !id.empty()) what = tr("◆ surplus, %1").arg(what);
  QLabel* count = quietText(what, row);
  count->setWordWrap(false);
  layout->addWidget(count);
  if (cover != nullptr && !id.empty()) {
    auto* hand = new QPushButton(tr("Give to…"), row);
    hand->setObjectName(QStringLiteral("hand-over-") + q(id));
    hand->setProperty("quiet", true);
    connect(hand, &QPushButton::clicked, this, [this, id, hand] {
      const check::ModelState* state = session_.prepared();
      if (state == nullptr || state->kind == nullptr) return;
      auto* menu = new QMenu(this);
      menu->setAttribute(Qt::WA_DeleteOnClose);
      menu->setObjectName(QStringLiteral("region-menu"));
      for (const rulebook::Region& r : state->kind->regions)
        if (r.id != id)
          connect(menu->addAction(tr("to %1").arg(q(r.title))), &QAction::triggered, this,
                  [this, id, to = r.id] {
                    edit(tr("Hand a region over"), "hand_over", Json{{"from", id}, {"to", to}}, false);
                  });
      menu->popup(hand->mapToGlobal(QPoint(0, hand->height())));
    });
    layout->addWidget(hand);
  }
  if (cover != nullptr) {
    names_.emplace_back(cover->box.center(), title);
    // Those of the record have a tint each, the same in the list and in the bench.
    const check::ModelState* state = session_.prepared();
    // What is not in it stays white.
    const rulebook::Region* known = state->kind->findRegion(id);
    const QColor color =
        known != nullptr ? tint(static_cast<size_t>(known - state->kind->regions.data())) : theme().sheet;
    for (const scene::NodeIndex i : cover->parts) washes_[state->prepared.model->node(i).key] = color;
    QPixmap square(12, 12);
    square.fill(theme().quiet);
    QPainter(&square).fillRect(1, 1, 10, 10, color);
    button->setIcon(square);
  }
  regions_->addWidget(row);
}

void OutfitPanel::chooseRegion(const std::string& id) {
  const check::ModelState* state = session_.prepared();
  if (state == nullptr) return;
  chosen_ = id;
  std::vector<std::string> parts;
  if (const scene::RegionCover* cover = chosen_.empty() ? nullptr : coverOf(*state, chosen_))
    for (const scene::NodeIndex i : cover->parts) parts.push_back(state->prepared.model->node(i).key);
  bench_.setSelectedParts(std::move(parts));
  refresh();
}

void OutfitPanel::listSizes(const check::ModelState& state) {
  const mod::ModelDoc& doc = session_.state().models.at(session_.model());
  const auto first = std::find_if(state.kind->variants.begin(), state.kind->variants.end(),
                                  [&](const rulebook::Variant& v) { return doc.variants.count(v.id) == 0; });
  std::string same;
  QString same_title;
  for (const rulebook::Variant& v : state.kind->variants) {
    auto* row = new QWidget(this);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    const bool own = first != state.kind->variants.end() && first->id == v.id;
    const auto tied = doc.variants.find(v.id);
    layout->addWidget(plainText(q(v.title), row), 1);
    QString what = own ? q(doc.source) : tr("no source yet");
    if (tied != doc.variants.end()) {
      const auto known = state.variants.find(v.id);
      const bool good = known != state.variants.end() && known->second.report->same;
      what = known == state.variants.end()      ? tr("◆ cannot be read")
             : good                             ? tr("✓ %1").arg(q(tied->second))
             : known->second.report->only_order ? tr("◆ another order")
                                                : tr("◆ differs");
      if (good) same = v.id, same_title = q(v.title);
    }
    QLabel* said = quietText(what, row);
    said->setWordWrap(false);
    said->setObjectName(QStringLiteral("size-state-") + q(v.id));
    layout->addWidget(said);
    if (!own) layout->addWidget(sizeButton(v.id, tied != doc.variants.end(), row));
    sizes_->addWidget(row);
  }
  slider_->setVisible(!same.empty());
  between_->setVisible(!same.empty());
  if (same != blended_) {
    blended_ = same;
    const QSignalBlocker quiet(slider_);
    slider_->setValue(0);
  }
  // The model has changed under a size that is looked at.
  if (slider_->value() > 0) blend();
  if (!same.empty() && first != state.kind->variants.end())
    between_->setText(tr("Blend from %1 to %2:").arg(q(first->title).toLower(), same_title.toLower()));
}

// Chooses the source that a size variant is read from.
QPushButton* OutfitPanel::sizeButton(const std::string& variant, bool tied, QWidget* row) {
  auto* choose = new QPushButton(tied ? tr("Change…") : tr("Choose…"), row);
  choose->setObjectName(QStringLiteral("size-source-") + q(variant));
  choose->setProperty("quiet", true);
  connect(choose, &QPushButton::clicked, this, [this, choose, variant, tied] {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName(QStringLiteral("size-menu"));
    const std::string& own_source = session_.state().models.at(session_.model()).source;
    for (const auto& [name, source] : session_.state().sources)
      if (name != own_source)
        connect(menu->addAction(q(name)), &QAction::triggered, this,
                [this, variant, name = name] { tie(variant, name); });
    if (menu->isEmpty()) menu->addAction(tr("Add its source at Sources first"))->setEnabled(false);
    if (tied)
      connect(menu->addAction(tr("None")), &QAction::triggered, this, [this, variant] { tie(variant, {}); });
    menu->popup(choose->mapToGlobal(QPoint(0, choose->height())));
  });
  return choose;
}

void OutfitPanel::tie(const std::string& variant, const std::string& source) {
  session_.edit(tr("Choose the source of a size"), [&](mod::ModState& mod) {
    mod::ModelDoc& doc = mod.models[session_.model()];
    if (source.empty())
      doc.variants.erase(variant);
    else
      doc.variants[variant] = source;
  });
}

void OutfitPanel::blend() {
  if (blended_.empty() || session_.examination() == nullptr) return;
  if (blending_) {
    blend_again_ = true;
    return;
  }
  if (slider_->value() == 0) return bench_.setScene(session_.scene());
  blending_ = true;
  background_.post([this, x = session_.examination(), model = session_.model(), variant = blended_,
                    share = static_cast<float>(slider_->value()) / 100.0F, pictures = pictures_,
                    ghost = session_.ghost()](base::Progress&) -> Background::Finish {
    auto scene = makeBlendedScene(*x, model, variant, share, *pictures, ghost);
    return [this, x, scene = std::move(scene)] {
      blending_ = false;
      if (scene && session_.examination() == x && !blended_.empty()) bench_.setScene(scene);
      if (std::exchange(blend_again_, false)) blend();
    };
  });
}

void OutfitPanel::listSeams(const check::ModelState& state) {
  if (!state.seams) {
    seams_->addWidget(
        quietText(tr("They are looked for once the model is turned to the game's axes."), this));
    return;
  }
  const scene::SeamReport& report = *state.seams;
  bool open = false;
  for (size_t i = 0; i < report.seams.pairs.size(); ++i) {
    const scene::SeamPair& pair = report.seams.pairs[i];
    const double gap_mm = scene::SeamReport::widest_m(pair) * 1000;
    const bool good = gap_mm <= state.kind->seam_mm;
    open = open || !good;
    // Short, for the column is narrow; which part of the outfit it is stands in the tip.
    auto* button =
        new QPushButton(tr("%1%2: %3 mm, mean %4")
                            .arg(good ? QString() : QStringLiteral("◆ "), q(report.body_parts[pair.body]),
                                 q(base::numberText(gap_mm, 1)), q(base::numberText(pair.mean_m * 1000, 1))),
                        this);
    button->setObjectName(QStringLiteral("seam-%1").arg(i));
    button->setProperty("quiet", true);
    button->setStyleSheet(QStringLiteral("text-align: left;"));
    button->setToolTip(tr("The widest gap of %1 there, shown in the bench, and the mean one")
                           .arg(q(report.outfit_parts[pair.outfit])));
    connect(button, &QPushButton::clicked, this,
            [this, at = pair.largest_at_m] { bench_.showMarks({at}, 0); });
    seams_->addWidget(button);
    for (const scene::Border* border : {&report.outfit[pair.outfit], &report.body[pair.body]})
      lines_.push_back({border->places_m, border->closed, good});
  }
  if (report.seams.pairs.empty())
    seams_->addWidget(quietText(tr("No border lies at one of the body's."), this));
  if (!open) return;
  auto* close = new QPushButton(tr("Close the seams"), this);
  close->setObjectName(QStringLiteral("close-seams"));
  close->setToolTip(tr("Puts the outfit's border onto the body's, with its normals and weights"));
  connect(close, &QPushButton::clicked, this, [this] {
    const check::ModelState* now = session_.prepared();
    if (now != nullptr && now->kind != nullptr)
      edit(tr("Close the seams"), "snap_seam", Json{{"kind", now->kind->id}, {"most_mm", 30.0}}, true);
  });
  seams_->addWidget(close, 0, Qt::AlignLeft);
}

}  // namespace rakugo::app
