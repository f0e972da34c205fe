// Checks of bones and of what follows them: the game's names, who hangs on whom, sides, ends, directions,
// weights.
#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.h"
#include "check/checks.h"
#include "prepare/bones/bone_ops.h"
#include "prepare/edit_steps.h"
#include "prepare/outfit/ghosts.h"
#include "prepare/weights/weight_faults.h"
#include "scene/bones.h"
#include "scene/influences.h"
#include "scene/rest_pose.h"

namespace rakugo::check {
namespace {

using base::Json;
using scene::NodeIndex;

// Calls body(name, state, model, kind, skeleton) for models with bones of kinds that ask for a skeleton.
template <class Body>
void eachBoned(const Context& context, const Body& body) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    const rulebook::Skeleton* skeleton = context.book->findSkeleton(kind.skeleton);
    if (skeleton != nullptr && state.bones && !scene::usedJoints(*state.prepared.model).empty())
      body(name, state, *state.prepared.model, kind, *skeleton);
  });
}

// Where vertices stand that follow no bone or too many; the first of them, as their bones put them.
void markInfluences(const scene::Model& model, int64_t limit, std::vector<glm::vec3>& marks) {
  constexpr size_t kMost = 200;
  const auto world = scene::worldMatrices(model);
  for (const NodeIndex i : scene::reachedNodes(model)) {
    if (!model.node(i).skin.valid() || !model.node(i).mesh.valid()) continue;
    const scene::Standing standing(model, i, world);
    for (const scene::Primitive& p : model.mesh(model.node(i).mesh).primitives)
      for (size_t v = 0; v < p.positions.size() && marks.size() < kMost; ++v) {
        int64_t influences = 0;
        scene::eachInfluence(p, v, [&](uint32_t, float) { ++influences; });
        if (influences == 0 || influences > limit)
          marks.emplace_back(standing.of(p, v) * glm::vec4(p.positions[v], 1));
      }
  }
}

Mend weightMend(const std::string& name, const rulebook::Kind& kind) {
  return stepOrEditMend(
      name, "mend_weights", Json{{"most", static_cast<double>(kind.max_influences)}},
      phrase("Let each vertex follow {0} bones at most", std::to_string(kind.max_influences)));
}

Mend dropMend(const std::string& name, const scene::Model& model, const std::vector<NodeIndex>& bones,
              const char* to, std::string label) {
  Json keys = Json::array();
  for (const NodeIndex i : bones) keys.push_back(model.node(i).key);
  return stepMend(name, "drop_bones", Json{{"bones", keys}, {"to", to}}, std::move(label));
}

std::string namesText(const scene::Model& model, const std::vector<NodeIndex>& bones) {
  std::vector<std::string> names;
  for (const NodeIndex i : bones) names.push_back(model.node(i).name);
  return base::listText(names, 4);
}

// Bones without weights that the game does not ask for; those at the end of a chain, or the others.
std::vector<NodeIndex> needless(const ModelState& state, const rulebook::Skeleton& skeleton, bool ends) {
  std::vector<NodeIndex> out;
  const auto& list = state.weights->end_bones;
  for (const NodeIndex i : state.weights->bones_without_weight) {
    const bool end = std::find(list.begin(), list.end(), i) != list.end();
    const bool slot = skeleton.findBone(state.prepared.model->node(i).name) != nullptr ||
                      std::any_of(state.bones->slots.begin(), state.bones->slots.end(),
                                  [&](const prepare::SlotMatch& one) { return one.bone == i; });
    if (end == ends && !slot) out.push_back(i);
  }
  return out;
}

