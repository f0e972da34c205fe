// Plain pixels into the formats of graphics cards.
#pragma once

#include "base/bytes.h"
#include "bundle/ktx2.h"

namespace rakugo::texture {

/// `quick`: many times quicker, and a decibel or two worse.
enum class BlockEffort : unsigned char { usual, quick };

/// One level of width x height RGBA8 pixels, rows top to bottom, in a format that is written. BC by
/// squish (cluster fit, or range fit), ASTC by astcenc (medium, or fast); on all cores, and the same bytes on
/// any number of them. BC1 drops alpha, BC4 keeps red, BC5 red and green.
base::Bytes encodeLevel(base::ByteSpan pixels, uint32_t width, uint32_t height, bundle::PixelFormat format,
                        bool srgb, BlockEffort effort = BlockEffort::usual);

/// The picture, which is RGBA8, with every level in that format. Where the format knows no sRGB the picture
/// is data afterwards.
bundle::Ktx2Picture encodedPicture(const bundle::Ktx2Picture& plain, bundle::PixelFormat format,
                                   BlockEffort effort = BlockEffort::usual);

}  // namespace rakugo::texture
