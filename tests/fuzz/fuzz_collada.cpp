#include "formats/collada/collada.h"

#include "fuzz_text_models.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  // Another document that it refers to is itself again.
  const formats::Fetch self = [&](const std::string&) -> base::Result<base::Bytes> {
    return base::Bytes(bytes.begin(), bytes.end());
  };
  fuzz::holdModel(formats::readCollada(bytes, "fuzz.dae", self, {}));
  return 0;
}
