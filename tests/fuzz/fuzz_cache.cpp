#include "bundle/stored_entry.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const auto read = bundle::decodeStoredEntry(std::as_bytes(std::span(data, size)));
  if (read && bundle::encodeStoredEntry(*read).size() != size) __builtin_trap();
  return 0;
}
