#include <QApplication>
#include <QPainter>
#include <QSettings>
#include <QSignalBlocker>
#include <QTimer>

#include "app/stations/station_panel.h"
#include "app/stations/surface/atlas_panel.h"
#include "app/stations/surface/density_view.h"
#include "app/stations/surface/looks_panel.h"
#include "app/stations/surface/material_card.h"
#include "app/stations/surface/picture_sheet.h"
#include "app/stations/surface/station_surface.h"
#include "app/stations/surface/together_bar.h"
#include "app/widgets/chapter.h"
#include "app/widgets/row_list.h"
#include "base/phrase.h"
#include "base/text.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {
namespace {

// As many cards are seen whole; of more materials, one card above a list of all.
constexpr size_t kMostCards = 12;

const QString kRow = QStringLiteral("material-row-"), kTogether = QStringLiteral("together-");

std::string shownName(const scene::Material& material) {
  return material.name.empty() ? material.key : material.name;
}

}  // namespace

SurfaceStation::SurfaceStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {
  materials_chapter_ =
      addChapter("surface/materials", tr("Materials"), {"role.", "materials.", "model.", "picture."});
  sheet_ = new PictureSheet(session, bench, this);
  sheet_->hide();
  sheet_beside_ = new QPushButton(tr("Picture sheet beside the bench"), this);
  sheet_beside_->setObjectName(QStringLiteral("sheet-beside"));
  sheet_beside_->setProperty("quiet", true);
  sheet_beside_->setCheckable(true);
  sheet_beside_->setToolTip(tr("Pictures with the UVs of all that wears them, in the middle of the window"));
  materials_chapter_->body()->addWidget(sheet_beside_, 0, Qt::AlignLeft);
  connect(sheet_beside_, &QPushButton::toggled, this, [this](bool on) {
    QSettings().setValue(QStringLiteral("sheet-beside"), on);
    sheet_->setVisible(on);
  });
  connect(sheet_, &PictureSheet::materialChosen, this, [this](const QString& key) {
    if (MaterialCard* card = openCard(s(key))) area_->ensureWidgetVisible(card, 0, 12);
  });
  density_shown_ = new QPushButton(tr("Pixels to a metre"), this);
  density_shown_->setObjectName(QStringLiteral("density-shown"));
  density_shown_->setProperty("quiet", true);
  density_shown_->setCheckable(true);
  density_shown_->setToolTip(
      tr("How sharp each material's picture is on the surface, on a scale over the bench; parts wear its "
         "colour"));
  materials_chapter_->body()->addWidget(density_shown_, 0, Qt::AlignLeft);
  density_ = new DensityView(session, bench, this);
  connect(density_shown_, &QPushButton::toggled, density_, &DensityView::setShown);
  connect(density_, &DensityView::picked, this, [this](const QString& key) { choose(s(key)); });
  materials_ = new QVBoxLayout;
  materials_->setSpacing(8);
  materials_chapter_->body()->addLayout(materials_);
  cards_ = new QVBoxLayout;
  cards_->setSpacing(8);
  materials_chapter_->body()->addLayout(cards_);
  list_ = new RowList(QStringLiteral("materials-list"), tr("Materials of the model"), this);
  list_->rows().setPictures([this](const QString& row) { return pictureOf(row); });
  list_->hide();
  materials_chapter_->body()->addWidget(list_);
  connect(list_, &RowList::chosen, this, [this](const QString& row) { choose(s(row.mid(kRow.size()))); });
  connect(list_, &RowList::signAsked, this, [this](const QString&, const QString& sign) {
    const std::string key = s(sign.mid(kTogether.size()));
    chooseTogether(key, together_.count(key) == 0);
  });
  atlas_chapter_ = addChapter("surface/atlas", tr("One material"), {"materials.limit", "materials.alike"});
  atlas_ = new AtlasPanel(session, this);
  atlas_chapter_->body()->addWidget(atlas_);
  connect(atlas_, &AtlasPanel::tell, this, [this](const QString& problem) { Q_EMIT tell(problem, false); });
  connect(atlas_, &AtlasPanel::stateChanged, this, [this] { say(atlas_chapter_, atlas_->state()); });
  looks_chapter_ = addChapter("surface/looks", tr("As the game shows it"), {});
  looks_ = new LooksPanel(session, bench, this);
  looks_chapter_->body()->addWidget(looks_);
  connect(looks_, &LooksPanel::stateChanged, this, [this] { say(looks_chapter_, looks_->state()); });
  column_->addStretch();
  const QSignalBlocker quiet(sheet_beside_);  // it is shown with the station
  sheet_beside_->setChecked(QSettings().value(QStringLiteral("sheet-beside")).toBool());
}

QWidget* SurfaceStation::beside() { return sheet_; }
bool SurfaceStation::besideWanted() const { return sheet_beside_->isChecked(); }

