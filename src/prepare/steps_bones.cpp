// Steps on bones: the game's names, missing and needless bones, who hangs on whom, weights, directions.
#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.h"
#include "prepare/bone_ops.h"
#include "prepare/part_ops.h"
#include "prepare/pose_tests.h"
#include "prepare/steps.h"
#include "scene/bones.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::NodeIndex;

std::string goneText(const std::string& key) {
  return "The bone \"" + base::presentable(key, 60) + "\" is not in the model any more.";
}

// How many did what a list of misses leaves: all, some, none.
void judge(StepOutcome& out, uint64_t done) {
  if (!out.misses.empty()) out.state = done > 0 ? StepState::partly : StepState::missed;
}

}  // namespace

const rulebook::Skeleton* skeletonOf(const Json& values, const StepContext& context) {
  const std::string id = textValue(values, "skeleton");
  if (!id.empty()) return context.book->findSkeleton(id);
  return context.book->skeletons.empty() ? nullptr : &context.book->skeletons.front();
}

StepOutcome applyNameBones(scene::Model& model, const Json& values, const StepContext&) {
  StepOutcome out;
  const Json names = values.value("names", Json::object());
  if (!names.is_object()) return wrongValues("Names are an object: the game's name, and the bone's key.");
  std::vector<std::pair<NodeIndex, std::string>> given;
  for (const auto& [name, key] : names.items()) {
    if (!key.is_string()) return wrongValues("Names are an object: the game's name, and the bone's key.");
    const NodeIndex bone = findReached(model, key.get<std::string>());
    if (bone.valid())
      given.emplace_back(bone, name);
    else
      out.misses.push_back(goneText(key.get<std::string>()));
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
  judge(out, given.size());
  out.did = base::countText(given.size(), "bone", "bones") +
            (renamed < given.size() ? ", some called so already" : "");
  return out;
}

StepOutcome applyAddBones(scene::Model& model, const Json& values, const StepContext& context) {
  StepOutcome out;
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues("The rulebook has no skeleton of that name.");
  const Json slots = values.value("slots", Json::array());
  if (!slots.is_array()) return wrongValues("Bones are a list of the game's names.");
  uint64_t added = 0;
  // Parents before children, whatever the order of the list: a whole chain may be missing.
  for (const rulebook::Bone& bone : skeleton->bones) {
    if (std::find(slots.begin(), slots.end(), Json(bone.id)) == slots.end()) continue;
    if (addBone(model, *skeleton, bone.id, *context.book))
      ++added;
    else if (scene::bonesByName(model).count(bone.id) == 0)
      out.misses.push_back("No neighbour of the bone " + bone.id +
                           " bears the game's name, so that its place is not known.");
  }
  for (const Json& slot : slots)
    if (slot.is_string() && skeleton->findBone(slot.get<std::string>()) == nullptr)
      out.misses.push_back("The game has no bone \"" + base::presentable(slot.get<std::string>(), 60) +
                           "\".");
  judge(out, added);
  out.did = base::countText(added, "bone", "bones");
  return out;
}

StepOutcome applyHangBones(scene::Model& model, const Json& values, const StepContext& context) {
  StepOutcome out;
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues("The rulebook has no skeleton of that name.");
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
      out.misses.push_back(bone.parent + " hangs on " + bone.id + " itself.");
  }
  judge(out, hung);
  out.did = base::countText(hung, "bone", "bones") + " hung elsewhere";
  return out;
}

