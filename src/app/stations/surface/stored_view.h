// A picture as a target stores it, beside what it was made of.
#pragma once

#include "app/bench/bench_scene.h"
#include "packing/runtime.h"
#include "texture/picture_quality.h"

namespace rakugo::app {

struct StoredView {
  BenchPicture plain;   ///< the levels that are stored, as RGBA8
  BenchPicture stored;  ///< the same after the target's format; null where none was asked for
  bundle::PixelFormat format = bundle::PixelFormat::rgba8;
  uint64_t bytes = 0;               ///< in the game's memory, all levels
  texture::PictureQuality quality;  ///< of the largest level
};

/// Decodes a picture and stores it; `for_target` false: as it is, at its own size. Null where it cannot be
/// decoded. Long: encoding costs seconds for large pictures; cancelled before it is encoded, null.
std::shared_ptr<const StoredView> storedView(const base::Bytes& bytes, const packing::PictureStoring& how,
                                             rulebook::PictureRole role, bool for_target,
                                             base::Progress& progress);

}  // namespace rakugo::app
