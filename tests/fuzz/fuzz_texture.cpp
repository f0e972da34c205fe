// Textures of graphics cards: KTX 2.0 as a bundle holds it, and KTX 2.0 and DDS as sources, with all block
// formats decoded.
#include "bundle/ktx2.h"
#include "formats/pictures/pictures.h"
#include "texture/block_decoder.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  base::Limits limits;
  limits.picture_pixels = 1 << 20;
  (void)formats::decodePicture(bytes, "fuzz", limits);
  if (const auto picture = bundle::decodeKtx2(bytes, "fuzz"))
    if (uint64_t{picture->width} * picture->height <= limits.picture_pixels)
      (void)texture::plainPicture(*picture);
  return 0;
}
