// Steps on what vertices follow: first weights, smoothing, the mirror image, a donor's, a bone for what was
// picked; and the angle of a bone.
#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/bones/bone_ops.h"
#include "prepare/edit_steps.h"
#include "prepare/outfit/ghosts.h"
#include "prepare/parts/part_ops.h"
#include "prepare/picked/selection.h"
#include "prepare/steps.h"
#include "prepare/weights/weight_faults.h"
#include "prepare/weights/weight_ops.h"
#include "scene/bones.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::Model;
using scene::NodeIndex;

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
  const std::string key = base::textOf(values, "bone");
  if (const NodeIndex found = findReached(model, key); found.valid()) return found;
  // A bone that a step adds has the game's name.
  for (const NodeIndex i : scene::reachedNodes(model))
    if (!key.empty() && model.node(i).name == key) return i;
  return {};
}

StepOutcome applyFirstWeights(Model& model, const Json& values, const StepContext& context) {
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues(base::phrase("The rulebook has no skeleton of that name."));
  if (scene::countsOf(model).vertices == 0) return missed(base::phrase("The model has no vertices."));
  std::vector<NodeIndex> bones = bonesOf(model, *skeleton);
  const bool none = bones.empty();
  if (none) {
    addGameBones(model, *skeleton, *context.book);
    bones = bonesOf(model, *skeleton);
  }
  const auto made = firstWeights(model, bones, context.progress);
  if (!made) return missed(made.error().message);
  if (made->vertices == 0) return missed(base::phrase("Every vertex follows a bone already."));
  StepOutcome out;
  out.did = vertices(made->vertices) + ", " + base::countText(made->bones, "bone", "bones");
  if (none) out.did = base::phrase("{0}, the game's put in", out.did);
  return out;
}

StepOutcome applySmoothWeights(Model& model, const Json& values, const StepContext&) {
  const double rounds = numberValue(values, "rounds", 3), percent = numberValue(values, "percent", 50);
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
  if (changed == 0) return missed(base::phrase("Nothing there follows a bone, or all of it the same."));
  StepOutcome out;
  out.did = vertices(changed);
  return out;
}

StepOutcome applyMirrorWeights(Model& model, const Json& values, const StepContext& context) {
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues(base::phrase("The rulebook has no skeleton of that name."));
  const std::string from = base::textOf(values, "from");
  const double most_mm = numberValue(values, "most_mm", 50);
  const auto pairs = mirrorPairs(model, *skeleton);
  if (pairs.empty()) return missed(base::phrase("No bones of two sides bear the game's names."));
  const uint64_t changed = mirrorWeights(model, gameAxes(model.frame, *context.book).side, from == "left",
                                         static_cast<float>(most_mm / 1000), pairs);
  if (changed == 0) return missed(base::phrase("Nothing on the other side lies near what is on this one."));
  StepOutcome out;
  out.did = vertices(changed);
  return out;
}

StepOutcome applyCopyWeights(Model& model, const Json& values, const StepContext& context) {
  const double most_mm = numberValue(values, "most_mm", 100);
  if (!model.frame.turned)
    return missed(base::phrase("The model has to be turned to the game's axes first."));
  const std::string name = base::textOf(values, "model");
  std::shared_ptr<const Model> example;
  const Model* donor = context.donor;
  if (name.empty()) {
    auto found = weightDonor(*context.book, base::textOf(values, "kind"));
    if (!found) return missed(found.error().message);
    example = std::move(found).value();
    donor = example.get();
  } else if (donor == nullptr) {
    return missed(base::phrase("The mod has no model \"{0}\" that it could take them from.",
                               base::presentable(name, 60)));
  } else if (!donor->frame.turned || scene::usedJoints(*donor).empty()) {
    return missed(base::phrase(
        donor->frame.turned ? "{0} has no bones." : "{0} has to be turned to the game's axes first.",
        base::presentable(name, 60)));
  }
  const CopiedWeights copied = copyWeights(model, *donor, static_cast<float>(most_mm / 1000));
  if (copied.vertices == 0) return missed(base::phrase("Nothing lies that near to it."));
  StepOutcome out;
  out.did = vertices(copied.vertices);
  if (copied.bones > 0)
    out.did = base::phrase("{0}, {1} added", out.did, base::countText(copied.bones, "bone", "bones"));
  if (copied.left > 0) {
    out.state = StepState::partly;
    out.misses.push_back(
        base::counted(copied.left, "{0} vertex lies too far from it.", "{0} vertices lie too far from it."));
  }
  return out;
}

