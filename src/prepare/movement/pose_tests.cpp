#include "prepare/movement/pose_tests.h"

#include <algorithm>
#include <cmath>

#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

// The angle between two turns that matrices make, whatever they scale.
double angleBetween(const glm::mat4& a, const glm::mat4& b) {
  const glm::quat more = glm::conjugate(scene::turnOf(a)) * scene::turnOf(b);
  return 2 * std::atan2(static_cast<double>(glm::length(glm::vec3(more.x, more.y, more.z))),
                        std::abs(static_cast<double>(more.w)));
}

// How far the middle joint stands off the line between its neighbours, as a vector.
glm::vec3 bendOf(const std::vector<glm::mat4>& world, NodeIndex a, NodeIndex b, NodeIndex c) {
  const glm::vec3 from(world[a.value()][3]), middle(world[b.value()][3]), to(world[c.value()][3]);
  const float length = glm::distance(from, to);
  if (length < 1e-5F) return glm::vec3(0);
  const glm::vec3 line = (to - from) / length;
  return middle - from - line * glm::dot(middle - from, line);
}

}  // namespace

MomentOff momentOff(const scene::Model& model, const Retarget& retarget, const rulebook::Skeleton& skeleton,
                    const GameFigure& figure, const SlotBones& bones, size_t movement, double at_s) {
  scene::Pose figure_pose = scene::restPose(figure.model);
  scene::poseAt(figure.animation(movement), static_cast<float>(at_s), figure_pose);
  const auto wanted = scene::worldMatrices(model, retarget.of(figure_pose));
  const auto played = scene::worldMatrices(model, playedByGame(model, bones, figure, figure_pose));
  const glm::vec3 up = retarget.up();
  MomentOff out;
  out.movement = movement;
  out.at_s = at_s;
  for (size_t s = 0; s < bones.size(); ++s) {
    if (!bones[s].valid()) continue;
    const uint32_t i = bones[s].value();
    const glm::vec3 off = glm::vec3(played[i][3]) - glm::vec3(wanted[i][3]);
    out.bones.push_back(
        {s, angleBetween(wanted[i], played[i]), double{glm::length(off)}, double{glm::dot(off, up)}, false});
  }
  for (const rulebook::Chain& chain : skeleton.chains)
    for (size_t k = 1; k + 1 < chain.bones.size(); ++k) {
      const auto slot = [&](size_t at) {
        return static_cast<size_t>(skeleton.findBone(chain.bones[at]) - skeleton.bones.data());
      };
      const NodeIndex a = bones[slot(k - 1)], b = bones[slot(k)], c = bones[slot(k + 1)];
      if (!a.valid() || !b.valid() || !c.valid()) continue;
      const glm::vec3 right = bendOf(wanted, a, b, c), has = bendOf(played, a, b, c);
      // A twentieth of the limb: less is no bend that anyone sees.
      const float least =
          0.05F * glm::distance(glm::vec3(wanted[a.value()][3]), glm::vec3(wanted[b.value()][3]));
      if (glm::length(right) < least || glm::length(has) < least || glm::dot(right, has) >= 0) continue;
      for (BoneOff& one : out.bones)
        if (one.slot == slot(k)) one.bends_back = true;
    }
  return out;
}

std::vector<MomentOff> momentsOff(const scene::Model& model, const rulebook::Skeleton& skeleton,
                                  const rulebook::Rulebook& book,
                                  const std::shared_ptr<const GameFigure>& figure) {
  const SlotBones bones = bonesByGameName(model, skeleton);
  const Retarget retarget(model, bones, skeleton, book, figure);
  std::vector<MomentOff> out;
  for (size_t m = 0; m < skeleton.movements.size(); ++m)
    for (const double at_s : skeleton.movements[m].moments_s)
      out.push_back(momentOff(model, retarget, skeleton, *figure, bones, m, at_s));
  return out;
}

std::optional<double> farthestInMovements(const scene::Model& a, const scene::Model& b,
                                          const rulebook::Rulebook& book) {
  for (const rulebook::Skeleton& skeleton : book.skeletons) {
    const SlotBones bones = bonesByGameName(a, skeleton);
    const auto figure = gameFigure(book, skeleton);
    if (!figure || std::none_of(bones.begin(), bones.end(), [](NodeIndex i) { return i.valid(); })) continue;
    const Retarget retarget(a, bones, skeleton, book, *figure);
    double farthest = 0;
    for (size_t m = 0; m < skeleton.movements.size(); ++m)
      for (const double at_s : skeleton.movements[m].moments_s) {
        const scene::Pose pose = retarget.at(m, static_cast<float>(at_s));
        const auto world = scene::worldMatrices(a, pose);
        for (const NodeIndex part : scene::reachedNodes(a)) {
          if (!a.node(part).skin.valid()) continue;
          const auto own = scene::placedPositions(a, part, world),
                     other = scene::placedPositions(b, part, world);
          for (size_t v = 0; v < std::min(own.size(), other.size()); ++v)
            farthest = std::max(farthest, double{glm::distance(own[v], other[v])});
        }
      }
    return farthest;
  }
  return std::nullopt;
}

}  // namespace rakugo::prepare
