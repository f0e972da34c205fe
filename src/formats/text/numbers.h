// Numbers in text, read exactly: the float nearest to what stands there, whatever the locale.
#pragma once

#include <bit>
#include <cstdint>
#include <cstring>

namespace rakugo::formats {

/// Reads a decimal number at `at` (a sign, digits, a point, an exponent; "nan", "inf" and hexadecimal are
/// none). Gives the place behind it, or null when there is no number. `out` is the float nearest to the exact
/// value, ties to even, as IEEE 754 asks for; beyond its range it is infinite. Source of the quick way:
/// Clinger, "How to read floating point numbers accurately" (1990).
const char* readFloat(const char* at, const char* end, float& out);

/// How many of the eight characters at `p` are digits before the first that is none, and what they say; all
/// at once, without a branch (after Lemire, "Number parsing at a gigabyte per second", 2021, section 5).
inline int leadingDigits(const char* p, uint64_t& value) {
  static_assert(std::endian::native == std::endian::little);
  uint64_t text = 0;
  std::memcpy(&text, p, 8);
  // Digits become 0..9; whatever else gets its highest bit set, and carries go to later characters only.
  const uint64_t x = text ^ 0x3030303030303030U;
  const uint64_t others = ((x + 0x7676767676767676U) | x) & 0x8080808080808080U;
  const int count = others == 0 ? 8 : std::countr_zero(others) / 8;
  // Moved up behind leading zeros.
  uint64_t v = count == 0 ? 0 : x << (64 - 8 * count);
  v = v * 10 + (v >> 8);
  value = (((v & 0x000000FF000000FFU) * 0x000F424000000064U) +
           (((v >> 16) & 0x000000FF000000FFU) * 0x0000271000000001U)) >>
          32;
  return count;
}

/// Reads a whole number with an optional sign; null when there is none or it does not fit.
const char* readInteger(const char* at, const char* end, int& out);

}  // namespace rakugo::formats
