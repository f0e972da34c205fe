#include "prepare/matching/bone_match.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <map>
#include <optional>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/edit_steps.h"
#include "prepare/matching/bone_names.h"
#include "scene/bones.h"
#include "scene/influences.h"
#include "scene/rest_pose.h"

namespace rakugo::prepare {
namespace {

using rulebook::Side;
using scene::NodeIndex;

constexpr double kNever = -1e6;
constexpr size_t kMostChildren = 8;
constexpr size_t kMostBones = 4096;  // more are no skeleton
// What it costs to leave a slot empty: as much as a bone that little speaks for.
constexpr double kMissing = 0.15, kMissingOptional = 0.05;
constexpr double kDirectChild = 0.15;  // the slot's bone hangs on its parent's bone itself

// A bone in the game's directions, lengths as shares of a person's height.
struct Place {
  float forward = 0, left = 0, up = 0;
};

struct OwnBone {
  NodeIndex node;
  int parent = -1;
  std::vector<int> children;
  int all = 1;  // bones in its subtree, itself among them
  Place at;
  std::string lower;  // its name in lower case
  BoneName name;
  bool joint = false;  // a vertex may follow it; else it only carries others
};

struct Slot {
  const rulebook::Bone* bone = nullptr;
  std::string lower;  // its id in lower case
  int parent = -1;
  std::vector<int> children;
  Place at;
  std::vector<BoneName> hints;  // its title and hints, understood
  std::array<float, kBodyParts> parts{};
  double missing = 0, missing_all = 0;  // itself; with all below it
};

// What is said for a bone in a slot, and the sum of it.
struct Said {
  double total = kNever;
  float name = 0;   // -1 contradicts .. 1.2 the very name
  float place = 0;  // 0 .. 1
  bool side_by_name = false, side_against = false;
};

class Matcher {
 public:
  Matcher(const scene::Model& model, const rulebook::Skeleton& skeleton, const rulebook::Rulebook& book,
          const std::vector<std::pair<std::string, std::string>>& decided)
      : model_(model) {
    readSlots(skeleton, book);
    readBones(book);
    findSwapped();
    for (const auto& [slot, key] : decided)
      for (size_t s = 0; s < slots_.size(); ++s)
        if (slots_[s].bone->id == slot) decided_[static_cast<int>(s)] = key;
    score();
  }

  BoneMatch run() {
    BoneMatch out;
    std::vector<int> chosen = settle();
    // What faces where is known once hands and feet are; which of them is left does not matter for it.
    facing_ = facingOf(chosen);
    if (facing_ == BoneMatch::Facing::backward) {
      for (OwnBone& bone : bones_) bone.at.forward = -bone.at.forward, bone.at.left = -bone.at.left;
      findSwapped();
      score();
      chosen = settle();
    }
    out.facing = facing_;
    out.sides_swapped = swapped_;
    std::vector<bool> taken(bones_.size(), false);
    for (const int b : chosen)
      if (b >= 0) taken[static_cast<size_t>(b)] = true;
    for (size_t s = 0; s < slots_.size(); ++s) out.slots.push_back(tell(static_cast<int>(s), chosen, taken));
    for (size_t b = 0; b < bones_.size(); ++b)
      if (!taken[b] && bones_[b].joint) out.surplus.push_back(bones_[b].node);
    return out;
  }

