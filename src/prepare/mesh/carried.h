// What a surface carries beside its shape at rest, as numbers that `geometry::simplify` weighs; and how far
// off its other shapes are afterwards.
#pragma once

#include <cstdint>
#include <vector>

#include "geometry/nearest.h"
#include "geometry/simplify.h"
#include "scene/model.h"
#include "scene/whole_mesh.h"

namespace rakugo::prepare {

/// By vertex of the whole mesh `count` numbers: so scaled that a shift of the picture by a metre counts as
/// much as a metre. Skins count by mixtures of a mark for each bone, morph targets by where they put a
/// vertex.
struct Carried {
  std::vector<float> numbers;
  uint32_t count = 0;
  /// Views of both: they must outlive what is returned.
  [[nodiscard]] geometry::SimplifyInput over(const scene::WholeMesh& whole) const {
    return {whole.positions, whole.indices, numbers, count};
  }
};

struct CarriedOptions {
  bool others = true;      ///< the picture and the bones, beside morph targets
  float morph_weight = 1;  ///< what a metre in a morph target counts, in metres
};

/// The numbers of all vertices, a primitive after another. At most 16 each, however many morph targets there
/// are. Cost: linear.
Carried carriedBy(const scene::Mesh& mesh, const CarriedOptions& options);

bool hasMorphs(const scene::Mesh& mesh);

/// How far the shapes of a mesh's morph targets lie off at most, in the mesh's unit, when only some triangles
/// are left of it: `surface` is made of those, `corners` (3 x n) names theirs in `whole`, the whole of `mesh`
/// as it was before. Each vertex is held against the place that is nearest to it at rest. Cost: n log n, and
/// linear in the targets.
double morphsOff(const scene::Mesh& mesh, const scene::WholeMesh& whole, const geometry::Surface& surface,
                 const std::vector<uint32_t>& corners);

}  // namespace rakugo::prepare
