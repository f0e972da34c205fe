// Numbers sorted by small keys.
#pragma once

#include <algorithm>
#include <cstdint>
#include <utility>
#include <vector>

#include "base/jobs.h"
#include "base/memory.h"

namespace rakugo::geometry {

/// Values by key: those of key k are [begin(k), ends[k]) in `values`, in the order they were given in.
struct Buckets {
  std::vector<uint32_t> values, ends;
  [[nodiscard]] uint32_t begin(size_t key) const { return key == 0 ? 0 : ends[key - 1]; }
};

/// Sorts what `each` gives: each(begin, end, give) calls give(key, value) for the things [begin, end) of
/// `count`, the same whenever it is called, with keys below `keys`. Cost: linear, on all cores where there
/// are many things; four bytes a key and core.
template <class Each>
Buckets bucketsOf(size_t count, uint32_t keys, Each each) {
  constexpr size_t kMany = 1 << 17, kMostPieces = 4;  // every piece counts all keys
  const size_t size =
      std::max<size_t>(1, base::piecesOf(count, std::clamp<size_t>(count / kMany, 1, kMostPieces)));
  std::vector<std::vector<uint32_t>> next(base::piecesOf(count, size));
  // Each piece counts by itself; then it knows where it writes.
  base::parallelPieces(count, size, [&](size_t piece, size_t begin, size_t end) {
    next[piece].assign(keys, 0);
    uint32_t* const counts = next[piece].data();
    each(begin, end, [counts](uint32_t key, uint32_t) { ++counts[key]; });
  });
  Buckets out;
  out.ends.resize(keys);
  uint32_t total = 0;
  for (uint32_t key = 0; key < keys; ++key) {
    for (auto& counts : next) total += std::exchange(counts[key], total);
    out.ends[key] = total;
  }
  base::reserveLarge(out.values, total);
  out.values.resize(total);
  uint32_t* const values = out.values.data();
  base::parallelPieces(count, size, [&](size_t piece, size_t begin, size_t end) {
    uint32_t* const at = next[piece].data();
    each(begin, end, [at, values](uint32_t key, uint32_t value) { values[at[key]++] = value; });
  });
  return out;
}

}  // namespace rakugo::geometry
