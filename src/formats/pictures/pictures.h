// Pictures into 8-bit RGBA: PNG, JPEG, WebP (by their libraries), TGA, KTX2 and DDS; and PNG out.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

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
  std::string format;  ///< "PNG", "JPEG", "WebP", "KTX2", "DDS", "TGA"
};

/// Size and format without decoding the pixels. Errors: picture.unknown_format, picture.damaged,
/// picture.too_large.
base::Result<PictureInfo> pictureInfo(base::ByteSpan bytes, const std::string& name,
                                      const base::Limits& limits = {});
/// The pixels. Errors as `pictureInfo`.
base::Result<Picture> decodePicture(base::ByteSpan bytes, const std::string& name,
                                    const base::Limits& limits = {});
/// The endings of the picture formats that can be read: "png", "jpg", ...
const std::vector<std::string>& pictureEndings();
/// `quick`: several times faster, and larger; for what is not shipped as it is.
enum class PngEffort : unsigned char { usual, quick };
/// A PNG of the picture. Equal pictures give equal bytes with one libpng and zlib.
base::Bytes encodePng(const Picture& picture, PngEffort effort = PngEffort::usual);

/// The formats that `encodePicture` writes: "png", "jpg", "tga", "webp".
const std::vector<std::string>& writtenPictureFormats();
/// The picture in one of them: JPEG without alpha at quality 92, the others without loss. Errors:
/// picture.unknown_format, picture.too_large where the format holds no such sides, picture.failed for a
/// picture of no pixels.
base::Result<base::Bytes> encodePicture(const Picture& picture, const std::string& format);

/// The media type of a picture by its first bytes ("image/jpeg"), or "" for one that is not known here.
std::string mediaTypeOf(base::ByteSpan bytes);

}  // namespace rakugo::formats
