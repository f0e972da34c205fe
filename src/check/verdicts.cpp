#include "check/verdicts.h"

#include <algorithm>
#include <cmath>

namespace rakugo::check {

using prepare::BoneOff;

MomentVerdict verdictOf(const prepare::MomentOff& moment, const rulebook::Skeleton& skeleton) {
  constexpr double kRadians = 3.14159265358979 / 180;
  MomentVerdict out;
  const auto ends = [&](const BoneOff& bone, bool planted) {
    return std::any_of(skeleton.chains.begin(), skeleton.chains.end(), [&](const rulebook::Chain& chain) {
      return (chain.plants || !planted) && !chain.bones.empty() &&
             chain.bones.back() == skeleton.bones[bone.slot].id;
    });
  };
  for (const BoneOff& bone : moment.bones) {
    if (bone.bends_back) out.bent_back.push_back(&bone);
    if (bone.turned_rad > kMostTurnedOff_deg * kRadians && ends(bone, false) &&
        (out.turned_off == nullptr || bone.turned_rad > out.turned_off->turned_rad))
      out.turned_off = &bone;
    if (std::abs(bone.risen_m) > kMostOffFloor_m && ends(bone, true) &&
        (out.off_floor == nullptr || std::abs(bone.risen_m) > std::abs(out.off_floor->risen_m)))
      out.off_floor = &bone;
  }
  return out;
}

std::array<GridFit, 3> gridFit(const rulebook::Grid& grid, const glm::vec3& extents_m) {
  // A thousandth of a cell is what a float and an exporter's rounding cost; a gap of that size is not seen.
  const double slack_m = grid.cell_m * 0.001;
  std::array<GridFit, 3> out;
  for (size_t a = 0; a < 3; ++a) {
    GridFit& fit = out[a];
    fit.extent_m = static_cast<double>(extents_m[static_cast<glm::length_t>(a)]);
    fit.cells = std::max(1.0, std::round(fit.extent_m / grid.cell_m));
    fit.most = grid.cells[a];
    fit.wanted_m = std::min<double>(fit.cells, fit.most) * grid.cell_m;
    fit.fits = std::abs(fit.extent_m - fit.cells * grid.cell_m) <= slack_m && fit.cells <= fit.most;
  }
  return out;
}

}  // namespace rakugo::check
