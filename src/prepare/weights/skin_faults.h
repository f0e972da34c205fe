// Deformation faults of a skin, found in the game's movements at the moments that the rulebook names.
#pragma once

#include <string>
#include <vector>

#include "prepare/movement/retarget.h"

namespace rakugo::prepare {

enum class SkinFaultSort : unsigned char {
  stretched,   ///< a triangle's edge becomes much longer than at rest
  collapsed,   ///< a triangle loses nearly all of its surface
  twisted,     ///< a bone is turned about its own length, and the skin at its joint is wrung thin
  left_behind  ///< a vertex stays where it is while all beside it go
};
/// "stretched", "collapsed"...
const char* sortName(SkinFaultSort sort);

struct SkinFault {
  SkinFaultSort sort = SkinFaultSort::stretched;
  size_t movement = 0;  ///< in the skeleton's list
  double at_s = 0;
  scene::NodeIndex part;
  glm::vec3 rest_m{0};   ///< where it is at rest, in the model's space
  glm::vec3 place_m{0};  ///< where it is in that moment
  /// How much: times its length, times less of its surface, times thinner, or metres left behind.
  double much = 0;
};

struct SkinFaultLimits {
  double stretch = 3;      ///< times the length
  double collapse = 25;    ///< times less surface
  double wring = 1.8;      ///< times thinner at a joint that is twisted
  double behind_m = 0.12;  ///< that a vertex lags, with all its neighbours going on
  size_t most = 10;
};

/// The worst faults over all moments, each place once (places of one sort within a twentieth of the model's
/// height are one), the worst first: by how many times it is over its limit. The model is posed as it should
/// be (`Retarget`), so that what is found is the skin's. Cost: skinning and a look at every triangle, at each
/// moment.
std::vector<SkinFault> skinFaults(const scene::Model& model, const Retarget& retarget,
                                  const rulebook::Skeleton& skeleton, const SkinFaultLimits& limits = {});

}  // namespace rakugo::prepare
