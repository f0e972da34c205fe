#include "prepare/movement/pulls.h"

#include <algorithm>

#include "geometry/limb.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

// The chain's slots that the model has.
std::vector<size_t> slotsOf(const SlotBones& bones, const rulebook::Skeleton& skeleton, size_t chain) {
  std::vector<size_t> out;
  for (const std::string& id : skeleton.chains[chain].bones)
    if (const rulebook::Bone* bone = skeleton.findBone(id))
      if (const auto slot = static_cast<size_t>(bone - skeleton.bones.data()); bones[slot].valid())
        out.push_back(slot);
  return out;
}

// Turns a node in the model's space by so much, about its own place; what hangs on it goes along.
void turnNode(const scene::Model& model, NodeIndex node, glm::quat by, scene::Pose& pose) {
  const auto world = scene::worldMatrices(model, pose);
  const NodeIndex parent = model.node(node).parent;
  const glm::quat above = parent.valid() ? scene::turnOf(world[parent.value()]) : glm::quat(1, 0, 0, 0);
  glm::quat& own = pose[node.value()].turn;
  own = glm::normalize(glm::conjugate(above) * by * above * own);
}

}  // namespace

std::vector<size_t> chainsToPull(const SlotBones& bones, const rulebook::Skeleton& skeleton) {
  std::vector<size_t> out;
  for (size_t c = 0; c < skeleton.chains.size(); ++c)
    if (slotsOf(bones, skeleton, c).size() > 1) out.push_back(c);
  return out;
}

NodeIndex endOfChain(const SlotBones& bones, const rulebook::Skeleton& skeleton, size_t chain) {
  const std::vector<size_t> slots = slotsOf(bones, skeleton, chain);
  return slots.empty() ? NodeIndex() : bones[slots.back()];
}

NodeIndex hipsOf(const SlotBones& bones, const rulebook::Skeleton& skeleton) {
  for (const rulebook::Chain& chain : skeleton.chains) {
    if (!chain.plants || chain.bones.empty()) continue;
    const rulebook::Bone* parent = skeleton.findBone(skeleton.findBone(chain.bones.front())->parent);
    if (parent != nullptr) return bones[static_cast<size_t>(parent - skeleton.bones.data())];
  }
  return {};
}

scene::Pose pulled(const scene::Model& model, const Retarget& retarget, const rulebook::Skeleton& skeleton,
                   scene::Pose pose, const std::vector<Pull>& asked, float most_rad) {
  const SlotBones& bones = retarget.bones();
  std::vector<Pull> pulls;
  const NodeIndex hips = hipsOf(bones, skeleton);
  for (const Pull& pull : asked) {
    if (pull.chain != kPullHips || !hips.valid()) continue;
    // Feet are held where they are before the hips go.
    const auto world = scene::worldMatrices(model, pose);
    for (size_t c = 0; c < skeleton.chains.size(); ++c)
      if (const NodeIndex foot = endOfChain(bones, skeleton, c); skeleton.chains[c].plants && foot.valid())
        pulls.push_back({c, glm::vec3(world[foot.value()][3])});
    const NodeIndex parent = model.node(hips).parent;
    const glm::mat4 above = parent.valid() ? world[parent.value()] : glm::mat4(1);
    pose[hips.value()].position = glm::vec3(glm::inverse(above) * glm::vec4(pull.target_m, 1));
  }
  for (const Pull& pull : asked)
    if (pull.chain != kPullHips) pulls.push_back(pull);
  for (const Pull& pull : pulls) {
    std::vector<size_t> slots = slotsOf(bones, skeleton, pull.chain);
    if (slots.size() < 2) continue;
    const bool limb = slots.size() >= 3 && slots.size() <= 4;
    if (limb) slots.erase(slots.begin(), slots.end() - 3);
    const auto world = scene::worldMatrices(model, pose);
    std::vector<glm::vec3> joints;
    for (const size_t slot : slots) joints.emplace_back(world[bones[slot].value()][3]);
    const NodeIndex end = bones[slots.back()];
    const glm::quat end_turn = scene::turnOf(world[end.value()]);
    if (limb) {
      const geometry::LimbTurns turns = geometry::reachWithLimb(
          joints[0], joints[1], joints[2], pull.target_m, retarget.bendOf(slots[0], slots[1], slots[2]));
      turnNode(model, bones[slots[0]], turns.first, pose);
      turnNode(model, bones[slots[1]], turns.second, pose);
    } else {
      std::vector<geometry::JointLimit> limits;
      for (size_t k = 0; k + 1 < slots.size(); ++k) {
        const double own = skeleton.bones[slots[k]].most_deg;
        limits.push_back({own > 0 ? static_cast<float>(own * 3.14159265358979 / 180) : most_rad});
      }
      const geometry::ChainReach reach = geometry::reachWithChain(joints, pull.target_m, limits);
      glm::quat before(1, 0, 0, 0);
      for (size_t k = 0; k + 1 < slots.size(); ++k) {
        turnNode(model, bones[slots[k]], reach.turns[k] * glm::conjugate(before), pose);
        before = reach.turns[k];
      }
    }
    // The end itself is not turned by where it was pulled to.
    const auto now = scene::worldMatrices(model, pose);
    turnNode(model, end, end_turn * glm::conjugate(scene::turnOf(now[end.value()])), pose);
  }
  return pose;
}

}  // namespace rakugo::prepare
