// Room for large lists.
#pragma once

#include <cstddef>
#include <vector>

namespace rakugo::base {

/// Asks the system for large pages in a stretch of memory that has not been written to yet, where it is long
/// enough for that to pay; the first write to each page costs more than what is written. Changes no content.
void preferLargePages(void* begin, size_t bytes);

/// A list that is about to be filled with `count` values, in one go.
template <class T>
void reserveLarge(std::vector<T>& list, size_t count) {
  list.reserve(count);
  preferLargePages(list.data(), count * sizeof(T));
}

}  // namespace rakugo::base
