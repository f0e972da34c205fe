// The bones of a game's skeleton as a rig, for tests of what its movements do.
#pragma once

#include <vector>

#include "rulebook/rulebook.h"
#include "support/made_rig.h"

namespace rakugo::test {

/// A bone for each of the skeleton's, where `place(bone, its place in the game)` puts it.
template <class Place>
std::vector<RigBone> gameRig(const rulebook::Skeleton& skeleton, const Place& place) {
  std::vector<RigBone> out;
  for (const rulebook::Bone& bone : skeleton.bones) {
    int parent = -1;
    for (size_t i = 0; i < out.size(); ++i)
      if (out[i].name == bone.parent) parent = static_cast<int>(i);
    out.push_back({bone.id, parent, place(bone, glm::vec3(bone.at_m[0], bone.at_m[1], bone.at_m[2]))});
  }
  return out;
}
inline std::vector<RigBone> gameRig(const rulebook::Skeleton& skeleton, float size = 1) {
  return gameRig(skeleton, [size](const rulebook::Bone&, glm::vec3 at) { return at * size; });
}

}  // namespace rakugo::test
