#include "scene/weights.h"

#include <algorithm>
#include <cmath>

namespace rakugo::scene {
namespace {

constexpr float kSumSlack = 0.002F;

// Counts the vertices of a primitive, and notes which of the skin's joints some vertex follows.
void count(const Primitive& p, size_t joints, int limit, WeightReport& out, std::vector<uint8_t>& followed) {
  const size_t n = p.positions.size();
  out.vertices += n;
  const bool weighed = p.weights.size() == n && p.joints.size() == n;
  const bool more = p.more_weights.size() == n && p.more_joints.size() == n;
  for (size_t v = 0; v < n; ++v) {
    int influences = 0;
    float sum = 0;
    bool beyond = false;
    const auto add = [&](const glm::vec4& weights, const glm::u16vec4& of) {
      for (int k = 0; k < 4; ++k) {
        if (!(weights[k] > 0)) continue;
        ++influences;
        sum += weights[k];
        if (of[k] < joints)
          followed[of[k]] = 1;
        else
          beyond = true;
      }
    };
    if (weighed) add(p.weights[v], p.joints[v]);
    if (more) add(p.more_weights[v], p.more_joints[v]);
    out.most_influences = std::max(out.most_influences, influences);
    out.without_weight += influences == 0 ? 1 : 0;
    out.sum_off += influences > 0 && !(std::abs(sum - 1) <= kSumSlack) ? 1 : 0;
    out.over_limit += limit > 0 && influences > limit ? 1 : 0;
    out.beyond += beyond ? 1 : 0;
  }
}

}  // namespace

WeightReport weightsOf(const Model& model, int limit) {
  WeightReport out;
  std::vector<uint8_t> needed(model.nodes.size(), 0);
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    if (!node.mesh.valid() || !node.skin.valid()) continue;
    const Skin& skin = model.skins[node.skin.value()];
    std::vector<uint8_t> followed(skin.joints.size(), 0);
    for (const Primitive& p : model.mesh(node.mesh).primitives)
      count(p, skin.joints.size(), limit, out, followed);
    for (size_t j = 0; j < followed.size(); ++j)
      if (followed[j] != 0) needed[skin.joints[j].value()] = 1;
  }
  // What carries a bone that is followed is needed as well: children before their parents.
  const std::vector<NodeIndex> reached = reachedNodes(model);
  for (auto i = reached.rbegin(); i != reached.rend(); ++i)
    if (const NodeIndex parent = model.node(*i).parent; needed[i->value()] != 0 && parent.valid())
      needed[parent.value()] = 1;
  for (const NodeIndex joint : usedJoints(model)) {
    if (needed[joint.value()] != 0) continue;
    out.bones_without_weight.push_back(joint);
    if (model.node(joint).children.empty()) out.end_bones.push_back(joint);
  }
  return out;
}

}  // namespace rakugo::scene
