// Block-compressed pictures into plain pixels, for viewing. Private to this library.
#pragma once

#include <cstdint>

#include "base/bytes.h"

namespace rakugo::formats {

enum class BlockFormat : unsigned char { bc1, bc2, bc3, bc4, bc5, bc7 };

/// Bytes of one block of 4 x 4 pixels: 8 or 16.
size_t blockBytes(BlockFormat format);

/// The pixels of a picture of whole blocks, 4 bytes a pixel. `blocks` must hold ceil(width / 4) x ceil(height
/// / 4) blocks. One channel (BC4) is given as grey, two (BC5) as red and green with blue made as the third
/// part of a unit normal. Source: Khronos Data Format Specification 1.3, chapters 18 to 20.
base::Bytes decodeBlocks(base::ByteSpan blocks, uint32_t width, uint32_t height, BlockFormat format);

}  // namespace rakugo::formats
