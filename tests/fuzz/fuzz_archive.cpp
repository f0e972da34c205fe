#include "formats/archives/archive.h"

#include "fuzz_text_models.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const auto found =
      formats::readArchivedModel(std::as_bytes(std::span(data, size)), "fuzz", formats::ReadOptions());
  if (found) fuzz::holdModel(found->read);
  if (!found && found.error().message.empty()) __builtin_trap();
  return 0;
}
