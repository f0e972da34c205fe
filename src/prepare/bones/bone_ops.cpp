#include "prepare/bones/bone_ops.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>

#include "geometry/nearest.h"
#include "prepare/edit_steps.h"
#include "prepare/mesh/worn_meshes.h"
#include "prepare/parts/part_ops.h"
#include "prepare/weights/influence_list.h"
#include "scene/bones.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::NodeIndex;
using scene::Primitive;
using scene::Skin;

// A joint for a node in a skin, bound as it stands beside one that is bound already.
uint32_t needJoint(Skin& skin, NodeIndex node, uint32_t beside, const std::vector<glm::mat4>& world) {
  if (const uint32_t known = jointOf(skin, node); known != kNoJoint) return known;
  skin.joints.push_back(node);
  skin.inverse_bind.push_back(glm::inverse(world[node.value()]) * world[skin.joints[beside].value()] *
                              skin.inverse_bind[beside]);
  return static_cast<uint32_t>(skin.joints.size() - 1);
}

// Which of a skin's joints runs nearest by a place: along the lines from each to those that hang on it.
class Nearest {
 public:
  Nearest(const scene::Model& model, const Skin& skin, const std::vector<glm::mat4>& world,
          const std::vector<bool>& without) {
    for (uint32_t j = 0; j < skin.joints.size(); ++j) {
      if (without[skin.joints[j].value()]) continue;
      const glm::vec3 head(world[skin.joints[j].value()][3]);
      bool any = false;
      for (const NodeIndex child : model.node(skin.joints[j]).children)
        if (jointOf(skin, child) != kNoJoint && !without[child.value()]) {
          lines_.push_back({j, head, glm::vec3(world[child.value()][3])});
          any = true;
        }
      // A root that only carries the others moves nothing by itself.
      if (!any) lines_.push_back({j, head, head});
    }
  }
  [[nodiscard]] uint32_t of(glm::vec3 place) const {
    uint32_t best = kNoJoint;
    float nearest = std::numeric_limits<float>::max();
    for (const Line& line : lines_)
      if (const float away = geometry::distanceFromLine(place, line.a, line.b); away < nearest)
        nearest = away, best = line.joint;
    return best;
  }

 private:
  struct Line {
    uint32_t joint;
    glm::vec3 a, b;
  };
  std::vector<Line> lines_;
};

}  // namespace

bool hangOn(scene::Model& model, NodeIndex part, NodeIndex parent) {
  for (NodeIndex up = parent; up.valid(); up = model.node(up).parent)
    if (up == part) return false;
  const auto world = scene::worldMatrices(model);
  unlinkPart(model, part);
  model.node(part).parent = parent;
  (parent.valid() ? model.node(parent).children : model.roots).push_back(part);
  putAt(model, part, world[part.value()], world);
  return true;
}