void sayNeedless(const Context& context, const CheckRow& row, Findings& out, bool ends) {
  eachBoned(context, [&](const std::string& name, const ModelState& state, const scene::Model& model,
                         const rulebook::Kind&, const rulebook::Skeleton& skeleton) {
    const std::vector<NodeIndex> bones = needless(state, skeleton, ends);
    if (bones.empty()) return;
    const std::string count = ends ? base::countText(bones.size(), "end bone", "end bones")
                                   : base::countText(bones.size(), "bone", "bones");
    Finding f =
        aboutModel(context, row, name,
                   phrase("{0} has {1} that nothing follows: {2}.", name, count, namesText(model, bones)));
    f.measured = count;
    f.expected = phrase("none that the game does not ask for");
    f.mends.push_back(dropMend(name, model, bones, "parent", phrase("Drop {0}", count)));
    out.push_back(std::move(f));
  });
}

void checkBonesNone(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (kind.skeleton.empty() || !scene::usedJoints(*state.prepared.model).empty()) return;
    // What an object carries besides its moving model need not move by itself.
    const auto boneless = [&](const std::string& object) {
      const auto& pieces = context.mod->objects.at(object).pieces;
      return std::none_of(pieces.begin(), pieces.end(), [&](const mod::PieceDoc& piece) {
        const auto found = context.models.find(piece.model);
        return found != context.models.end() && found->second.prepared.model &&
               !scene::usedJoints(*found->second.prepared.model).empty();
      });
    };
    if (!state.objects.empty() && std::none_of(state.objects.begin(), state.objects.end(), boneless)) return;
    const rulebook::Skeleton& skeleton = *context.book->findSkeleton(kind.skeleton);
    Finding f = aboutModel(context, row, name,
                           phrase("{0} has no bones; a {1} needs {2}.", name, base::lowerAscii(kind.title),
                                  std::to_string(skeleton.bones.size())));
    f.measured = phrase("none");
    f.expected = phrase("{0} bones", std::to_string(skeleton.bones.size()));
    // Both put the game's bones in, where the model lies as the game has it.
    if (state.prepared.model->frame.turned) {
      if (prepare::weightDonor(*context.book, {}))
        f.mends.push_back(stepMend(name, "copy_weights", Json{{"kind", ""}, {"most_mm", 100.0}},
                                   phrase("Take bones and weights from the game's example")));
      f.mends.push_back(stepMend(name, "first_weights", Json{{"skeleton", kind.skeleton}},
                                 phrase("Put the game's bones in and make first weights")));
    }
    out.push_back(std::move(f));
  });
}

// The names of a chain that lacks one bone, given from the bone above its first on: each bone has the name of
// the one that followed it, up to the one that is missing. Empty where the chain is whole, or nothing of the
// model's own is above it.
Json oneBoneUp(const scene::Model& model, const rulebook::Skeleton& skeleton, const rulebook::Chain& chain,
               const std::map<std::string, NodeIndex>& there) {
  Json names = Json::object();
  size_t missing = 0;
  while (missing < chain.bones.size() && there.count(chain.bones[missing]) != 0) ++missing;
  if (missing == 0 || missing == chain.bones.size()) return names;
  const NodeIndex above = model.node(there.at(chain.bones.front())).parent;
  if (!above.valid() || model.node(above).mesh.valid() || !scene::boneNodes(model)[above.value()] ||
      skeleton.findBone(model.node(above).name) != nullptr || !model.node(above).parent.valid())
    return names;
  names[chain.bones[0]] = model.node(above).key;
  for (size_t k = 1; k <= missing; ++k) names[chain.bones[k]] = model.node(there.at(chain.bones[k - 1])).key;
  return names;
}

