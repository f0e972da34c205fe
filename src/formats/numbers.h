// Numbers in text, read exactly: the float nearest to what stands there, whatever the locale.
#pragma once

namespace rakugo::formats {

/// Reads a decimal number at `at` (a sign, digits, a point, an exponent; "nan", "inf" and hexadecimal are
/// none). Gives the place behind it, or null when there is no number. `out` is the float nearest to the exact
/// value, ties to even, as IEEE 754 asks for; beyond its range it is infinite. Source of the quick way:
/// Clinger, "How to read floating point numbers accurately" (1990).
const char* readFloat(const char* at, const char* end, float& out);

/// Reads a whole number with an optional sign; null when there is none or it does not fit.
const char* readInteger(const char* at, const char* end, int& out);

}  // namespace rakugo::formats
