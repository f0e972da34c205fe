// What counts as good and what as wrong, where a check and the window both have to say it: of one moment of a
// movement, and of a block in the game's grid.
#pragma once

#include <array>
#include <vector>

#include "prepare/movement/pose_tests.h"
#include "rulebook/rulebook.h"

namespace rakugo::check {

/// How far the end of a chain (a hand, a foot, a head) may be turned off in the game's movements.
inline constexpr double kMostTurnedOff_deg = 20;
/// How far a bone that stands on the floor may be above or below where it should be.
inline constexpr double kMostOffFloor_m = 0.03;

/// What is wrong in one moment. Bones are those of the moment that was looked at, which must outlive this.
struct MomentVerdict {
  std::vector<const prepare::BoneOff*> bent_back;  ///< joints that bend to the wrong side
  const prepare::BoneOff* turned_off =
      nullptr;  ///< the end of a chain that is turned off most, beyond the limit
  const prepare::BoneOff* off_floor =
      nullptr;  ///< what stands, and is farthest off the floor, beyond the limit
  [[nodiscard]] bool good() const {
    return bent_back.empty() && turned_off == nullptr && off_floor == nullptr;
  }
};
MomentVerdict verdictOf(const prepare::MomentOff& moment, const rulebook::Skeleton& skeleton);

/// One extent of a block against the game's grid.
struct GridFit {
  double extent_m = 0;
  double cells = 0;     ///< the number of whole cells that comes nearest, 1 or more
  double wanted_m = 0;  ///< the extent it should have: so many cells, or as many as are allowed
  int most = 0;         ///< cells that are allowed
  bool fits = false;    ///< whole cells to a thousandth of one, and no more than are allowed
};
/// Of the three extents along the game's forward, side and up, in metres. `grid.cell_m` > 0.
std::array<GridFit, 3> gridFit(const rulebook::Grid& grid, const glm::vec3& extents_m);

}  // namespace rakugo::check
