// Pictures as KTX 2.0 (Khronos specification, version 2.0.3): RGBA8 with mip levels, sRGB or linear, no
// supercompression.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"

namespace rakugo::bundle {

/// A picture with all its mip levels; level 0 is the largest. Rows run top to bottom, 4 bytes a pixel.
struct Ktx2Picture {
  uint32_t width = 0, height = 0;
  bool srgb = true;                 ///< colour; false for data such as normals
  std::vector<base::Bytes> levels;  ///< level i has max(1, width >> i) x max(1, height >> i) x 4 bytes
};

base::Bytes encodeKtx2(const Ktx2Picture& picture);
/// Reads what `encodeKtx2` writes and refuses other layouts by name. Errors: bundle.picture with the offset.
base::Result<Ktx2Picture> decodeKtx2(base::ByteSpan bytes, const std::string& id);

}  // namespace rakugo::bundle