 private:
  void readSlots(const rulebook::Skeleton& skeleton, const rulebook::Rulebook& book) {
    std::map<std::string, int> known;
    const double height = std::max(book.person_height_m, 0.01);
    for (const rulebook::Bone& bone : skeleton.bones) {
      Slot slot;
      slot.bone = &bone;
      slot.lower = base::lowerAscii(bone.id);
      slot.at = {static_cast<float>(bone.at_m[0] / height), static_cast<float>(bone.at_m[1] / height),
                 static_cast<float>(bone.at_m[2] / height)};
      slot.missing = bone.required ? kMissing : kMissingOptional;
      for (const std::string* phrase : {&bone.id, &bone.title}) slot.hints.push_back(readBonePhrase(*phrase));
      for (const std::string& hint : bone.hints) slot.hints.push_back(readBonePhrase(hint));
      // Hints are the rulebook's own words; title and id only help where there are none.
      const size_t from = bone.hints.empty() ? 0 : 2;
      for (size_t h = from; h < slot.hints.size(); ++h)
        for (size_t p = 0; p < kBodyParts; ++p)
          slot.parts[p] = std::max(slot.parts[p], slot.hints[h].parts[p]);
      if (const auto parent = known.find(bone.parent); parent != known.end()) slot.parent = parent->second;
      known[bone.id] = static_cast<int>(slots_.size());
      slots_.push_back(std::move(slot));
    }
    for (size_t s = slots_.size(); s-- > 0;) {
      slots_[s].missing_all += slots_[s].missing;
      if (slots_[s].parent >= 0) {
        Slot& parent = slots_[static_cast<size_t>(slots_[s].parent)];
        parent.missing_all += slots_[s].missing_all;
        if (parent.children.size() < kMostChildren)
          parent.children.insert(parent.children.begin(), static_cast<int>(s));
      }
    }
  }

  void readBones(const rulebook::Rulebook& book) {
    const std::vector<NodeIndex> joints = scene::usedJoints(model_);
    if (joints.empty() || joints.size() > kMostBones) return;
    std::vector<bool> is_joint(model_.nodes.size(), false);
    for (const NodeIndex joint : joints) is_joint[joint.value()] = true;
    const std::vector<bool> is_bone = scene::boneNodes(model_);
    const auto world = scene::worldMatrices(model_);
    const GameAxes axes = gameAxes(model_.frame, book);
    std::vector<int> number(model_.nodes.size(), -1);
    std::vector<std::string> names;
    for (const NodeIndex i : scene::reachedNodes(model_)) {
      if (!is_bone[i.value()]) continue;
      OwnBone bone;
      bone.node = i;
      bone.joint = is_joint[i.value()];
      const glm::vec3 at(world[i.value()][3]);
      bone.at = {glm::dot(at, axes.forward), glm::dot(at, axes.side), glm::dot(at, axes.up)};
      for (NodeIndex up = model_.node(i).parent; up.valid() && bone.parent < 0; up = model_.node(up).parent)
        bone.parent = number[up.value()];
      number[i.value()] = static_cast<int>(bones_.size());
      if (bone.parent >= 0)
        bones_[static_cast<size_t>(bone.parent)].children.push_back(static_cast<int>(bones_.size()));
      names.push_back(model_.node(i).name);
      bone.lower = base::lowerAscii(model_.node(i).name);
      bones_.push_back(std::move(bone));
    }
    for (size_t b = bones_.size(); b-- > 0;)
      if (bones_[b].parent >= 0) bones_[static_cast<size_t>(bones_[b].parent)].all += bones_[b].all;
    std::vector<BoneName> read = readBoneNames(names);
    for (size_t b = 0; b < bones_.size(); ++b) {
      bones_[b].name = std::move(read[b]);
      speaking_ += bones_[b].name.speaks() ? 1 : 0;
      sided_ += bones_[b].name.sided ? 1 : 0;
    }
    scaleToPerson(book);
  }

  std::vector<int> settle() {
    std::vector<int> chosen(slots_.size(), -1);
    if (bones_.empty() || slots_.empty()) return chosen;
    fillTables();
    trace(chosen);
    return chosen;
  }

  // The bone of the slot that means a part, on a side.
  [[nodiscard]] const OwnBone* chosenFor(const std::vector<int>& chosen, BodyPart part, Side side) const {
    const OwnBone* out = nullptr;
    float most = 0.5F;
    for (size_t s = 0; s < slots_.size(); ++s) {
      const float said = slots_[s].parts[static_cast<size_t>(part)];
      if (chosen[s] < 0 || slots_[s].bone->side != side || said <= most) continue;
      // One that means another part more is no such bone.
      if (*std::max_element(slots_[s].parts.begin(), slots_[s].parts.end()) > said) continue;
      most = said;
      out = &bones_[static_cast<size_t>(chosen[s])];
    }
    return out;
  }

