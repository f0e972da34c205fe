#include "formats/plain/obj.h"

#include "fuzz_text_models.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  // Whatever library it asks for, it gets its own text: that reads the MTL statements in it.
  const formats::Fetch self = [&](const std::string&) -> base::Result<base::Bytes> {
    return base::Bytes(bytes.begin(), bytes.end());
  };
  fuzz::holdModel(formats::readObj(bytes, "fuzz.obj", self, {}));
  return 0;
}
