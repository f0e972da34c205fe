#include "formats/pictures/picture_traits.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace rakugo::formats {
namespace {

constexpr double kMostPixels = 1 << 20;
constexpr int kOpaque = 250;  // what compression makes of 255 counts as opaque

struct Texel {
  int r, g, b, a;
};

Texel texelAt(const Picture& picture, size_t x, size_t y) {
  const std::byte* p = picture.pixels.data() + (y * picture.width + x) * 4;
  const auto of = [&](size_t c) { return std::to_integer<int>(p[c]); };
  return {of(0), of(1), of(2), of(3)};
}

double signedValue(int byte) { return byte / 127.5 - 1; }

bool isDirection(const Texel& p) {
  const double x = signedValue(p.r), y = signedValue(p.g), z = signedValue(p.b);
  return z > 0 && std::abs(std::sqrt(x * x + y * y + z * z) - 1) < 0.15;
}

// Slopes of the surface along the picture's rows (to the right) and columns (downwards), when green counts
// downwards. Steep ones say nothing: there a small error of blue is a large one of the slope.
bool slopesAt(const Picture& picture, size_t x, size_t y, double& across, double& down) {
  const Texel p = texelAt(picture, x, y);
  const double nz = signedValue(p.b);
  if (nz < 0.2) return false;
  across = -signedValue(p.r) / nz;
  down = -signedValue(p.g) / nz;
  return true;
}

double greenUp(const Picture& picture, size_t step) {
  if (picture.width < 3 || picture.height < 3) return 0;
  double curl_down = 0, curl_up = 0;
  for (size_t y = 1; y + 1 < picture.height; y += step)
    for (size_t x = 1; x + 1 < picture.width; ++x) {
      std::array<double, 4> across{}, down{};
      if (!slopesAt(picture, x - 1, y, across[0], down[0]) ||
          !slopesAt(picture, x + 1, y, across[1], down[1]) ||
          !slopesAt(picture, x, y - 1, across[2], down[2]) ||
          !slopesAt(picture, x, y + 1, across[3], down[3]))
        continue;
      const double across_by_row = across[3] - across[2], down_by_column = down[1] - down[0];
      curl_down += (across_by_row - down_by_column) * (across_by_row - down_by_column);
      curl_up += (across_by_row + down_by_column) * (across_by_row + down_by_column);
    }
  const double sum = curl_down + curl_up;
  // Rounding to bytes alone makes a little of both.
  const double noise = static_cast<double>(picture.width) * static_cast<double>(picture.height) /
                       static_cast<double>(step) * 1e-4;
  return sum > noise ? (curl_down - curl_up) / sum : 0;
}

}  // namespace

PictureTraits pictureTraits(const Picture& picture) {
  PictureTraits out;
  if (picture.width == 0 || picture.height == 0) return out;
  const double all = static_cast<double>(picture.width) * static_cast<double>(picture.height);
  const auto step = static_cast<size_t>(std::max(1.0, std::ceil(all / kMostPixels)));
  size_t looked = 0, transparent = 0, directions = 0;
  const Texel first = texelAt(picture, 0, 0);
  std::array<double, 3> sum{};
  out.grey = out.uniform = true;
  const auto apart = [](int a, int b) { return std::abs(a - b); };
  for (size_t y = 0; y < picture.height; y += step)
    for (size_t x = 0; x < picture.width; ++x) {
      const Texel p = texelAt(picture, x, y);
      ++looked;
      out.least_alpha = std::min(out.least_alpha, static_cast<uint8_t>(p.a));
      if (p.a < kOpaque) ++transparent;
      sum[0] += p.r, sum[1] += p.g, sum[2] += p.b;
      if (isDirection(p)) ++directions;
      out.grey = out.grey && std::max({apart(p.r, p.g), apart(p.g, p.b), apart(p.r, p.b)}) <= 4;
      out.uniform = out.uniform && std::max({apart(p.r, first.r), apart(p.g, first.g), apart(p.b, first.b),
                                             apart(p.a, first.a)}) <= 2;
    }
  out.transparent = static_cast<double>(transparent) / static_cast<double>(looked);
  for (size_t c = 0; c < 3; ++c) out.mean[c] = static_cast<float>(sum[c] / 255 / static_cast<double>(looked));
  out.directions = static_cast<double>(directions) / static_cast<double>(looked);
  if (isNormalMap(out) && !out.uniform) out.green_up = greenUp(picture, step);
  return out;
}

bool isNormalMap(const PictureTraits& traits) { return traits.directions > 0.97 && !traits.grey; }

}  // namespace rakugo::formats