  // How far a joint lies before the line from one end of a limb to the other; shares of a person's height.
  [[nodiscard]] static std::optional<float> bulge(const OwnBone* from, const OwnBone* joint,
                                                  const OwnBone* to) {
    if (from == nullptr || joint == nullptr || to == nullptr) return std::nullopt;
    const glm::vec3 a(from->at.forward, from->at.left, from->at.up),
        b(joint->at.forward, joint->at.left, joint->at.up), c(to->at.forward, to->at.left, to->at.up);
    const glm::vec3 along = c - a;
    const float length2 = glm::dot(along, along);
    if (!(length2 > 1e-6F)) return std::nullopt;
    return (b - a - along * (glm::dot(b - a, along) / length2)).x;
  }

  // Everything below a bone.
  template <class Visit>
  void eachBelow(const OwnBone& bone, const Visit& visit) const {
    std::vector<int> open = bone.children;
    while (!open.empty()) {
      const OwnBone& now = bones_[static_cast<size_t>(open.back())];
      open.pop_back();
      visit(now);
      open.insert(open.end(), now.children.begin(), now.children.end());
    }
  }

  [[nodiscard]] BoneMatch::Facing facingOf(const std::vector<int>& chosen) const {
    // Above 0: forward. Each sort of evidence counts once, as the mean of what speaks of it; at most its
    // weight.
    float told = 0;
    std::vector<float> values;
    const auto weigh = [&](float weight, float scale) {
      if (values.empty()) return;
      float mean = 0;
      for (const float v : values) mean += v / static_cast<float>(values.size());
      told += weight * std::clamp(mean / scale, -1.0F, 1.0F);
      values.clear();
    };
    const auto sides = {Side::left, Side::right};
    for (const Side side : sides)
      if (const OwnBone* foot = chosenFor(chosen, BodyPart::foot, side)) {
        float farthest = 0;
        eachBelow(*foot, [&](const OwnBone& below) {
          const float way = below.at.forward - foot->at.forward;
          if (std::abs(way) > std::abs(farthest)) farthest = way;
        });
        if (farthest != 0) values.push_back(farthest);
      }
    weigh(1.5F, 0.03F);
    for (const Side side : sides)
      if (const auto knee =
              bulge(chosenFor(chosen, BodyPart::thigh, side), chosenFor(chosen, BodyPart::shin, side),
                    chosenFor(chosen, BodyPart::foot, side)))
        values.push_back(*knee);
    weigh(0.6F, 0.01F);
    for (const Side side : sides)
      if (const auto elbow =
              bulge(chosenFor(chosen, BodyPart::upper_arm, side), chosenFor(chosen, BodyPart::forearm, side),
                    chosenFor(chosen, BodyPart::hand, side)))
        values.push_back(-*elbow);
    weigh(0.5F, 0.01F);
    if (const OwnBone* head = chosenFor(chosen, BodyPart::head, Side::centre))
      eachBelow(*head, [&](const OwnBone& below) {
        const auto& parts = below.name.parts;
        if (parts[static_cast<size_t>(BodyPart::eye)] > 0.5F ||
            parts[static_cast<size_t>(BodyPart::jaw)] > 0.5F)
          values.push_back(below.at.forward - head->at.forward);
      });
    weigh(0.8F, 0.02F);
    for (const Side side : sides)
      if (const OwnBone* hand = chosenFor(chosen, BodyPart::hand, side)) {
        float thumb = 0, others = 0;
        int thumbs = 0, fingers = 0;
        eachBelow(*hand, [&](const OwnBone& below) {
          if (below.name.parts[static_cast<size_t>(BodyPart::finger)] <= 0) return;
          (below.name.thumb ? thumb : others) += below.at.forward;
          ++(below.name.thumb ? thumbs : fingers);
        });
        if (thumbs > 0 && fingers > 0)
          values.push_back(thumb / static_cast<float>(thumbs) - others / static_cast<float>(fingers));
      }
    weigh(0.5F, 0.01F);
    constexpr float kEnough = 0.3F;
    if (std::abs(told) < kEnough) told += footOf(chosen);
    return told >= kEnough    ? BoneMatch::Facing::forward
           : told <= -kEnough ? BoneMatch::Facing::backward
                              : BoneMatch::Facing::unknown;
  }

