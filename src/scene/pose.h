// A model's nodes put elsewhere than at rest: by an animation, or by hand.
#pragma once

#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// Where each node stands against its parent: one placement a node of the model. Positions in metres, turns
/// unit.
using Pose = std::vector<Placement>;

/// The turn that a matrix makes, whatever it scales; unit.
glm::quat turnOf(const glm::mat4& matrix);

/// As the model stores it.
Pose restPose(const Model& model);

/// When the last key of an animation is, in seconds; 0 for one without keys.
float durationOf(const Animation& animation);

/// Puts the nodes of an animation's channels where they are at that moment; others are left as they are.
/// Before the first key and after the last the nearest one holds. Turns are blended on the shortest arc
/// (linear) or as glTF 2.0, appendix C, says (cubic) and are unit. Channels of morph weights, of nodes that
/// the pose does not have, and those whose values are too few are left out. Cost: a binary search a channel.
void poseAt(const Animation& animation, float at_s, Pose& pose);

/// What the morph targets of a node count at that moment; empty where the animation says nothing of them.
std::vector<float> morphWeightsAt(const Animation& animation, NodeIndex node, float at_s);

/// Matrices from each node's space to the model's, as `worldMatrices(model)` gives them at rest.
/// `pose` has one placement a node.
std::vector<glm::mat4> worldMatrices(const Model& model, const Pose& pose);

}  // namespace rakugo::scene