void SurfaceStation::giveRole(const std::string& material, const std::string& role, const QString& title) {
  session_.edit(role.empty() ? tr("Take the role from %1").arg(q(material))
                             : tr("Give %1 the role %2").arg(q(material), title.toLower()),
                [&](mod::ModState& mod) {
                  if (auto* doc = mod.models.change(session_.model())) prepare::setRole(*doc, material, role);
                });
}

void SurfaceStation::refresh() {
  QString focused;
  Chapter* in = nullptr;
  for (const QWidget* w : findChildren<QWidget*>())
    if (w->hasFocus()) focused = w->objectName();
  for (Chapter* chapter : chapters())
    if (chapter->isAncestorOf(QApplication::focusWidget())) in = chapter;
  clearLayout(materials_);
  clearLayout(cards_);
  card_of_.clear();
  used_.clear();
  looks_->refresh();
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  if (state == nullptr) {
    materials_->addWidget(quietText(tr("The mod holds no model yet; its materials will stand here."), this));
    list_->hide();
    say(materials_chapter_, {});
    atlas_->refresh();
    say(atlas_chapter_, {});
    return;
  }
  const scene::Model& model = *state->prepared.model;
  const rulebook::Kind* kind = state->kind;
  used_ = scene::usedMaterials(model);
  if (used_.empty()) {
    materials_->addWidget(plainText(tr("This model wears no material; the game draws it plain."), this));
  } else if (kind != nullptr && !kind->roles.empty()) {
    // What the game asks for, and which of it is given.
    QStringList wanted;
    for (const rulebook::Role& role : kind->roles) {
      const bool given = std::any_of(used_.begin(), used_.end(), [&](scene::MaterialIndex m) {
        return model.materials[m.value()].role == role.id;
      });
      wanted << (given ? QStringLiteral("✓ ") : QStringLiteral("– ")) + q(role.title);
    }
    materials_->addWidget(quietText(
        tr("Roles of a %1: %2").arg(q(base::lowerAscii(kind->title)), wanted.join(QStringLiteral("   "))),
        this));
  }
  addProposals(*state);
  if (QWidget* bar = togetherBar(
          session_, *state, together_, *atlas_, [this] { chooseNone(); }, this))
    materials_->addWidget(bar);
  needs_ = prepare::pictureNeeds(model);
  list_->setVisible(used_.size() > kMostCards);
  if (used_.size() > kMostCards)
    listMaterials(*state);
  else
    for (const scene::MaterialIndex m : used_) addCard(*state, model.materials[m.value()]);
  const check::Finding* gravest = gravestOf(materials_chapter_);
  say(materials_chapter_,
      gravest != nullptr ? q(base::phrase(check::findCheck(gravest->check)->title))
                         : q(base::countText(used_.size(), "material", "materials")),
      kind != nullptr);
  atlas_->setLikely(used_.size() > 1 ? proposals_.size() : 0);
  atlas_->refresh();
  say(atlas_chapter_, atlas_->state());
  settleChapters(materials_chapter_);
  sheet_->refresh();
  // What was made anew is shown, and can take the keys, in the next turn only.
  if (!focused.isEmpty())
    QTimer::singleShot(0, this, [this, focused, in] {
      for (QWidget* w : findChildren<QWidget*>(focused))
        if (w->isVisible()) return w->setFocus();
      if (in != nullptr) in->head()->setFocus();  // what had the keys is done with
    });
}

// In the sheet, and a part that wears it in the bench.
void SurfaceStation::choose(const std::string& material) {
  sheet_->choose(material);
  if (MaterialCard* card = openCard(material)) area_->ensureWidgetVisible(card, 0, 12);
  if (!session_.scene()) return;
  for (const BenchPart& part : session_.scene()->parts)
    for (const size_t m : part.materials)
      if (session_.scene()->materials[m].key == material) return bench_.setSelectedPart(part.key);
}

void SurfaceStation::chooseTogether(const std::string& material, bool together) {
  if (together)
    together_.insert(material);
  else
    together_.erase(material);
  QTimer::singleShot(0, this, &SurfaceStation::refresh);  // the box that asked is made anew
}

QImage SurfaceStation::pictureOf(const QString& row) const {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  if (state == nullptr) return {};
  const std::string key = s(row.mid(kRow.size()));
  for (const scene::MaterialIndex m : used_) {
    const scene::Material& material = state->prepared.model->materials[m.value()];
    if (material.key != key) continue;
    QImage out(48, 48, QImage::Format_ARGB32_Premultiplied);
    out.fill(Qt::transparent);
    QPainter p(&out);
    paintSample(p, QRect(1, 1, 46, 46), sampleOf(session_, *state, material));
    return out;
  }
  return {};
}

void SurfaceStation::chooseNone() {
  together_.clear();
  QTimer::singleShot(0, this, &SurfaceStation::refresh);  // the button that asked goes
}