  // Where the vertices that follow the feet lie before the ankles: a foot is longer before than behind.
  [[nodiscard]] float footOf(const std::vector<int>& chosen) const {
    std::map<uint32_t, float> ankles;  // by node, how far forward
    for (const Side side : {Side::left, Side::right})
      if (const OwnBone* foot = chosenFor(chosen, BodyPart::foot, side)) {
        ankles[foot->node.value()] = foot->at.forward;
        eachBelow(*foot, [&](const OwnBone& below) { ankles[below.node.value()] = foot->at.forward; });
      }
    if (ankles.empty() || !(height_ > 0)) return 0;
    const auto world = scene::worldMatrices(model_);
    double sum = 0;
    size_t count = 0;
    for (const NodeIndex i : scene::reachedNodes(model_)) {
      const scene::Node& node = model_.node(i);
      if (!node.mesh.valid() || !node.skin.valid()) continue;
      const auto& joints = model_.skins[node.skin.value()].joints;
      if (std::none_of(joints.begin(), joints.end(),
                       [&](NodeIndex joint) { return ankles.count(joint.value()) != 0; }))
        continue;
      const auto mesh = scene::restMesh(model_, i, world);
      const auto& stored = model_.mesh(node.mesh).primitives;
      for (size_t k = 0; k < stored.size(); ++k)
        for (size_t v = 0; v < stored[k].positions.size(); ++v)
          scene::eachInfluence(stored[k], v, [&](uint32_t joint, float weight) {
            if (weight <= 0.5F || joint >= joints.size()) return;
            const auto ankle = ankles.find(joints[joint].value());
            if (ankle == ankles.end()) return;
            sum += static_cast<double>(glm::dot(mesh->primitives[k].positions[v], forward_) / height_ -
                                       ankle->second);
            ++count;
          });
    }
    if (count < 8) return 0;
    return std::clamp(static_cast<float>(sum / static_cast<double>(count)) / 0.015F, -1.0F, 1.0F);
  }

  // The floor and the height of what the bones move, or of the bones themselves.
  void scaleToPerson(const rulebook::Rulebook& book) {
    const geometry::Bounds box = scene::boundsOf(model_);
    const GameAxes axes = gameAxes(model_.frame, book);
    float low = 1e30F, high = -1e30F;
    for (const glm::vec3& corner : {box.min, box.max}) {
      if (box.empty()) break;
      low = std::min(low, glm::dot(corner, axes.up));
      high = std::max(high, glm::dot(corner, axes.up));
    }
    if (!(high - low > 1e-6F))
      for (const OwnBone& bone : bones_) low = std::min(low, bone.at.up), high = std::max(high, bone.at.up);
    const float height = height_ = std::max(high - low, 1e-6F);
    forward_ = axes.forward;
    float middle = 0;
    for (const OwnBone& bone : bones_) middle += bone.at.left / static_cast<float>(bones_.size());
    // A little off the middle is how it stands, not which side it is on.
    if (std::abs(middle) < 0.02F * height) middle = 0;
    for (OwnBone& bone : bones_)
      bone.at = {bone.at.forward / height, (bone.at.left - middle) / height, (bone.at.up - low) / height};
  }

  void findSwapped() {
    size_t with = 0, against = 0;
    for (const OwnBone& bone : bones_) {
      if (!bone.name.sided || std::abs(bone.at.left) < 0.02F) continue;
      const bool left = bone.at.left > 0;
      ++(left == (bone.name.side == Side::left) ? with : against);
    }
    swapped_ = against > with && against >= 2;
  }

  [[nodiscard]] float nameOf(const Slot& slot, const OwnBone& bone) const {
    if (bone.lower == slot.lower) return 1.2F;
    if (bone.name.helper && !bone.name.speaks()) return -1;
    float best = 0;
    for (size_t p = 0; p < kBodyParts; ++p)
      best = std::max(best, std::min(slot.parts[p], bone.name.parts[p]));
    // The rulebook's own words, which no lexicon may know.
    for (const BoneName& hint : slot.hints)
      if (!hint.words.empty() && hint.words == bone.name.words) best = std::max(best, 1.0F);
    if (bone.name.helper) best = std::min(best * 0.4F, 0.3F);
    if (best > 0) return best;
    return bone.name.speaks() ? -1.0F : 0.0F;
  }