void checkBonesMissing(const Context& context, const CheckRow& row, Findings& out) {
  eachBoned(context, [&](const std::string& name, const ModelState& state, const scene::Model& model,
                         const rulebook::Kind&, const rulebook::Skeleton& skeleton) {
    const std::map<std::string, NodeIndex> there = scene::bonesByName(model);
    std::vector<std::string> missing;
    Json sure = Json::object(), found = Json::object(), empty = Json::array();
    size_t wanted = 0;
    for (size_t s = 0; s < skeleton.bones.size(); ++s) {
      const rulebook::Bone& bone = skeleton.bones[s];
      if (!bone.required) continue;
      ++wanted;
      if (there.count(bone.id) != 0) continue;
      missing.push_back(bone.id);
      const prepare::SlotMatch& match = state.bones->slots[s];
      // Only a bone that bears no other name of the game's can have this one.
      if (!match.bone.valid() || skeleton.findBone(model.node(match.bone).name) != nullptr) {
        empty.push_back(bone.id);
        continue;
      }
      found[bone.id] = model.node(match.bone).key;
      if (match.sure) sure[bone.id] = model.node(match.bone).key;
    }
    if (missing.empty()) return;
    Finding f = aboutModel(context, row, name,
                           phrase("{0} of {1} cannot be found by name in {2}: {3}.",
                                  base::countText(missing.size(), "bone", "bones"), std::to_string(wanted),
                                  name, base::listText(missing, 4)));
    f.measured = phrase("{0} of {1}", std::to_string(wanted - missing.size()), std::to_string(wanted));
    f.expected = phrase("all {0}", std::to_string(wanted));
    const auto give = [&](const Json& names, const std::string& label) {
      f.mends.push_back(stepMend(name, "name_bones", Json{{"names", names}}, label));
    };
    if (!sure.empty())
      give(sure,
           phrase("Give {0} the game's names", base::countText(sure.size(), "sure bone", "sure bones")));
    if (found.size() > sure.size())
      give(found, phrase("Give {0} the game's names, the unsure too",
                         base::countText(found.size(), "bone", "bones")));
    if (found.empty() && !empty.empty())
      f.mends.push_back(stepOrEditMend(
          name, "add_bones", Json{{"skeleton", skeleton.id}, {"slots", empty}},
          phrase("Add {0} between their neighbours", base::countText(empty.size(), "bone", "bones"))));
    if (found.empty())
      for (const rulebook::Chain& chain : skeleton.chains)
        if (const Json names = oneBoneUp(model, skeleton, chain, there); !names.empty())
          give(names, phrase("Start the chain \"{0}\" one bone up, at {1}", chain.title,
                             model.node(model.node(there.at(chain.bones.front())).parent).name));
    out.push_back(std::move(f));
  });
}

void checkBonesParent(const Context& context, const CheckRow& row, Findings& out) {
  eachBoned(context, [&](const std::string& name, const ModelState&, const scene::Model& model,
                         const rulebook::Kind&, const rulebook::Skeleton& skeleton) {
    std::vector<std::string> wrong;
    const std::map<std::string, NodeIndex> named = scene::bonesByName(model);
    for (const rulebook::Bone& bone : skeleton.bones) {
      if (named.count(bone.id) == 0 || named.count(bone.parent) == 0) continue;
      NodeIndex up = model.node(named.at(bone.id)).parent;
      while (up.valid() && skeleton.findBone(model.node(up).name) == nullptr) up = model.node(up).parent;
      if (up.valid() && model.node(up).name == bone.parent) continue;
      wrong.push_back(phrase("{0} hangs on {1}, not on {2}", bone.id,
                             up.valid() ? model.node(up).name : phrase("nothing"), bone.parent));
    }
    if (wrong.empty()) return;
    Finding f = aboutModel(context, row, name, phrase("In {0} {1}.", name, base::listText(wrong, 3)));
    f.measured = base::countText(wrong.size(), "bone", "bones");
    f.expected = phrase("each on the bone that the game has it hang on");
    f.mends.push_back(stepOrEditMend(name, "hang_bones", Json{{"skeleton", skeleton.id}},
                                     phrase("Hang them as the game does, in place")));
    out.push_back(std::move(f));
  });
}

