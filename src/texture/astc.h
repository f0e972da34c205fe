// ASTC by astcenc. Private to this library.
#pragma once

#include <cstdint>

#include "base/bytes.h"
#include "bundle/pixel_format.h"

namespace rakugo::texture {

/// One level of `width` x `height` RGBA8 pixels, and back. `format` is one of the ASTC formats.
base::Bytes encodeAstc(base::ByteSpan pixels, uint32_t width, uint32_t height, bundle::PixelFormat format,
                       bool srgb, bool quick);
base::Bytes decodeAstc(base::ByteSpan level, uint32_t width, uint32_t height, bundle::PixelFormat format,
                       bool srgb);

}  // namespace rakugo::texture
