#include "base/sha256.h"
#include "packing/ledger.h"

#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const auto ledger = packing::parseLedger({reinterpret_cast<const char*>(data), size}, "fuzz");
  if (!ledger) return 0;
  // What was read is written and read again as the same.
  const auto again = packing::parseLedger(packing::ledgerText(*ledger), "again");
  if (!again || *again != *ledger) std::abort();
  return 0;
}