StepOutcome applyGiveToBone(Model& model, const Json& values, const StepContext&) {
  std::string why;
  const Json none;
  const auto selection = selectionFrom(values.contains("pick") ? values["pick"] : none, why);
  if (!selection) return wrongValues(why);
  const double percent = numberValue(values, "percent", 100), soft_mm = numberValue(values, "soft_mm", 0);
  const NodeIndex bone = boneOf(model, values);
  if (!bone.valid()) return missed(goneText("bone", base::textOf(values, "bone")));
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
  if (!bone.valid()) return missed(goneText("bone", base::textOf(values, "bone")));
  const GameAxes axes = gameAxes(model.frame, *context.book);
  glm::quat turn(1, 0, 0, 0);
  double most = 0;
  // Each about the game's own axis, one after the other.
  for (const auto& [key, axis] : {std::pair("forward_deg", axes.forward), std::pair("side_deg", axes.side),
                                  std::pair("up_deg", axes.up)}) {
    const double degrees = numberValue(values, key, 0);
    most = std::max(most, std::abs(degrees));
    turn = glm::angleAxis(radians(degrees), axis) * turn;
  }
  StepOutcome out;
  if (most > 0) turnBoneAtRest(model, bone, turn);
  out.did = most > 0 ? model.node(bone).name : base::phrase("nothing to turn");
  return out;
}

StepOutcome applyDropLooseWeights(Model& model, const Json& values, const StepContext& context) {
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues(base::phrase("The rulebook has no skeleton of that name."));
  StepOutcome out;
  out.did = vertices(dropLooseWeights(model, *skeleton, *context.book));
  return out;
}

Parameter angleParameter(const char* key, const char* title) {
  return numberParameter(key, title, 0).between(-180, 180).in("degrees").shown(1);
}

}  // namespace

std::vector<StepKind> weightSteps() {
  const auto skeleton = [] { return referenceParameter("skeleton", "skeleton", ParameterType::skeleton); };
  const auto bone = [] { return referenceParameter("bone", "bone", ParameterType::bone); };
  const auto distance = [](double initial) {
    return numberParameter("most_mm", "distance", initial).between(0, 1e6).in("mm").shown(1);
  };
  const auto share = [](double initial) {
    return numberParameter("percent", "share", initial).above(0, 100).in("%").shown(0);
  };
  return {
      {"copy_weights",
       "Take weights from the game's example",
       StepGroup::bones,
       39,
       "Take weights from [!model|{kind}][model|the model {model}], where it lies within {most_mm} mm",
       {referenceParameter("kind", "kind", ParameterType::weight_kind),
        referenceParameter("model", "model", ParameterType::model)
            .orAbsent()
            .means("It goes before the kind."),
        distance(100)},
       applyCopyWeights,
       "Each vertex takes those of the nearest place; bones that the model lacks are added."},
      {"first_weights",
       "Make first weights",
       StepGroup::bones,
       39,
       "Give what follows no bone first weights, by the bones of {skeleton}",
       {skeleton()},
       applyFirstWeights,
       "By how far each bone is through the body; a model without bones gets the game's, on its own "
       "measure."},
      {"give_to_bone",
       "Let what is picked follow a bone",
       StepGroup::bones,
       39,
       "Let {pick} follow {bone} by {percent} %, soft over {soft_mm} mm",
       {pickParameter(), bone(), share(100), softParameter().shown(1)},
       applyGiveToBone},
      {"drop_loose_weights",
       "Let go of far bones",
       StepGroup::bones,
       39,
       "Let go of bones that are far away, or that nothing beside follows, by the bones of {skeleton}",
       {skeleton()},
       applyDropLooseWeights,
       "What stays sums to one."},
      {"smooth_weights",
       "Smooth weights",
       StepGroup::bones,
       39,
       "Smooth weights [pick|of {pick}, soft over {soft_mm} mm, ]{rounds} times, {percent} % of the way to "
       "what is "
       "beside",
       {countParameter("rounds", "number of times", 3).between(1, 100), share(50), pickParameter().orAbsent(),
        softParameter().shown(1).orAbsent()},
       applySmoothWeights},
      {"mirror_weights",
       "Mirror weights",
       StepGroup::bones,
       39,
       "Give the other side the weights of the {from}, where it lies within {most_mm} mm of its mirror "
       "image, by the "
       "sides of {skeleton}",
       {skeleton(), choiceParameter("from", "side", {{"left", "left"}, {"right", "right"}}), distance(50)},
       applyMirrorWeights},
      {"turn_bone",
       "Turn a bone",
       StepGroup::bones,
       39,
       "Turn {bone} by {forward_deg}° about forward, {side_deg}° about the side, {up_deg}° about up",
       {bone(), angleParameter("forward_deg", "angle about forward"),
        angleParameter("side_deg", "angle about the side"), angleParameter("up_deg", "angle about up")},
       applyTurnBone,
       "At rest, about the game's axes one after the other, the skin with it; the bone's own axes stay."},
  };
}

}  // namespace rakugo::prepare
