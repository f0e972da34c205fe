#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QHBoxLayout>
#include <QPainter>
#include <QSettings>
#include <QSignalBlocker>
#include <QTimer>

#include "app/stations/station_panel.h"
#include "app/stations/surface/atlas_panel.h"
#include "app/stations/surface/density_view.h"
#include "app/stations/surface/looks_panel.h"
#include "app/stations/surface/picture_sheet.h"
#include "app/stations/surface/station_surface.h"
#include "app/stations/surface/together_bar.h"
#include "app/widgets/chapter.h"
#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "check/surface_report.h"
#include "prepare/edit_steps.h"

namespace rakugo::app {
namespace {

// The picture of a slot as it will be drawn, small; null when there is none.
QImage slotPicture(const BenchPicture& picture) {
  if (!picture || picture->levels.empty()) return {};
  size_t level = 0;
  uint32_t w = picture->width, h = picture->height;
  while (level + 1 < picture->levels.size() && w > 88 && h > 88) {
    ++level;
    w = std::max(1U, w / 2);
    h = std::max(1U, h / 2);
  }
  const base::Bytes& pixels = picture->levels[level];
  if (pixels.size() < size_t{w} * h * 4) return {};
  return QImage(reinterpret_cast<const uchar*>(pixels.data()), static_cast<int>(w), static_cast<int>(h),
                static_cast<qsizetype>(w) * 4, QImage::Format_RGBA8888)
      .copy();
}

// A material as a sample of cloth: its picture or its colour, and the role's own colour as a seam below.
class Swatch : public QWidget {
 public:
  Swatch(QImage picture, QColor color, QColor role, bool missing, QWidget* parent)
      : QWidget(parent), picture_(std::move(picture)), color_(color), role_(role), missing_(missing) {
    setFixedSize(46, 52);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRect cloth(1, 1, 44, 44);
    if (!picture_.isNull())
      p.drawImage(cloth, picture_);
    else
      p.fillRect(cloth, color_);
    if (missing_) {
      p.setPen(QPen(theme().stops, 2));
      p.drawLine(cloth.topLeft(), cloth.bottomRight());
      p.drawLine(cloth.topRight(), cloth.bottomLeft());
    }
    p.setPen(theme().hair);
    p.setBrush(Qt::NoBrush);
    p.drawRect(cloth);
    if (role_.isValid()) p.fillRect(QRect(1, 48, 45, 4), role_);
  }

