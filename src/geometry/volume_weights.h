// First weights for a mesh that has none: how far each vertex is from each bone, through the body.
#pragma once

#include <array>
#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

#include "base/jobs.h"
#include "base/result.h"

namespace rakugo::geometry {

/// A piece of a bone, from joint to joint; metres.
struct BoneLine {
  uint32_t bone = 0;
  glm::vec3 a{0}, b{0};
};

struct VolumeWeightOptions {
  uint32_t cells = 112;  ///< along the longest side of the box, 8 to 256
  float sharpness = 4;   ///< how fast a bone loses against a nearer one: the power of the distances' ratio
  size_t most = 4;       ///< bones a vertex, 1 to 4
};

/// What one vertex follows: bones and weights that sum to one, the largest first; a weight of 0: none.
struct VertexWeights {
  std::array<uint32_t, 4> bone{0, 0, 0, 0};
  std::array<float, 4> weight{0, 0, 0, 0};
};

/// Weights of vertices by their distances to bones, measured inside the body, so that what lies close in the
/// air but far through the flesh (a hand beside a hip) does not pull. The body is filled with cells: those
/// its surface runs through and those that no way from outside reaches; distances go from cell to cell,
/// around corners. A mesh with holes is measured along its surface. Bones whose lines run mostly outside (a
/// ground bone) get nothing, unless all do. `positions`: n vertices; `corners`: 3 x m numbers below n; places
/// that are not finite get the first bone. Without bones: no result is meaningful, all weights are 0. Errors:
/// job.cancelled. Cost: bones x cells log cells, on all cores. Source: O. Dionne and M. de Lasa, "Geodesic
/// voxel binding" (2013), with our own fall-off.
base::Result<std::vector<VertexWeights>> volumeWeights(std::span<const glm::vec3> positions,
                                                       std::span<const uint32_t> corners,
                                                       std::span<const BoneLine> lines,
                                                       const VolumeWeightOptions& options = {},
                                                       base::Progress* progress = nullptr);

}  // namespace rakugo::geometry
