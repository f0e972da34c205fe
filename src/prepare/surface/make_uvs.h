// Texture coordinates made anew: surfaces unwrapped and packed.
#pragma once

#include "base/jobs.h"
#include "base/result.h"
#include "scene/model.h"

namespace rakugo::prepare {

struct UvOptions {
  scene::MeshIndex only;      ///< of one part alone; invalid: all meshes
  bool missing_only = false;  ///< of primitives that lack the set
  size_t set = 0;             ///< which coordinates are made: the first set, or the second for baked light
  uint32_t side = 1024;       ///< pixels of the picture that is to come
  uint32_t margin = 4;        ///< pixels between islands
  double texels_per_m = 0;    ///< 0: as many as fit
};

struct UvReport {
  size_t islands = 0;
  double stretch_95 = 1;    ///< of areas, the largest of all primitives
  double filled = 0;        ///< share of the sheet that islands and margins take, the mean of all sheets
  double texels_per_m = 0;  ///< the least of all sheets
};

/// Makes texture coordinates (geometry/unwrap.h) for all primitives, those of one material on one sheet.
/// Vertices are split where islands end; tangents of the first set go. Errors: uvs.full where islands do not
/// fit at the density that is asked for, or at all; uvs.none where there is nothing to lay out;
/// job.cancelled.
base::Result<UvReport> makeUvs(scene::Model& model, const UvOptions& options,
                               const base::Progress* progress = nullptr);

}  // namespace rakugo::prepare