 private:
  QImage picture_;
  QColor color_, role_;
  bool missing_;
};

QColor shown(const std::array<float, 3>& c) { return QColor::fromRgbF(c[0], c[1], c[2]); }

constexpr size_t kCardsAtOnce = 10, kCardsATurn = 1;

// A dab of colour; what is chosen has a ring.
QIcon toneIcon(const QColor& color, bool chosen) {
  QPixmap out(40, 40);
  out.setDevicePixelRatio(2);
  out.fill(Qt::transparent);
  QPainter p(&out);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(chosen ? theme().ink : theme().hair, chosen ? 2 : 1));
  p.setBrush(color);
  p.drawEllipse(QRectF(2, 2, 16, 16));
  return out;
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
    if (const auto card = cards_.find(s(key)); card != cards_.end())
      area_->ensureWidgetVisible(card->second, 0, 12);
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
  more_.setSingleShot(true);
  connect(&more_, &QTimer::timeout, this, [this] { addCards(kCardsATurn); });
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
  for (const QWidget* w : findChildren<QWidget*>())
    if (w->hasFocus()) focused = w->objectName();
  clearLayout(materials_);
  cards_.clear();
  waiting_.clear();
  looks_->refresh();
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  if (state == nullptr) {
    materials_->addWidget(quietText(tr("The mod holds no model yet; its materials will stand here."), this));
    say(materials_chapter_, {});
    atlas_->refresh();
    say(atlas_chapter_, {});
    return;
  }
  const scene::Model& model = *state->prepared.model;
  const rulebook::Kind* kind = state->kind;
  const std::vector<scene::MaterialIndex> used = scene::usedMaterials(model);
  if (used.empty()) {
    materials_->addWidget(plainText(tr("This model wears no material; the game draws it plain."), this));
  } else if (kind != nullptr && !kind->roles.empty()) {
    // What the game asks for, and which of it is given.
    QStringList wanted;
    for (const rulebook::Role& role : kind->roles) {
      const bool given = std::any_of(used.begin(), used.end(), [&](scene::MaterialIndex m) {
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
  // The first that fill the column at once; sixty cards at a time would keep input waiting.
  waiting_ = used;
  cards_of_ = state->prepared.model;
  needs_ = prepare::pictureNeeds(model);
  several_ = used.size() > 1;
  addCards(kCardsAtOnce);
  const check::Finding* gravest = gravestOf(materials_chapter_);
  say(materials_chapter_,
      gravest != nullptr ? q(base::phrase(check::findCheck(gravest->check)->title))
                         : q(base::countText(used.size(), "material", "materials")),
      kind != nullptr);
  atlas_->setLikely(used.size() > 1 ? proposals_.size() : 0);
  atlas_->refresh();
  say(atlas_chapter_, atlas_->state());
  settleChapters(materials_chapter_);
  sheet_->refresh();
  // What was made anew is shown, and can take the keys, in the next turn only.
  if (!focused.isEmpty())
    QTimer::singleShot(0, this, [this, focused] {
      for (QWidget* w : findChildren<QWidget*>(focused))
        if (w->isVisible()) w->setFocus();
    });
}

// In the sheet, and a part that wears it in the bench.
void SurfaceStation::choose(const std::string& material) {
  sheet_->choose(material);
  if (const auto card = cards_.find(material); card != cards_.end())
    area_->ensureWidgetVisible(card->second, 0, 12);
  if (!session_.scene()) return;
  for (const BenchPart& part : session_.scene()->parts)
    for (const size_t m : part.materials)
      if (session_.scene()->materials[m].key == material) return bench_.setSelectedPart(part.key);
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

QWidget* SurfaceStation::makeProposal(const check::RoleProposal& proposal, const rulebook::Kind& kind,
                                      const QString& name, QWidget* card) {
  const rulebook::Role* role = kind.findRole(proposal.role);
  const QString title = q(role->title);
  auto* out = new QWidget(card);
  auto* row = new QHBoxLayout(out);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(6);
  QStringList reasons;
  for (const std::string& reason : proposal.reasons) reasons << q(reason);
  row->addWidget(plainText(tr("Likely %1: %2").arg(title.toLower(), reasons.join(QStringLiteral("; "))), out),
                 1);
  auto* give = new QPushButton(tr("Give"), out);
  give->setObjectName(QStringLiteral("give-role-") + q(proposal.material));
  give->setToolTip(tr("Give %1 the role %2").arg(name, title.toLower()));
  give->setAccessibleName(give->toolTip());
  connect(give, &QPushButton::clicked, this,
          [this, material = proposal.material, id = proposal.role, title] { giveRole(material, id, title); });
  row->addWidget(give, 0, Qt::AlignTop);
  return out;
}

// The tones that players choose from, and any other: tried in the bench, never a step.
QWidget* SurfaceStation::makeTones(const rulebook::Role& role, QWidget* card) {
  auto* out = new QWidget(card);
  auto* rows = new QVBoxLayout(out);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(2);
  auto* palette = new QGridLayout;
  palette->setSpacing(2);
  rows->addLayout(palette);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  rows->addLayout(row);
  constexpr int kAcross = 6;
  const auto now = bench_.tones().find(role.id);
  const auto is = [&](const std::array<float, 3>& color) {
    return now != bench_.tones().end() && now->second == glm::vec3(color[0], color[1], color[2]);
  };
  for (const rulebook::Tone& tone : role.tones) {
    auto* one = new QPushButton(out);
    one->setObjectName(QStringLiteral("tone-") + q(role.id) + QLatin1Char('-') + q(tone.id));
    one->setProperty("quiet", true);
    one->setCheckable(true);
    one->setChecked(is(tone.color));
    one->setIcon(toneIcon(shown(tone.color), one->isChecked()));
    one->setFixedSize(28, 28);
    one->setIconSize(QSize(20, 20));
    one->setToolTip(tr("%1: seen in the game's look alone; the mod stays as it is").arg(q(tone.title)));
    one->setAccessibleName(q(tone.title));
    connect(one, &QPushButton::clicked, this, [this, id = role.id, color = tone.color](bool on) {
      tryTone(id, on ? std::optional(glm::vec3(color[0], color[1], color[2])) : std::nullopt);
    });
    palette->addWidget(one, palette->count() / kAcross, palette->count() % kAcross);
  }
  palette->setColumnStretch(kAcross, 1);
  auto* other = new QPushButton(tr("Try another tone…"), out);
  other->setObjectName(QStringLiteral("tone-") + q(role.id));
  other->setProperty("quiet", true);
  other->setToolTip(tr("Seen in the game's look alone; the mod stays as it is"));
  connect(other, &QPushButton::clicked, this, [this, id = role.id, swatch = shown(role.swatch)] {
    QColorDialog dialog(swatch, this);
    dialog.setObjectName(QStringLiteral("tone-dialog"));
    dialog.setWindowTitle(tr("A tone to try"));
    dialog.setOption(QColorDialog::DontUseNativeDialog);
    if (dialog.exec() != QDialog::Accepted) return;
    const QColor tone = dialog.currentColor();
    tryTone(id, glm::vec3(tone.redF(), tone.greenF(), tone.blueF()));
  });
  row->addWidget(other);
  if (now != bench_.tones().end()) {
    auto* own = new QPushButton(tr("Back"), out);
    own->setObjectName(QStringLiteral("own-tone-") + q(role.id));
    own->setProperty("quiet", true);
    own->setToolTip(tr("Back to the game's own tone"));
    connect(own, &QPushButton::clicked, this, [this, id = role.id] { tryTone(id, {}); });
    row->addWidget(own);
  }
  row->addStretch();
  return out;
}

void SurfaceStation::tryTone(const std::string& role, std::optional<glm::vec3> tone) {
  bench_.setTone(role, tone);
  if (tone) {
    bench_.setLook(Bench::Look::in_game);
    Q_EMIT tell(tr("Seen in the bench, in the game's look."), true);
  }
  QTimer::singleShot(0, this, &SurfaceStation::refresh);  // the button that asked is made anew
}

void SurfaceStation::addCards(size_t most) {
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  // Another state is there, and a refresh on its way.
  if (state == nullptr || state->prepared.model != cards_of_) return waiting_.clear();
  const size_t count = std::min(most, waiting_.size());
  for (size_t i = 0; i < count; ++i) addCard(*state, state->prepared.model->materials[waiting_[i].value()]);
  waiting_.erase(waiting_.begin(), waiting_.begin() + static_cast<std::ptrdiff_t>(count));
  if (!waiting_.empty()) more_.start(0);
}

void SurfaceStation::addCard(const check::ModelState& state, const scene::Material& material) {
  const rulebook::Kind* kind = state.kind;
  auto* card = new QFrame(this);
  card->setProperty("card", true);
  card->setObjectName(QStringLiteral("material-") + q(material.key));
  auto* layout = new QHBoxLayout(card);
  layout->setContentsMargins(10, 9, 10, 9);
  layout->setSpacing(10);
  layout->addWidget(makeSwatch(state, material, card), 0, Qt::AlignTop);
  auto* column = new QVBoxLayout;
  column->setSpacing(4);
  auto* name = new NameButton(q(material.name.empty() ? material.key : material.name), card);
  name->setObjectName(QStringLiteral("show-material-") + q(material.key));
  name->setProperty("quiet", true);
  name->setStyleSheet(QStringLiteral("text-align: left; font-weight: bold; padding-left: 0;"));
  name->setToolTip(tr("Show a part that wears %1").arg(name->text()));
  connect(name, &QPushButton::clicked, this, [this, key = material.key] { choose(key); });
  auto* head = new QHBoxLayout;
  head->addWidget(name, 1);
  if (several_) {
    auto* with = new QCheckBox(card);
    with->setObjectName(QStringLiteral("together-") + q(material.key));
    with->setAccessibleName(tr("Choose %1 together with others").arg(name->text()));
    with->setToolTip(with->accessibleName());
    with->setChecked(together_.count(material.key) != 0);
    connect(with, &QCheckBox::toggled, this, [this, key = material.key](bool on) {
      if (on)
        together_.insert(key);
      else
        together_.erase(key);
      QTimer::singleShot(0, this, &SurfaceStation::refresh);
    });
    head->addWidget(with, 0, Qt::AlignRight);
  }
  column->addLayout(head);
  if (kind != nullptr) {
    column->addWidget(makeRoles(*kind, material, name->text(), card));
    const rulebook::Role* role = kind->findRole(material.role);
    if (role != nullptr && !role->help.empty()) column->addWidget(quietText(q(role->help), card));
    if (role != nullptr && role->effect == "tint") column->addWidget(makeTones(*role, card));
    for (const check::RoleProposal& one : proposals_)
      if (one.material == material.key) column->addWidget(makeProposal(one, *kind, name->text(), card));
  }
  addPictureLines(state, material, card, column);
  layout->addLayout(column, 1);
  materials_->addWidget(card);
  cards_[material.key] = card;
}

QWidget* SurfaceStation::makeSwatch(const check::ModelState& state, const scene::Material& material,
                                    QWidget* card) {
  const scene::Model& model = *state.prepared.model;
  const BenchMaterial* drawn = nullptr;
  if (session_.scene())
    for (const BenchMaterial& one : session_.scene()->materials)
      if (one.key == material.key) drawn = &one;
  const rulebook::Role* role = state.kind != nullptr ? state.kind->findRole(material.role) : nullptr;
  const scene::TextureUse& base_color = material.base_color_texture;
  const bool missing = base_color.image.valid() && (!model.images[base_color.image.value()].bytes ||
                                                    state.pictures[base_color.image.value()].error);
  const glm::vec4 c = glm::clamp(material.base_color, 0.0F, 1.0F);
  // The factor is linear light (glTF 2.0, section 3.9.2); screens want it encoded.
  const auto encoded = [](float v) { return std::pow(v, 1 / 2.2F); };
  return new Swatch(drawn != nullptr ? slotPicture(drawn->pictures[0]) : QImage(),
                    QColor::fromRgbF(encoded(c.x), encoded(c.y), encoded(c.z)),
                    role != nullptr ? shown(role->swatch) : QColor(), missing, card);
}

QComboBox* SurfaceStation::makeRoles(const rulebook::Kind& kind, const scene::Material& material,
                                     const QString& name, QWidget* card) {
  auto* roles = new QComboBox(card);
  roles->setObjectName(QStringLiteral("role-") + q(material.key));
  roles->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  roles->setMinimumContentsLength(12);
  roles->setAccessibleName(tr("Role of %1").arg(name));
  roles->addItem(tr("no role: stays as it is"), QString());
  for (const rulebook::Role& one : kind.roles) {
    roles->addItem(q(one.title), q(one.id));
    roles->setItemData(roles->count() - 1, q(one.help), Qt::ToolTipRole);
  }
  if (kind.findRole(material.role) == nullptr && !material.role.empty())
    roles->addItem(tr("%1, unknown to this kind").arg(q(material.role)), q(material.role));
  roles->setCurrentIndex(std::max(0, roles->findData(q(material.role))));
  connect(roles, &QComboBox::activated, this, [this, roles, key = material.key, now = material.role] {
    const std::string wanted = s(roles->currentData().toString());
    if (wanted != now) giveRole(key, wanted, roles->currentText());
  });
  return roles;
}

void SurfaceStation::addPictureLines(const check::ModelState& state, const scene::Material& material,
                                     QWidget* card, QVBoxLayout* column) {
  const scene::Model& model = *state.prepared.model;
  bool any = false;
  for (const scene::TextureSlot& slot : scene::kTextureSlots) {
    const scene::TextureUse& use = material.*slot.use;
    if (!use.image.valid()) continue;
    any = true;
    const scene::Image& image = model.images[use.image.value()];
    const QString file = image.uri.empty() ? tr("inside the model file") : q(image.uri);
    const bool damaged = state.pictures[use.image.value()].error.has_value();
    QLabel* line =
        !image.bytes ? plainText(tr("◆ %1: %2 is missing").arg(q(base::phrase(slot.name)), file), card)
        : damaged    ? plainText(tr("◆ %1: %2 is damaged").arg(q(base::phrase(slot.name)), file), card)
                     : quietText(QStringLiteral("%1: %2").arg(q(base::phrase(slot.name)), file), card);
    if (!image.bytes || damaged) line->setProperty("tone", QByteArray("stops"));
    column->addWidget(line);
  }
  if (!any) return column->addWidget(quietText(tr("no pictures: a plain colour"), card));
  column->addWidget(quietText(costText(state, material), card));
}

// What its pictures take in the game's memory, for each target.
QString SurfaceStation::costText(const check::ModelState& state, const scene::Material& material) const {
  const auto costs = check::bytesOf(session_.book(), state, material, needs_);
  const std::vector<rulebook::Target> targets = session_.book().allTargets();
  QStringList out;
  for (size_t t = 0; t < targets.size(); ++t)
    out << tr("%1 %2").arg(q(targets[t].title), q(base::sizeText(costs[t])));
  return tr("In the game: %1").arg(out.join(QStringLiteral(" · ")));
}

void SurfaceStation::showPlace(const check::FindingPlace& place) {
  addCards(waiting_.size());
  if (const auto card = cards_.find(place.material); card != cards_.end()) {
    unfoldTo(card->second);
    area_->ensureWidgetVisible(card->second, 0, 12);
    if (auto* roles = card->second->findChild<QComboBox*>()) roles->setFocus(Qt::OtherFocusReason);
  }
}

}  // namespace rakugo::app
