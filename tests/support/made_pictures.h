// Pictures made in tests: of one colour, and normal maps of dented surfaces.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "formats/pictures/pictures.h"

namespace rakugo::test {

inline formats::Picture plainPicture(uint32_t side, int r, int g, int b, int a = 255) {
  formats::Picture out{side, side, base::Bytes(size_t{side} * side * 4)};
  const std::array<int, 4> values{r, g, b, a};
  for (size_t i = 0; i < out.pixels.size(); ++i) out.pixels[i] = static_cast<std::byte>(values[i % 4]);
  return out;
}

/// Writes the normal of a surface that rises by `across` to the right and by `up` up the picture.
inline void setNormal(formats::Picture& picture, size_t x, size_t y, double across, double up,
                      bool green_up) {
  const double length = std::sqrt(across * across + up * up + 1);
  const std::array<double, 3> normal{-across / length, (green_up ? -up : up) / length, 1 / length};
  for (size_t c = 0; c < 3; ++c)
    picture.pixels[(y * picture.width + x) * 4 + c] =
        static_cast<std::byte>(std::lround(std::clamp(normal[c] * 0.5 + 0.5, 0.0, 1.0) * 255));
}

/// A normal map of a dozen round bumps and dents; its slopes are worked out from the heights' formula.
inline formats::Picture dentedNormals(uint32_t side, bool green_up, unsigned seed = 1) {
  std::mt19937 random(seed);
  const auto from = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  struct Bump {
    double x, y, wide, high;
  };
  std::array<Bump, 12> bumps{};
  for (Bump& b : bumps) b = {from(0, side), from(0, side), from(0.06, 0.15) * side, from(-0.08, 0.08) * side};
  formats::Picture out{side, side, base::Bytes(size_t{side} * side * 4, std::byte{255})};
  for (size_t y = 0; y < side; ++y)
    for (size_t x = 0; x < side; ++x) {
      double across = 0, down = 0;
      for (const Bump& b : bumps) {
        const double dx = static_cast<double>(x) - b.x, dy = static_cast<double>(y) - b.y;
        const double height = b.high * std::exp(-(dx * dx + dy * dy) / (2 * b.wide * b.wide));
        across -= dx / (b.wide * b.wide) * height;
        down -= dy / (b.wide * b.wide) * height;
      }
      setNormal(out, x, y, across, -down, green_up);
    }
  return out;
}

}  // namespace rakugo::test
