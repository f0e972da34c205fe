#include "app/stations/surface/picture_sheet.h"

#include <QAbstractItemView>
#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSlider>
#include <QVBoxLayout>

#include "app/widgets/panels.h"
#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::app {

PictureSheet::PictureSheet(Session& session, Bench& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench) {
  setObjectName(QStringLiteral("picture-sheet"));
  setMinimumWidth(240);
  const auto combo = [this](const char* name, const QString& title) {
    auto* out = new QComboBox(this);
    out->setObjectName(QLatin1String(name));
    out->setAccessibleName(title);
    out->setToolTip(title);
    out->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    out->setMinimumContentsLength(5);
    // A long name is cut in the box alone.
    connect(out, &QComboBox::currentTextChanged, out, [out, title](const QString& now) {
      out->setToolTip(now.isEmpty() ? title : tr("%1: %2").arg(title, now));
    });
    out->view()->setTextElideMode(Qt::ElideNone);
    return out;
  };
  const auto check = [this](const char* name, const QString& title, const QString& tip, bool on) {
    auto* out = new QCheckBox(title, this);
    out->setObjectName(QLatin1String(name));
    out->setToolTip(tip);
    out->setChecked(on);
    return out;
  };
  materials_ = combo("sheet-material", tr("Material"));
  slots_ = combo("sheet-slot", tr("Which of its pictures"));
  channels_ = combo("sheet-channel", tr("Which channel"));
  channels_->addItems({tr("all"), tr("red"), tr("green"), tr("blue"), tr("alpha")});
  levels_ = combo("sheet-level", tr("Mip level: what the game draws from farther away"));
  checker_ = check("sheet-checker", tr("Checker"), tr("Squares in place of the picture, here"), false);
  outlines_ = check("sheet-outlines", tr("Outlines"), tr("Where triangles lie on the picture"), true);
  faults_ = check(
      "sheet-faults", tr("Faults"),
      tr("Overlapping, collapsed, drawn out and mirrored triangles, each with a pattern of its own"), true);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(8, 8, 8, 6);
  layout->setSpacing(6);
  auto* first = new QHBoxLayout;
  first->addWidget(materials_, 3);
  first->addWidget(levels_, 2);
  auto* second = new QHBoxLayout;
  second->addWidget(slots_, 3);
  second->addWidget(channels_, 2);
  auto* third = new QHBoxLayout;
  for (QCheckBox* box : {checker_, outlines_, faults_}) third->addWidget(box);
  third->addStretch();
  for (QHBoxLayout* row : {first, second, third}) layout->addLayout(row);
  canvas_ = new SheetCanvas(this);
  layout->addLayout(makeStoredRow());
  stored_said_ = quietText({}, this);
  stored_said_->setObjectName(QStringLiteral("stored-said"));
  stored_said_->hide();
  layout->addWidget(stored_said_);
  layout->addWidget(canvas_, 1);
  said_ = quietText({}, this);
  said_->setObjectName(QStringLiteral("sheet-said"));
  layout->addWidget(said_);
  legend_ = new QGridLayout;
  legend_->setSpacing(2);
  layout->addLayout(legend_);
  place_ = quietText({}, this);
  place_->setObjectName(QStringLiteral("sheet-place"));
  layout->addWidget(place_);
  connect(materials_, &QComboBox::activated, this, [this](int at) {
    choose(s(materials_->itemData(at).toString()));
    Q_EMIT materialChosen(q(material_));
  });
  connect(slots_, &QComboBox::activated, this, [this] { showSlot(); });
  connect(channels_, &QComboBox::currentIndexChanged, this,
          [this](int at) { canvas_->setChannel(static_cast<SheetChannel>(std::max(0, at))); });
  connect(levels_, &QComboBox::currentIndexChanged, this,
          [this](int at) { canvas_->setLevel(static_cast<size_t>(std::max(0, at))); });
  connect(checker_, &QCheckBox::toggled, canvas_, &SheetCanvas::setChecker);
  connect(outlines_, &QCheckBox::toggled, canvas_, &SheetCanvas::setOutlines);
  connect(faults_, &QCheckBox::toggled, canvas_, &SheetCanvas::setFaults);
  connect(canvas_, &SheetCanvas::picked, this, &PictureSheet::showInBench);
  connect(canvas_, &SheetCanvas::pointed, this, &PictureSheet::tellPlace);
  connect(&bench_, &Bench::surfaceClicked, this, &PictureSheet::takeHit);
  // The scene comes after the examination that the station is refreshed by.
  connect(&session_, &Session::sceneChanged, this, &PictureSheet::refresh);
}

