#include "app/stations/surface/picture_sheet.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>
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
  slots_->setCurrentIndex(std::max(0, slots_->findData(slot_before)));
}

void PictureSheet::showSlot() {
  const auto at = number();
  const BenchPicture picture = at ? session_.scene()->materials[*at].pictures[slot()] : nullptr;
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