  // How near a bone lies to where the game has it. Arms hang in every pose another way: what counts of them
  // is how far they are from the shoulders.
  [[nodiscard]] float placeOf(const Slot& slot, const OwnBone& bone) const {
    constexpr float kShoulder = 0.82F;
    const float mirror = swapped_ ? -1.0F : 1.0F;
    const auto bell = [](float d, float width) { return std::exp(-d * d / (width * width)); };
    const float left = bone.at.left * mirror;
    const float there = bell(std::hypot(left - slot.at.left, bone.at.up - slot.at.up), 0.13F) *
                        bell((bone.at.forward - slot.at.forward) * 0.5F, 0.2F);
    if (std::abs(slot.at.left) < 0.1F || slot.at.up < 0.6F) return there;
    if (left * slot.at.left <= 0 || bone.at.up < 0.3F) return there;
    const float wanted = std::hypot(std::abs(slot.at.left), slot.at.up - kShoulder),
                has = std::hypot(std::abs(left), bone.at.up - kShoulder);
    return std::max(there, 0.92F * bell(wanted - has, 0.09F));
  }

  [[nodiscard]] Said saidOf(const Slot& slot, const OwnBone& bone) const {
    Said out;
    out.name = nameOf(slot, bone);
    out.place = placeOf(slot, bone);
    // With names, they count more than places; bodies are built in many ways.
    const bool names = speaking_ * 2 > bones_.size();
    double total = (names ? 1.2 : 0.8) * double{out.name} + (names ? 0.7 : 1.1) * double{out.place} - 0.45;
    const Side side = slot.bone->side;
    const float left = bone.at.left * (swapped_ ? -1.0F : 1.0F);
    if (bone.name.sided) {
      out.side_by_name = bone.name.side == side;
      if (side == Side::centre)
        total -= 2;
      else if (!out.side_by_name)
        total -= 4;
    } else if (side != Side::centre && sided_ > 3) {
      total -= 0.7;
    }
    if (side != Side::centre) {
      const float toward = side == Side::left ? left : -left;
      if (toward < -0.015F) {
        out.side_against = true;
        total -= 2.5;
      }
    } else if (std::abs(left) > 0.04F) {
      total -= 1.2;
    }
    if (!bone.joint) total -= slot.parent < 0 ? 0.05 : 0.5;
    out.total = total;
    return out;
  }

  void score() {
    said_.assign(slots_.size(), std::vector<Said>(bones_.size()));
    for (size_t s = 0; s < slots_.size(); ++s) {
      const auto settled = decided_.find(static_cast<int>(s));
      for (size_t b = 0; b < bones_.size(); ++b) {
        Said& said = said_[s][b] = saidOf(slots_[s], bones_[b]);
        const std::string& key = model_.node(bones_[b].node).key;
        if (settled != decided_.end()) said.total = settled->second == key ? 10 : kNever;
        // A bone that a person has given to one slot is no other's.
        for (const auto& [other, of] : decided_)
          if (other != static_cast<int>(s) && !of.empty() && of == key) said.total = kNever;
      }
    }
  }

  // The tables, by slot and bone; the last bone is the ground on which all trees of bones stand.
  //   at: the slot's bone is this one, and all below the slot lies in its branches.
  //   in: the best of the slot and all below it within this bone's subtree.
  //   shared: of the slot's children, those in a set lie in the branches of this bone.
  struct Table {
    std::vector<double> at, in;
    std::vector<std::vector<double>> shared;
  };

  [[nodiscard]] const std::vector<int>& branches(int b) const {
    return b == ground() ? roots_ : bones_[static_cast<size_t>(b)].children;
  }
  [[nodiscard]] int ground() const { return static_cast<int>(bones_.size()); }

  // The best of a set of a slot's children within the subtree of a branch. `on`: the slot's own bone is what
  // the branch hangs on.
  [[nodiscard]] double within(int s, size_t set, int branch, bool on) const {
    const Slot& slot = slots_[static_cast<size_t>(s)];
    if (!std::has_single_bit(set))
      return tables_[static_cast<size_t>(s)].shared[static_cast<size_t>(branch)][set];
    const int child = slot.children[static_cast<size_t>(std::countr_zero(set))];
    const Table& table = tables_[static_cast<size_t>(child)];
    return on ? std::max(table.in[static_cast<size_t>(branch)],
                         table.at[static_cast<size_t>(branch)] + kDirectChild)
              : table.in[static_cast<size_t>(branch)];
  }