// The picture as a target stores it, and how much of it is shown.
QLayout* PictureSheet::makeStoredRow() {
  targets_ = new QComboBox(this);
  targets_->setObjectName(QStringLiteral("sheet-target"));
  targets_->setAccessibleName(tr("As which target stores it"));
  targets_->setToolTip(tr("The picture as one of the game's targets stores it, beside what it was made of"));
  targets_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  targets_->setMinimumContentsLength(8);
  divider_ = new QSlider(Qt::Horizontal, this);
  divider_->setObjectName(QStringLiteral("stored-divider"));
  divider_->setAccessibleName(tr("How much of it is shown as it is stored"));
  divider_->setToolTip(tr("Left of the line the original, right of it what is stored"));
  divider_->setRange(0, 100);
  divider_->setValue(50);
  divider_->hide();
  worst_ = new QPushButton(tr("Worst place"), this);
  worst_->setObjectName(QStringLiteral("stored-worst"));
  worst_->setProperty("quiet", true);
  worst_->setToolTip(tr("Where 8 by 8 pixels differ most from the original"));
  worst_->setEnabled(false);
  auto* rows = new QVBoxLayout;
  rows->setSpacing(4);
  auto* row = new QHBoxLayout;
  row->addWidget(targets_, 1);
  row->addWidget(worst_);
  rows->addLayout(row);
  rows->addWidget(divider_);
  connect(targets_, &QComboBox::activated, this, [this] { showSlot(); });
  connect(divider_, &QSlider::valueChanged, this, &PictureSheet::showStored);
  connect(worst_, &QPushButton::clicked, this, &PictureSheet::showWorst);
  return rows;
}

// Made in the background, once for a picture and a target.
void PictureSheet::storeForTarget() {
  const std::string target = s(targets_->currentData().toString());
  const auto at = number();
  const check::ModelState* state = session_.prepared();
  std::string wanted;
  std::shared_ptr<const base::Bytes> bytes;
  packing::PictureStoring how;
  rulebook::PictureRole role = rulebook::PictureRole::color;
  const auto chosen = session_.book().targetNamed(target);
  if (at && state != nullptr && chosen) {
    const scene::Model& model = *state->prepared.model;
    for (const scene::Material& m : model.materials) {
      const scene::TextureSlot& of = scene::kTextureSlots[slot()];
      const scene::ImageIndex image = (m.*of.use).image;
      if (m.key != material_ || !image.valid()) continue;
      const auto need = prepare::pictureNeeds(model).at({image, formats::useOf(of)});
      bytes = model.images[image.value()].bytes;
      how.use = formats::useOf(of);
      if (!target.empty()) how = packing::storingOf(session_.book(), *chosen, how.use, need);
      role = need.role;
      wanted = target + "|" + how.text();
    }
  }
  if (wanted == stored_of_ && bytes == stored_bytes_) return showStored();
  stored_of_ = wanted;
  stored_bytes_ = bytes;
  stored_.reset();
  showStored();
  if (!bytes) return;
  if (!target.empty()) {
    stored_said_->setText(tr("Storing it as the game does…"));
    stored_said_->show();
  }
  session_.background().post([this, bytes, how, role, wanted,
                              for_target = !target.empty()](base::Progress& progress) -> Background::Finish {
    auto view = storedView(*bytes, how, role, for_target, progress);
    return [this, view = std::move(view), bytes, wanted] {
      if (wanted != stored_of_ || bytes != stored_bytes_) return;
      stored_ = view;
      if (view) return showSlot();
      stored_said_->hide();  // it cannot be decoded, and a finding says so
    };
  });
}

void PictureSheet::showStored() {
  const bool there = stored_ != nullptr && stored_->stored != nullptr;
  divider_->setVisible(there);
  worst_->setEnabled(there && stored_->quality.psnr_db < texture::PictureQuality::kExact);
  canvas_->setStored(there ? stored_->stored : nullptr, divider_->value() / 100.0);
  if (!there) {
    canvas_->setMark({});
    if (targets_->currentIndex() <= 0) stored_said_->hide();
    return;
  }
  QString text =
      tr("%1, %2 in the game")
          .arg(QLatin1String(bundle::rowOf(stored_->format).title), q(base::sizeText(stored_->bytes)));
  text += stored_->quality.psnr_db >= texture::PictureQuality::kExact
              ? tr(" · nothing is lost")
              : tr(" · %1 dB, the worst place %2 dB")
                    .arg(stored_->quality.psnr_db, 0, 'f', 1)
                    .arg(stored_->quality.worst_psnr_db, 0, 'f', 1);
  stored_said_->setText(text);
  stored_said_->show();
}

