// Pictures that a game reads with something else in each channel than glTF has.
#pragma once

#include <array>
#include <string>
#include <vector>

namespace rakugo::rulebook {

/// What a channel of a picture holds, from 0 to 1. Colours are sRGB, everything else is numbers; directions
/// go from 0 for -1 to 1 for 1, green up as in glTF 2.0; `glow`: the brightest of red, green and blue.
enum class Channel : unsigned char {
  nothing,
  red,
  green,
  blue,
  alpha,
  metal,
  roughness,
  gloss,  ///< 1 - roughness
  occlusion,
  normal_right,
  normal_up,
  normal_out,
  glow_red,
  glow_green,
  glow_blue,
  glow
};
inline constexpr std::array<const char*, 16> kChannelNames = {
    "nothing",   "red",          "green",     "blue",       "alpha",    "metal",      "roughness", "gloss",
    "occlusion", "normal_right", "normal_up", "normal_out", "glow_red", "glow_green", "glow_blue", "glow"};

/// A picture that each material is given, made of its slots.
struct PackedPicture {
  std::string id, title, help;
  std::vector<std::string> roles;  ///< of materials that get it; empty: all
  Channel r = Channel::nothing, g = Channel::nothing, b = Channel::nothing, a = Channel::nothing;
  /// For each channel what it holds where the material has no picture of it; below 0: the material's own
  /// value (its colour, metal, roughness, glow; no shade, a flat surface), 0 for `nothing`, 1 for `nothing`
  /// in alpha.
  std::array<double, 4> without{-1, -1, -1, -1};

  [[nodiscard]] std::array<Channel, 4> channels() const { return {r, g, b, a}; }
};

}  // namespace rakugo::rulebook
