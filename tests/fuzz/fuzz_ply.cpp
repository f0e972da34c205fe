#include "formats/plain/ply.h"

#include "fuzz_text_models.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  fuzz::holdModel(formats::readPly(bytes, "fuzz.ply", {}));
  return 0;
}
