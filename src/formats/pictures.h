// Pictures: PNG (libpng) and JPEG (libjpeg) into 8-bit RGBA, and PNG out.
#pragma once

#include <cstdint>
#include <string>

#include "base/bytes.h"
#include "base/limits.h"
#include "base/result.h"

namespace rakugo::formats {

/// Rows top to bottom, 4 bytes a pixel (R, G, B, A; straight alpha). Values are as stored; what they mean is
/// the user's matter.
struct Picture {
  uint32_t width = 0, height = 0;
  base::Bytes pixels;  ///< width x height x 4
};

struct PictureInfo {
  uint32_t width = 0, height = 0;
  std::string format;  ///< "PNG", "JPEG"
};

/// Size and format without decoding the pixels. Errors: picture.unknown_format, picture.damaged,
/// picture.too_large.
base::Result<PictureInfo> pictureInfo(base::ByteSpan bytes, const std::string& name,
                                      const base::Limits& limits = {});
/// The pixels. Errors as `pictureInfo`.
base::Result<Picture> decodePicture(base::ByteSpan bytes, const std::string& name,
                                    const base::Limits& limits = {});
/// A PNG of the picture. Equal pictures give equal bytes with one libpng and zlib.
base::Bytes encodePng(const Picture& picture);

}  // namespace rakugo::formats
