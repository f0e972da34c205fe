// The place of a finding that was set aside, as a mod keeps it.
#pragma once

#include <string>
#include <string_view>

namespace rakugo::mod {

/// What tells the place of a finding from others, for ever. Empty fields do not apply.
struct SetAsidePlace {
  std::string document;                      ///< path in the mod
  std::string model, object, source;         ///< names
  std::string part, material, field, point;  ///< keys
  std::string step;                          ///< id
  bool operator==(const SetAsidePlace&) const = default;
};

/// The fields in that order, each followed by '|': what `SetAside::place` holds. The step is left out where
/// there is none; what was set aside before steps were told apart has none.
std::string placeText(const SetAsidePlace& place);
/// Reads such a text; fields that are missing stay empty. A '|' inside a name ends the field (names of
/// documents hold none).
SetAsidePlace placeFrom(std::string_view text);

}  // namespace rakugo::mod
