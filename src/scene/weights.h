// Counts over the weights of a model, held against a game's limits.
#pragma once

#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// Of all reached parts that have a skin.
struct WeightReport {
  uint64_t vertices = 0;
  uint64_t without_weight = 0;  ///< follow no bone at all
  uint64_t sum_off = 0;         ///< weights sum up to something else than one, by more than 0.002
  uint64_t over_limit = 0;      ///< follow more bones than the limit (where one is given)
  uint64_t beyond = 0;          ///< name a bone that the skin does not have
  int most_influences = 0;
  std::vector<NodeIndex> bones_without_weight;  ///< joints that no vertex follows and that carry no bone that
                                                ///< one does, in the model's order
  std::vector<NodeIndex> end_bones;  ///< among those: without children, at the end of a chain, as exporters
                                     ///< add them
};

/// `limit`: how many bones a vertex may follow; 0: any number. Influences with a weight of 0 or below do not
/// count. Cost: linear.
WeightReport weightsOf(const Model& model, int limit);

}  // namespace rakugo::scene
