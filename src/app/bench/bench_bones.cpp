// The bench's bones: how they are drawn, where they are put, and what follows one of them.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/bench/bench.h"
#include "app/bench/tools/bench_tool.h"
#include "app/widgets/theme.h"

namespace rakugo::app {

void Bench::setPose(std::shared_ptr<const BenchPose> pose) {
  if (pose == pose_) return;
  pose_ = std::move(pose);
  posePlaces();
  at_work_->shownChanged();
  update();
}

void Bench::showWeightsOf(const std::string& bone) {
  if (bone == weights_of_) return;
  weights_of_ = bone;
  update();
}

std::optional<float> Bench::weightUnder(QPointF at) const {
  if (!scene_ || weights_of_.empty()) return std::nullopt;
  int bone = -1;
  for (const BenchBone& one : scene_->bones)
    if (one.key == weights_of_) bone = one.number;
  glm::vec3 origin, direction;
  rayAt(at, origin, direction);
  // While a pose plays, or its places are not known yet, nothing is told.
  if (peek_ || (pose_ && !posed_)) return std::nullopt;
  const auto found = hit(*scene_, origin, direction, hitOptions());
  if (!found || bone < 0) return std::nullopt;
  float out = 0;
  for (int k = 0; k < 3; ++k)
    out +=
        found->share[k] * weightAt(scene_->parts[found->part], found->vertices[static_cast<size_t>(k)], bone);
  return out;
}

void Bench::poseItems(std::vector<render::DrawItem>& items, std::vector<render::DrawItem>& behind) {
  if (!scene_) return;
  const auto apply = [&](const std::vector<BenchPart>& parts, std::vector<render::DrawItem>& list,
                         const std::vector<glm::mat4>* bones) {
    std::shared_ptr<const std::vector<glm::mat4>> shared;
    if (bones != nullptr) shared = std::shared_ptr<const std::vector<glm::mat4>>(pose_, bones);
    for (size_t i = 0; i < list.size() && i < parts.size(); ++i) {
      const int bone = parts[i].bone;
      const bool carried = bones != nullptr && bone >= 0 && static_cast<size_t>(bone) < bones->size();
      list[i].bones = shared;
      list[i].matrix = carried ? (*bones)[static_cast<size_t>(bone)] * parts[i].world : parts[i].world;
    }
  };
  // A pose of another scene, that is not followed yet, would put bones anywhere.
  const bool fits = pose_ && pose_->bones.size() == scene_->rig.nodes.size();
  apply(scene_->parts, items, fits ? &pose_->bones : nullptr);
  const bool ghost = fits && pose_->ghost_bones.size() == scene_->ghost_rig.nodes.size();
  apply(scene_->ghost, behind, ghost ? &pose_->ghost_bones : nullptr);
  std::optional<int> shown;
  for (const BenchBone& bone : scene_->bones)
    if (!weights_of_.empty() && bone.key == weights_of_) shown = bone.number;
  for (size_t i = 0; i < items.size() && i < scene_->parts.size(); ++i)
    items[i].weights_of =
        shown && scene_->parts[i].mesh.find(bundle::Semantic::joints) != nullptr ? shown : std::nullopt;
}

glm::vec3 Bench::boneAt(glm::vec3 rest, int number) const {
  if (!pose_ || number < 0 || static_cast<size_t>(number) >= pose_->bones.size()) return rest;
  return glm::vec3(pose_->bones[static_cast<size_t>(number)] * glm::vec4(rest, 1));
}

glm::mat4 Bench::boneMove(const std::string& bone) const {
  if (!pose_ || !scene_ || bone.empty()) return glm::mat4(1);
  for (const BenchBone& one : scene_->bones)
    if (one.name == bone && one.number >= 0 && static_cast<size_t>(one.number) < pose_->bones.size())
      return pose_->bones[static_cast<size_t>(one.number)];
  return glm::mat4(1);
}

void Bench::paintBones(QPainter& painter) {
  if (!bones_ || !scene_) return;
  painter.setRenderHint(QPainter::Antialiasing);
  for (const BenchBone& bone : scene_->bones) {
    const auto head = project(boneAt(bone.head_m, bone.number));
    if (!head) continue;
    const bool chosen = bone.key == chosen_bone_;
    const QColor color = chosen ? theme().stops : bone.required ? theme().click : theme().quiet;
    for (size_t i = 0; i < bone.tails_m.size(); ++i) {
      const auto tail = project(boneAt(bone.tails_m[i], bone.tail_numbers[i]));
      if (!tail) continue;
      // As an axis on a technical drawing: a chain line from joint to joint, on a ground that sets it off.
      QColor ground = theme().sheet;
      ground.setAlpha(190);
      painter.setPen(QPen(ground, chosen ? 6 : 4.5, Qt::SolidLine, Qt::RoundCap));
      painter.drawLine(*head, *tail);
      QPen axis(color, chosen ? 2.6 : 1.7);
      axis.setDashPattern({7, 2, 1.5, 2});
      painter.setPen(axis);
      painter.drawLine(*head, *tail);
    }
    // The joint is a centre mark: a ring and its cross.
    const double r = chosen ? 5 : 3.4;
    painter.setPen(QPen(color, chosen ? 2 : 1.3));
    painter.setBrush(theme().sheet);
    painter.drawEllipse(*head, r, r);
    painter.drawLine(*head - QPointF(r + 2.5, 0), *head + QPointF(r + 2.5, 0));
    painter.drawLine(*head - QPointF(0, r + 2.5), *head + QPointF(0, r + 2.5));
  }
  // The name last, so that no other bone is drawn over it.
  for (const BenchBone& bone : scene_->bones)
    if (const auto head = project(boneAt(bone.head_m, bone.number)); head && bone.key == chosen_bone_)
      label(painter, *head + QPointF(0, -18), q(bone.name), theme().stops, true);
}

void Bench::paintWeightsLegend(QPainter& painter) {
  if (weights_of_.empty() || !scene_ || look_ != Look::drawing) return;
  QString name;
  for (const BenchBone& bone : scene_->bones)
    if (bone.key == weights_of_) name = q(bone.name);
  if (name.isEmpty()) return;
  if (hovered_weight_)
    label(painter, hovered_weight_->first + QPointF(0, -18),
          tr("%1 %").arg(std::lround(hovered_weight_->second * 100)), theme().ink, true);
  painter.setFont(font());
  const int line = painter.fontMetrics().height();
  const QString said = tr("Follows %1").arg(name);
  const int box = 26, wide = std::max(painter.fontMetrics().horizontalAdvance(said), 5 * box) + 20;
  const QRectF ground(12, 12, wide, 3 * line + 14);  // the corner of directions is below
  QColor sheet = theme().sheet;
  sheet.setAlpha(225);
  painter.fillRect(ground, sheet);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(theme().ink);
  painter.drawText(QPointF(ground.left() + 10, ground.top() + line), said);
  const QString shares[] = {tr("0"), tr("¼"), tr("½"), tr("¾"), tr("1")};
  for (int i = 0; i < 5; ++i) {
    const glm::vec3 c = render::weightColor(static_cast<float>(i) / 4);
    const QRectF cell(ground.left() + 10 + i * box, ground.top() + line + 6, box, line - 2);
    painter.fillRect(cell, QColor::fromRgbF(c.x, c.y, c.z));
    painter.setPen(QPen(theme().quiet, 1));
    painter.drawRect(cell);
    painter.setPen(theme().ink);
    painter.drawText(QRectF(cell.left(), cell.bottom() + 1, box, line), Qt::AlignCenter, shares[i]);
  }
}

}  // namespace rakugo::app
