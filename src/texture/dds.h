// DirectDraw surfaces written: the header of DirectX 10 with its format numbers, levels largest first
// (Microsoft, "DDS file layout"). Reading is in formats, with the other pictures.
#pragma once

#include "base/result.h"
#include "bundle/ktx2.h"

namespace rakugo::texture {

/// The file. Errors: picture.unknown_format for a format without a DXGI number (ASTC).
base::Result<base::Bytes> encodeDds(const bundle::Ktx2Picture& picture);

}  // namespace rakugo::texture