StepOutcome applyDropBones(scene::Model& model, const Json& values, const StepContext&) {
  StepOutcome out;
  const std::string to = textValue(values, "to");
  if (to != "parent" && to != "nearest")
    return wrongValues("Weights go to the parent or to the nearest bone.");
  const Json list = values.value("bones", Json::array());
  if (!list.is_array()) return wrongValues("Bones are a list of keys.");
  std::vector<NodeIndex> bones;
  for (const Json& key : list) {
    if (!key.is_string()) return wrongValues("Bones are a list of keys.");
    const NodeIndex bone = findReached(model, key.get<std::string>());
    if (!bone.valid())
      out.misses.push_back(goneText(key.get<std::string>()));
    else if (model.node(bone).mesh.valid())
      out.misses.push_back(model.node(bone).name + " has a mesh: it is a part, and stays.");
    else
      bones.push_back(bone);
  }
  const uint64_t changed = dropBones(model, bones, to == "parent" ? HeirOf::parent : HeirOf::nearest);
  const auto stayed = [&](NodeIndex bone) { return isReached(model, bone); };
  for (const NodeIndex bone : bones)
    if (stayed(bone))
      out.misses.push_back(model.node(bone).name +
                           " stays: something has to carry what followed all of them.");
  std::erase_if(bones, stayed);
  judge(out, bones.size());
  out.did = base::countText(bones.size(), "bone", "bones");
  if (changed > 0) out.did += ", " + base::countText(changed, "vertex", "vertices") + " handed over";
  return out;
}

StepOutcome applyMendWeights(scene::Model& model, const Json& values, const StepContext& context) {
  const double most = numberValue(values, "most", 4);
  if (!(most >= 1 && most <= 8 && most == std::floor(most)))
    return wrongValues("A vertex follows 1 to 8 bones.");
  const scene::Model before = model;
  const MendedWeights mended = mendWeights(model, static_cast<int>(most));
  StepOutcome out;
  std::vector<std::string> said;
  if (mended.over > 0) {
    std::string cut = base::countText(mended.over, "vertex", "vertices") + " cut, at most " +
                      base::numberText(static_cast<double>(mended.largest_cut) * 100, 1) +
                      " % of one's weights";
    if (const auto off = farthestInMovements(before, model, *context.book))
      cut += ", which moves a place by up to " + base::numberText(*off * 1000, 1) +
             " mm in the game's movements";
    said.push_back(std::move(cut));
  }
  if (mended.sums > 0) said.push_back(base::countText(mended.sums, "sum", "sums") + " made one");
  if (mended.without > 0)
    said.push_back(base::countText(mended.without, "vertex", "vertices") + " given the nearest bone");
  out.did = said.empty() ? "nothing to mend" : base::listText(said, 3);
  return out;
}

StepOutcome applyGamePose(scene::Model& model, const Json& values, const StepContext& context) {
  const rulebook::Skeleton* skeleton = skeletonOf(values, context);
  if (skeleton == nullptr) return wrongValues("The rulebook has no skeleton of that name.");
  const double least = numberValue(values, "least_deg", 3);
  if (!(least >= 0 && least <= 90)) return wrongValues("An angle lies between 0 and 90 degrees.");
  constexpr double kDegree = 3.14159265358979 / 180;
  const auto [turned, widest] =
      poseAsGame(model, *skeleton, *context.book, static_cast<float>(least * kDegree));
  StepOutcome out;
  out.did = base::countText(turned, "bone", "bones");
  if (turned > 0) out.did += ", by up to " + base::numberText(widest / kDegree, 1) + " degrees";
  if (poseOff(model, *skeleton, *context.book).empty()) {
    out.state = StepState::missed;
    out.misses.emplace_back("No bones bear the game's names.");
  }
  return out;
}

StepOutcome applyStraightenBones(scene::Model& model, const Json& values, const StepContext& context) {
  const StraightenedBones made = straightenBones(model, skeletonOf(values, context));
  StepOutcome out;
  out.did = base::countText(made.bones, "bone", "bones");
  if (made.bones > 0)
    out.did += ", by up to " + base::numberText(made.largest_rad * 180 / 3.14159265358979, 1) + " degrees";
  if (made.scaled && !model.animations.empty()) {
    out.state = StepState::partly;
    out.misses.emplace_back("Bones had a scale; movements of the model itself may differ by it.");
  }
  return out;
}

}  // namespace rakugo::prepare