// The game's names for sided bones, each for the bone that its counterpart was matched to: slot to key.
base::Json sidesExchanged(const scene::Model& model, const rulebook::Skeleton& skeleton,
                          const prepare::BoneMatch& match) {
  base::Json out = base::Json::object();
  for (const rulebook::Bone& bone : skeleton.bones) {
    if (bone.side == rulebook::Side::centre) continue;
    // Its counterpart lies where it does, mirrored.
    for (const rulebook::Bone& other : skeleton.bones) {
      const prepare::SlotMatch* found = match.find(other.id);
      if (other.side == bone.side || other.side == rulebook::Side::centre || found == nullptr ||
          !found->bone.valid() || std::abs(other.at_m[0] - bone.at_m[0]) > 1e-3 ||
          std::abs(other.at_m[1] + bone.at_m[1]) > 1e-3 || std::abs(other.at_m[2] - bone.at_m[2]) > 1e-3)
        continue;
      out[bone.id] = model.node(found->bone).key;
      break;
    }
  }
  return out;
}

void checkBonesSides(const Context& context, const CheckRow& row, Findings& out) {
  eachBoned(context, [&](const std::string& name, const ModelState& state, const scene::Model& model,
                         const rulebook::Kind&, const rulebook::Skeleton& skeleton) {
    using Facing = prepare::BoneMatch::Facing;
    const Facing facing = state.bones->facing;
    const bool backward = facing == Facing::backward;
    if (!state.bones->sides_swapped && !backward) return;
    Finding f = aboutModel(
        context, row, name,
        backward && state.bones->sides_swapped ? phrase("{0} faces backwards, as its feet, knees, elbows and "
                                                        "head tell; and the bones that it calls "
                                                        "left lie on its right.",
                                                        name)
        : backward ? phrase("{0} faces backwards, as its feet, knees, elbows and head tell.", name)
        : facing == Facing::forward
            ? phrase(
                  "The bones that {0} calls left lie on its right, as its body tells: their names are wrong.",
                  name)
            : phrase("The bones that {0} calls left lie on its right: their names are wrong, or it faces "
                     "backwards.",
                     name));
    f.measured = backward ? phrase("backwards") : phrase("left is right");
    f.expected = backward ? phrase("forward") : phrase("left is left");
    if (facing != Facing::forward)
      f.mends.push_back({phrase("Turn it half round"), [name](mod::ModState& mod) {
                           if (auto* doc = mod.models.change(name)) prepare::rotateBy(*doc, "up", 180);
                         }});
    if (facing == Facing::forward)
      if (base::Json names = sidesExchanged(model, skeleton, *state.bones); !names.empty())
        f.mends.push_back(stepMend(name, "name_bones", base::Json{{"names", std::move(names)}},
                                   phrase("Give the bones of both sides each other's names")));
    out.push_back(std::move(f));
  });
}

void checkBonesEnds(const Context& context, const CheckRow& row, Findings& out) {
  sayNeedless(context, row, out, true);
}

void checkBonesNeedless(const Context& context, const CheckRow& row, Findings& out) {
  sayNeedless(context, row, out, false);
}

void checkBonesPose(const Context& context, const CheckRow& row, Findings& out) {
  constexpr double kSlack_deg = 12;  // bodies are not built alike
  eachBoned(context, [&](const std::string& name, const ModelState&, const scene::Model& model,
                         const rulebook::Kind&, const rulebook::Skeleton& skeleton) {
    if (!model.frame.turned) return;
    size_t count = 0;
    prepare::PoseOff most;
    for (const prepare::PoseOff& one : prepare::poseOff(model, skeleton, *context.book)) {
      if (one.angle_rad * 180 / 3.14159265358979 <= kSlack_deg) continue;
      ++count;
      if (one.angle_rad > most.angle_rad) most = one;
    }
    if (count == 0) return;
    const std::string degrees =
        phrase("{0} degrees", base::numberText(most.angle_rad * 180 / 3.14159265358979, 0));
    Finding f = aboutModel(
        context, row, name,
        count > 1
            ? phrase("{0} stands in another rest pose than the game's: {1} points {2} elsewhere, {3} too.",
                     name, most.slot, degrees, base::countText(count - 1, "other bone", "other bones"))
            : phrase("{0} stands in another rest pose than the game's: {1} points {2} elsewhere.", name,
                     most.slot, degrees));
    f.measured = degrees;
    f.expected = phrase("at most {0} degrees", base::numberText(kSlack_deg, 0));
    f.mends.push_back(stepOrEditMend(name, "game_pose", Json{{"skeleton", skeleton.id}},
                                     phrase("Change the rest pose; the skin follows")));
    out.push_back(std::move(f));
  });
}

