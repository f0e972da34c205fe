// Room for large lists.
#pragma once

#include <cstddef>
#include <vector>

namespace rakugo::base {

/// Asks the system for large pages in memory that has not been written to yet, where the block is long enough
/// to gain by it: the first write to each page costs more than the data written. Changes no content.
void preferLargePages(void* begin, size_t bytes);

/// A list that is about to be filled with `count` values, in one go.
template <class T>
void reserveLarge(std::vector<T>& list, size_t count) {
  list.reserve(count);
  preferLargePages(list.data(), count * sizeof(T));
}

}  // namespace rakugo::base
