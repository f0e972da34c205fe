#include <QHBoxLayout>
#include <set>

#include "app/panels.h"
#include "app/stations.h"
#include "base/text.h"

namespace rakugo::app {

SkeletonStation::SkeletonStation(Session& session, Bench& bench, QWidget* parent)
    : StationPanel(session, bench, parent) {}

void SkeletonStation::setStoodAt(bool here) {
  here_ = here;
  bench_.setBones(here, chosen_);
}

void SkeletonStation::chooseBone(const std::string& key) {
  chosen_ = key;
  bench_.setBones(here_, chosen_);
  refresh();
}

void SkeletonStation::showPlace(const check::FindingPlace&) { refresh(); }

void SkeletonStation::refresh() {
  // The row that has the keyboard keeps it over a rebuild.
  QString focused;
  for (const QPushButton* row : findChildren<QPushButton*>())
    if (row->hasFocus()) focused = row->objectName();
  clearLayout(column_);
  column_->addWidget(heading(tr("Skeleton"), this));
  const check::ModelState* state = session_.isOpen() ? session_.prepared() : nullptr;
  if (state == nullptr) {
    column_->addWidget(quietText(tr("The mod holds no model yet; its bones will stand here."), this));
    column_->addStretch();
    return;
  }
  const scene::Model& model = *state->prepared.model;
  const rulebook::Rulebook& book = session_.book();
  const rulebook::Skeleton* skeleton =
      state->kind != nullptr ? book.findSkeleton(state->kind->skeleton) : nullptr;
  const bool none = !session_.scene() || session_.scene()->bones.empty();
  const QString kind = state->kind != nullptr ? q(base::lowerAscii(state->kind->title)) : QString();
  if (skeleton == nullptr && none)
    column_->addWidget(plainText(state->kind != nullptr
                                     ? tr("This model has no bones, and a %1 needs none.").arg(kind)
                                     : tr("This model has no bones."),
                                 this));
  else if (skeleton == nullptr)
    column_->addWidget(plainText(
        tr("This model has bones; a %1 needs none, and the game will not move them.").arg(kind), this));
  else if (none)
    column_->addWidget(
        plainText(tr("This model has no bones. A %1 moves by %2, found by their names: export the "
                     "model with its skeleton, or choose another kind in Objects.")
                      .arg(kind, q(base::countText(skeleton->bones.size(), "bone", "bones"))),
                  this));
  addBones(model, none ? nullptr : skeleton);
  column_->addStretch();
  for (QPushButton* row : findChildren<QPushButton*>())
    if (!focused.isEmpty() && row->objectName() == focused && row->isVisibleTo(this)) row->setFocus();
}

void SkeletonStation::addBones(const scene::Model& model, const rulebook::Skeleton* skeleton) {
  if (!session_.scene()) return;
  std::set<std::string> names;
  for (const BenchBone& bone : session_.scene()->bones) names.insert(bone.name);
  if (skeleton != nullptr) {
    std::vector<const rulebook::Bone*> missing;
    for (const rulebook::Bone& bone : skeleton->bones)
      if (bone.required && names.count(bone.id) == 0) missing.push_back(&bone);
    const size_t found = skeleton->bones.size() - missing.size();
    QLabel* sum = plainText(
        tr("%1 of the game's %2 bones are found by name.").arg(found).arg(skeleton->bones.size()), this);
    sum->setObjectName(QStringLiteral("bones-found"));
    column_->addWidget(sum);
    if (!missing.empty()) {
      column_->addWidget(heading(tr("Not found"), this));
      for (const rulebook::Bone* bone : missing) {
        QLabel* line = plainText(QStringLiteral("◆ %1  (%2)").arg(q(bone->title), q(bone->id)), this);
        line->setProperty("tone", QByteArray("shows"));
        column_->addWidget(line);
      }
    }
  }
  if (session_.scene()->bones.empty()) return;
  column_->addWidget(hairline(this));
  column_->addWidget(heading(
      q(base::countText(session_.scene()->bones.size(), "bone", "bones")) + tr(" of the model"), this));
  auto* rows = new QVBoxLayout;
  rows->setSpacing(0);
  std::map<std::string, const BenchBone*> by_key;
  for (const BenchBone& bone : session_.scene()->bones) by_key[bone.key] = &bone;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    const auto bone = by_key.find(node.key);
    if (bone == by_key.end()) continue;
    int depth = 0;
    for (scene::NodeIndex up = node.parent; up.valid() && by_key.count(model.node(up).key) != 0;
         up = model.node(up).parent)
      ++depth;
    auto* row = new QWidget(this);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(std::min(depth, 9) * 11, 0, 0, 0);
    layout->setSpacing(4);
    auto* name = new QPushButton(q(node.name.empty() ? node.key : node.name), row);
    name->setObjectName(QStringLiteral("bone-") + q(node.key));
    name->setProperty("quiet", true);
    name->setCheckable(true);
    name->setChecked(node.key == chosen_);
    name->setStyleSheet(QStringLiteral("text-align: left;"));
    connect(name, &QPushButton::clicked, this,
            [this, key = node.key] { chooseBone(chosen_ == key ? std::string() : key); });
    layout->addWidget(name, 1);
    if (bone->second->required) {
      QLabel* mark = quietText(tr("✓ known"), row);
      mark->setWordWrap(false);
      mark->setProperty("tone", QByteArray("good"));
      mark->setToolTip(tr("The game looks for a bone of this name."));
      layout->addWidget(mark);
    }
    rows->addWidget(row);
  }
  column_->addLayout(rows);
}

}  // namespace rakugo::app
