#include "formats/pictures/pictures.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  base::Limits limits;
  limits.picture_pixels = 1 << 20;  // the time of one run is bounded by the pixels it may decode
  const auto picture =
      formats::decodePicture({reinterpret_cast<const std::byte*>(data), size}, "fuzz.png", limits);
  if (picture && picture->pixels.size() != size_t{picture->width} * picture->height * 4) __builtin_trap();
  return 0;
}
