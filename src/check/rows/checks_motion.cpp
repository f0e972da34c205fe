// Checks of what the game's movements make of a model, and of movements that it brings itself.
#include <algorithm>
#include <cmath>
#include <set>

#include "base/text.h"
#include "check/checks.h"
#include "check/verdicts.h"
#include "scene/influences.h"

namespace rakugo::check {
namespace {

using base::Json;
using prepare::BoneOff;
using prepare::MomentOff;
using scene::NodeIndex;

constexpr double kDegrees = 180 / 3.14159265358979;

// Calls body(name, model, skeleton, moments) for models that the game's movements were tried on.
template <class Body>
void eachMoved(const Context& context, const Body& body) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    const rulebook::Skeleton* skeleton = context.book->findSkeleton(kind.skeleton);
    if (skeleton != nullptr && state.moments) body(name, *state.prepared.model, *skeleton, *state.moments);
  });
}

// The moment of a list in which a bone is most off, as `which` says it of each; null where it is in none.
template <class Much>
std::pair<const MomentOff*, const BoneOff*> worst(const std::vector<MomentOff>& moments,
                                                  const rulebook::Skeleton& skeleton,
                                                  const BoneOff* MomentVerdict::*which, const Much& much) {
  std::pair<const MomentOff*, const BoneOff*> out{nullptr, nullptr};
  for (const MomentOff& moment : moments)
    if (const BoneOff* bone = verdictOf(moment, skeleton).*which)
      if (out.second == nullptr || much(*bone) > much(*out.second)) out = {&moment, bone};
  return out;
}

// Whether the cause is told already: how bones lie at rest comes before what becomes of it, in the table too.
bool causeTold(const Findings& out, const std::string& model) {
  return std::any_of(out.begin(), out.end(), [&](const Finding& f) {
    return f.place.model == model && (f.check == "bones.turned" || f.check == "bones.pose");
  });
}

std::string momentText(const rulebook::Skeleton& skeleton, const MomentOff& moment) {
  const rulebook::Movement& movement = skeleton.movements[moment.movement];
  return phrase("\"{0}\" at {1} s", movement.title, base::numberText(moment.at_s, 2));
}

void checkBonesBend(const Context& context, const CheckRow& row, Findings& out) {
  eachMoved(context, [&](const std::string& name, const scene::Model&, const rulebook::Skeleton& skeleton,
                         const std::vector<MomentOff>& moments) {
    if (causeTold(out, name)) return;
    std::set<std::string> joints;
    const MomentOff* first = nullptr;
    for (const MomentOff& moment : moments)
      for (const BoneOff* bone : verdictOf(moment, skeleton).bent_back) {
        joints.insert(skeleton.bones[bone->slot].title);
        if (first == nullptr) first = &moment;
      }
    if (first == nullptr) return;
    const std::vector<std::string> list(joints.begin(), joints.end());
    Finding f = aboutModel(
        context, row, name,
        phrase(list.size() == 1 ? "{0} of {1} bends backwards in {2}." : "{0} of {1} bend backwards in {2}.",
               base::listText(list, 3), name, momentText(skeleton, *first)));
    f.measured = phrase("backwards");
    f.expected = phrase("as the game's own");
    f.mends.push_back(stepOrEditMend(name, "straighten_bones", Json{{"skeleton", skeleton.id}},
                                     phrase("Set all bones straight; the mesh stays")));
    out.push_back(std::move(f));
  });
}

void checkBonesAim(const Context& context, const CheckRow& row, Findings& out) {
  eachMoved(context, [&](const std::string& name, const scene::Model&, const rulebook::Skeleton& skeleton,
                         const std::vector<MomentOff>& moments) {
    if (causeTold(out, name)) return;
    const auto [moment, bone] = worst(moments, skeleton, &MomentVerdict::turned_off,
                                      [](const BoneOff& one) { return one.turned_rad; });
    if (moment == nullptr) return;
    const std::string degrees = phrase("{0} degrees", base::numberText(bone->turned_rad * kDegrees, 0));
    Finding f =
        aboutModel(context, row, name,
                   phrase("{0} of {1} is turned {2} elsewhere in {3}.", skeleton.bones[bone->slot].title,
                          name, degrees, momentText(skeleton, *moment)));
    f.measured = degrees;
    f.expected = phrase("at most {0} degrees", base::numberText(kMostTurnedOff_deg, 0));
    f.mends.push_back(stepOrEditMend(name, "straighten_bones", Json{{"skeleton", skeleton.id}},
                                     phrase("Set all bones straight; the mesh stays")));
    f.mends.push_back(stepOrEditMend(name, "game_pose", Json{{"skeleton", skeleton.id}},
                                     phrase("Change the rest pose; the skin follows")));
    out.push_back(std::move(f));
  });
}

