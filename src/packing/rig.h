// What moves in a model, as a game takes it: a skeleton and its animations.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "bundle/animation_payload.h"
#include "bundle/records.h"
#include "packing/game_space.h"
#include "scene/model.h"

namespace rakugo::packing {

/// The nodes of a model that move: bones, nodes that an animation moves, and all that carry them.
struct Rig {
  std::vector<scene::NodeIndex> nodes;  ///< parents before children; at most 65,535
  std::vector<int> number;              ///< of each node of the model in `nodes`; -1: it does not move
  [[nodiscard]] bool empty() const { return nodes.empty(); }
  /// The number of the nearest node above a part, or of itself, that moves; -1: none.
  [[nodiscard]] int carrierOf(const scene::Model& model, scene::NodeIndex part) const;
  /// For each joint of a skin its number; joints that nothing reaches are the first bone.
  [[nodiscard]] std::vector<uint16_t> numbersOf(const scene::Skin& skin) const;
};
Rig rigOf(const scene::Model& model);

/// Whether an animation has a key that moves a node of the rig: what `runtimeAnimation` makes of it is not
/// empty. Stops at the first such key.
bool movesRig(const scene::Animation& animation, const Rig& rig);

/// The bones at rest, in the game's units and handedness.
bundle::SkeletonRecord skeletonRecord(const scene::Model& model, const Rig& rig, const GameSpace& space);

/// An animation as tracks by the names of nodes. Channels of nodes that the rig does not have are left out;
/// so are keys that do not come after the one before.
bundle::AnimationPayload runtimeAnimation(const scene::Model& model, const scene::Animation& animation,
                                          const Rig& rig, const GameSpace& space);

}  // namespace rakugo::packing
