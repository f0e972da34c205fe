// The joints that a vertex follows, from both influence lists of a primitive.
#pragma once

#include "scene/model.h"

namespace rakugo::scene {

/// Largest accepted difference between 1 and the sum of the weights of a vertex: weights stored as bytes are
/// rounded by as much.
inline constexpr float kWeightSumSlack = 0.002F;

/// Calls body(joint, weight) for each influence of a vertex with a weight above 0; joints are numbers in the
/// skin's list, and may lie beyond it. Nothing where the primitive has no weights.
template <class Body>
void eachInfluence(const Primitive& p, size_t vertex, Body body) {
  const auto list = [&](const std::vector<glm::u16vec4>& joints, const std::vector<glm::vec4>& weights) {
    if (vertex >= joints.size() || vertex >= weights.size()) return;
    for (int k = 0; k < 4; ++k)
      if (weights[vertex][k] > 0) body(joints[vertex][k], weights[vertex][k]);
  };
  list(p.joints, p.weights);
  list(p.more_joints, p.more_weights);
}

}  // namespace rakugo::scene