void checkBonesFloor(const Context& context, const CheckRow& row, Findings& out) {
  eachMoved(context, [&](const std::string& name, const scene::Model&, const rulebook::Skeleton& skeleton,
                         const std::vector<MomentOff>& moments) {
    const auto [moment, bone] = worst(moments, skeleton, &MomentVerdict::off_floor,
                                      [](const BoneOff& one) { return std::abs(one.risen_m); });
    if (moment == nullptr) return;
    const std::string off = base::lengthText(std::abs(bone->risen_m));
    Finding f =
        aboutModel(context, row, name,
                   phrase(bone->risen_m > 0 ? "{0} of {1} floats {2} above the floor in {3}."
                                            : "{0} of {1} sinks {2} into the floor in {3}.",
                          skeleton.bones[bone->slot].title, name, off, momentText(skeleton, *moment)));
    f.measured = off;
    f.expected = phrase("within {0}", base::lengthText(kMostOffFloor_m));
    out.push_back(std::move(f));
  });
}

void checkBonesGone(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    std::vector<bool> reached(model.nodes.size(), false);
    for (const NodeIndex i : scene::reachedNodes(model)) reached[i.value()] = true;
    std::set<std::string> gone;
    for (const NodeIndex i : scene::reachedNodes(model)) {
      const scene::Node& node = model.node(i);
      if (!node.skin.valid() || !node.mesh.valid()) continue;
      const auto& joints = model.skins[node.skin.value()].joints;
      if (std::all_of(joints.begin(), joints.end(), [&](NodeIndex joint) { return reached[joint.value()]; }))
        continue;
      for (const scene::Primitive& p : model.mesh(node.mesh).primitives)
        for (size_t v = 0; v < p.positions.size(); ++v)
          scene::eachInfluence(p, v, [&](uint32_t joint, float) {
            if (joint < joints.size() && !reached[joints[joint].value()])
              gone.insert(model.node(joints[joint]).name);
          });
    }
    if (gone.empty()) return;
    const std::vector<std::string> list(gone.begin(), gone.end());
    Finding f = aboutModel(
        context, row, name,
        phrase(list.size() == 1 ? "Vertices of {0} follow {1}, which is not in the model any more."
                                : "Vertices of {0} follow {1}, which are not in the model any more.",
               name, base::listText(list, 3)));
    f.measured = base::countText(list.size(), "bone", "bones");
    f.expected = phrase("none");
    out.push_back(std::move(f));
  });
}

void checkTracks(const Context& context, const CheckRow& row, Findings& out) {
  eachModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state) {
    const scene::Model& model = *state.prepared.model;
    std::vector<bool> reached(model.nodes.size(), false);
    for (const NodeIndex i : scene::reachedNodes(model)) reached[i.value()] = true;
    for (const scene::Animation& animation : model.animations) {
      std::set<std::string> gone;
      for (const scene::Channel& channel : animation.channels)
        if (channel.node.valid() && !reached[channel.node.value()])
          gone.insert(model.node(channel.node).name);
      if (gone.empty()) continue;
      const std::vector<std::string> list(gone.begin(), gone.end());
      Finding f =
          aboutModel(context, row, name,
                     phrase(list.size() == 1 ? "The movement {0} of {1} moves {2}, which is not there."
                                             : "The movement {0} of {1} moves {2}, which are not there.",
                            animation.name.empty() ? phrase("without a name") : animation.name, name,
                            base::listText(list, 3)));
      f.measured = base::countText(list.size(), "part", "parts");
      f.expected = phrase("none");
      out.push_back(std::move(f));
    }
  });
}

void checkSkinFaults(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    const rulebook::Skeleton* skeleton = context.book->findSkeleton(kind.skeleton);
    if (skeleton == nullptr || !state.skin_faults || state.skin_faults->empty()) return;
    const prepare::SkinFault& worst = state.skin_faults->front();
    using Sort = prepare::SkinFaultSort;
    const std::string much =
        worst.sort == Sort::stretched   ? phrase("{0} times its length", base::numberText(worst.much, 1))
        : worst.sort == Sort::collapsed ? phrase("to a {0}th of its surface", base::numberText(worst.much, 0))
        : worst.sort == Sort::twisted   ? phrase("and {0} times thinner", base::numberText(worst.much, 1))
                                        : base::lengthText(worst.much);
    const rulebook::Movement& movement = skeleton->movements[worst.movement];
    const std::string when = phrase("\"{0}\" at {1} s", movement.title, base::numberText(worst.at_s, 2));
    const size_t others = state.skin_faults->size() - 1;
    const std::string what = phrase(prepare::sortName(worst.sort));
    Finding f =
        aboutModel(context, row, name,
                   others > 0 ? phrase("The skin of {0} is {1} {2} in {3}, and {4} too.", name, what, much,
                                       when, base::countText(others, "other place", "other places"))
                              : phrase("The skin of {0} is {1} {2} in {3}.", name, what, much, when));
    f.measured = much;
    f.expected = phrase("skin that follows its bones");
    for (const prepare::SkinFault& one : *state.skin_faults) f.place.marks_m.push_back(one.rest_m);
    f.mends.push_back(stepMend(name, "smooth_weights", Json{{"rounds", 4.0}, {"percent", 50.0}},
                               phrase("Smooth all weights; look what it does")));
    out.push_back(std::move(f));
  });
}

