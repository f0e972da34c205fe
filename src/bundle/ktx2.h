// Pictures as KTX 2.0 (Khronos specification, version 2.0.3): the formats of pixel_format.h that a bundle may
// hold, with mip levels, sRGB or linear, as they are or supercompressed with zstd.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"
#include "bundle/pixel_format.h"

namespace rakugo::bundle {

/// A picture with all its mip levels; level 0 is the largest. Rows run top to bottom; pixels or blocks lie
/// row by row.
struct Ktx2Picture {
  uint32_t width = 0, height = 0;
  bool srgb = true;  ///< colour; false for data such as normals, and always for formats that know no sRGB
  /// Level i has levelBytes(format, max(1, width >> i), max(1, height >> i)) bytes, never supercompressed.
  std::vector<base::Bytes> levels;
  PixelFormat format = PixelFormat::rgba8;
  bool supercompressed = false;  ///< in the file each level is one zstd frame
};

/// The file. The format must be one that is written, and sRGB only where it knows that.
base::Bytes encodeKtx2(const Ktx2Picture& picture);
/// Whether the bytes begin as a KTX 2.0 file.
bool isKtx2(base::ByteSpan bytes);
/// Reads what `encodeKtx2` writes: every field, the data format descriptor, the keys and the place of every
/// level are as the specification has them for these formats, and what differs is refused by name. Takes no
/// more memory than the levels that the header states, which fit the sides. Errors: bundle.picture with the
/// offset.
base::Result<Ktx2Picture> decodeKtx2(base::ByteSpan bytes, const std::string& id);

/// The least minor version of a bundle that a reader of this picture must know.
uint16_t minorOf(const Ktx2Picture& picture);

}  // namespace rakugo::bundle