void checkBonesTurned(const Context& context, const CheckRow& row, Findings& out) {
  constexpr double kSlack_deg = 2;
  eachBoned(context, [&](const std::string& name, const ModelState&, const scene::Model& model,
                         const rulebook::Kind&, const rulebook::Skeleton& skeleton) {
    if (!model.frame.turned) return;
    const auto world = scene::worldMatrices(model);
    const std::map<std::string, NodeIndex> named = scene::bonesByName(model);
    double most = 0;
    std::string most_name, root_name;
    size_t turned = 0;
    bool scaled = false;
    for (const rulebook::Bone& bone : skeleton.bones) {
      const auto own = named.find(bone.id);
      if (own == named.end()) continue;
      bool exact = true;
      const scene::Placement at = scene::placementOf(world[own->second.value()], exact);
      scaled = scaled || glm::any(glm::greaterThan(glm::abs(at.scale - 1.0F), glm::vec3(0.01F)));
      const double degrees =
          2 * std::acos(std::min(1.0, std::abs(double{glm::dot(at.turn, prepare::slotTurn(bone))}))) * 180 /
          3.14159265358979;
      if (degrees <= kSlack_deg) continue;
      ++turned;
      // The notorious one: the first bone a quarter turn off, and all others by it.
      if (bone.parent.empty() && std::abs(degrees - 90) < 3) root_name = bone.id;
      if (degrees > most) most = degrees, most_name = bone.id;
    }
    if (turned == 0 && !scaled) return;
    const std::string what =
        turned == 0 ? phrase("Bones of {0} have a scale.", name)
        : !root_name.empty()
            ? phrase("The first bone of {0}, {1}, is a quarter turn off, and {2}.", name, root_name,
                     base::countText(turned - 1, "other with it", "others with it"))
            : counted(turned, "{0} bone of {1} is turned against the game's, {2} by {3} degrees.",
                      "{0} bones of {1} are turned against the game's, {2} by {3} degrees.", name, most_name,
                      base::numberText(most, 0));
    Finding f = aboutModel(context, row, name, what);
    f.measured = turned == 0 ? phrase("a scale") : phrase("{0} degrees", base::numberText(most, 0));
    f.expected = phrase("along the game's axes, scale one");
    f.mends.push_back(stepOrEditMend(name, "straighten_bones", Json{{"skeleton", skeleton.id}},
                                     phrase("Set all bones straight; the mesh stays")));
    out.push_back(std::move(f));
  });
}

void checkWeightSums(const Context& context, const CheckRow& row, Findings& out) {
  eachBoned(context, [&](const std::string& name, const ModelState& state, const scene::Model&,
                         const rulebook::Kind& kind, const rulebook::Skeleton&) {
    const uint64_t off = state.weights->sum_off + state.weights->beyond;
    if (off == 0 || kind.max_influences <= 0) return;
    std::vector<std::string> said;
    if (state.weights->sum_off > 0)
      said.push_back(counted(state.weights->sum_off, "{0} vertex has weights that do not sum to one",
                             "{0} vertices have weights that do not sum to one"));
    if (state.weights->beyond > 0)
      said.push_back(counted(state.weights->beyond, "{0} vertex names a bone that is not there",
                             "{0} vertices name a bone that is not there"));
    Finding f = aboutModel(context, row, name, phrase("{0} in {1}.", base::listText(said), name));
    f.measured = base::countText(off, "vertex", "vertices");
    f.expected = phrase("sums of one");
    f.mends.push_back(weightMend(name, kind));
    out.push_back(std::move(f));
  });
}

