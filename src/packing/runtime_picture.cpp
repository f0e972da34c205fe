#include <algorithm>
#include <array>
#include <cmath>

#include "base/jobs.h"
#include "packing/runtime.h"

namespace rakugo::packing {
namespace {

// IEC 61966-2-1.
const std::array<float, 256>& linearTable() {
  static const std::array<float, 256> kTable = [] {
    std::array<float, 256> out{};
    for (size_t i = 0; i < 256; ++i) {
      const double s = static_cast<double>(i) / 255;
      out[i] = static_cast<float>(s <= 0.04045 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4));
    }
    return out;
  }();
  return kTable;
}

// The sRGB byte nearest to a linear value: found by the thresholds between neighbours, so that every machine
// agrees.
uint8_t srgbByte(float linear) {
  const auto& table = linearTable();
  const auto above = std::lower_bound(table.begin(), table.end(), linear);
  if (above == table.begin()) return 0;
  if (above == table.end()) return 255;
  const auto below = above - 1;
  return static_cast<uint8_t>((linear - *below < *above - linear ? below : above) - table.begin());
}

float value(const base::Bytes& pixels, size_t at, bool srgb) {
  const auto byte = std::to_integer<size_t>(pixels[at]);
  return srgb ? linearTable()[byte] : static_cast<float>(byte) / 255;
}

std::byte stored(float v, bool srgb) {
  return static_cast<std::byte>(srgb ? srgbByte(v)
                                     : static_cast<uint8_t>(std::lround(std::clamp(v, 0.0F, 1.0F) * 255)));
}

// Area-weighted resampling to a smaller or equal size, bilinear to a larger one.
base::Bytes resized(const base::Bytes& pixels, uint32_t width, uint32_t height, uint32_t to_width,
                    uint32_t to_height, bool srgb) {
  base::Bytes out(size_t{to_width} * to_height * 4);
  const double sx = static_cast<double>(width) / to_width, sy = static_cast<double>(height) / to_height;
  const auto taps = [](double from, double to, uint32_t limit,
                       std::vector<std::pair<uint32_t, float>>& list) {
    list.clear();
    if (to - from < 1) {  // enlarging: two nearest centres
      const double c = std::clamp((from + to) / 2 - 0.5, 0.0, static_cast<double>(limit - 1));
      const auto i = static_cast<uint32_t>(c);
      const auto f = static_cast<float>(c - i);
      list.push_back({i, 1 - f});
      if (f > 0 && i + 1 < limit) list.push_back({i + 1, f});
      return;
    }
    for (auto i = static_cast<uint32_t>(from); i < limit && i < to; ++i) {
      const double part = std::min(to, i + 1.0) - std::max(from, static_cast<double>(i));
      if (part > 1e-9) list.push_back({i, static_cast<float>(part / (to - from))});
    }
  };
  std::vector<std::pair<uint32_t, float>> xs, ys;
  for (uint32_t y = 0; y < to_height; ++y) {
    taps(y * sy, (y + 1) * sy, height, ys);
    for (uint32_t x = 0; x < to_width; ++x) {
      taps(x * sx, (x + 1) * sx, width, xs);
      for (size_t c = 0; c < 4; ++c) {
        float sum = 0;
        for (const auto& [py, wy] : ys)
          for (const auto& [px, wx] : xs)
            sum += value(pixels, (size_t{py} * width + px) * 4 + c, srgb && c < 3) * wx * wy;
        out[(size_t{y} * to_width + x) * 4 + c] = stored(sum, srgb && c < 3);
      }
    }
  }
  return out;
}

uint32_t allowedSide(uint32_t side, uint32_t most, bool power_of_two) {
  if (most > 0) side = std::min(side, most);
  if (!power_of_two) return side;
  uint32_t p = 1;
  while (p * 2 <= side) p *= 2;
  // Nearer to the next power, as long as that is allowed.
  return side - p > 2 * p - side && (most == 0 || 2 * p <= most) ? 2 * p : p;
}

}  // namespace

base::Bytes halved(const base::Bytes& pixels, uint32_t width, uint32_t height, bool srgb) {
  const uint32_t w = std::max(1u, width / 2), h = std::max(1u, height / 2);
  base::Bytes out(size_t{w} * h * 4);
  base::parallelFor(h, [&](size_t row) {
    const auto y = static_cast<uint32_t>(row);
    for (uint32_t x = 0; x < w; ++x) {
      const uint32_t x0 = std::min(2 * x, width - 1), x1 = std::min(2 * x + 1, width - 1);
      const uint32_t y0 = std::min(2 * y, height - 1), y1 = std::min(2 * y + 1, height - 1);
      for (size_t c = 0; c < 4; ++c) {
        const bool curve = srgb && c < 3;
        float sum = 0;
        for (const uint32_t py : {y0, y1})
          for (const uint32_t px : {x0, x1}) sum += value(pixels, (size_t{py} * width + px) * 4 + c, curve);
        out[(size_t{y} * w + x) * 4 + c] = stored(sum / 4, curve);
      }
    }
  });
  return out;
}

bundle::Ktx2Picture runtimePicture(const formats::Picture& picture, bool srgb, uint32_t max_side,
                                   bool power_of_two) {
  bundle::Ktx2Picture out;
  out.srgb = srgb;
  out.width = allowedSide(picture.width, max_side, power_of_two);
  out.height = allowedSide(picture.height, max_side, power_of_two);
  const bool fits = out.width == picture.width && out.height == picture.height;
  out.levels.push_back(
      fits ? picture.pixels
           : resized(picture.pixels, picture.width, picture.height, out.width, out.height, srgb));
  for (uint32_t w = out.width, h = out.height; w > 1 || h > 1;
       w = std::max(1u, w / 2), h = std::max(1u, h / 2))
    out.levels.push_back(halved(out.levels.back(), w, h, srgb));
  return out;
}

}  // namespace rakugo::packing
