// sRGB and light (IEC 61966-2-1), by tables: the same on every machine.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>

namespace rakugo::formats {

/// The linear light of an sRGB value, both 0 to 1.
float lightOf(double srgb);

/// The tables; made once. A loop over pixels holds a reference to them.
class Srgb {
 public:
  static const Srgb& tables();
  /// The linear light of an sRGB value, 0 to 1.
  [[nodiscard]] float light(std::byte srgb) const { return light_[std::to_integer<size_t>(srgb)]; }
  /// The sRGB value whose light is nearest, by the thresholds between neighbours; 0 below 0 and for what is
  /// no number, 255 from 1 on.
  [[nodiscard]] std::byte nearest(float light) const {
    if (!(light > 0)) return std::byte{0};
    if (light >= 1) return std::byte{255};
    size_t above = first_[static_cast<size_t>(light * kPieces)];
    while (above < 256 && light_[above] < light) ++above;
    if (above == 0) return std::byte{0};
    return static_cast<std::byte>(light - light_[above - 1] < light_[above] - light ? above - 1 : above);
  }

 private:
  Srgb();
  static constexpr size_t kPieces = 4096;
  std::array<float, 256> light_{};
  std::array<uint16_t, kPieces + 1> first_{};  ///< of each piece of 0 to 1: the first value not below it
};

}  // namespace rakugo::formats
