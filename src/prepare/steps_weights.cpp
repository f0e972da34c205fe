// Steps on what vertices follow: first weights, smoothing, the mirror image, a donor's, a bone for what was
// picked; and the angle of a bone.
#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "prepare/bone_ops.h"
#include "prepare/edit_steps.h"
#include "prepare/ghosts.h"
#include "prepare/part_ops.h"
#include "prepare/selection.h"
#include "prepare/steps.h"
#include "prepare/weight_faults.h"
#include "prepare/weight_ops.h"
#include "scene/bones.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::Model;
using scene::NodeIndex;

constexpr double kDegree = 3.14159265358979 / 180;

std::string vertices(uint64_t count) { return base::countText(count, "vertex", "vertices"); }

// The bones that a game's skeleton names, or those that parts follow already.
std::vector<NodeIndex> bonesOf(const Model& model, const rulebook::Skeleton& skeleton) {
  const std::vector<bool> bone = scene::boneNodes(model);
  std::vector<NodeIndex> out;
  for (const NodeIndex i : scene::reachedNodes(model))
    if (bone[i.value()] || (skeleton.findBone(model.node(i).name) != nullptr && !model.node(i).mesh.valid()))
      out.push_back(i);
  return out;
}

NodeIndex boneOf(const Model& model, const Json& values) {
  const std::string key = textValue(values, "bone");
  if (const NodeIndex found = findReached(model, key); found.valid()) return found;
  // A bone that a step adds has the game's name.
  for (const NodeIndex i : scene::reachedNodes(model))
    if (!key.empty() && model.node(i).name == key) return i;
  return {};
}

}  // namespace

StepOutcome applyFirstWeights(Model& model, const Json& values, const StepContext& context) {
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues("The rulebook has no skeleton of that name.");
  if (scene::countsOf(model).vertices == 0) return missed("The model has no vertices.");
  std::vector<NodeIndex> bones = bonesOf(model, *skeleton);
  const bool none = bones.empty();
  if (none) {
    addGameBones(model, *skeleton, *context.book);
    bones = bonesOf(model, *skeleton);
  }
  const auto made = firstWeights(model, bones, context.progress);
  if (!made) return missed(made.error().message);
  if (made->vertices == 0) return missed("Every vertex follows a bone already.");
  StepOutcome out;
  out.did = vertices(made->vertices) + ", " + base::countText(made->bones, "bone", "bones");
  if (none) out.did += ", the game's put in";
  return out;
}

StepOutcome applySmoothWeights(Model& model, const Json& values, const StepContext&) {
  const double rounds = numberValue(values, "rounds", 3), percent = numberValue(values, "percent", 50);
  if (!(rounds >= 1 && rounds <= 100 && rounds == std::floor(rounds)))
    return wrongValues("It is done 1 to 100 times.");
  if (!(percent > 0 && percent <= 100)) return wrongValues("A share is above 0 and at most 100 percent.");
  const auto count = static_cast<int>(rounds);
  const auto share = static_cast<float>(percent / 100);
  uint64_t changed = 0;
  if (const Json pick_values = values.value("pick", Json());
      pick_values.is_object() && !pick_values.empty()) {
    std::string why;
    const auto selection = selectionFrom(pick_values, why);
    if (!selection) return wrongValues(why);
    const auto picked = pick(model, *selection, why);
    if (!picked) return missed(why);
    changed = smoothWeights(model, picked->part, count, share,
                            softened(*picked, static_cast<float>(numberValue(values, "soft_mm", 0) / 1000)));
  } else {
    for (const NodeIndex part : scene::reachedNodes(model))
      changed += smoothWeights(model, part, count, share);
  }
  if (changed == 0) return missed("Nothing there follows a bone, or all of it the same.");
  StepOutcome out;
  out.did = vertices(changed);
  return out;
}

StepOutcome applyMirrorWeights(Model& model, const Json& values, const StepContext& context) {
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues("The rulebook has no skeleton of that name.");
  const std::string from = textValue(values, "from");
  if (from != "left" && from != "right")
    return wrongValues("They are taken from the left or from the right.");
  const double most_mm = numberValue(values, "most_mm", 50);
  if (!(most_mm >= 0 && most_mm <= 1e6)) return wrongValues("A distance is 0 to 1,000,000 mm.");
  const auto pairs = mirrorPairs(model, *skeleton);
  if (pairs.empty()) return missed("No bones of two sides bear the game's names.");
  const uint64_t changed = mirrorWeights(model, gameAxes(model.frame, *context.book).side, from == "left",
                                         static_cast<float>(most_mm / 1000), pairs);
  if (changed == 0) return missed("Nothing on the other side lies near what is on this one.");
  StepOutcome out;
  out.did = vertices(changed);
  return out;
}