void checkBoneLimit(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    const scene::Model& model = *state.prepared.model;
    const size_t before = out.size();
    overLimit(context, row, out, name, kind.max_bones, scene::usedJoints(model).size(), "bone", "bones");
    const rulebook::Skeleton* skeleton = context.book->findSkeleton(kind.skeleton);
    if (out.size() == before || skeleton == nullptr || !state.bones) return;
    // Those that no slot has taken go, lest the game's own go with them.
    std::vector<NodeIndex> surplus;
    for (const NodeIndex i : state.bones->surplus)
      if (skeleton->findBone(model.node(i).name) == nullptr) surplus.push_back(i);
    if (!surplus.empty())
      out.back().mends.push_back(
          dropMend(name, model, surplus, "parent",
                   phrase("Drop {0} that the game does not know; their weights go to the bones they hang on",
                          base::countText(surplus.size(), "bone", "bones"))));
  });
}

void checkInfluences(const Context& context, const CheckRow& row, Findings& out) {
  eachBoned(context, [&](const std::string& name, const ModelState& state, const scene::Model& model,
                         const rulebook::Kind& kind, const rulebook::Skeleton&) {
    const scene::WeightReport& report = *state.weights;
    if (kind.max_influences <= 0 || report.over_limit + report.without_weight == 0) return;
    std::vector<std::string> said;
    if (report.over_limit > 0)
      said.push_back(counted(report.over_limit, "{0} vertex follows more than {1}",
                             "{0} vertices follow more than {1}",
                             base::countText(static_cast<uint64_t>(kind.max_influences), "bone", "bones")));
    if (report.without_weight > 0)
      said.push_back(counted(report.without_weight, "{0} vertex follows none", "{0} vertices follow none"));
    Finding f = aboutModel(context, row, name, phrase("{0} in {1}.", base::listText(said), name));
    f.measured = report.over_limit > 0 ? phrase("up to {0}", std::to_string(report.most_influences)) : "0";
    f.expected = phrase("1 to {0}", std::to_string(kind.max_influences));
    f.mends.push_back(weightMend(name, kind));
    markInfluences(model, kind.max_influences, f.place.marks_m);
    out.push_back(std::move(f));
  });
}

void checkBonesUnequal(const Context& context, const CheckRow& row, Findings& out) {
  constexpr double kSlack = 0.08;  // nobody is built quite alike
  eachBoned(context, [&](const std::string& name, const ModelState&, const scene::Model& model,
                         const rulebook::Kind&, const rulebook::Skeleton& skeleton) {
    std::map<NodeIndex, NodeIndex> right_of;
    for (const auto& [left, right] : prepare::mirrorPairs(model, skeleton)) right_of[left] = right;
    const auto world = scene::worldMatrices(model);
    const auto named = scene::bonesByName(model);
    const auto apart = [&](NodeIndex a, NodeIndex b) {
      return double{glm::distance(glm::vec3(world[a.value()][3]), glm::vec3(world[b.value()][3]))};
    };
    double most = kSlack;
    std::string what, measured;
    for (const rulebook::Chain& chain : skeleton.chains)
      for (size_t k = 0; k + 1 < chain.bones.size(); ++k) {
        const auto a = named.find(chain.bones[k]), b = named.find(chain.bones[k + 1]);
        if (a == named.end() || b == named.end()) continue;
        const auto c = right_of.find(a->second), d = right_of.find(b->second);
        if (c == right_of.end() || d == right_of.end()) continue;
        const double left = apart(a->second, b->second), right = apart(c->second, d->second);
        const double longer = std::max(left, right);
        if (!(longer > 1e-6) || std::abs(left - right) / longer <= most) continue;
        most = std::abs(left - right) / longer;
        what = (left > right ? chain.bones[k] : model.node(c->second).name);
        measured = base::lengthText(std::abs(left - right));
      }
    if (what.empty()) return;
    Finding f =
        aboutModel(context, row, name,
                   phrase("{0} of {1} is {2} longer than that of the other side.", what, name, measured));
    f.measured = measured;
    f.expected = phrase("alike on both sides");
    out.push_back(std::move(f));
  });
}

}  // namespace