namespace {

// By joint of a skin: who takes over. The nearest above it that stays and is a joint itself, for a group that
// only carries the bones is none; kNoJoint where there is none.
std::vector<uint32_t> heirsOf(const scene::Model& model, const Skin& skin, const std::vector<bool>& goes) {
  std::vector<uint32_t> out(skin.joints.size(), kNoJoint);
  for (size_t j = 0; j < out.size(); ++j) {
    NodeIndex up = skin.joints[j];
    while (up.valid() && (goes[up.value()] || jointOf(skin, up) == kNoJoint)) up = model.node(up).parent;
    if (up.valid()) out[j] = jointOf(skin, up);
  }
  return out;
}

// Hands the weights of bones that go to those that stay, and leaves the former out of the skin. How many
// vertices follow another bone now.
uint64_t dropJoints(scene::Model& model, scene::SkinIndex s, const std::vector<bool>& goes,
                    const std::vector<glm::mat4>& world, HeirOf heir) {
  const Skin skin = model.skins[s.value()];
  const auto count = static_cast<uint32_t>(skin.joints.size());
  const Nearest nearest(model, skin, world, goes);
  const std::vector<uint32_t> heirs = heirsOf(model, skin, goes);
  // Joints that stay, numbered anew.
  std::vector<uint32_t> number(count, kNoJoint);
  Skin next;
  next.name = skin.name;
  next.kept = skin.kept;
  for (uint32_t j = 0; j < count; ++j) {
    if (goes[skin.joints[j].value()]) continue;
    number[j] = static_cast<uint32_t>(next.joints.size());
    next.joints.push_back(skin.joints[j]);
    next.inverse_bind.push_back(skin.inverse_bind[j]);
  }
  uint64_t changed = 0;
  eachWorn(model, s, [&](Mesh& mesh, NodeIndex node) {
    const scene::Standing standing(model, node, world);
    Influences list;
    for (Primitive& p : mesh.primitives) {
      if (!weighed(p)) continue;
      for (size_t v = 0; v < p.positions.size(); ++v) {
        readInfluences(p, v, list);
        bool other = false;
        std::erase_if(list, [&](const Influence& one) { return one.joint >= count; });
        for (Influence& one : list) {
          uint32_t to = heirs[one.joint];
          if (to != one.joint && (heir == HeirOf::nearest || to == kNoJoint))
            to = nearest.of(glm::vec3(standing.of(p, v) * glm::vec4(p.positions[v], 1)));
          other = other || to != one.joint;
          one.joint = to == kNoJoint ? 0 : number[to];
        }
        if (other) gatherInfluences(list);
        changed += other ? 1 : 0;
        writeInfluences(p, v, list);
      }
    }
    return true;
  });
  model.skins[s.value()] = std::move(next);
  return changed;
}

}  // namespace

uint64_t dropBones(scene::Model& model, const std::vector<NodeIndex>& bones, HeirOf heir) {
  std::vector<bool> goes(model.nodes.size(), false);
  for (const NodeIndex bone : bones)
    if (!model.node(bone).mesh.valid()) goes[bone.value()] = true;
  // Somebody has to take over: of a skin whose bones would all go, the first stays.
  for (const Skin& skin : model.skins)
    if (!skin.joints.empty() && std::all_of(skin.joints.begin(), skin.joints.end(),
                                            [&](NodeIndex joint) { return goes[joint.value()]; }))
      goes[skin.joints[0].value()] = false;
  const auto world = scene::worldMatrices(model);
  uint64_t changed = 0;
  for (uint32_t s = 0; s < model.skins.size(); ++s)
    changed += dropJoints(model, scene::SkinIndex(s), goes, world, heir);
  for (const NodeIndex i : scene::reachedNodes(model)) {
    if (!goes[i.value()]) continue;
    NodeIndex up = model.node(i).parent;
    while (up.valid() && goes[up.value()]) up = model.node(up).parent;
    for (const NodeIndex child : std::vector<NodeIndex>(model.node(i).children))
      if (!goes[child.value()]) hangOn(model, child, up);
  }
  for (const NodeIndex i : scene::reachedNodes(model))
    if (goes[i.value()]) unlinkPart(model, i);
  for (scene::Animation& animation : model.animations)
    std::erase_if(animation.channels,
                  [&](const scene::Channel& channel) { return goes[channel.node.value()]; });
  return changed;
}

