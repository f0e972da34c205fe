// Parts that are copies of each other.
#pragma once

#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// Parts of one shape and material, however they stand; `places` carry the first part to each (the first's is
/// the identity): proper rotations and shifts of the model's space, no scale, no mirror image.
struct SameParts {
  std::vector<NodeIndex> parts;  ///< in the order of the tree; two or more
  std::vector<glm::mat4> places;
};

/// All such groups among the reached parts without bones. Copies have their vertices in one order, as
/// programs make them; two vertices count as one within `tolerance` of the part's diagonal. Cost: linear for
/// each part that is compared; parts are compared only where counts and materials agree, and no
/// more once fifty million vertices have been looked at.
std::vector<SameParts> sameParts(const Model& model, float tolerance = 1e-3F);

}  // namespace rakugo::scene
