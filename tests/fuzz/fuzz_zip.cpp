#include "formats/archives/zip.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const auto read = formats::readZip(std::as_bytes(std::span(data, size)), "fuzz");
  if (read) (void)formats::writeZip(*read);
  return 0;
}