namespace {

// Leaves of the influences of one vertex the `most` heaviest, with a sum of one. `list` is not empty; its
// weights are positive. Says in `out` what was done.
void limitInfluences(Influences& list, size_t most, bool right_sum, MendedWeights& out) {
  std::stable_sort(list.begin(), list.end(),
                   [](const Influence& a, const Influence& b) { return a.weight > b.weight; });
  float whole = 0, kept = 0;
  for (size_t k = 0; k < list.size(); ++k) {
    whole += list[k].weight;
    if (k < most) kept += list[k].weight;
  }
  if (list.size() > most) {
    ++out.over;
    out.largest_cut = std::max(out.largest_cut, 1 - kept / whole);
    list.resize(most);
  } else if (!right_sum) {
    ++out.sums;
  }
  for (Influence& one : list) one.weight /= kept;
}

// Mends the weights of one primitive; whether any changed.
bool mendPrimitive(Primitive& p, const scene::Standing& standing, const Skin& skin, const Nearest& nearest,
                   size_t most, MendedWeights& out) {
  bool any = false;
  const size_t n = p.positions.size();
  if (!weighed(p)) {
    p.joints.assign(n, glm::u16vec4(0));
    p.weights.assign(n, glm::vec4(0));
    any = n > 0;
  }
  Influences list;
  for (size_t v = 0; v < n; ++v) {
    readInfluences(p, v, list);
    float sum = 0;
    for (const Influence& one : list) sum += one.weight;
    const bool right_sum = std::abs(sum - 1) <= scene::kWeightSumSlack;
    const size_t had = list.size();
    std::erase_if(list, [&](const Influence& one) {
      return one.joint >= skin.joints.size() || !(one.weight >= kLeastWeight) || !std::isfinite(one.weight);
    });
    gatherInfluences(list);
    if (list.size() == had && right_sum && had <= most) continue;
    any = true;
    if (list.empty()) {
      ++out.without;
      list = {{nearest.of(glm::vec3(standing.of(p, v) * glm::vec4(p.positions[v], 1))), 1}};
    } else {
      limitInfluences(list, most, right_sum, out);
    }
    writeInfluences(p, v, list);
  }
  if (most <= 4 && !p.more_weights.empty()) {
    p.more_joints.clear();
    p.more_weights.clear();
    any = true;
  }
  return any;
}

}  // namespace

MendedWeights mendWeights(scene::Model& model, int most) {
  MendedWeights out;
  const auto world = scene::worldMatrices(model);
  const std::vector<bool> all_stay(model.nodes.size(), false);
  for (uint32_t s = 0; s < model.skins.size(); ++s) {
    const Skin& skin = model.skins[s];
    if (skin.joints.empty()) continue;
    const Nearest nearest(model, skin, world, all_stay);
    eachWorn(model, scene::SkinIndex(s), [&](Mesh& mesh, NodeIndex node) {
      bool any = false;
      const scene::Standing standing(model, node, world);
      for (Primitive& p : mesh.primitives)
        any = mendPrimitive(p, standing, skin, nearest, static_cast<size_t>(most), out) || any;
      return any;
    });
  }
  return out;
}

glm::quat slotTurn(const rulebook::Bone& bone) {
  return glm::normalize(glm::quat(static_cast<float>(bone.turn[3]), static_cast<float>(bone.turn[0]),
                                  static_cast<float>(bone.turn[1]), static_cast<float>(bone.turn[2])));
}

namespace {

// Rewrites the keys of all channels after the bones were turned, so that each movement stays as it was. A key
// is a place or rotation below the parent as it was: it is brought below the parent as it is now, and to the
// bone's own axes as they are now. `was` and `now`: rotations of the bones in the model's space, one a node.
void turnKeys(scene::Model& model, const std::vector<bool>& bone, const std::vector<glm::quat>& was,
              const std::vector<glm::quat>& now) {
  for (scene::Animation& animation : model.animations)
    for (scene::Channel& channel : animation.channels) {
      const NodeIndex node = channel.node, parent = model.node(node).parent;
      const glm::quat above = parent.valid() && bone[parent.value()]
                                  ? glm::conjugate(now[parent.value()]) * was[parent.value()]
                                  : glm::quat(1, 0, 0, 0);
      const glm::quat own =
          bone[node.value()] ? glm::inverse(was[node.value()]) * now[node.value()] : glm::quat(1, 0, 0, 0);
      std::vector<float>& values = channel.values;
      if (channel.path == scene::AnimatedPath::position)
        for (size_t i = 0; i + 2 < values.size(); i += 3) {
          const glm::vec3 v = above * glm::vec3(values[i], values[i + 1], values[i + 2]);
          for (int k = 0; k < 3; ++k) values[i + static_cast<size_t>(k)] = v[k];
        }
      if (channel.path == scene::AnimatedPath::turn)
        for (size_t i = 0; i + 3 < values.size(); i += 4) {
          const glm::quat q = above * glm::quat(values[i + 3], values[i], values[i + 1], values[i + 2]) * own;
          values[i] = q.x;
          values[i + 1] = q.y;
          values[i + 2] = q.z;
          values[i + 3] = q.w;
        }
    }
}

}  // namespace

