// What a mod is built for, and how pictures are stored there.
#pragma once

#include <array>
#include <optional>
#include <string>

#include "bundle/pixel_format.h"

namespace rakugo::rulebook {

/// What a picture is to the game.
enum class PictureRole : unsigned char {
  color,        ///< colour whose alpha nobody looks at
  color_alpha,  ///< colour with alpha
  normal,       ///< directions
  data,         ///< numbers in several channels: metal and roughness
  gray,         ///< numbers in red alone: occlusion
  pixels        ///< pixel art, looked up without blending
};
inline constexpr std::array<const char*, 6> kPictureRoleNames = {"color", "color_alpha", "normal",
                                                                 "data",  "gray",        "pixels"};

/// A sort of machine that the game runs on.
struct Target {
  std::string id, title, help;
  /// How pictures are stored, by their role.
  bundle::PixelFormat color = bundle::PixelFormat::rgba8, color_alpha = bundle::PixelFormat::rgba8,
                      normal = bundle::PixelFormat::rgba8, data = bundle::PixelFormat::rgba8,
                      gray = bundle::PixelFormat::rgba8, pixels = bundle::PixelFormat::rgba8;
  std::optional<bundle::PixelFormat> icon;  ///< nothing: a PNG file, as it is
  uint32_t max_side = 0;                    ///< beside that of the rulebook; 0: no other limit
  bool mip_levels = true;                   ///< all of them are stored, or the first alone
  bool supercompressed = false;             ///< pictures are zstd inside, for what is loaded piece by piece

  [[nodiscard]] bundle::PixelFormat formatOf(PictureRole role) const {
    const std::array<bundle::PixelFormat, 6> all = {color, color_alpha, normal, data, gray, pixels};
    return all[static_cast<size_t>(role)];
  }
};

}  // namespace rakugo::rulebook
