// JSON of deliveries: what a rulebook writes as the JSON itself, with placeholders in it, filled from the
// values of a mod. It is filled value by value, so that what comes out is always JSON, whatever texts a card
// holds.
#pragma once

#include "packing/delivery/placeholders.h"

namespace rakugo::packing {

/// Bounds on what filling may make.
struct FillLimits {
  size_t values = 1'000'000;
  size_t bytes = size_t{64} << 20;  ///< of texts and keys
};

/// `pattern` with every placeholder filled:
/// - a text that is nothing but one placeholder becomes its value, with its type; others are texts;
/// - keys are texts too; a member whose key ends with `?` is left out where its value is empty (null, "", []
/// or
///   {}), and `??` at the end stands for `?`;
/// - `{"each": NAME, "write": PATTERN}` becomes a list with an entry for each of that list's; names in
/// PATTERN are
///   looked up in the entry first (an entry that is no object is `{item}`), and `{number}` counts from 1;
///   with `"key": TEXT` it becomes an object with those keys; with `"where": NAME`, or `"where": NAME, "is":
///   VALUE`, entries for which that is empty or false, or another value, are passed over;
/// - `{"if": NAME, "then": PATTERN}` becomes PATTERN where that is neither empty nor false, or equals `"is"`
/// where
///   that is given; else `"else"`, or null.
/// Anything else stays as it is. Errors: those of placeholders, and place.each (no list), place.key (a key
/// twice), place.too_large; the place's path is a JSON pointer into `pattern`.
base::Result<base::Json> filledJson(const base::Json& pattern, const Scope& scope,
                                    const FillLimits& limits = {});

}  // namespace rakugo::packing
