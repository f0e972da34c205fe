// A hand, a foot or the head pulled somewhere, and the limb bends after it.
#pragma once

#include <cstdint>
#include <vector>

#include "prepare/movement/retarget.h"

namespace rakugo::prepare {

/// In place of a chain: the hips, the bone that legs hang on. They are moved, and feet stay where they are.
inline constexpr size_t kPullHips = SIZE_MAX;

/// Where the last bone of one of the skeleton's chains is to come, or the hips; the model's space.
struct Pull {
  size_t chain = 0;
  glm::vec3 target_m{0};
};

/// Chains whose ends can be pulled: those of which the model has at least two bones.
std::vector<size_t> chainsToPull(const SlotBones& bones, const rulebook::Skeleton& skeleton);

/// The bone that the chains which stand on the ground hang on; invalid where the model has none.
scene::NodeIndex hipsOf(const SlotBones& bones, const rulebook::Skeleton& skeleton);

/// The last bone of a chain that the model has; invalid where it has none.
scene::NodeIndex endOfChain(const SlotBones& bones, const rulebook::Skeleton& skeleton, size_t chain);

/// Bends the model's limbs so that the ends of pulled chains come to their targets, or as near as they reach.
/// Of a chain of four or fewer, the last three bones are a limb, which bends to the side that the game's own
/// does; longer ones (a back) turn at each joint by at most what the rulebook lets the bone, else `most_rad`.
/// Other bones keep their placement against their parents, ends their turns in the model's space.
scene::Pose pulled(const scene::Model& model, const Retarget& retarget, const rulebook::Skeleton& skeleton,
                   scene::Pose pose, const std::vector<Pull>& pulls, float most_rad = 0.6F);

}  // namespace rakugo::prepare
