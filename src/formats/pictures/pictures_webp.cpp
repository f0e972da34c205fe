// WebP, by libwebp; the first picture of a moving one is none it decodes, and says so.
#include <webp/decode.h>

#include "base/phrase.h"
#include "formats/pictures/picture_formats.h"

namespace rakugo::formats {

bool isWebp(base::ByteSpan bytes) {
  return bytes.size() >= 12 && base::loadAt<uint32_t>(bytes, 0) == 0x46464952 &&  // "RIFF"
         base::loadAt<uint32_t>(bytes, 8) == 0x50424557;                          // "WEBP"
}

base::Result<Picture> readWebp(base::ByteSpan bytes, const std::string& name, bool pixels_too,
                               const base::Limits& limits) {
  const auto* data = reinterpret_cast<const uint8_t*>(bytes.data());
  WebPBitstreamFeatures features;
  if (WebPGetFeatures(data, bytes.size(), &features) != VP8_STATUS_OK)
    return damagedPicture(name, base::phrase("its header cannot be read"));
  if (features.has_animation != 0)
    return base::Error{"picture.unknown_format", base::phrase("The picture moves, which no texture does."),
                       base::Place{name}, base::phrase("Save one of its frames as PNG.")};
  const auto width = static_cast<uint64_t>(features.width), height = static_cast<uint64_t>(features.height);
  RAKUGO_TRY(checkPictureSize(width, height, name, limits));
  Picture out{static_cast<uint32_t>(width), static_cast<uint32_t>(height), {}};
  if (!pixels_too) return out;
  out.pixels.resize(width * height * 4);
  if (WebPDecodeRGBAInto(data, bytes.size(), reinterpret_cast<uint8_t*>(out.pixels.data()), out.pixels.size(),
                         features.width * 4) == nullptr)
    return damagedPicture(name, base::phrase("its pixels cannot be read"));
  return out;
}

}  // namespace rakugo::formats
