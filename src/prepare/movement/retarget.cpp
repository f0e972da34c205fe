#include "prepare/movement/retarget.h"

#include <algorithm>
#include <cmath>

#include "geometry/limb.h"
#include "prepare/edit_steps.h"
#include "scene/bones.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

glm::vec3 headOf(const std::vector<glm::mat4>& world, NodeIndex i) { return glm::vec3(world[i.value()][3]); }

std::vector<glm::quat> turnsOf(const std::vector<glm::mat4>& world) {
  std::vector<glm::quat> out;
  out.reserve(world.size());
  for (const glm::mat4& m : world) out.push_back(scene::turnOf(m));
  return out;
}

glm::mat3 axesOf(glm::vec3 forward, glm::vec3 side, glm::vec3 up) { return {forward, side, up}; }

}  // namespace

SlotBones bonesByGameName(const scene::Model& model, const rulebook::Skeleton& skeleton) {
  const auto named = scene::bonesByName(model);
  SlotBones out;
  for (const rulebook::Bone& bone : skeleton.bones) {
    const auto found = named.find(bone.id);
    out.push_back(found != named.end() ? found->second : NodeIndex());
  }
  return out;
}

Retarget::Retarget(const scene::Model& model, SlotBones bones, const rulebook::Skeleton& skeleton,
                   const rulebook::Rulebook& book, std::shared_ptr<const GameFigure> figure)
    : model_(model), figure_(std::move(figure)), bones_(std::move(bones)) {
  const GameAxes own = gameAxes(model.frame, book);
  const glm::mat3 game =
      axesOf(geometry::axisVector(book.forward), book.side(), geometry::axisVector(book.up));
  to_model_ = glm::normalize(glm::quat_cast(axesOf(own.forward, own.side, own.up) * glm::transpose(game)));
  up_ = own.up;
  rest_ = scene::restPose(model);
  world_ = scene::worldMatrices(model, rest_);
  turn_ = turnsOf(world_);
  figure_rest_ = scene::restPose(figure_->model);
  figure_world_ = scene::worldMatrices(figure_->model, figure_rest_);
  figure_turn_ = turnsOf(figure_world_);
  order_ = scene::reachedNodes(model);
  slot_of_.assign(model.nodes.size(), -1);
  bones_.resize(skeleton.bones.size());
  for (size_t s = 0; s < bones_.size(); ++s)
    if (bones_[s].valid()) slot_of_[bones_[s].value()] = static_cast<int>(s);
  layIntoGamePose(skeleton);
  findLegs(skeleton);
}

void Retarget::layIntoGamePose(const rulebook::Skeleton& skeleton) {
  // Where each slot points: to the next one of its chain that the model has.
  std::vector<int> next(bones_.size(), -1);
  for (const rulebook::Chain& chain : skeleton.chains) {
    std::vector<size_t> there;
    for (const std::string& id : chain.bones)
      if (const rulebook::Bone* bone = skeleton.findBone(id)) {
        const auto slot = static_cast<size_t>(bone - skeleton.bones.data());
        if (bones_[slot].valid()) there.push_back(slot);
      }
    for (size_t i = 0; i + 1 < there.size(); ++i)
      if (next[there[i]] < 0) next[there[i]] = static_cast<int>(there[i + 1]);
  }
  laid_.assign(model_.nodes.size(), glm::quat(1, 0, 0, 0));
  for (const NodeIndex i : order_) {
    const NodeIndex parent = model_.node(i).parent;
    const glm::quat above = parent.valid() ? laid_[parent.value()] : glm::quat(1, 0, 0, 0);
    laid_[i.value()] = above;
    const int slot = slot_of_[i.value()];
    if (slot < 0 || next[static_cast<size_t>(slot)] < 0) continue;
    const auto other = static_cast<size_t>(next[static_cast<size_t>(slot)]);
    const glm::vec3 wanted = to_model_ * (headOf(figure_world_, figure_->bones[other]) -
                                          headOf(figure_world_, figure_->bones[static_cast<size_t>(slot)]));
    const glm::vec3 has = above * (headOf(world_, bones_[other]) - headOf(world_, i));
    if (glm::length(wanted) > 1e-5F && glm::length(has) > 1e-5F)
      laid_[i.value()] =
          glm::normalize(geometry::turnFromTo(glm::normalize(has), glm::normalize(wanted)) * above);
  }
}