void PictureSheet::showWorst() {
  if (!stored_ || !stored_->stored) return;
  levels_->setCurrentIndex(0);
  const double w = stored_->plain->width, h = stored_->plain->height;
  canvas_->setMark(QRectF(stored_->quality.worst_x / w, stored_->quality.worst_y / h, 8 / w, 8 / h));
}

void PictureSheet::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

std::optional<size_t> PictureSheet::number() const {
  const auto& scene = session_.scene();
  if (!scene) return std::nullopt;
  for (size_t i = 0; i < scene->materials.size(); ++i)
    if (scene->materials[i].key == material_ && !material_.empty()) return i;
  return std::nullopt;
}

size_t PictureSheet::slot() const { return static_cast<size_t>(std::max(0, slots_->currentData().toInt())); }

void PictureSheet::refresh() {
  if (!isVisible() || !session_.isOpen()) return;
  const auto& scene = session_.scene();
  if (scene && !number()) {
    // The first that has a picture, else the first.
    material_.clear();
    for (const BenchMaterial& one : scene->materials)
      if (!one.key.empty() && (material_.empty() || one.pictures[0])) {
        material_ = one.key;
        if (one.pictures[0]) break;
      }
  }
  fillBars();
  showSlot();
}

void PictureSheet::choose(const std::string& material) {
  const std::string before = std::exchange(material_, material);
  if (!number()) {
    material_ = before;
    return;
  }
  if (before == material) return;
  canvas_->setChosen({});
  if (isVisible()) refresh();
}

// Lists of what there is; what was chosen stays where it still is.
void PictureSheet::fillBars() {
  const auto& scene = session_.scene();
  const QSignalBlocker quiet_materials(materials_), quiet_slots(slots_), quiet_levels(levels_);
  const int slot_before = slots_->count() > 0 ? slots_->currentData().toInt() : 0;
  materials_->clear();
  slots_->clear();
  if (scene)
    for (const BenchMaterial& one : scene->materials)
      if (!one.key.empty())
        materials_->addItem(q(one.record.name.empty() ? one.key : one.record.name), q(one.key));
  materials_->setCurrentIndex(std::max(0, materials_->findData(q(material_))));
  const auto at = number();
  for (size_t i = 0; at && i < scene::kTextureSlots.size(); ++i)
    if (scene->materials[*at].pictures[i])
      slots_->addItem(q(base::phrase(scene::kTextureSlots[i].name)), static_cast<int>(i));
  if (slots_->count() == 0) slots_->addItem(tr("no picture"), 0);
  const QSignalBlocker quiet_targets(targets_);
  const QString target_before = targets_->currentData().toString();
  targets_->clear();
  targets_->addItem(tr("as it is"), QString());
  for (const rulebook::Target& one : session_.book().allTargets())
    targets_->addItem(tr("on %1").arg(q(one.title)), q(one.id));
  targets_->setCurrentIndex(std::max(0, targets_->findData(target_before)));
  slots_->setCurrentIndex(std::max(0, slots_->findData(slot_before)));
}

void PictureSheet::showSlot() {
  const auto at = number();
  BenchPicture picture = at ? session_.scene()->materials[*at].pictures[slot()] : nullptr;
  storeForTarget();
  if (stored_) picture = stored_->plain;
  {
    const QSignalBlocker quiet(levels_);
    const int before = std::max(0, levels_->currentIndex());
    levels_->clear();
    for (size_t i = 0; picture && i < picture->levels.size(); ++i)
      levels_->addItem(tr("%1 px").arg(std::max({1U, picture->width >> i, picture->height >> i})));
    if (levels_->count() == 0) levels_->addItem(tr("no picture"));
    levels_->setCurrentIndex(std::min(before, levels_->count() - 1));
  }
  canvas_->setPicture(picture);
  canvas_->setLevel(static_cast<size_t>(levels_->currentIndex()));
  canvas_->setPlaceholder(!session_.scene() ? tr("Nothing to show yet.")
                          : !at             ? tr("This model wears no material.")
                                            : QString());
  makeMap();
}

