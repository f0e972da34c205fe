// What one vertex follows, as a list that can be changed. Internal to prepare.
#pragma once

#include <algorithm>
#include <vector>

#include "scene/influences.h"

namespace rakugo::prepare {

/// A weight below this counts as none.
inline constexpr float kLeastWeight = 0.001F;
/// No joint.
inline constexpr uint32_t kNoJoint = UINT32_MAX;

struct Influence {
  uint32_t joint;  ///< in the skin's list
  float weight;
};
using Influences = std::vector<Influence>;

/// Whether a primitive says for every vertex what it follows.
inline bool weighed(const scene::Primitive& p) {
  return p.weights.size() == p.positions.size() && p.joints.size() == p.positions.size();
}

/// All weights above 0 of a vertex.
inline void readInfluences(const scene::Primitive& p, size_t v, Influences& out) {
  out.clear();
  scene::eachInfluence(p, v, [&](uint32_t joint, float weight) { out.push_back({joint, weight}); });
}

/// Writes the largest first; at most eight, the second four only where the primitive has room for them.
inline void writeInfluences(scene::Primitive& p, size_t v, Influences& list) {
  std::stable_sort(list.begin(), list.end(),
                   [](const Influence& a, const Influence& b) { return a.weight > b.weight; });
  const bool more = p.more_weights.size() == p.positions.size();
  for (size_t k = 0; k < (more ? 8U : 4U); ++k) {
    auto& joints = k < 4 ? p.joints[v] : p.more_joints[v];
    auto& weights = k < 4 ? p.weights[v] : p.more_weights[v];
    const auto at = static_cast<int>(k % 4);
    joints[at] = static_cast<uint16_t>(k < list.size() ? list[k].joint : 0);
    weights[at] = k < list.size() ? list[k].weight : 0;
  }
}

/// Influences of one joint become one.
inline void gatherInfluences(Influences& list) {
  for (size_t i = 0; i < list.size(); ++i)
    for (size_t k = list.size() - 1; k > i; --k)
      if (list[k].joint == list[i].joint) {
        list[i].weight += list[k].weight;
        list.erase(list.begin() + static_cast<std::ptrdiff_t>(k));
      }
}

/// Adds to what a list has of a joint.
inline void addInfluence(Influences& list, uint32_t joint, float weight) {
  for (Influence& one : list)
    if (one.joint == joint) {
      one.weight += weight;
      return;
    }
  list.push_back({joint, weight});
}

/// Leaves the largest `most`, without those that count as none, and makes them sum to one. An empty list, and
/// one without any weight, stays empty.
inline void settleInfluences(Influences& list, size_t most) {
  std::erase_if(list, [](const Influence& one) { return !(one.weight >= kLeastWeight); });
  std::stable_sort(list.begin(), list.end(),
                   [](const Influence& a, const Influence& b) { return a.weight > b.weight; });
  if (list.size() > most) list.resize(most);
  float sum = 0;
  for (const Influence& one : list) sum += one.weight;
  for (Influence& one : list) one.weight /= sum;
}

/// A node's number in a skin's list; kNoJoint when it is not there.
inline uint32_t jointOf(const scene::Skin& skin, scene::NodeIndex node) {
  const auto at = std::find(skin.joints.begin(), skin.joints.end(), node);
  return at == skin.joints.end() ? kNoJoint : static_cast<uint32_t>(at - skin.joints.begin());
}

}  // namespace rakugo::prepare