  [[nodiscard]] double missingAll(int s, size_t set) const {
    double out = 0;
    const Slot& slot = slots_[static_cast<size_t>(s)];
    for (size_t k = 0; k < slot.children.size(); ++k)
      if ((set >> k & 1) != 0) out -= slots_[static_cast<size_t>(slot.children[k])].missing_all;
    return out;
  }

  // For every set of the slot's children, the best way to lay it into the branches of a bone; after each
  // branch, where `steps` is given.
  std::vector<double> share(int s, int b, bool on, std::vector<std::vector<double>>* steps = nullptr) const {
    const size_t sets = size_t{1} << slots_[static_cast<size_t>(s)].children.size();
    // Laid nowhere: missing with all below them.
    std::vector<double> best(sets);
    for (size_t set = 0; set < sets; ++set) best[set] = missingAll(s, set);
    if (steps != nullptr) steps->push_back(best);
    for (const int branch : branches(b)) {
      std::vector<double> next = best;
      // A branch takes no more of them than it has bones.
      std::vector<double> gain(sets, kNever);
      for (size_t sub = 1; sub < sets; ++sub)
        if (std::popcount(sub) <= bones_[static_cast<size_t>(branch)].all)
          gain[sub] = within(s, sub, branch, on);
      for (size_t set = 1; set < sets; ++set)
        for (size_t sub = set; sub > 0; sub = (sub - 1) & set)
          next[set] = std::max(next[set], best[set & ~sub] + gain[sub]);
      best = std::move(next);
      if (steps != nullptr) steps->push_back(best);
    }
    return best;
  }

  [[nodiscard]] double absent(int s, int b) const {
    const Slot& slot = slots_[static_cast<size_t>(s)];
    if (slot.children.empty()) return -slot.missing;
    const size_t all = (size_t{1} << slot.children.size()) - 1;
    if (slot.children.size() == 1)
      return -slot.missing + tables_[static_cast<size_t>(slot.children[0])].in[static_cast<size_t>(b)];
    return -slot.missing + tables_[static_cast<size_t>(s)].shared[static_cast<size_t>(b)][all];
  }

  void fillTables() {
    roots_.clear();
    tables_.clear();
    for (size_t b = 0; b < bones_.size(); ++b)
      if (bones_[b].parent < 0) roots_.push_back(static_cast<int>(b));
    tables_.resize(slots_.size());
    for (Table& table : tables_) {
      table.at.assign(bones_.size() + 1, kNever);
      table.in.assign(bones_.size() + 1, kNever);
      table.shared.resize(bones_.size() + 1);
    }
    // Children after their parents in both lists: the last come first.
    std::vector<int> order(bones_.size() + 1);
    for (int b = 0; b <= ground(); ++b) order[static_cast<size_t>(b)] = b == 0 ? ground() : b - 1;
    for (size_t i = order.size(); i-- > 0;) {
      const int b = order[i];
      for (int s = static_cast<int>(slots_.size()) - 1; s >= 0; --s) {
        Table& table = tables_[static_cast<size_t>(s)];
        const auto at = static_cast<size_t>(b);
        table.shared[at] = share(s, b, false);
        if (b != ground()) table.at[at] = said_[static_cast<size_t>(s)][at].total + share(s, b, true).back();
        double best = std::max({table.at[at], absent(s, b), -slots_[static_cast<size_t>(s)].missing_all});
        for (const int branch : branches(b)) best = std::max(best, table.in[static_cast<size_t>(branch)]);
        table.in[at] = best;
      }
    }
  }

