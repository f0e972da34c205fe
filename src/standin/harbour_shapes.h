// The harbour itself, built in code: quay, shed, boat, far shore. Metres, Z up, the quay's edge faces +X.
#pragma once

#include <array>
#include <glm/glm.hpp>
#include <string>
#include <vector>

#include "bundle/ktx2.h"
#include "bundle/mesh_payload.h"

namespace rakugo::standin {

/// A mesh of one surface.
struct HarbourPart {
  bundle::MeshPayload mesh;
  std::string surface;  ///< "stone", "planks", "roof", "plaster", "iron", "far", "cloth", "window"
  /// Of a figure: bones of the harbour's keepers that the part goes with, as it stands in the first moment of
  /// standing about; empty: none.
  std::vector<std::string> bones;
};

std::vector<HarbourPart> buildHarbour();
/// The harbour's own keeper, 1.72 m, at the origin, facing +X; in an oilskin coat, or in a jersey that fits
/// under any coat; arms hanging. Its parts go with bones.
std::vector<HarbourPart> buildPerson(bool own_coat);
/// A line of rope along +X from 0 to 1, one thick, to be scaled.
HarbourPart buildLine();
/// The picture of a surface, or an empty one. Drawn by rule, 256 x 256, tiling.
bundle::Ktx2Picture drawSurface(const std::string& surface);

inline constexpr float kWaterLevel_m = -1.35F;
inline constexpr float kQuayEdge_m = 2.95F;  ///< x of the quay's edge
/// Where bollards stand along the quay's edge: y, and x of them all.
inline constexpr std::array<float, 4> kBollards_m = {-9, -4.2F, 6, 11};
inline constexpr float kBollardLine_m = 1.95F;

}  // namespace rakugo::standin