void Retarget::findLegs(const rulebook::Skeleton& skeleton) {
  // The heads of the model laid into the game's pose.
  std::vector<glm::vec3> head(model_.nodes.size(), glm::vec3(0));
  for (const NodeIndex i : order_) {
    const NodeIndex parent = model_.node(i).parent;
    head[i.value()] = parent.valid() ? head[parent.value()] + laid_[parent.value()] *
                                                                  (headOf(world_, i) - headOf(world_, parent))
                                     : headOf(world_, i);
  }
  float own = 0, game = 0, risen = 0;
  for (const rulebook::Chain& chain : skeleton.chains) {
    if (!chain.plants) continue;
    Leg leg;
    for (const std::string& id : chain.bones)
      if (const rulebook::Bone* bone = skeleton.findBone(id))
        if (const auto slot = static_cast<size_t>(bone - skeleton.bones.data()); bones_[slot].valid())
          leg.slots.push_back(slot);
    if (leg.slots.size() < 2) continue;
    for (size_t i = 0; i + 1 < leg.slots.size(); ++i) {
      const size_t a = leg.slots[i], b = leg.slots[i + 1];
      own += glm::distance(headOf(world_, bones_[a]), headOf(world_, bones_[b]));
      game +=
          glm::distance(headOf(figure_world_, figure_->bones[a]), headOf(figure_world_, figure_->bones[b]));
    }
    const NodeIndex foot = bones_[leg.slots.back()];
    leg.stands_m = head[foot.value()];
    leg.figure_m = headOf(figure_world_, figure_->bones[leg.slots.back()]);
    risen += glm::dot(headOf(world_, foot) - leg.stands_m, up_);
    if (leg.slots.size() > 2) leg.bend = bendOf(leg.slots[0], leg.slots[1], leg.slots.back());
    legs_.push_back(std::move(leg));
  }
  if (legs_.empty()) return;
  if (own > 1e-5F && game > 1e-5F) scale_ = own / game;
  lift_ = up_ * (risen / static_cast<float>(legs_.size()));
  // Legs of unequal length stand on one ground: each foot as high as it is at rest.
  for (Leg& leg : legs_) {
    const glm::vec3 foot = headOf(world_, bones_[leg.slots.back()]);
    leg.stands_m += lift_;
    leg.stands_m += up_ * glm::dot(foot - leg.stands_m, up_);
  }
}

glm::quat Retarget::proposedTurn(size_t slot) const {
  const NodeIndex bone = bones_[slot];
  if (!bone.valid()) return {1, 0, 0, 0};
  const NodeIndex parent = model_.node(bone).parent;
  const glm::quat above = parent.valid() ? laid_[parent.value()] : glm::quat(1, 0, 0, 0);
  return glm::normalize(laid_[bone.value()] * glm::conjugate(above));
}

glm::vec3 Retarget::bendOf(size_t first, size_t middle, size_t last) const {
  const auto at = [&](size_t slot) { return headOf(figure_world_, figure_->bones[slot]); };
  return to_model_ * (at(middle) - (at(first) + at(last)) * 0.5F);
}

scene::Pose Retarget::at(size_t movement, float at_s) const {
  scene::Pose figure = figure_rest_;
  scene::poseAt(figure_->animation(movement), at_s, figure);
  return of(figure);
}

scene::Pose Retarget::of(const scene::Pose& figure) const {
  const std::vector<glm::mat4> figure_world = scene::worldMatrices(figure_->model, figure);
  // Turns and heads in the model's space, parents first.
  std::vector<glm::quat> turn(model_.nodes.size(), glm::quat(1, 0, 0, 0));
  std::vector<glm::vec3> head(model_.nodes.size(), glm::vec3(0));
  bool lifted = false;
  for (const NodeIndex i : order_) {
    const NodeIndex parent = model_.node(i).parent;
    const int slot = slot_of_[i.value()];
    const glm::quat rest_above = parent.valid() ? turn_[parent.value()] : glm::quat(1, 0, 0, 0);
    const glm::quat above = parent.valid() ? turn[parent.value()] : glm::quat(1, 0, 0, 0);
    const glm::vec3 way = parent.valid() ? headOf(world_, i) - headOf(world_, parent) : headOf(world_, i);
    head[i.value()] =
        (parent.valid() ? head[parent.value()] : glm::vec3(0)) + above * glm::conjugate(rest_above) * way;
    if (slot < 0) {
      turn[i.value()] = above * glm::conjugate(rest_above) * turn_[i.value()];
      continue;
    }
    const NodeIndex bone = figure_->bones[static_cast<size_t>(slot)];
    const glm::quat moved =
        scene::turnOf(figure_world[bone.value()]) * glm::conjugate(figure_turn_[bone.value()]);
    turn[i.value()] =
        glm::normalize(to_model_ * moved * glm::conjugate(to_model_) * laid_[i.value()] * turn_[i.value()]);
    // What the movement moves by itself, beside what comes of turning its parents.
    const NodeIndex figure_parent = figure_->model.node(bone).parent;
    const glm::vec3 shift = figure[bone.value()].position - figure_rest_[bone.value()].position;
    const glm::mat3 in =
        figure_parent.valid() ? glm::mat3(figure_world[figure_parent.value()]) : glm::mat3(1);
    head[i.value()] += to_model_ * (in * shift) * scale_;
    if (!lifted) head[i.value()] += lift_;
    lifted = true;
  }
  plant(figure_world, turn, head);
  scene::Pose out = rest_;
  std::vector<glm::mat4> world(model_.nodes.size(), glm::mat4(1));
  for (const NodeIndex i : order_) {
    const NodeIndex parent = model_.node(i).parent;
    const glm::mat4 above = parent.valid() ? world[parent.value()] : glm::mat4(1);
    const glm::quat above_turn = parent.valid() ? turn[parent.value()] : glm::quat(1, 0, 0, 0);
    scene::Placement& place = out[i.value()];
    if (slot_of_[i.value()] >= 0) {
      place.turn = glm::normalize(glm::conjugate(above_turn) * turn[i.value()]);
      place.position = glm::vec3(glm::inverse(above) * glm::vec4(head[i.value()], 1));
    }
    world[i.value()] = above * place.matrix();
  }
  return out;
}