void checkStrayWeights(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    if (!state.weight_faults || state.weight_faults->stray.size() + state.weight_faults->islands.size() == 0)
      return;
    std::set<std::pair<NodeIndex, uint32_t>> stray, islands;
    for (const auto& one : state.weight_faults->stray) stray.emplace(one.part, one.vertex);
    for (const auto& one : state.weight_faults->islands) islands.emplace(one.part, one.vertex);
    std::vector<std::string> said;
    if (!stray.empty())
      said.push_back(
          counted(stray.size(), "{0} vertex follows bones far away", "{0} vertices follow bones far away"));
    if (!islands.empty())
      said.push_back(counted(islands.size(), "{0} vertex follows a bone that nothing beside does",
                             "{0} vertices follow a bone that nothing beside does"));
    Finding f = aboutModel(context, row, name, phrase("{0} in {1}.", base::listText(said), name));
    f.measured = base::countText(stray.size() + islands.size(), "vertex", "vertices");
    f.expected = phrase("bones nearby");
    constexpr size_t kMost = 200;
    for (const auto* list : {&state.weight_faults->stray, &state.weight_faults->islands})
      for (const auto& one : *list)
        if (f.place.marks_m.size() < kMost) f.place.marks_m.push_back(one.place_m);
    f.mends.push_back(stepOrEditMend(name, "drop_loose_weights", Json{{"skeleton", kind.skeleton}},
                                     phrase("Let go of those bones")));
    out.push_back(std::move(f));
  });
}

void checkLopsidedWeights(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    // A few vertices on the middle line are nobody's trouble.
    if (!state.weight_faults || state.weight_faults->lopsided * 50 <= state.weight_faults->mirrored) return;
    const uint64_t count = state.weight_faults->lopsided;
    Finding f = aboutModel(
        context, row, name,
        counted(count, "{0} vertex follows other bones than the mirror image on the other side of {1}.",
                "{0} vertices follow other bones than the mirror image on the other side of "
                "{1}.",
                name));
    f.measured = base::countText(count, "vertex", "vertices");
    f.expected = phrase("alike on both sides");
    for (const char* from : {"left", "right"})
      f.mends.push_back(stepOrEditMend(
          name, "mirror_weights", Json{{"skeleton", kind.skeleton}, {"from", from}, {"most_mm", 20.0}},
          phrase(from == std::string_view("left") ? "Take the weights of the left for both"
                                                  : "Take the weights of the right for both")));
    out.push_back(std::move(f));
  });
}

}  // namespace

std::vector<CheckRow> motionChecks() {
  using S = Severity;
  return {
      {"bones.bends",
       560,
       S::shows,
       Station::skeleton,
       {"model.bones", "model.moments"},
       "A joint bends the wrong way in the game's movements",
       "Knees or elbows fold backwards as soon as the game moves them.",
       "Set all bones straight, or give the two bones of the limb their right names.",
       checkBonesBend},
      {"bones.aims",
       570,
       S::shows,
       Station::skeleton,
       {"model.bones", "model.moments"},
       "The game's movements turn bones elsewhere",
       "Hands hold things askew, heads look past whom they speak to.",
       "Set all bones straight and change the rest pose to the game's.",
       checkBonesAim},
      {"bones.floor",
       580,
       S::shows,
       Station::skeleton,
       {"model.bones", "model.moments"},
       "Feet leave the floor in the game's movements",
       "The game lowers hips by what its own legs fold away: longer or shorter ones sink in or float.",
       "Scale the model so that its legs are as long as the game's, or accept it.",
       checkBonesFloor},
      {"bones.gone",
       590,
       S::shows,
       Station::skeleton,
       {"model.bones", "model.weights"},
       "Vertices follow bones that were dropped",
       "The game finds no such bone: what follows it is drawn at the origin, or stays behind.",
       "Take the step back that drops them as parts; drop bones by their own step, which hands weights over.",
       checkBonesGone},
      {"weights.loose",
       600,
       S::shows,
       Station::skeleton,
       {"model.weight_faults"},
       "Weights of bones far away, or of none beside",
       "Single vertices fly along with a hand or a foot, and tear the skin into spikes.",
       "Let go of those bones.",
       checkStrayWeights},
      {"weights.sides",
       610,
       S::tidy,
       Station::skeleton,
       {"model.weight_faults"},
       "Left and right follow their bones differently",
       "What looks right on one side creases on the other.",
       "Mirror the weights of the better side.",
       checkLopsidedWeights},
      {"skin.breaks",
       620,
       S::shows,
       Station::skeleton,
       {"model.skin_faults"},
       "The skin breaks in the game's movements",
       "Stretched triangles, pinched joints and spikes are seen as soon as the game moves it.",
       "Look at the place in its moment; smooth the weights there, or give what was picked to the right "
       "bone.",
       checkSkinFaults},
      {"animation.tracks",
       630,
       S::tidy,
       Station::skeleton,
       {"model.animations"},
       "A movement of the model's own moves what is not there",
       "Nothing happens, but the game keeps the keys in memory.",
       "Keep the part, or export the model without that movement.",
       checkTracks},
  };
}

}  // namespace rakugo::check