StraightenedBones straightenBones(scene::Model& model, const rulebook::Skeleton* skeleton) {
  StraightenedBones out;
  const auto world = scene::worldMatrices(model);
  const std::vector<NodeIndex> reached = scene::reachedNodes(model);
  const std::vector<bool> bone = scene::boneNodes(model);
  std::vector<glm::mat4> straight = world;
  std::vector<glm::quat> turn(model.nodes.size(), glm::quat(1, 0, 0, 0));  // world, of the bones as they were
  std::vector<glm::quat> wanted(model.nodes.size(), glm::quat(1, 0, 0, 0));
  for (const NodeIndex i : reached) {
    if (!bone[i.value()]) continue;
    bool exact = true;
    const scene::Placement was = scene::placementOf(world[i.value()], exact);
    turn[i.value()] = was.turn;
    if (const rulebook::Bone* slot = skeleton != nullptr ? skeleton->findBone(model.node(i).name) : nullptr)
      wanted[i.value()] = slotTurn(*slot);
    straight[i.value()] = glm::mat4_cast(wanted[i.value()]);
    straight[i.value()][3] = world[i.value()][3];
    const double angle =
        2 * std::acos(std::min(1.0, std::abs(double{glm::dot(was.turn, wanted[i.value()])})));
    const bool scaled = glm::any(glm::greaterThan(glm::abs(was.scale - 1.0F), glm::vec3(1e-4F)));
    if (angle < 1e-4 && !scaled) continue;
    ++out.bones;
    out.largest_rad = std::max(out.largest_rad, angle);
    out.scaled = out.scaled || scaled;
  }
  if (out.bones == 0) return out;
  for (Skin& skin : model.skins)
    for (size_t j = 0; j < skin.joints.size(); ++j) {
      const size_t n = skin.joints[j].value();
      skin.inverse_bind[j] = glm::inverse(straight[n]) * world[n] * skin.inverse_bind[j];
    }
  // What hangs on a bone and is none keeps its place.
  for (const NodeIndex i : reached) {
    const NodeIndex parent = model.node(i).parent;
    if (!bone[i.value()] && !(parent.valid() && bone[parent.value()])) continue;
    putAt(model, i, straight[i.value()], straight);
  }
  turnKeys(model, bone, turn, wanted);
  return out;
}

