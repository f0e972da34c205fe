#include "formats/pictures/resample.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "base/jobs.h"
#include "formats/pictures/srgb.h"

namespace rakugo::formats {
namespace {

std::byte plainByte(float v) {
  return static_cast<std::byte>(static_cast<uint8_t>(std::clamp(v, 0.0F, 1.0F) * 255 + 0.5F));
}

// Four channels as they are averaged: linear light for colour; alpha, data and directions as they are.
struct Sum {
  std::array<float, 4> v{};
};

void add(const Srgb& srgb, Sum& sum, const std::byte* pixel, float weight, PictureUse use) {
  for (size_t c = 0; c < 4; ++c) {
    sum.v[c] += weight * (use == PictureUse::color && c < 3
                              ? srgb.light(pixel[c])
                              : static_cast<float>(std::to_integer<int>(pixel[c])) / 255);
  }
}

void store(const Srgb& srgb, const Sum& sum, std::byte* pixel, PictureUse use) {
  std::array<float, 4> v = sum.v;
  if (use == PictureUse::normal) {
    const float x = v[0] * 2 - 1, y = v[1] * 2 - 1, z = v[2] * 2 - 1;
    const float length = std::sqrt(x * x + y * y + z * z);
    // Directions that cancel out point straight away from the surface.
    const bool none = length < 1e-3F;
    v[0] = none ? 0.5F : x / length * 0.5F + 0.5F;
    v[1] = none ? 0.5F : y / length * 0.5F + 0.5F;
    v[2] = none ? 1.0F : z / length * 0.5F + 0.5F;
  }
  for (size_t c = 0; c < 4; ++c)
    pixel[c] = use == PictureUse::color && c < 3 ? srgb.nearest(v[c]) : plainByte(v[c]);
}

// The pixels of a row or column that a new one takes its value from, and how much of each.
using Taps = std::vector<std::pair<uint32_t, float>>;
Taps tapsOf(uint32_t at, double scale, uint32_t limit, Resampling how) {
  const double from = at * scale, to = (at + 1) * scale;
  if (how == Resampling::pixels) return {{std::min(static_cast<uint32_t>((from + to) / 2), limit - 1), 1.0F}};
  if (to - from < 1) {  // enlarging: two nearest centres
    const double c = std::clamp((from + to) / 2 - 0.5, 0.0, static_cast<double>(limit - 1));
    const auto i = static_cast<uint32_t>(c);
    const auto f = static_cast<float>(c - i);
    Taps out{{i, 1 - f}};
    if (f > 0 && i + 1 < limit) out.push_back({i + 1, f});
    return out;
  }
  Taps out;
  for (auto i = static_cast<uint32_t>(from); i < limit && i < to; ++i) {
    const double part = std::min(to, i + 1.0) - std::max(from, static_cast<double>(i));
    if (part > 1e-9) out.push_back({i, static_cast<float>(part / (to - from))});
  }
  return out;
}

}  // namespace

PictureUse useOf(const scene::TextureSlot& slot) {
  if (slot.color) return PictureUse::color;
  return slot.use == &scene::Material::normal_texture ? PictureUse::normal : PictureUse::data;
}

Picture resized(const Picture& picture, uint32_t width, uint32_t height, PictureUse use, Resampling how) {
  Picture out{width, height, base::Bytes(size_t{width} * height * 4)};
  const double sx = static_cast<double>(picture.width) / width,
               sy = static_cast<double>(picture.height) / height;
  const Srgb& srgb = Srgb::tables();
  std::vector<Taps> columns;
  columns.reserve(width);
  for (uint32_t x = 0; x < width; ++x) columns.push_back(tapsOf(x, sx, picture.width, how));
  base::parallelFor(height, [&](size_t y) {
    const Taps rows = tapsOf(static_cast<uint32_t>(y), sy, picture.height, how);
    std::byte* to = out.pixels.data() + y * width * 4;
    for (uint32_t x = 0; x < width; ++x, to += 4) {
      const Taps& across = columns[x];
      if (rows.size() == 1 && across.size() == 1) {  // no average: the value itself
        std::memcpy(to, picture.pixels.data() + (size_t{rows[0].first} * picture.width + across[0].first) * 4,
                    4);
        continue;
      }
      Sum sum;
      for (const auto& [py, wy] : rows)
        for (const auto& [px, wx] : across)
          add(srgb, sum, picture.pixels.data() + (size_t{py} * picture.width + px) * 4, wx * wy, use);
      store(srgb, sum, to, use);
    }
  });
  return out;
}

Picture halved(const Picture& picture, PictureUse use) {
  const uint32_t w = std::max(1U, picture.width / 2), h = std::max(1U, picture.height / 2);
  Picture out{w, h, base::Bytes(size_t{w} * h * 4)};
  const std::byte* from = picture.pixels.data();
  const Srgb& srgb = Srgb::tables();
  base::parallelPieces(h, 16, [&](size_t, size_t begin, size_t end) {
    for (size_t y = begin; y < end; ++y) {
      const size_t y0 = std::min<size_t>(2 * y, picture.height - 1),
                   y1 = std::min<size_t>(2 * y + 1, picture.height - 1);
      const std::byte *upper = from + y0 * picture.width * 4, *lower = from + y1 * picture.width * 4;
      std::byte* to = out.pixels.data() + y * w * 4;
      for (uint32_t x = 0; use == PictureUse::data && x < w; ++x) {
        // Whole numbers: the mean of four bytes, halves upwards.
        const size_t x0 = size_t{std::min(2 * x, picture.width - 1)} * 4,
                     x1 = size_t{std::min(2 * x + 1, picture.width - 1)} * 4;
        for (size_t c = 0; c < 4; ++c) {
          const auto of = [&](const std::byte* row, size_t at) {
            return std::to_integer<unsigned>(row[at + c]);
          };
          to[x * 4 + c] =
              static_cast<std::byte>((of(upper, x0) + of(upper, x1) + of(lower, x0) + of(lower, x1) + 2) / 4);
        }
      }
      for (uint32_t x = 0; use != PictureUse::data && x < w; ++x, to += 4) {
        const size_t x0 = size_t{std::min(2 * x, picture.width - 1)} * 4,
                     x1 = size_t{std::min(2 * x + 1, picture.width - 1)} * 4;
        Sum sum;
        for (const std::byte* one : {upper + x0, upper + x1, lower + x0, lower + x1})
          add(srgb, sum, one, 0.25F, use);
        store(srgb, sum, to, use);
      }
    }
  });
  return out;
}

double coverage(base::ByteSpan pixels, float cutoff) {
  const auto least = static_cast<int>(std::ceil(cutoff * 255));
  size_t drawn = 0;
  for (size_t i = 3; i < pixels.size(); i += 4) drawn += std::to_integer<int>(pixels[i]) >= least ? 1 : 0;
  return pixels.empty() ? 0 : static_cast<double>(drawn) * 4 / static_cast<double>(pixels.size());
}

void keepCoverage(base::Bytes& pixels, double share, float cutoff) {
  const int least = std::clamp(static_cast<int>(std::ceil(cutoff * 255)), 1, 255);
  std::array<size_t, 256> with{};
  for (size_t i = 3; i < pixels.size(); i += 4) ++with[std::to_integer<size_t>(pixels[i])];
  // The value at which as many pixels are not below it as should be drawn.
  const double wanted = share * static_cast<double>(pixels.size() / 4);
  int threshold = least;
  double nearest = -1;
  size_t above = 0;
  for (int v = 255; v >= 1; --v) {
    above += with[static_cast<size_t>(v)];
    const double off = std::abs(static_cast<double>(above) - wanted);
    if (above > 0 && (nearest < 0 || off < nearest || (off == nearest && v >= least))) {
      nearest = off;
      threshold = v;
    }
  }
  if (nearest < 0 || threshold == least) return;
  std::array<std::byte, 256> scaled{};
  for (int v = 0; v < 256; ++v) {
    const int to = (v * least + threshold / 2) / threshold;
    scaled[static_cast<size_t>(v)] =
        static_cast<std::byte>(v >= threshold ? std::clamp(to, least, 255) : std::min(to, least - 1));
  }
  for (size_t i = 3; i < pixels.size(); i += 4) pixels[i] = scaled[std::to_integer<size_t>(pixels[i])];
}

uint32_t allowedSide(uint32_t side, uint32_t most, bool power_of_two) {
  if (most > 0) side = std::min(side, most);
  if (!power_of_two) return side;
  uint32_t p = 1;
  while (p * 2 <= side) p *= 2;
  // Nearer to the next power, as long as that is allowed.
  return side - p > 2 * p - side && (most == 0 || 2 * p <= most) ? 2 * p : p;
}

}  // namespace rakugo::formats
