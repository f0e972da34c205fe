#include "scene/weights.h"

#include <algorithm>
#include <cmath>

#include "scene/influences.h"

namespace rakugo::scene {
namespace {

// Counts the vertices of a primitive, and notes which of the skin's joints some vertex follows.
void count(const Primitive& p, size_t joints, int limit, WeightReport& out, std::vector<uint8_t>& followed) {
  const size_t n = p.positions.size();
  out.vertices += n;
  for (size_t v = 0; v < n; ++v) {
    int influences = 0;
    float sum = 0;
    bool beyond = false;
    eachInfluence(p, v, [&](uint32_t joint, float weight) {
      ++influences;
      sum += weight;
      if (joint < joints)
        followed[joint] = 1;
      else
        beyond = true;
    });
    out.most_influences = std::max(out.most_influences, influences);
    out.without_weight += influences == 0 ? 1 : 0;
    out.sum_off += influences > 0 && !(std::abs(sum - 1) <= kWeightSumSlack) ? 1 : 0;
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
