// What of a model covers which region of a body.
#pragma once

#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// A region and all that covers it. An empty name: parts with a mesh that cover none.
struct RegionCover {
  std::string region;
  std::vector<NodeIndex> parts;
  uint64_t triangles = 0;
  geometry::Bounds box;  ///< in the model's space
};

/// The regions of all reached parts with a mesh, each once, in the order of their first part. Cost: linear.
std::vector<RegionCover> regionCovers(const Model& model);

}  // namespace rakugo::scene