  // What led to the best sum, from the top.
  void trace(std::vector<int>& chosen) const {
    // A slot to be found within a bone's subtree (`here`: at the bone itself), or a set of a slot's children
    // to be shared among a bone's branches.
    struct Open {
      int slot, bone;
      bool here = false, on = false;
      size_t set = 0;
    };
    std::vector<Open> open = {{0, ground()}};
    const auto shareOut = [&](const Open& now) {
      std::vector<std::vector<double>> steps;
      share(now.slot, now.bone, now.on, &steps);
      const std::vector<int>& all = branches(now.bone);
      size_t set = now.set;
      for (size_t k = all.size(); k > 0 && set != 0; --k) {
        if (steps[k][set] == steps[k - 1][set]) continue;
        const int branch = all[k - 1];
        size_t sub = set;
        while (sub > 0 && steps[k][set] != steps[k - 1][set & ~sub] + within(now.slot, sub, branch, now.on))
          sub = (sub - 1) & set;
        if (std::has_single_bit(sub)) {
          const int child =
              slots_[static_cast<size_t>(now.slot)].children[static_cast<size_t>(std::countr_zero(sub))];
          const Table& table = tables_[static_cast<size_t>(child)];
          const auto at = static_cast<size_t>(branch);
          open.push_back({child, branch, now.on && table.at[at] + kDirectChild >= table.in[at]});
        } else if (sub != 0) {
          open.push_back({now.slot, branch, false, false, sub});
        }
        set &= ~sub;
      }
    };
    while (!open.empty()) {
      const Open now = open.back();
      open.pop_back();
      if (now.set != 0) {
        shareOut(now);
        continue;
      }
      const auto at = static_cast<size_t>(now.bone);
      const Slot& slot = slots_[static_cast<size_t>(now.slot)];
      const Table& table = tables_[static_cast<size_t>(now.slot)];
      const size_t all = (size_t{1} << slot.children.size()) - 1;
      if (now.here || table.in[at] == table.at[at]) {
        chosen[static_cast<size_t>(now.slot)] = now.bone;
        shareOut({now.slot, now.bone, false, true, all});
      } else if (table.in[at] == absent(now.slot, now.bone)) {
        if (slot.children.size() == 1)
          open.push_back({slot.children[0], now.bone});
        else
          shareOut({now.slot, now.bone, false, false, all});
      } else {
        for (const int branch : branches(now.bone))
          if (table.in[static_cast<size_t>(branch)] == table.in[at]) {
            open.push_back({now.slot, branch});
            break;
          }
      }
    }
  }

  [[nodiscard]] SlotMatch tell(int s, const std::vector<int>& chosen, const std::vector<bool>& taken) const {
    const Slot& slot = slots_[static_cast<size_t>(s)];
    SlotMatch out;
    out.slot = slot.bone->id;
    out.required = slot.bone->required;
    const int b = chosen[static_cast<size_t>(s)];
    const bool settled = decided_.count(s) != 0;
    if (b < 0) {
      out.reason = settled ? base::phrase("You left it empty.")
                           : base::phrase("No bone's name or place speaks for it.");
      return out;
    }
    const OwnBone& bone = bones_[static_cast<size_t>(b)];
    const Said& said = said_[static_cast<size_t>(s)][static_cast<size_t>(b)];
    out.bone = bone.node;
    if (settled) {
      out.confidence = 1;
      out.sure = true;
      out.reason = base::phrase("You chose it.");
      return out;
    }
    const bool parent = slot.parent >= 0 && chosen[static_cast<size_t>(slot.parent)] >= 0;
    const bool same_parent = parent && bone.parent == chosen[static_cast<size_t>(slot.parent)];
    Verdict verdict{reasonsFor(slot, bone, said, same_parent),
                    0.5 * std::clamp(double{said.name}, 0.0, 1.0) + 0.25 * double{said.place} +
                        (same_parent || slot.parent < 0 ? 0.15
                         : parent                       ? 0.08
                                                        : 0) +
                        0.1,
                    said.name >= 0.75F && said.place > 0.03F};
    if (said.name > 1.1F) verdict.sure = true, verdict.value = std::max(verdict.value, 0.95);
    doubt(s, slot, said, taken, verdict);
    out.confidence = std::clamp(verdict.value, 0.0, 1.0);
    out.sure = verdict.sure && !bone.name.helper;
    out.reason = sentenceOf(verdict.reasons);
    return out;
  }

  // How surely a bone is a slot's, and why.
  struct Verdict {
    std::vector<std::string> reasons;
    double value = 0;
    bool sure = false;
  };

  static std::string sentenceOf(const std::vector<std::string>& reasons) {
    std::string out = reasons.empty() ? base::phrase("It is what is left.") : reasons[0];
    for (size_t i = 1; i < reasons.size(); ++i) out += ", " + reasons[i];
    if (!out.empty() && out[0] >= 'a' && out[0] <= 'z') out[0] = static_cast<char>(out[0] - 'a' + 'A');
    return out + (out.back() == '.' ? "" : ".");
  }