void SurfaceStation::showEvent(QShowEvent* event) {
  StationPanel::showEvent(event);
  density_->setShown(density_shown_->isChecked());
}

void SurfaceStation::hideEvent(QHideEvent* event) {
  StationPanel::hideEvent(event);
  density_->setShown(false);
}

// Which roles are likely, all together: nothing is given without being asked for.
void SurfaceStation::addProposals(const check::ModelState& state) {
  proposals_ =
      check::proposeRoles(session_.examination() ? session_.examination()->context : check::Context(), state);
  if (proposals_.size() < 2) return;
  auto* all = new QPushButton(tr("Give all roles that are likely (%1)").arg(proposals_.size()), this);
  all->setObjectName(QStringLiteral("give-likely"));
  all->setToolTip(tr("One edit; each can be changed after"));
  connect(all, &QPushButton::clicked, this, &SurfaceStation::giveLikely);
  materials_->addWidget(all, 0, Qt::AlignLeft);
}

void SurfaceStation::giveLikely() {
  session_.edit(tr("Give all roles that are likely"), [&](mod::ModState& mod) {
    if (auto* doc = mod.models.change(session_.model()))
      for (const check::RoleProposal& one : proposals_) prepare::setRole(*doc, one.material, one.role);
  });
}

void SurfaceStation::tryTone(const std::string& role, const std::optional<glm::vec3>& tone) {
  bench_.setTone(role, tone);
  if (tone) {
    bench_.setLook(Bench::Look::in_game);
    Q_EMIT tell(tr("Seen in the bench, in the game's look."), true);
  }
  QTimer::singleShot(0, this, &SurfaceStation::refresh);  // the button that asked is made anew
}

void SurfaceStation::addCard(const check::ModelState& state, const scene::Material& material) {
  const auto likely = std::find_if(proposals_.begin(), proposals_.end(), [&](const check::RoleProposal& one) {
    return one.material == material.key;
  });
  auto* card = new MaterialCard(session_, bench_,
                                {state, material, likely != proposals_.end() ? &*likely : nullptr, needs_,
                                 used_.size() > 1, together_.count(material.key) != 0},
                                this);
  connect(card, &MaterialCard::chosen, this, &SurfaceStation::choose);
  connect(card, &MaterialCard::roleAsked, this, &SurfaceStation::giveRole);
  connect(card, &MaterialCard::toneAsked, this, &SurfaceStation::tryTone);
  connect(card, &MaterialCard::togetherAsked, this, &SurfaceStation::chooseTogether);
  cards_->addWidget(card);
  card_of_[material.key] = card;
}

// Of many materials: the open one's card, and a row for each.
void SurfaceStation::listMaterials(const check::ModelState& state) {
  const scene::Model& model = *state.prepared.model;
  const bool still = std::any_of(used_.begin(), used_.end(), [&](scene::MaterialIndex m) {
    return model.materials[m.value()].key == open_;
  });
  if (!still) open_ = model.materials[used_[0].value()].key;
  std::vector<ListRow> rows;
  for (const scene::MaterialIndex m : used_) {
    const scene::Material& material = model.materials[m.value()];
    ListRow row;
    row.id = kRow + q(material.key);
    row.name = q(shownName(material));
    const rulebook::Role* role = state.kind != nullptr ? state.kind->findRole(material.role) : nullptr;
    if (role != nullptr) row.amount = q(role->title);
    for (const check::RoleProposal& one : proposals_)
      if (one.material == material.key && state.kind != nullptr)
        row.amount = tr("likely %1").arg(q(base::lowerAscii(state.kind->findRole(one.role)->title)));
    row.chosen = material.key == open_;
    const bool together = together_.count(material.key) != 0;
    row.signs = {
        {together ? Sign::chosen : Sign::unchosen, kTogether + q(material.key),
         together ? tr("Leave %1 out").arg(row.name) : tr("Choose %1 together with others").arg(row.name)}};
    if (row.chosen) addCard(state, material);
    rows.push_back(std::move(row));
  }
  list_->setRows(std::move(rows));
}

// The card of a material, opened where a list stands for it. Null: no such material is worn.
MaterialCard* SurfaceStation::openCard(const std::string& material) {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  if (state == nullptr) return nullptr;
  if (card_of_.count(material) == 0 && !list_->isHidden()) {
    open_ = material;
    clearLayout(cards_);
    card_of_.clear();
    listMaterials(*state);
  }
  const auto card = card_of_.find(material);
  return card != card_of_.end() ? card->second : nullptr;
}

void SurfaceStation::showPlace(const check::FindingPlace& place) {
  if (place.material.empty()) return;
  MaterialCard* card = openCard(place.material);
  if (card == nullptr) return;
  unfoldTo(card);
  area_->ensureWidgetVisible(card, 0, 12);
  card->takeKeys();
}

}  // namespace rakugo::app
