// The rest pose of a rigged model held against the game's, and changed to it.
#include <algorithm>
#include <cmath>
#include <map>

#include "geometry/limb.h"
#include "prepare/bones/bone_ops.h"
#include "prepare/edit_steps.h"
#include "prepare/mesh/worn_meshes.h"
#include "prepare/parts/part_ops.h"
#include "scene/bones.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
using scene::NodeIndex;

namespace {

// Where the bones put the skin now is where it is at rest from now on.
void restHere(scene::Model& model) {
  const auto now = scene::worldMatrices(model);
  for (uint32_t s = 0; s < model.skins.size(); ++s) {
    eachWorn(model, scene::SkinIndex(s), [&](scene::Mesh& mesh, NodeIndex part) {
      mesh = *scene::restMesh(model, part, now);
      return true;
    });
    scene::Skin& skin = model.skins[s];
    for (size_t j = 0; j < skin.joints.size(); ++j)
      skin.inverse_bind[j] = glm::inverse(now[skin.joints[j].value()]);
  }
}

}  // namespace

std::vector<PoseOff> poseOff(const scene::Model& model, const rulebook::Skeleton& skeleton,
                             const rulebook::Rulebook& book) {
  std::vector<PoseOff> out;
  const auto world = scene::worldMatrices(model);
  const GameAxes axes = gameAxes(model.frame, book);
  const std::map<std::string, NodeIndex> named = scene::bonesByName(model);
  for (const rulebook::Bone& bone : skeleton.bones)
    for (const rulebook::Chain& chain : skeleton.chains) {
      const auto at = std::find(chain.bones.begin(), chain.bones.end(), bone.id);
      if (at == chain.bones.end() || std::next(at) == chain.bones.end()) continue;
      const rulebook::Bone* next = skeleton.findBone(*std::next(at));
      if (named.count(bone.id) == 0 || named.count(next->id) == 0) continue;
      const NodeIndex own = named.at(bone.id), other = named.at(next->id);
      const auto game = [&](const rulebook::Bone& b) {
        return axes.forward * static_cast<float>(b.at_m[0]) + axes.side * static_cast<float>(b.at_m[1]) +
               axes.up * static_cast<float>(b.at_m[2]);
      };
      const glm::vec3 wanted = game(*next) - game(bone),
                      has = glm::vec3(world[other.value()][3]) - glm::vec3(world[own.value()][3]);
      if (!(glm::length(wanted) > 1e-5F && glm::length(has) > 1e-5F)) continue;
      const float cosine = glm::dot(glm::normalize(wanted), glm::normalize(has));
      out.push_back(
          {bone.id, own, other, std::acos(std::clamp(double{cosine}, -1.0, 1.0)), glm::normalize(wanted)});
      break;  // a bone points one way, though it may stand in two chains
    }
  return out;
}

std::pair<uint64_t, double> poseAsGame(scene::Model& model, const rulebook::Skeleton& skeleton,
                                       const rulebook::Rulebook& book, float least_rad) {
  const std::vector<PoseOff> list = poseOff(model, skeleton, book);
  const auto world = scene::worldMatrices(model);
  const std::vector<NodeIndex> reached = scene::reachedNodes(model);
  std::vector<glm::quat> turn(model.nodes.size(), glm::quat(1, 0, 0, 0));
  std::vector<glm::mat4> posed = world;
  std::vector<bool> moved(model.nodes.size(), false);
  uint64_t turned = 0;
  double widest = 0;
  const auto headOf = [&](NodeIndex i) { return glm::vec3(world[i.value()][3]); };
  for (const NodeIndex i : reached) {
    const NodeIndex parent = model.node(i).parent;
    glm::vec3 head = headOf(i);
    if (parent.valid() && moved[parent.value()]) {
      turn[i.value()] = turn[parent.value()];
      head = glm::vec3(posed[parent.value()][3]) + turn[parent.value()] * (headOf(i) - headOf(parent));
      moved[i.value()] = true;
    }
    const auto own =
        std::find_if(list.begin(), list.end(), [&](const PoseOff& one) { return one.bone == i; });
    if (own != list.end()) {
      // As it points once what it hangs on has been turned.
      const glm::vec3 now = glm::normalize(turn[i.value()] * (headOf(own->next) - headOf(i)));
      const glm::quat more = geometry::turnFromTo(now, own->wanted);
      const double angle = std::acos(std::clamp(double{glm::dot(now, own->wanted)}, -1.0, 1.0));
      if (angle > double{least_rad}) {
        turn[i.value()] = more * turn[i.value()];
        moved[i.value()] = true;
        ++turned;
        widest = std::max(widest, angle);
      }
    }
    if (!moved[i.value()]) continue;
    posed[i.value()] = glm::mat4_cast(turn[i.value()]) * world[i.value()];
    posed[i.value()][3] = glm::vec4(head, 1);
  }
  if (turned == 0) return {0, 0};
  for (const NodeIndex i : reached)
    if (moved[i.value()]) putAt(model, i, posed[i.value()], posed);
  restHere(model);
  return {turned, widest};
}

void turnBoneAtRest(scene::Model& model, NodeIndex bone, glm::quat by) {
  const auto world = scene::worldMatrices(model);
  const std::vector<bool> bones = scene::boneNodes(model);
  const std::vector<NodeIndex> reached = scene::reachedNodes(model);
  const glm::vec3 about(world[bone.value()][3]);
  glm::mat4 turn = glm::mat4_cast(by);
  turn[3] = glm::vec4(about - by * about, 1);
  std::vector<bool> moved(model.nodes.size(), false);
  std::vector<glm::mat4> posed = world;
  for (const NodeIndex i : reached) {
    const NodeIndex parent = model.node(i).parent;
    moved[i.value()] = i == bone || (parent.valid() && moved[parent.value()]);
    if (moved[i.value()]) posed[i.value()] = turn * world[i.value()];
  }
  const auto put = [&](const std::vector<glm::mat4>& places) {
    for (const NodeIndex i : reached)
      if (moved[i.value()]) putAt(model, i, places[i.value()], places);
  };
  put(posed);
  restHere(model);
  // Bones go back to their own axes where they stand now; what only hangs on them stays turned.
  std::vector<glm::mat4> straight = posed;
  for (const NodeIndex i : reached)
    if (moved[i.value()] && bones[i.value()]) {
      straight[i.value()] = world[i.value()];
      straight[i.value()][3] = posed[i.value()][3];
    }
  put(straight);
  for (scene::Skin& skin : model.skins)
    for (size_t j = 0; j < skin.joints.size(); ++j)
      if (moved[skin.joints[j].value()])
        skin.inverse_bind[j] = glm::inverse(straight[skin.joints[j].value()]);
}

}  // namespace rakugo::prepare
