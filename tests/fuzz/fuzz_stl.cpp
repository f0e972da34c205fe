#include "formats/plain/stl.h"

#include "fuzz_text_models.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  fuzz::holdModel(formats::readStl(bytes, "fuzz.stl", {}));
  return 0;
}
