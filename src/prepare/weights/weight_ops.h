// What vertices follow, made and changed: first weights, smoothing, the mirror image, a donor's, a bone for
// what was picked. Kernels of the steps in steps_weights.cpp.
#pragma once

#include <string>
#include <vector>

#include "base/jobs.h"
#include "base/result.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// Puts the bones of the game's skeleton into a model that has none, on this body's measure: scaled by its
/// height, in the middle of its length and width, standing on its lowest point. Returns the first of them.
scene::NodeIndex addGameBones(scene::Model& model, const rulebook::Skeleton& skeleton,
                              const rulebook::Rulebook& book);

struct FirstWeights {
  uint64_t vertices = 0;  ///< that got weights
  uint64_t bones = 0;     ///< that some vertex follows now
};
/// Gives weights to vertices that follow nothing, by how far each bone is through the body
/// (`geometry::volumeWeights`): of parts without a skin, which then wear one of `bones`; and of vertices of
/// skinned parts that have no weight. Vertices with weights keep them. Errors: job.cancelled.
base::Result<FirstWeights> firstWeights(scene::Model& model, const std::vector<scene::NodeIndex>& bones,
                                        base::Progress* progress);

/// Smooths weights: in each of `rounds` rounds (1 to 100), the weights of a vertex move the fraction `share`
/// (0 to 1) towards the mean of its neighbours' weights. Vertices at one position get equal weights. A vertex
/// keeps at most as many influences as before, but at least four. `chosen`: one flag a vertex of the part's
/// whole mesh; empty: all vertices. Returns the number of vertices changed.
uint64_t smoothWeights(scene::Model& model, scene::NodeIndex part, int rounds, float share,
                       const std::vector<float>& chosen = {});

/// Gives the vertices of one side the weights of the other, mirrored across the plane through the origin with
/// the normal `side` (the model's space; unit): of the nearest place of the surface, with bones exchanged by
/// `pairs`; a bone without a pair stands for itself. `from_left`: the side that `side` points to is the one
/// that is taken from. Vertices farther than `most_m` from the mirrored surface stay. Returns how many
/// changed.
uint64_t mirrorWeights(scene::Model& model, glm::vec3 side, bool from_left, float most_m,
                       const std::vector<std::pair<scene::NodeIndex, scene::NodeIndex>>& pairs);

struct CopiedWeights {
  uint64_t vertices = 0;  ///< that got the donor's weights
  uint64_t left = 0;      ///< farther than that from the donor
  uint64_t bones = 0;     ///< that had to be added
};
/// Gives all parts the weights of the nearest place of a donor's surface, bones found by name; bones that the
/// model lacks are added where the donor has them. The donor lies in the model's space. Vertices farther than
/// `most_m` keep what they follow; where that is nothing, they take the nearest place too.
CopiedWeights copyWeights(scene::Model& model, const scene::Model& donor, float most_m);

/// Lets vertices of a part follow a bone: `amount` (0 to 1, by vertex of the whole mesh) of their weight, the
/// rest shared as before. A part without a skin gets one. Returns how many changed.
uint64_t giveToBone(scene::Model& model, scene::NodeIndex part, scene::NodeIndex bone,
                    const std::vector<float>& amount);

}  // namespace rakugo::prepare
