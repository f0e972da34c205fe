// Nodes that are bones: joints that parts follow, and what carries them.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// One flag a node: true for a joint of a skin that a reached part uses, and for each node without a mesh
/// above such a joint. Cost: linear.
std::vector<bool> boneNodes(const Model& model);

/// The reached bones by name; of several with one name the first in the tree, as a game finds it.
std::map<std::string, NodeIndex> bonesByName(const Model& model);

}  // namespace rakugo::scene
