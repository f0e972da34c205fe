#include "base/json.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  if (const auto json = rakugo::base::parseJson(text, "fuzz")) {
    // What was read can be written and read again, and is the same.
    const auto again = rakugo::base::parseJson(rakugo::base::jsonText(*json), "fuzz");
    if (!again || *again != *json) __builtin_trap();
  }
  return 0;
}
