#include "base/memory.h"

#include <sys/mman.h>

#include <cstdint>

namespace rakugo::base {

void preferLargePages(void* begin, size_t bytes) {
  constexpr uintptr_t kPage = 2 << 20;
  const auto from = (reinterpret_cast<uintptr_t>(begin) + kPage - 1) / kPage * kPage,
             to = (reinterpret_cast<uintptr_t>(begin) + bytes) / kPage * kPage;
  // A refusal costs nothing but time.
  if (from < to) (void)madvise(reinterpret_cast<void*>(from), to - from, MADV_HUGEPAGE);
}

}  // namespace rakugo::base
