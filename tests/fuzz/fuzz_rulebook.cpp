#include "rulebook/rulebook.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  std::vector<rakugo::base::Error> mistakes;
  const auto book =
      rakugo::rulebook::parseRulebook({reinterpret_cast<const char*>(data), size}, "fuzz", &mistakes);
  // Accepted means without a mistake, refused means with at least one.
  if (book.ok() == !mistakes.empty()) __builtin_trap();
  return 0;
}