void Retarget::plant(const std::vector<glm::mat4>& figure_world, std::vector<glm::quat>& turn,
                     std::vector<glm::vec3>& head) const {
  std::vector<glm::quat> more(model_.nodes.size(), glm::quat(1, 0, 0, 0));
  bool any = false;
  for (const Leg& leg : legs_) {
    const auto bone = [&](size_t k) { return bones_[leg.slots[k]]; };
    const size_t count = leg.slots.size();
    const glm::vec3 foot = headOf(figure_world, figure_->bones[leg.slots.back()]);
    const glm::vec3 target = leg.stands_m + to_model_ * (foot - leg.figure_m) * scale_;
    if (glm::distance(target, head[bone(count - 1).value()]) < 1e-6F) continue;
    any = true;
    std::vector<glm::vec3> joints;
    for (size_t k = 0; k < count; ++k) joints.push_back(head[bone(k).value()]);
    if (count == 3) {
      const glm::vec3 bend = turn[bone(0).value()] * glm::conjugate(turn_[bone(0).value()]) *
                             glm::conjugate(laid_[bone(0).value()]) * leg.bend;
      const geometry::LimbTurns turns =
          geometry::reachWithLimb(joints[0], joints[1], joints[2], target, bend);
      more[bone(0).value()] = turns.first;
      more[bone(1).value()] = turns.second * turns.first;
    } else {
      const geometry::ChainReach reach = geometry::reachWithChain(joints, target, {});
      for (size_t k = 0; k + 1 < count; ++k) more[bone(k).value()] = reach.turns[k];
    }
  }
  if (!any) return;
  // What hangs on a bone goes with it; the last bone of a leg keeps its own turn, and stands as the
  // movement has it.
  std::vector<glm::vec3> before = head;
  std::vector<bool> ends(model_.nodes.size(), false);
  for (const Leg& leg : legs_) ends[bones_[leg.slots.back()].value()] = true;
  std::vector<glm::quat> turned(model_.nodes.size(), glm::quat(1, 0, 0, 0));
  for (const NodeIndex i : order_) {
    const NodeIndex parent = model_.node(i).parent;
    if (parent.valid()) {
      turned[i.value()] = turned[parent.value()];
      head[i.value()] =
          head[parent.value()] + turned[parent.value()] * (before[i.value()] - before[parent.value()]);
    }
    const glm::quat& own = more[i.value()];
    if (ends[i.value()])
      turned[i.value()] = glm::quat(1, 0, 0, 0);
    else if (own != glm::quat(1, 0, 0, 0))
      turned[i.value()] = own;
    turn[i.value()] = glm::normalize(turned[i.value()] * turn[i.value()]);
  }
}

scene::Pose playedByGame(const scene::Model& model, const SlotBones& bones, const GameFigure& figure,
                         const scene::Pose& figure_pose) {
  scene::Pose out = scene::restPose(model);
  for (size_t s = 0; s < bones.size(); ++s) {
    if (!bones[s].valid()) continue;
    const uint32_t theirs = figure.bones[s].value();
    scene::Placement& place = out[bones[s].value()];
    place.turn = figure_pose[theirs].turn;
    place.position += figure_pose[theirs].position - figure.model.nodes[theirs].local.position;
  }
  return out;
}

}  // namespace rakugo::prepare
