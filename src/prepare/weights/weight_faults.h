// Weights that are well formed and still wrong: of bones far away, of bones nobody beside follows, of one
// side alone.
#pragma once

#include <vector>

#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// One influence of a vertex.
struct LooseInfluence {
  scene::NodeIndex part;
  uint32_t vertex = 0;   ///< of the whole mesh
  uint32_t joint = 0;    ///< in the part's skin
  glm::vec3 place_m{0};  ///< of the vertex at rest, in the model's space
};

struct WeightFaults {
  /// Of at least a twentieth, and of a bone that runs farther than four times the nearest one's distance and
  /// a sixth of the model's height more.
  std::vector<LooseInfluence> stray;
  /// Of at least a tenth, in patches that nothing joins to the largest patch of the same bone on the same
  /// piece of the mesh.
  std::vector<LooseInfluence> islands;
  uint64_t mirrored =
      0;  ///< vertices that have a partner on the other side, within a thousandth of the height
  uint64_t lopsided =
      0;  ///< of those, that follow other bones than the partner's mirror image by a fifth or more
};

/// Looks at all reached skinned parts. Sides are those of bones that bear the game's names; nothing is
/// lopsided where there are none, or where fewer than half of the vertices have a partner. Cost: linear, and
/// vertices with far bones times bones.
WeightFaults weightFaults(const scene::Model& model, const rulebook::Skeleton& skeleton,
                          const rulebook::Rulebook& book);

/// Takes stray influences and islands away; what stays sums to one. A vertex always keeps its largest
/// influence. Returns how many vertices changed.
uint64_t dropLooseWeights(scene::Model& model, const rulebook::Skeleton& skeleton,
                          const rulebook::Rulebook& book);

/// Bones that are each other's mirror image in the game, by their places at rest, and bear its names.
std::vector<std::pair<scene::NodeIndex, scene::NodeIndex>> mirrorPairs(const scene::Model& model,
                                                                       const rulebook::Skeleton& skeleton);

}  // namespace rakugo::prepare
