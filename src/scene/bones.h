// Nodes that are bones: joints that parts follow, and what carries them.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// A flag a node: a joint that a reached part follows, or one without a mesh that such a joint hangs on.
/// Cost: linear.
std::vector<bool> boneNodes(const Model& model);

/// The reached bones by name; of several with one name the first in the tree, as a game finds it.
std::map<std::string, NodeIndex> bonesByName(const Model& model);

}  // namespace rakugo::scene