std::vector<CheckRow> boneChecks() {
  using S = Severity;
  return {
      {"bones.none",
       500,
       S::stops,
       Station::skeleton,
       {"model.bones"},
       "The model has no bones",
       "The game's movements have nothing to move.",
       "Export the model with its skeleton, take the game's bones, or choose another kind.",
       checkBonesNone},
      {"bones.missing",
       510,
       S::shows,
       Station::skeleton,
       {"model.bones"},
       "Bones that the game looks for are missing",
       "The game finds bones by their exact names; a limb whose bone is missing does not move.",
       "Give the bones the game's names, and add those that are not there.",
       checkBonesMissing},
      {"bones.parent",
       520,
       S::shows,
       Station::skeleton,
       {"model.bones"},
       "A bone hangs on another one than in the game",
       "The game turns a limb together with what it hangs on: it moves along with the wrong one.",
       "Hang the bones as the game does.",
       checkBonesParent},
      {"bones.sides",
       530,
       S::shows,
       Station::skeleton,
       {"model.bones"},
       "Left and right are swapped",
       "It waves with the other hand, and walks as before a mirror.",
       "Turn the model round, or give the bones the right names.",
       checkBonesSides},
      {"bones.pose",
       540,
       S::shows,
       Station::skeleton,
       {"model.bones"},
       "Another rest pose than the game's",
       "The game's movements begin from its own rest pose: from another, arms cut through the body or stand "
       "off.",
       "Change the rest pose to the game's.",
       checkBonesPose},
      {"bones.turned",
       550,
       S::shows,
       Station::skeleton,
       {"model.bones"},
       "Bones lie along other axes than the game's",
       "The game's movements turn each bone about its own axes: with others, limbs bend sideways.",
       "Set the bones straight.",
       checkBonesTurned},
      {"bones.unequal",
       640,
       S::tidy,
       Station::skeleton,
       {"model.bones"},
       "A limb is longer than that of the other side",
       "It limps: the game's movements are made for two of one length.",
       "Even them out where the model was made, or live with it.",
       checkBonesUnequal},
      {"bones.limit",
       650,
       S::stops,
       Station::skeleton,
       {"model.bones"},
       "Too many bones",
       "The game refuses the model.",
       "Remove bones that nothing needs.",
       checkBoneLimit},
      {"bones.weights",
       660,
       S::shows,
       Station::skeleton,
       {"model.influences"},
       "Vertices follow too many bones, or none",
       "The game drops what it does not read: the skin sags, or stays behind.",
       "Limit the influences a vertex, and give every vertex a bone.",
       checkInfluences},
      {"bones.sums",
       670,
       S::shows,
       Station::skeleton,
       {"model.weights"},
       "Weights that do not sum to one",
       "The skin is drawn too little or too far: it shrinks, or flies apart.",
       "Mend the weights.",
       checkWeightSums},
      {"bones.ends",
       680,
       S::tidy,
       Station::skeleton,
       {"model.bones", "model.weights"},
       "End bones that an exporter added",
       "Each costs the game a matrix and the person a look, for nothing.",
       "Drop them.",
       checkBonesEnds},
      {"bones.needless",
       690,
       S::tidy,
       Station::skeleton,
       {"model.bones", "model.weights"},
       "Bones that no vertex follows",
       "Each costs the game a matrix, for nothing.",
       "Drop them.",
       checkBonesNeedless},
  };
}

}  // namespace rakugo::check
