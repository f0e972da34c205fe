#include "formats/text/numbers.h"

#include <algorithm>
#include <bit>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <limits>

namespace rakugo::formats {
namespace {

constexpr double kPowers[] = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                              1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};

constexpr uint64_t kWholePowers[] = {1, 10, 100, 1'000, 10'000, 100'000, 1'000'000, 10'000'000, 100'000'000};

bool isDigit(char c) { return c >= '0' && c <= '9'; }

// Digits from `p` on, put behind those of `mantissa`, which the caller knows to be few.
const char* digits(const char* p, const char* end, uint64_t& mantissa) {
  while (end - p >= 8) {
    uint64_t value = 0;
    const int count = leadingDigits(p, value);
    mantissa = mantissa * kWholePowers[count] + value;
    p += count;
    if (count < 8) return p;
  }
  for (; p != end && isDigit(*p); ++p) mantissa = mantissa * 10 + static_cast<uint64_t>(*p - '0');
  return p;
}

// The float nearest to mantissa * 10^exponent, where a double can tell it; nothing otherwise. Both factors
// are exact doubles, so the product is the nearest double; and rounding that to a float is right unless it
// lies just between two floats.
bool nearest(uint64_t mantissa, int exponent, float& out) {
  if (mantissa > (uint64_t{1} << 53) || exponent < -22 || exponent > 22) return false;
  const auto whole = static_cast<double>(mantissa);
  const double value = exponent < 0 ? whole / kPowers[-exponent] : whole * kPowers[exponent];
  constexpr uint64_t kLow = (uint64_t{1} << 29) - 1, kHalf = uint64_t{1} << 28;
  const bool between = (std::bit_cast<uint64_t>(value) & kLow) == kHalf;
  if (between || (value != 0 && value < static_cast<double>(std::numeric_limits<float>::min()))) return false;
  out = static_cast<float>(value);
  return true;
}

// Any number at all.
const char* readCarefully(const char* at, const char* end, float& out) {
  const char* p = at;
  bool negative = false;
  if (p != end && (*p == '-' || *p == '+')) negative = *p++ == '-';
  const char* digits = p;
  uint64_t mantissa = 0;
  int counted = 0, exponent = 0;
  bool any = false;
  for (; p != end && isDigit(*p); ++p) {
    any = true;
    if (counted < 19) {
      mantissa = mantissa * 10 + static_cast<uint64_t>(*p - '0');
      if (mantissa != 0) ++counted;
    } else {
      ++exponent;
      counted = 20;  // some digit was left out: only the slow way is exact
    }
  }
  if (p != end && *p == '.') {
    for (++p; p != end && isDigit(*p); ++p) {
      any = true;
      if (counted < 19) {
        mantissa = mantissa * 10 + static_cast<uint64_t>(*p - '0');
        if (mantissa != 0) ++counted;
        --exponent;
      } else {
        counted = 20;
      }
    }
  }
  if (!any) return nullptr;
  if (p != end && (*p == 'e' || *p == 'E')) {
    const char* q = p + 1;
    bool down = false;
    if (q != end && (*q == '-' || *q == '+')) down = *q++ == '-';
    if (q != end && isDigit(*q)) {
      int written = 0;
      for (; q != end && isDigit(*q); ++q) written = std::min(written * 10 + (*q - '0'), 100'000);
      exponent += down ? -written : written;
      p = q;
    }
  }
  if (float rounded = 0; counted <= 19 && nearest(mantissa, exponent, rounded)) {
    out = negative ? -rounded : rounded;
    return p;
  }
  float slow = 0;
  const auto [stop, error] = std::from_chars(digits, p, slow);
  if (error == std::errc::result_out_of_range)
    slow = exponent > 0 || counted + exponent > 0 ? std::numeric_limits<float>::infinity() : 0.0F;
  else if (error != std::errc())
    return nullptr;
  out = negative ? -slow : slow;
  return p;
}

}  // namespace

const char* readFloat(const char* at, const char* end, float& out) {
  // What nearly every number in a file looks like: few digits, perhaps a point, no exponent.
  const char* p = at;
  bool negative = false;
  if (p != end && (*p == '-' || *p == '+')) negative = *p++ == '-';
  uint64_t mantissa = 0;
  const char* begin = p;
  // Nineteen digits in all fit; a longer text is cut off here, and read carefully.
  const char* most = end - p > 20 ? p + 20 : end;
  p = digits(p, most, mantissa);
  auto count = p - begin;
  int exponent = 0;
  if (p != most && *p == '.') {
    const char* point = ++p;
    p = digits(p, most, mantissa);
    exponent = static_cast<int>(point - p);
    count += p - point;
  }
  const bool more = p != end && (p == most || *p == 'e' || *p == 'E');
  if (float rounded = 0; count > 0 && count <= 19 && !more && nearest(mantissa, exponent, rounded)) {
    out = negative ? -rounded : rounded;
    return p;
  }
  return readCarefully(at, end, out);
}

const char* readInteger(const char* at, const char* end, int& out) {
  if (at != end && *at == '+') ++at;
  const auto [stop, error] = std::from_chars(at, end, out);
  return error == std::errc() ? stop : nullptr;
}

}  // namespace rakugo::formats