// In the background: overlaps of many triangles take a while.
void PictureSheet::makeMap() {
  const auto at = number();
  if (!at) {
    mapped_.clear();
    canvas_->setMap(nullptr);
    said_->clear();
    return;
  }
  const auto& scene = session_.scene();
  const unsigned set = scene->materials[*at].record.lookups[slot()].uv;
  const std::string wanted = material_ + "|" + std::to_string(set);
  if (scene == shown_ && wanted == mapped_) return;
  shown_ = scene;
  mapped_ = wanted;
  canvas_->setMap(nullptr);
  awaited_.reset();
  said_->setText(tr("Looking…"));
  session_.background().post([this, scene, material = *at, set,
                              generation = ++generation_](base::Progress& progress) -> Background::Finish {
    auto map = std::make_shared<const SheetMap>(sheetMap(*scene, material, set, progress));
    return [this, map = std::move(map), generation] {
      if (generation != generation_) return;
      canvas_->setMap(map);
      tellMap();
      if (const auto hit = std::exchange(awaited_, std::nullopt)) takeHit(*hit);
    };
  });
}

void PictureSheet::tellMap() {
  const SheetMap& map = *canvas_->map();
  clearLayout(legend_);
  legend_shown_ = 0;
  if (map.triangles.empty()) {
    said_->setText(tr("What wears it has no UVs: the picture has no place on it."));
    return;
  }
  said_->setText(
      q(base::countText(map.triangles.size(), "triangle", "triangles")) + QStringLiteral(" · ") +
      q(base::countText(map.islands, "island", "islands")) +
      (map.complete ? QString() : QStringLiteral(" · ") + tr("overlaps not looked for: too many triangles")));
  // What each pattern means, and how often it is there.
  const QString words[] = {
      {}, tr("%1 overlapping"), tr("%1 collapsed"), tr("%1 drawn out"), tr("%1 mirrored")};
  for (size_t i = 1; i < map.faults.size(); ++i)
    if (map.faults[i] > 0) {
      auto* mark = new QLabel(this);
      mark->setPixmap(faultMark(static_cast<SheetFault>(i), devicePixelRatioF()));
      auto* row = new QHBoxLayout;
      row->setSpacing(6);
      row->addWidget(mark);
      auto* word = quietText(words[i].arg(map.faults[i]), this);
      word->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // no legend makes the window wider
      row->addWidget(word, 1);
      legend_->addLayout(row, static_cast<int>((legend_shown_) / 2), static_cast<int>(legend_shown_ % 2));
      ++legend_shown_;
    }
}

void PictureSheet::tellPlace(std::optional<glm::vec2> uv) {
  if (!uv) return place_->clear();
  QString text =
      tr("u %1, v %2").arg(static_cast<double>(uv->x), 0, 'f', 3).arg(static_cast<double>(uv->y), 0, 'f', 3);
  if (const auto value = canvas_->valueAt(*uv))
    text += tr("   red %1, green %2, blue %3, alpha %4")
                .arg(value->red())
                .arg(value->green())
                .arg(value->blue())
                .arg(value->alpha());
  place_->setText(text);
}

void PictureSheet::showInBench(std::optional<size_t> triangle) {
  if (!triangle || !shown_ || !canvas_->map()) return bench_.showLines({});
  const SheetTriangle& one = canvas_->map()->triangles[*triangle];
  const BenchPart& part = shown_->parts[one.part];
  Bench::Line line;
  line.closed = true;
  line.good = false;
  for (const uint32_t v : one.vertices)
    line.places.push_back(glm::vec3(part.world * glm::vec4(part.places[v], 1)));
  bench_.showLines({line});
  bench_.setSelectedPart(part.key);
}

// A click in the bench: its triangle here, or another material where the triangle wears one.
void PictureSheet::takeHit(const BenchHit& hit) {
  if (!isVisible() || !session_.scene() || session_.scene() != bench_.scene()) return;
  const BenchPart& part = session_.scene()->parts[hit.part];
  const auto run =
      std::find_if(part.mesh.submeshes.begin(), part.mesh.submeshes.end(), [&](const bundle::Submesh& one) {
        for (uint32_t i = one.first_index; i + 2 < one.first_index + one.index_count; i += 3)
          if (std::equal(hit.vertices.begin(), hit.vertices.end(), part.mesh.indices.begin() + i))
            return true;
        return false;
      });
  if (run == part.mesh.submeshes.end()) return;
  if (const std::string& key = session_.scene()->materials[part.materials[run->material]].key;
      key != material_) {
    choose(key);
    Q_EMIT materialChosen(q(key));
  }
  if (!canvas_->map()) {
    awaited_ = hit;  // its map is being made
    return;
  }
  const auto& all = canvas_->map()->triangles;
  for (size_t t = 0; t < all.size(); ++t)
    if (all[t].part == hit.part && all[t].vertices == hit.vertices) {
      canvas_->setChosen(t);
      showInBench(t);
      return;
    }
}

}  // namespace rakugo::app
