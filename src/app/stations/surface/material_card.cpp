#include "app/stations/surface/material_card.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QGridLayout>
#include <QPainter>
#include <cmath>

#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"
#include "check/surface_report.h"
#include "prepare/surface/packed_picture.h"

namespace rakugo::app {
namespace {

constexpr uint32_t kSampleSide = 88;

// The smallest mip level that fills a sample.
QImage smallPicture(const BenchPicture& picture) {
  if (!picture || picture->levels.empty()) return {};
  size_t level = 0;
  uint32_t w = picture->width, h = picture->height;
  while (level + 1 < picture->levels.size() && w > kSampleSide && h > kSampleSide) {
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

QColor srgb(const std::array<float, 3>& c) { return QColor::fromRgbF(c[0], c[1], c[2]); }

// Factors are linear light (glTF 2.0, section 3.9.2); screens want them encoded.
QColor encoded(const glm::vec3& linear) {
  const glm::vec3 c = glm::clamp(linear, 0.0F, 1.0F);
  return QColor::fromRgbF(std::pow(c.x, 1 / 2.2F), std::pow(c.y, 1 / 2.2F), std::pow(c.z, 1 / 2.2F));
}

class Swatch : public QWidget {
 public:
  Swatch(MaterialSample sample, QWidget* parent) : QWidget(parent), sample_(std::move(sample)) {
    setFixedSize(46, 52);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    paintSample(p, QRect(1, 1, 44, 44), sample_);
    if (sample_.role.isValid()) p.fillRect(QRect(1, 48, 45, 4), sample_.role);  // like a seam
  }

 private:
  MaterialSample sample_;
};

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

// Red, green and blue from 0 to 255.
QString numbersOf(const QColor& color) {
  return QStringLiteral("%1, %2, %3").arg(color.red()).arg(color.green()).arg(color.blue());
}

// What stands in the place of a picture: a colour or numbers. Empty where that says nothing.
QString plainValue(const scene::Material& material, const scene::TextureSlot& slot) {
  if (slot.use == &scene::Material::base_color_texture)
    return numbersOf(encoded(glm::vec3(material.base_color)));
  if (slot.use == &scene::Material::metallic_roughness_texture)
    return QObject::tr("metal %1, roughness %2")
        .arg(q(base::numberText(material.metallic)), q(base::numberText(material.roughness)));
  if (slot.use == &scene::Material::emissive_texture && material.emissive != glm::vec3(0))
    return numbersOf(encoded(material.emissive));
  return {};
}

}  // namespace

MaterialSample sampleOf(const Session& session, const check::ModelState& state,
                        const scene::Material& material) {
  MaterialSample out;
  if (session.scene())
    for (const BenchMaterial& one : session.scene()->materials)
      if (one.key == material.key) out.picture = smallPicture(one.pictures[0]);
  const scene::ImageIndex image = material.base_color_texture.image;
  out.missing = image.valid() &&
                (!state.prepared.model->images[image.value()].bytes || state.pictures[image.value()].error);
  out.color = encoded(glm::vec3(material.base_color));
  if (const rulebook::Role* role = state.kind != nullptr ? state.kind->findRole(material.role) : nullptr)
    out.role = srgb(role->swatch);
  return out;
}

void paintSample(QPainter& painter, const QRect& cloth, const MaterialSample& sample) {
  painter.save();
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  if (!sample.picture.isNull())
    painter.drawImage(cloth, sample.picture);
  else
    painter.fillRect(cloth, sample.color);
  if (sample.missing) {
    painter.setPen(QPen(theme().stops, 2));
    painter.drawLine(cloth.topLeft(), cloth.bottomRight());
    painter.drawLine(cloth.topRight(), cloth.bottomLeft());
  }
  painter.setPen(theme().hair);
  painter.setBrush(Qt::NoBrush);
  painter.drawRect(cloth);
  painter.restore();
}

MaterialCard::MaterialCard(const Session& session, const Bench& bench, const MaterialShown& shown,
                           QWidget* parent)
    : QFrame(parent),
      session_(session),
      bench_(bench),
      key_(shown.material.key),
      name_(q(shown.material.name.empty() ? shown.material.key : shown.material.name)) {
  setProperty("card", true);
  setObjectName(QStringLiteral("material-") + q(key_));
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(10, 9, 10, 9);
  layout->setSpacing(10);
  layout->addWidget(new Swatch(sampleOf(session, shown.state, shown.material), this), 0, Qt::AlignTop);
  auto* column = new QVBoxLayout;
  column->setSpacing(4);
  column->addWidget(makeHead(shown));
  if (const rulebook::Kind* kind = shown.state.kind) {
    column->addWidget(makeRoles(shown));
    const rulebook::Role* role = kind->findRole(shown.material.role);
    if (role != nullptr && !role->help.empty()) column->addWidget(quietText(q(role->help), this));
    if (role != nullptr && role->effect == "tint") column->addWidget(makeTones(*role));
    if (shown.proposal != nullptr) column->addWidget(makeProposal(shown));
  }
  addSlots(shown, column);
  layout->addLayout(column, 1);
}

void MaterialCard::takeKeys() {
  if (roles_ != nullptr) roles_->setFocus(Qt::OtherFocusReason);
}

QWidget* MaterialCard::makeHead(const MaterialShown& shown) {
  auto* out = new QWidget(this);
  auto* row = new QHBoxLayout(out);
  row->setContentsMargins(0, 0, 0, 0);
  auto* name = new NameButton(name_, out);
  name->setObjectName(QStringLiteral("show-material-") + q(key_));
  name->setProperty("quiet", true);
  name->setStyleSheet(QStringLiteral("text-align: left; font-weight: bold; padding-left: 0;"));
  name->setToolTip(tr("Show a part that wears %1").arg(name_));
  connect(name, &QPushButton::clicked, this, [this] { Q_EMIT chosen(key_); });
  row->addWidget(name, 1);
  if (!shown.several) return out;
  auto* with = new QCheckBox(out);
  with->setObjectName(QStringLiteral("together-") + q(key_));
  with->setAccessibleName(tr("Choose %1 together with others").arg(name_));
  with->setToolTip(with->accessibleName());
  with->setChecked(shown.together);
  connect(with, &QCheckBox::toggled, this, [this](bool on) { Q_EMIT togetherAsked(key_, on); });
  row->addWidget(with, 0, Qt::AlignRight);
  return out;
}

QWidget* MaterialCard::makeRoles(const MaterialShown& shown) {
  const rulebook::Kind& kind = *shown.state.kind;
  const std::string& now = shown.material.role;
  roles_ = new QComboBox(this);
  roles_->setObjectName(QStringLiteral("role-") + q(key_));
  roles_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  roles_->setMinimumContentsLength(12);
  roles_->setAccessibleName(tr("Role of %1").arg(name_));
  roles_->addItem(tr("no role: stays as it is"), QString());
  for (const rulebook::Role& one : kind.roles) {
    roles_->addItem(q(one.title), q(one.id));
    roles_->setItemData(roles_->count() - 1, q(one.help), Qt::ToolTipRole);
  }
  if (kind.findRole(now) == nullptr && !now.empty())
    roles_->addItem(tr("%1, unknown to this kind").arg(q(now)), q(now));
  roles_->setCurrentIndex(std::max(0, roles_->findData(q(now))));
  connect(roles_, &QComboBox::activated, this, [this, now] {
    const std::string wanted = s(roles_->currentData().toString());
    if (wanted != now) Q_EMIT roleAsked(key_, wanted, roles_->currentText());
  });
  return roles_;
}

QWidget* MaterialCard::makeProposal(const MaterialShown& shown) {
  const check::RoleProposal& proposal = *shown.proposal;
  const QString title = q(shown.state.kind->findRole(proposal.role)->title);
  auto* out = new QWidget(this);
  auto* row = new QHBoxLayout(out);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(6);
  QStringList reasons;
  for (const std::string& reason : proposal.reasons) reasons << q(reason);
  row->addWidget(plainText(tr("Likely %1: %2").arg(title.toLower(), reasons.join(QStringLiteral("; "))), out),
                 1);
  auto* give = new QPushButton(tr("Give"), out);
  give->setObjectName(QStringLiteral("give-role-") + q(key_));
  give->setToolTip(tr("Give %1 the role %2").arg(name_, title.toLower()));
  give->setAccessibleName(give->toolTip());
  connect(give, &QPushButton::clicked, this,
          [this, id = proposal.role, title] { Q_EMIT roleAsked(key_, id, title); });
  row->addWidget(give, 0, Qt::AlignTop);
  return out;
}

QWidget* MaterialCard::makeTone(const rulebook::Role& role, const rulebook::Tone& tone) {
  const glm::vec3 color(tone.color[0], tone.color[1], tone.color[2]);
  const auto now = bench_.tones().find(role.id);
  auto* out = new QPushButton(this);
  out->setObjectName(QStringLiteral("tone-") + q(role.id) + QLatin1Char('-') + q(tone.id));
  out->setProperty("quiet", true);
  out->setCheckable(true);
  out->setChecked(now != bench_.tones().end() && now->second == color);
  out->setIcon(toneIcon(srgb(tone.color), out->isChecked()));
  out->setFixedSize(28, 28);
  out->setIconSize(QSize(20, 20));
  out->setToolTip(tr("%1: seen in the game's look alone; the mod stays as it is").arg(q(tone.title)));
  out->setAccessibleName(q(tone.title));
  connect(out, &QPushButton::clicked, this, [this, id = role.id, color](bool on) {
    Q_EMIT toneAsked(id, on ? std::optional(color) : std::nullopt);
  });
  return out;
}

// The tones that players choose from, and any other: tried in the bench, never a step.
QWidget* MaterialCard::makeTones(const rulebook::Role& role) {
  auto* out = new QWidget(this);
  auto* rows = new QVBoxLayout(out);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(2);
  auto* palette = new QGridLayout;
  palette->setSpacing(2);
  rows->addLayout(palette);
  constexpr int kAcross = 6;
  for (const rulebook::Tone& tone : role.tones)
    palette->addWidget(makeTone(role, tone), palette->count() / kAcross, palette->count() % kAcross);
  palette->setColumnStretch(kAcross, 1);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  rows->addLayout(row);
  auto* other = new QPushButton(tr("Try another tone…"), out);
  other->setObjectName(QStringLiteral("tone-") + q(role.id));
  other->setProperty("quiet", true);
  other->setToolTip(tr("Seen in the game's look alone; the mod stays as it is"));
  connect(other, &QPushButton::clicked, this, [this, id = role.id, swatch = srgb(role.swatch)] {
    QColorDialog dialog(swatch, this);
    dialog.setObjectName(QStringLiteral("tone-dialog"));
    dialog.setWindowTitle(tr("A tone to try"));
    dialog.setOption(QColorDialog::DontUseNativeDialog);
    if (dialog.exec() != QDialog::Accepted) return;
    const QColor tone = dialog.currentColor();
    Q_EMIT toneAsked(id, glm::vec3(tone.redF(), tone.greenF(), tone.blueF()));
  });
  row->addWidget(other);
  if (bench_.tones().count(role.id) != 0) {
    auto* own = new QPushButton(tr("Back"), out);
    own->setObjectName(QStringLiteral("own-tone-") + q(role.id));
    own->setProperty("quiet", true);
    own->setToolTip(tr("Back to the game's own tone"));
    connect(own, &QPushButton::clicked, this, [this, id = role.id] { Q_EMIT toneAsked(id, std::nullopt); });
    row->addWidget(own);
  }
  row->addStretch();
  return out;
}

// What goes into each slot: a picture, a colour or numbers.
void MaterialCard::addSlots(const MaterialShown& shown, QBoxLayout* column) {
  const scene::Model& model = *shown.state.prepared.model;
  bool any = false;
  for (const scene::TextureSlot& slot : scene::kTextureSlots) {
    const scene::TextureUse& use = shown.material.*slot.use;
    const QString called = q(base::phrase(slot.name));
    if (!use.image.valid()) {
      const QString value = plainValue(shown.material, slot);
      const bool names_itself = slot.use == &scene::Material::metallic_roughness_texture;
      if (!value.isEmpty())
        column->addWidget(
            quietText(names_itself ? value : QStringLiteral("%1: %2").arg(called, value), this));
      continue;
    }
    any = true;
    const scene::Image& image = model.images[use.image.value()];
    const QString file = image.uri.empty() ? tr("inside the model file") : q(image.uri);
    const bool damaged = shown.state.pictures[use.image.value()].error.has_value();
    QLabel* line = !image.bytes ? plainText(tr("◆ %1: %2 is missing").arg(called, file), this)
                   : damaged    ? plainText(tr("◆ %1: %2 is damaged").arg(called, file), this)
                                : quietText(QStringLiteral("%1: %2").arg(called, file), this);
    if (!image.bytes || damaged) line->setProperty("tone", QByteArray("stops"));
    column->addWidget(line);
  }
  for (const rulebook::PackedPicture* packed : prepare::packedPictures(session_.book(), shown.material))
    column->addWidget(quietText(
        tr("The game reads it from %1: %2").arg(q(packed->title), q(prepare::packedText(*packed))), this));
  if (any) column->addWidget(quietText(costText(shown), this));
}

// What its pictures take in the game's memory, for each target.
QString MaterialCard::costText(const MaterialShown& shown) const {
  const auto costs = check::bytesOf(session_.book(), shown.state, shown.material, shown.needs);
  const std::vector<rulebook::Target> targets = session_.book().allTargets();
  QStringList out;
  for (size_t t = 0; t < targets.size(); ++t)
    out << tr("%1 %2").arg(q(targets[t].title), q(base::sizeText(costs[t])));
  return tr("In the game: %1").arg(out.join(QStringLiteral(" · ")));
}

}  // namespace rakugo::app
