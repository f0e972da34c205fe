// Steps on bones: the game's names, missing and needless bones, who hangs on whom, weights, directions.
#include <algorithm>
#include <cmath>
#include <map>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/bones/bone_ops.h"
#include "prepare/movement/pose_tests.h"
#include "prepare/parts/part_ops.h"
#include "prepare/steps.h"
#include "scene/bones.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::NodeIndex;

StepOutcome applyNameBones(scene::Model& model, const Json& values, const StepContext&) {
  StepOutcome out;
  std::vector<std::pair<NodeIndex, std::string>> given;
  for (const auto& [name, key] : values["names"].items()) {
    const NodeIndex bone = findReached(model, key.get<std::string>());
    if (bone.valid())
      given.emplace_back(bone, name);
    else
      out.misses.push_back(goneText("bone", key.get<std::string>()));
  }
  uint64_t renamed = 0;
  for (const auto& [bone, name] : given) {
    if (model.node(bone).name == name) continue;
    // The game takes the first of a name: nobody else may bear it.
    for (scene::Node& other : model.nodes)
      if (&other != &model.node(bone) && other.name == name) other.name += " (other)";
    model.node(bone).name = name;
    ++renamed;
  }
  out = finished(std::move(out), given.size());
  const std::string count = base::countText(given.size(), "bone", "bones");
  out.did = renamed < given.size() ? base::phrase("{0}, some called so already", count) : count;
  return out;
}

StepOutcome applyAddBones(scene::Model& model, const Json& values, const StepContext& context) {
  StepOutcome out;
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues(base::phrase("The rulebook has no skeleton of that name."));
  const std::vector<std::string> slots = listValue(values, "slots");
  uint64_t added = 0;
  // Parents before children, whatever the order of the list: a whole chain may be missing.
  for (const rulebook::Bone& bone : skeleton->bones) {
    if (std::find(slots.begin(), slots.end(), bone.id) == slots.end()) continue;
    if (addBone(model, *skeleton, bone.id, *context.book))
      ++added;
    else if (scene::bonesByName(model).count(bone.id) == 0)
      out.misses.push_back(base::phrase(
          "No neighbour of the bone {0} bears the game's name, so that its place is not known.", bone.id));
  }
  for (const std::string& slot : slots)
    if (skeleton->findBone(slot) == nullptr)
      out.misses.push_back(base::phrase("The game has no bone \"{0}\".", base::presentable(slot, 60)));
  out = finished(std::move(out), added);
  out.did = base::countText(added, "bone", "bones");
  return out;
}

StepOutcome applyHangBones(scene::Model& model, const Json& values, const StepContext& context) {
  StepOutcome out;
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues(base::phrase("The rulebook has no skeleton of that name."));
  uint64_t hung = 0;
  const std::map<std::string, NodeIndex> named = scene::bonesByName(model);
  for (const rulebook::Bone& bone : skeleton->bones) {
    if (named.count(bone.id) == 0 || named.count(bone.parent) == 0) continue;
    const NodeIndex own = named.at(bone.id), parent = named.at(bone.parent);
    // Bones of the model's own may lie between.
    NodeIndex up = model.node(own).parent;
    while (up.valid() && up != parent && skeleton->findBone(model.node(up).name) == nullptr)
      up = model.node(up).parent;
    if (up == parent) continue;
    if (hangOn(model, own, parent))
      ++hung;
    else
      out.misses.push_back(base::phrase("{0} hangs on {1} itself.", bone.parent, bone.id));
  }
  out = finished(std::move(out), hung);
  out.did = base::phrase("{0} hung elsewhere", base::countText(hung, "bone", "bones"));
  return out;
}

StepOutcome applyDropBones(scene::Model& model, const Json& values, const StepContext&) {
  StepOutcome out;
  const std::string to = base::textOf(values, "to");
  std::vector<NodeIndex> bones;
  for (const std::string& key : listValue(values, "bones")) {
    const NodeIndex bone = findReached(model, key);
    if (!bone.valid())
      out.misses.push_back(goneText("bone", key));
    else if (model.node(bone).mesh.valid())
      out.misses.push_back(base::phrase("{0} has a mesh: it is a part, and stays.", model.node(bone).name));
    else
      bones.push_back(bone);
  }
  const uint64_t changed = dropBones(model, bones, to == "parent" ? HeirOf::parent : HeirOf::nearest);
  const auto stayed = [&](NodeIndex bone) { return isReached(model, bone); };
  for (const NodeIndex bone : bones)
    if (stayed(bone))
      out.misses.push_back(base::phrase("{0} stays: something has to carry what followed all of them.",
                                        model.node(bone).name));
  std::erase_if(bones, stayed);
  out = finished(std::move(out), bones.size());
  out.did = base::countText(bones.size(), "bone", "bones");
  if (changed > 0)
    out.did = base::phrase("{0}, {1} handed over", out.did, base::countText(changed, "vertex", "vertices"));
  return out;
}

