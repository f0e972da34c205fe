#include "formats/sounds.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  base::Limits limits;
  limits.elements = 1 << 20;  // the time of one run is bounded by the samples it may decode
  const auto sound =
      formats::decodeSound({reinterpret_cast<const std::byte*>(data), size}, "fuzz.wav", limits);
  if (sound && sound->samples.size() != sound->info.frames * sound->info.channels) __builtin_trap();
  return 0;
}
