#include "formats/pictures/outline.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace rakugo::formats {
namespace {

int valueAt(const Picture& picture, size_t at) { return std::to_integer<int>(picture.pixels[at]); }

// By pixel: how far the nearest pixel of the same row is that is seen; `most` where none is so near.
std::vector<int> alongRows(const Picture& picture, int most) {
  const int width = static_cast<int>(picture.width), height = static_cast<int>(picture.height);
  std::vector<int> out(static_cast<size_t>(width) * static_cast<size_t>(height), most);
  for (int y = 0; y < height; ++y) {
    const size_t row = static_cast<size_t>(y) * static_cast<size_t>(width);
    const auto pass = [&](int from, int to, int step) {
      int away = most;
      for (int x = from; x != to; x += step) {
        const size_t at = row + static_cast<size_t>(x);
        away = valueAt(picture, at * 4 + 3) >= 128 ? 0 : std::min(most, away + 1);
        out[at] = std::min(out[at], away);
      }
    };
    pass(0, width, 1);
    pass(width - 1, -1, -1);
  }
  return out;
}

}  // namespace

Picture outlined(const Picture& picture, double width_px, const std::array<uint8_t, 3>& color) {
  if (!(width_px > 0) || picture.width == 0 || picture.height == 0) return picture;
  const int width = static_cast<int>(picture.width), height = static_cast<int>(picture.height);
  const int reach = static_cast<int>(std::ceil(std::min(width_px, 1024.0))) + 1, far = reach + 1;
  const std::vector<int> rows = alongRows(picture, far);
  Picture out = picture;
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      double nearest_sq = std::numeric_limits<double>::infinity();
      for (int v = std::max(0, y - reach); v <= std::min(height - 1, y + reach); ++v) {
        const int across = rows[static_cast<size_t>(v) * static_cast<size_t>(width) + static_cast<size_t>(x)];
        if (across < far)
          nearest_sq = std::min(nearest_sq, static_cast<double>(across * across + (v - y) * (v - y)));
      }
      const double line = std::clamp(width_px + 1 - std::sqrt(nearest_sq), 0.0, 1.0);
      if (line <= 0) continue;
      const size_t at = (static_cast<size_t>(y) * static_cast<size_t>(width) + static_cast<size_t>(x)) * 4;
      const double over = valueAt(picture, at + 3) / 255.0, whole = over + line * (1 - over);
      for (size_t c = 0; c < 3; ++c)
        out.pixels[at + c] = static_cast<std::byte>(
            std::lround((valueAt(picture, at + c) * over + color[c] * line * (1 - over)) / whole));
      out.pixels[at + 3] = static_cast<std::byte>(std::lround(whole * 255));
    }
  return out;
}

}  // namespace rakugo::formats