  [[nodiscard]] static std::vector<std::string> reasonsFor(const Slot& slot, const OwnBone& bone,
                                                           const Said& said, bool same_parent) {
    std::vector<std::string> reasons;
    if (said.name > 1.1F)
      reasons.emplace_back(base::phrase("it bears the game's own name"));
    else if (said.name > 0)
      reasons.push_back(base::phrase("its name says {0}", bodyPartName(loudest(slot, bone))));
    else if (said.name < 0)
      reasons.push_back(base::phrase("its name says something else"));
    if (slot.bone->side != Side::centre && said.side_by_name)
      reasons.emplace_back(slot.bone->side == Side::left ? base::phrase("and left")
                                                         : base::phrase("and right"));
    if (said.place > 0.6F)
      reasons.emplace_back(base::phrase("it lies where the game's does"));
    else if (said.place < 0.2F)
      reasons.emplace_back(base::phrase("it lies elsewhere than the game's"));
    if (same_parent) reasons.emplace_back(base::phrase("it hangs on the right bone"));
    return reasons;
  }

  // What speaks against it: another bone that could be it, and a side that is not sure.
  void doubt(int s, const Slot& slot, const Said& said, const std::vector<bool>& taken,
             Verdict& verdict) const {
    // The best of those that nobody has.
    double other = kNever;
    int rival = -1;
    for (size_t k = 0; k < bones_.size(); ++k)
      if (!taken[k] && said_[static_cast<size_t>(s)][k].total > other) {
        other = said_[static_cast<size_t>(s)][k].total;
        rival = static_cast<int>(k);
      }
    auto& [reasons, value, sure] = verdict;
    const bool sided = slot.bone->side != Side::centre;
    if (said.total - other < 0.2) {
      sure = false;
      value *= 0.6;
      reasons.push_back(base::phrase("but {0} could be it as well",
                                     model_.node(bones_[static_cast<size_t>(rival)].node).name));
    }
    if (sided && !said.side_by_name) {
      sure = false;
      value *= 0.8;
      reasons.emplace_back(facing_ == BoneMatch::Facing::unknown
                               ? base::phrase("its side is known by its place alone")
                               : base::phrase("its side is known by where the body faces"));
    }
    if (sided && (swapped_ || said.side_against)) {
      sure = false;
      value *= 0.5;
      reasons.emplace_back(facing_ == BoneMatch::Facing::unknown
                               ? base::phrase("but its name and its place say different sides")
                               : base::phrase("but its name and its body say different sides"));
    }
  }

  [[nodiscard]] static BodyPart loudest(const Slot& slot, const OwnBone& bone) {
    size_t best = 0;
    float most = -1;
    for (size_t p = 0; p < kBodyParts; ++p)
      if (const float both = std::min(slot.parts[p], bone.name.parts[p]); both > most) most = both, best = p;
    return static_cast<BodyPart>(best);
  }

  const scene::Model& model_;
  std::vector<Slot> slots_;
  std::vector<OwnBone> bones_;
  std::vector<int> roots_;
  std::map<int, std::string> decided_;
  std::vector<std::vector<Said>> said_;  // by slot and bone
  std::vector<Table> tables_;
  size_t speaking_ = 0, sided_ = 0;
  bool swapped_ = false;
  BoneMatch::Facing facing_ = BoneMatch::Facing::unknown;
  float height_ = 0;  // of a person, in the model's lengths
  glm::vec3 forward_{0};
};

}  // namespace

const SlotMatch* BoneMatch::find(const std::string& slot) const {
  const auto at =
      std::find_if(slots.begin(), slots.end(), [&](const SlotMatch& one) { return one.slot == slot; });
  return at == slots.end() ? nullptr : &*at;
}

BoneMatch matchBones(const scene::Model& model, const rulebook::Skeleton& skeleton,
                     const rulebook::Rulebook& book,
                     const std::vector<std::pair<std::string, std::string>>& decided) {
  return Matcher(model, skeleton, book, decided).run();
}

}  // namespace rakugo::prepare
