// Block-compressed levels into plain pixels: for viewing, and for machines whose graphics do not take a
// format.
#pragma once

#include <cstdint>

#include "base/bytes.h"
#include "base/result.h"
#include "bundle/ktx2.h"

namespace rakugo::texture {

/// The pixels of one level, 4 bytes a pixel, rows top to bottom. `level` must hold
/// bundle::levelBytes(format, width, height). BC1 gives its transparent pixels where a block has them. One
/// channel (BC4) is given as grey, two (BC5) as red and green with blue made as the third part of a unit
/// normal. ASTC is decoded by astcenc; `srgb` matters for its rounding alone. Any bytes are pixels: blocks
/// that the format forbids give the error colour of the specification. Source: Khronos Data Format
/// Specification 1.3, chapters 18 to 23.
base::Bytes decodeLevel(base::ByteSpan level, uint32_t width, uint32_t height, bundle::PixelFormat format,
                        bool srgb = false);

/// The picture with every level as RGBA8; one that is RGBA8 already, as it is.
bundle::Ktx2Picture plainPicture(const bundle::Ktx2Picture& picture);

}  // namespace rakugo::texture