StepOutcome applyMendWeights(scene::Model& model, const Json& values, const StepContext& context) {
  const scene::Model before = model;
  const MendedWeights mended = mendWeights(model, static_cast<int>(numberValue(values, "most", 4)));
  StepOutcome out;
  std::vector<std::string> said;
  if (mended.over > 0) {
    std::string cut = base::phrase("{0} cut, at most {1} % of one's weights",
                                   base::countText(mended.over, "vertex", "vertices"),
                                   base::numberText(static_cast<double>(mended.largest_cut) * 100, 1));
    if (const auto off = farthestInMovements(before, model, *context.book))
      cut = base::phrase("{0}, which moves a place by up to {1} mm in the game's movements", cut,
                         base::numberText(*off * 1000, 1));
    said.push_back(std::move(cut));
  }
  if (mended.sums > 0)
    said.push_back(base::phrase("{0} made one", base::countText(mended.sums, "sum", "sums")));
  if (mended.without > 0)
    said.push_back(
        base::phrase("{0} given the nearest bone", base::countText(mended.without, "vertex", "vertices")));
  out.did = said.empty() ? base::phrase("nothing to mend") : base::listText(said, 3);
  return out;
}

StepOutcome applyGamePose(scene::Model& model, const Json& values, const StepContext& context) {
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues(base::phrase("The rulebook has no skeleton of that name."));
  const auto [turned, widest] =
      poseAsGame(model, *skeleton, *context.book, radians(numberValue(values, "least_deg", 3)));
  StepOutcome out;
  out.did = base::countText(turned, "bone", "bones");
  if (turned > 0)
    out.did = base::phrase("{0}, by up to {1} degrees", out.did,
                           base::numberText(glm::degrees(static_cast<double>(widest)), 1));
  if (poseOff(model, *skeleton, *context.book).empty()) {
    out.state = StepState::missed;
    out.misses.emplace_back(base::phrase("No bones bear the game's names."));
  }
  return out;
}

StepOutcome applyStraightenBones(scene::Model& model, const Json& values, const StepContext& context) {
  const StraightenedBones made = straightenBones(model, skeletonOf(values, context));
  StepOutcome out;
  out.did = base::countText(made.bones, "bone", "bones");
  if (made.bones > 0)
    out.did = base::phrase("{0}, by up to {1} degrees", out.did,
                           base::numberText(glm::degrees(static_cast<double>(made.largest_rad)), 1));
  if (made.scaled && !model.animations.empty()) {
    out.state = StepState::partly;
    out.misses.emplace_back(
        base::phrase("Bones had a scale; movements of the model itself may differ by it."));
  }
  return out;
}

}  // namespace

std::vector<StepKind> boneSteps() {
  const auto skeleton = [] { return referenceParameter("skeleton", "skeleton", ParameterType::skeleton); };
  return {
      {"name_bones",
       "Give bones the game's names",
       StepGroup::bones,
       36,
       "Give {names} the game's names",
       {referenceParameter("names", "names", ParameterType::bone_names)},
       applyNameBones},
      {"add_bones",
       "Add missing bones",
       StepGroup::bones,
       37,
       "Add the bones {slots} where {skeleton} has them",
       {skeleton(), referenceParameter("slots", "bones", ParameterType::slots)},
       applyAddBones,
       "Each is put between its neighbours."},
      {"hang_bones",
       "Hang bones as the game does",
       StepGroup::bones,
       37,
       "Hang each bone where {skeleton} has it hang",
       {skeleton()},
       applyHangBones,
       "Bones that bear the game's names, in place."},
      {"drop_bones",
       "Drop bones",
       StepGroup::bones,
       38,
       "Drop the bones {bones} and hand their weights to {to}",
       {referenceParameter("bones", "bones", ParameterType::bones),
        choiceParameter("to", "bone that gets the weights",
                        {{"parent", "the bone they hang on"}, {"nearest", "the nearest bone"}})},
       applyDropBones},
      {"game_pose",
       "Change the rest pose",
       StepGroup::bones,
       39,
       "Change the rest pose to that of {skeleton}, bones that point more than {least_deg} degrees elsewhere",
       {skeleton(), numberParameter("least_deg", "angle", 3).between(0, 90).in("degrees").shown(1)},
       applyGamePose,
       "The skin is turned along."},
      {"straighten_bones",
       "Set bones straight",
       StepGroup::bones,
       39,
       "Set all bones straight, along the axes of {skeleton} and without scale; the mesh stays",
       {skeleton()},
       applyStraightenBones,
       "Bones that the game does not have lie along the axes of the model's space."},
      {"mend_weights",
       "Mend weights",
       StepGroup::bones,
       39,
       "Let each vertex follow {most} bones at most, with weights that sum to one",
       {countParameter("most", "number of bones", 4).between(1, 8)},
       applyMendWeights,
       "Vertices without weights follow the nearest bone."},
  };
}

}  // namespace rakugo::prepare
