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
  return "\"" + movement.title + "\" at " + base::numberText(moment.at_s, 2) + " s";
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
    Finding f = aboutModel(context, row, name,
                           base::listText(list, 3) + " of " + name + (list.size() == 1 ? " bends" : " bend") +
                               " backwards in " + momentText(skeleton, *first) + ".");
    f.measured = "backwards";
    f.expected = "as the game's own";
    f.mends.push_back(stepOrEditMend(name, "straighten_bones", Json{{"skeleton", skeleton.id}},
                                     "Set all bones straight; the mesh stays"));
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
    const std::string degrees = base::numberText(bone->turned_rad * kDegrees, 0) + " degrees";
    Finding f = aboutModel(context, row, name,
                           skeleton.bones[bone->slot].title + " of " + name + " is turned " + degrees +
                               " elsewhere in " + momentText(skeleton, *moment) + ".");
    f.measured = degrees;
    f.expected = "at most " + base::numberText(kMostTurnedOff_deg, 0) + " degrees";
    f.mends.push_back(stepOrEditMend(name, "straighten_bones", Json{{"skeleton", skeleton.id}},
                                     "Set all bones straight; the mesh stays"));
    f.mends.push_back(stepOrEditMend(name, "game_pose", Json{{"skeleton", skeleton.id}},
                                     "Change the rest pose; the skin follows"));
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
    Finding f = aboutModel(context, row, name,
                           skeleton.bones[bone->slot].title + " of " + name +
                               (bone->risen_m > 0 ? " floats " : " sinks ") + off +
                               (bone->risen_m > 0 ? " above" : " into") + " the floor in " +
                               momentText(skeleton, *moment) + ".");
    f.measured = off;
    f.expected = "within " + base::lengthText(kMostOffFloor_m);
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
    Finding f =
        aboutModel(context, row, name,
                   "Vertices of " + name + " follow " + base::listText(list, 3) +
                       (list.size() == 1 ? ", which is" : ", which are") + " not in the model any more.");
    f.measured = base::countText(list.size(), "bone", "bones");
    f.expected = "none";
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
      Finding f = aboutModel(context, row, name,
                             "The movement " + (animation.name.empty() ? "without a name" : animation.name) +
                                 " of " + name + " moves " + base::listText(list, 3) + ", which " +
                                 (list.size() == 1 ? "is" : "are") + " not there.");
      f.measured = base::countText(list.size(), "part", "parts");
      f.expected = "none";
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
        worst.sort == Sort::stretched   ? base::numberText(worst.much, 1) + " times its length"
        : worst.sort == Sort::collapsed ? "to a " + base::numberText(worst.much, 0) + "th of its surface"
        : worst.sort == Sort::twisted   ? "and " + base::numberText(worst.much, 1) + " times thinner"
                                        : base::lengthText(worst.much);
    const rulebook::Movement& movement = skeleton->movements[worst.movement];
    const std::string when = "\"" + movement.title + "\" at " + base::numberText(worst.at_s, 2) + " s";
    const std::string others =
        state.skin_faults->size() > 1
            ? ", and " + base::countText(state.skin_faults->size() - 1, "other place", "other places") +
                  " too"
            : "";
    Finding f = aboutModel(context, row, name,
                           "The skin of " + name + " is " + prepare::sortName(worst.sort) + " " + much +
                               " in " + when + others + ".");
    f.measured = much;
    f.expected = "skin that follows its bones";
    for (const prepare::SkinFault& one : *state.skin_faults) f.place.marks_m.push_back(one.rest_m);
    f.mends.push_back(stepMend(name, "smooth_weights", Json{{"rounds", 4.0}, {"percent", 50.0}},
                               "Smooth all weights; look what it does"));
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
      said.push_back(base::countText(stray.size(), "vertex follows", "vertices follow") + " bones far away");
    if (!islands.empty())
      said.push_back(base::countText(islands.size(), "vertex follows", "vertices follow") +
                     " a bone that nothing beside does");
    Finding f = aboutModel(context, row, name, base::listText(said) + " in " + name + ".");
    f.measured = base::countText(stray.size() + islands.size(), "vertex", "vertices");
    f.expected = "bones nearby";
    constexpr size_t kMost = 200;
    for (const auto* list : {&state.weight_faults->stray, &state.weight_faults->islands})
      for (const auto& one : *list)
        if (f.place.marks_m.size() < kMost) f.place.marks_m.push_back(one.place_m);
    f.mends.push_back(stepOrEditMend(name, "drop_loose_weights", Json{{"skeleton", kind.skeleton}},
                                     "Let go of those bones"));
    out.push_back(std::move(f));
  });
}

void checkLopsidedWeights(const Context& context, const CheckRow& row, Findings& out) {
  eachKindModel(context, [&](const std::string& name, const mod::ModelDoc&, const ModelState& state,
                             const rulebook::Kind& kind) {
    // A few vertices on the middle line are nobody's trouble.
    if (!state.weight_faults || state.weight_faults->lopsided * 50 <= state.weight_faults->mirrored) return;
    const uint64_t count = state.weight_faults->lopsided;
    Finding f = aboutModel(context, row, name,
                           base::countText(count, "vertex follows", "vertices follow") +
                               " other bones than the mirror image on the other side of " + name + ".");
    f.measured = base::countText(count, "vertex", "vertices");
    f.expected = "alike on both sides";
    for (const char* from : {"left", "right"})
      f.mends.push_back(stepOrEditMend(name, "mirror_weights",
                                       Json{{"skeleton", kind.skeleton}, {"from", from}, {"most_mm", 20.0}},
                                       std::string("Take the weights of the ") + from + " for both"));
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
