#include "mod/origins.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  (void)rakugo::mod::parseOrigins({reinterpret_cast<const char*>(data), size});
  return 0;
}