StepOutcome applyCopyWeights(Model& model, const Json& values, const StepContext& context) {
  const double most_mm = numberValue(values, "most_mm", 100);
  if (!(most_mm >= 0 && most_mm <= 1e6)) return wrongValues("A distance is 0 to 1,000,000 mm.");
  if (!model.frame.turned) return missed("The model has to be turned to the game's axes first.");
  const std::string name = textValue(values, "model");
  std::shared_ptr<const Model> example;
  const Model* donor = context.donor;
  if (name.empty()) {
    auto found = weightDonor(*context.book, textValue(values, "kind"));
    if (!found) return missed(found.error().message);
    example = std::move(found).value();
    donor = example.get();
  } else if (donor == nullptr) {
    return missed("The mod has no model \"" + base::presentable(name, 60) +
                  "\" that it could take them from.");
  } else if (!donor->frame.turned || scene::usedJoints(*donor).empty()) {
    return missed(base::presentable(name, 60) +
                  (donor->frame.turned ? " has no bones." : " has to be turned to the game's axes first."));
  }
  const CopiedWeights copied = copyWeights(model, *donor, static_cast<float>(most_mm / 1000));
  if (copied.vertices == 0) return missed("Nothing lies that near to it.");
  StepOutcome out;
  out.did = vertices(copied.vertices);
  if (copied.bones > 0) out.did += ", " + base::countText(copied.bones, "bone", "bones") + " added";
  if (copied.left > 0) {
    out.state = StepState::partly;
    out.misses.push_back(vertices(copied.left) + (copied.left == 1 ? " lies" : " lie") + " too far from it.");
  }
  return out;
}

StepOutcome applyGiveToBone(Model& model, const Json& values, const StepContext&) {
  std::string why;
  const Json none;
  const auto selection = selectionFrom(values.contains("pick") ? values["pick"] : none, why);
  if (!selection) return wrongValues(why);
  const double percent = numberValue(values, "percent", 100), soft_mm = numberValue(values, "soft_mm", 0);
  if (!(percent > 0 && percent <= 100)) return wrongValues("A share is above 0 and at most 100 percent.");
  if (!(soft_mm >= 0 && soft_mm <= 1e6)) return wrongValues("A soft edge is 0 to 1,000,000 mm wide.");
  const NodeIndex bone = boneOf(model, values);
  if (!bone.valid())
    return missed("The bone \"" + base::presentable(textValue(values, "bone"), 60) +
                  "\" is not in the model any more.");
  const auto picked = pick(model, *selection, why);
  if (!picked) return missed(why);
  std::vector<float> amount = softened(*picked, static_cast<float>(soft_mm / 1000));
  for (float& one : amount) one *= static_cast<float>(percent / 100);
  StepOutcome out;
  out.did = vertices(giveToBone(model, picked->part, bone, amount));
  return out;
}

StepOutcome applyTurnBone(Model& model, const Json& values, const StepContext& context) {
  const NodeIndex bone = boneOf(model, values);
  if (!bone.valid())
    return missed("The bone \"" + base::presentable(textValue(values, "bone"), 60) +
                  "\" is not in the model any more.");
  const GameAxes axes = gameAxes(model.frame, *context.book);
  glm::quat turn(1, 0, 0, 0);
  double most = 0;
  // Each about the game's own axis, one after the other.
  for (const auto& [key, axis] : {std::pair("forward_deg", axes.forward), std::pair("side_deg", axes.side),
                                  std::pair("up_deg", axes.up)}) {
    const double degrees = numberValue(values, key, 0);
    if (!(std::abs(degrees) <= 180)) return wrongValues("An angle lies between -180 and 180 degrees.");
    most = std::max(most, std::abs(degrees));
    turn = glm::angleAxis(static_cast<float>(degrees * kDegree), axis) * turn;
  }
  StepOutcome out;
  if (most > 0) turnBoneAtRest(model, bone, turn);
  out.did = most > 0 ? model.node(bone).name : "nothing to turn";
  return out;
}

StepOutcome applyDropLooseWeights(Model& model, const Json& values, const StepContext& context) {
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues("The rulebook has no skeleton of that name.");
  StepOutcome out;
  out.did = vertices(dropLooseWeights(model, *skeleton, *context.book));
  return out;
}

}  // namespace rakugo::prepare
