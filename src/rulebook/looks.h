// How the looks of things change in the game: colours that players choose, and what the game turns on and
// off.
#pragma once

#include <array>
#include <string>
#include <vector>

namespace rakugo::rulebook {

/// A colour that players may choose for a role.
struct Tone {
  std::string id, title;
  std::array<float, 3> color{0.5F, 0.5F, 0.5F};  ///< sRGB
};

/// What a switch does to materials.
struct LookChange {
  std::vector<std::string> roles;       ///< ids; empty: all materials, with a role or without
  std::array<float, 3> color{1, 1, 1};  ///< the base colour is multiplied by it, in linear light
  double roughness = 1;                 ///< the same for roughness, which stays within 0 and 1
  double glow = 0;                      ///< light that it gives off, times its role's swatch
};

/// Something that the game turns on and off: rain, wear, a lamp that is lit while stopping.
struct LookSwitch {
  std::string id, title, help;
  std::vector<LookChange> changes;  ///< all that touch a material are multiplied, and glows added
  /// What all of them do together to a material of that role, or of none (""); its `roles` are empty.
  [[nodiscard]] LookChange changeOf(const std::string& role) const;
};

}  // namespace rakugo::rulebook