namespace {

// Where a new bone stands between its neighbours that are there.
struct BoneGap {
  NodeIndex parent;                 // invalid: none is there
  std::vector<NodeIndex> children;  // those that are there
  glm::vec3 at{0};                  // in the model's space
  float share = 0;                  // how far along from the parent to the first child, where both are there
};

BoneGap gapFor(const scene::Model& model, const rulebook::Skeleton& skeleton, const rulebook::Bone& wanted,
               const std::map<std::string, NodeIndex>& named, const rulebook::Rulebook& book) {
  const auto boneNamed = [&](const std::string& name) {
    const auto at = named.find(name);
    return at == named.end() ? NodeIndex() : at->second;
  };
  const auto world = scene::worldMatrices(model);
  const auto placeOf = [&](NodeIndex i) { return glm::vec3(world[i.value()][3]); };
  const GameAxes axes = gameAxes(model.frame, book);
  const auto inGame = [&](const rulebook::Bone& bone) {
    return axes.forward * static_cast<float>(bone.at_m[0]) + axes.side * static_cast<float>(bone.at_m[1]) +
           axes.up * static_cast<float>(bone.at_m[2]);
  };
  BoneGap out;
  if (!wanted.parent.empty()) out.parent = boneNamed(wanted.parent);
  const rulebook::Bone* first_child = nullptr;
  for (const rulebook::Bone& bone : skeleton.bones)
    if (bone.parent == wanted.id)
      if (const NodeIndex child = boneNamed(bone.id); child.valid()) {
        out.children.push_back(child);
        if (first_child == nullptr) first_child = &bone;
      }
  if (!out.parent.valid()) return out;
  const glm::vec3 above = inGame(*skeleton.findBone(wanted.parent)), own = inGame(wanted);
  if (first_child != nullptr) {
    // As far along from the one to the other as the game has it.
    const float before = glm::distance(above, own), after = glm::distance(own, inGame(*first_child));
    out.share = before + after > 0 ? before / (before + after) : 0.5F;
    out.at = glm::mix(placeOf(out.parent), placeOf(out.children[0]), out.share);
  } else {
    // At the end of a chain: as the game has it, on this body's measure.
    const geometry::Bounds box = scene::boundsOf(model);
    const float height = std::abs(glm::dot(box.size(), axes.up));
    const float scale = box.empty() ? 1 : height / static_cast<float>(std::max(book.person_height_m, 0.01));
    out.at = placeOf(out.parent) + (own - above) * scale;
  }
  return out;
}

// Takes weights of `beside` for `joint`, a bone that stands on the line from `from` along `way`, `share` of
// it: vertices beyond it follow it.
bool shareWeights(Primitive& p, const scene::Standing& standing, uint32_t beside, uint32_t joint,
                  glm::vec3 from, glm::vec3 way, float share) {
  if (!weighed(p)) return false;
  const float length2 = glm::dot(way, way);
  bool any = false;
  Influences list;
  for (size_t v = 0; v < p.positions.size(); ++v) {
    readInfluences(p, v, list);
    const auto own =
        std::find_if(list.begin(), list.end(), [&](const Influence& one) { return one.joint == beside; });
    if (own == list.end()) continue;
    const glm::vec3 place(standing.of(p, v) * glm::vec4(p.positions[v], 1));
    const float along = glm::dot(place - from, way) / length2;
    // From one to the other over a fifth of the way, so that nothing breaks there.
    const float t = std::clamp((along - (share - 0.1F)) / 0.2F, 0.0F, 1.0F);
    const float taken = own->weight * t * t * (3 - 2 * t);
    if (!(taken >= kLeastWeight)) continue;
    own->weight -= taken;
    list.push_back({joint, taken});
    if (list.size() > 4 && p.more_weights.size() != p.positions.size()) {
      p.more_joints.assign(p.positions.size(), glm::u16vec4(0));
      p.more_weights.assign(p.positions.size(), glm::vec4(0));
    }
    std::erase_if(list, [](const Influence& one) { return !(one.weight > 0); });
    writeInfluences(p, v, list);
    any = true;
  }
  return any;
}

}  // namespace

bool addBone(scene::Model& model, const rulebook::Skeleton& skeleton, const std::string& slot,
             const rulebook::Rulebook& book) {
  const rulebook::Bone* wanted = skeleton.findBone(slot);
  const std::map<std::string, NodeIndex> named = scene::bonesByName(model);
  if (wanted == nullptr || named.count(slot) != 0) return false;
  const BoneGap gap = gapFor(model, skeleton, *wanted, named, book);
  if (!gap.parent.valid() && gap.children.empty()) return false;
  const auto world = scene::worldMatrices(model);
  const auto placeOf = [&](NodeIndex i) { return glm::vec3(world[i.value()][3]); };
  const NodeIndex bone = addPart(model, slot, gap.parent);
  glm::mat4 standing_at = glm::mat4_cast(slotTurn(*wanted));
  standing_at[3] = glm::vec4(gap.at, 1);
  putAt(model, bone, standing_at, world);
  for (const NodeIndex child : gap.children) hangOn(model, child, bone);
  const auto now = scene::worldMatrices(model);
  for (uint32_t s = 0; s < model.skins.size(); ++s) {
    const uint32_t beside = jointOf(model.skins[s], gap.parent.valid() ? gap.parent : gap.children[0]);
    if (beside == kNoJoint) continue;
    const uint32_t joint = needJoint(model.skins[s], bone, beside, now);
    // The ground moves nothing by itself; nor is there anything to share at the end of a chain.
    if (!gap.parent.valid() || gap.children.empty()) continue;
    const glm::vec3 from = placeOf(gap.parent), way = placeOf(gap.children[0]) - from;
    if (!(glm::dot(way, way) > 0)) continue;
    eachWorn(model, scene::SkinIndex(s), [&](Mesh& mesh, NodeIndex node) {
      const scene::Standing standing(model, node, now);
      bool any = false;
      for (Primitive& p : mesh.primitives)
        any = shareWeights(p, standing, beside, joint, from, way, gap.share) || any;
      return any;
    });
  }
  return true;
}

}  // namespace rakugo::prepare
