#include "formats/pictures/picture_edit.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/jobs.h"
#include "formats/pictures/srgb.h"

namespace rakugo::formats {
namespace {

constexpr size_t kRowsAPiece = 16;

template <class Change>
void eachPixel(Picture& picture, const Change& change) {
  base::parallelPieces(picture.height, kRowsAPiece, [&](size_t, size_t begin, size_t end) {
    for (size_t i = begin * picture.width; i < end * picture.width; ++i)
      change(picture.pixels.data() + i * 4);
  });
}

}  // namespace

uint64_t fillAround(Picture& picture, std::span<const uint8_t> known, uint32_t steps) {
  const int64_t w = picture.width, h = picture.height;
  std::vector<uint8_t> done(known.begin(), known.end());
  // Rings of pixels round what is known, each from the one before: breadth first.
  std::vector<uint32_t> ring, next;
  uint64_t filled = 0;
  for (uint32_t i = 0; i < done.size(); ++i)
    if (done[i] != 0) ring.push_back(i);
  for (uint32_t step = 0; !ring.empty() && (steps == 0 || step < steps); ++step) {
    next.clear();
    for (const uint32_t i : ring) {
      const int64_t x = i % w, y = i / w;
      for (int64_t dy = -1; dy <= 1; ++dy)
        for (int64_t dx = -1; dx <= 1; ++dx) {
          const int64_t nx = x + dx, ny = y + dy;
          if (nx < 0 || ny < 0 || nx >= w || ny >= h) continue;
          const auto n = static_cast<uint32_t>(ny * w + nx);
          if (done[n] != 0) continue;
          done[n] = 1;
          for (size_t c = 0; c < 3; ++c)
            picture.pixels[size_t{n} * 4 + c] = picture.pixels[size_t{i} * 4 + c];
          next.push_back(n);
        }
    }
    filled += next.size();
    std::sort(next.begin(), next.end());
    ring.swap(next);
  }
  return filled;
}

Picture resizedWithin(const Picture& picture, uint32_t most, bool power_of_two, PictureUse use,
                      Resampling how) {
  uint32_t width = picture.width, height = picture.height;
  if (const uint32_t longest = std::max(width, height); most > 0 && longest > most) {
    const double factor = static_cast<double>(most) / longest;
    width = std::max(1U, static_cast<uint32_t>(std::lround(width * factor)));
    height = std::max(1U, static_cast<uint32_t>(std::lround(height * factor)));
  }
  width = allowedSide(width, most, power_of_two);
  height = allowedSide(height, most, power_of_two);
  return width == picture.width && height == picture.height ? picture
                                                            : resized(picture, width, height, use, how);
}

void tint(Picture& picture, const std::array<float, 3>& color, float share) {
  const Srgb& srgb = Srgb::tables();
  std::array<std::array<std::byte, 256>, 3> by{};
  for (size_t c = 0; c < 3; ++c)
    for (size_t i = 0; i < 256; ++i)
      by[c][i] = srgb.nearest(srgb.light(static_cast<std::byte>(i)) * (1 + share * (color[c] - 1)));
  eachPixel(picture, [&](std::byte* p) {
    for (size_t c = 0; c < 3; ++c) p[c] = by[c][std::to_integer<size_t>(p[c])];
  });
}

void grade(Picture& picture, float hue_rad, float saturation, float lightness) {
  const Srgb& srgb = Srgb::tables();
  const float cosine = std::cos(hue_rad), sine = std::sin(hue_rad);
  eachPixel(picture, [&](std::byte* p) {
    const float r = srgb.light(p[0]), g = srgb.light(p[1]), b = srgb.light(p[2]);
    const float l = std::cbrt(0.4122214708F * r + 0.5363325363F * g + 0.0514459929F * b),
                m = std::cbrt(0.2119034982F * r + 0.6806995451F * g + 0.1073969566F * b),
                s = std::cbrt(0.0883024619F * r + 0.2817188376F * g + 0.6299787005F * b);
    const float light = (0.2104542553F * l + 0.7936177850F * m - 0.0040720468F * s) * lightness;
    const float vivid = saturation * lightness;  // a darker colour is as vivid when all three shrink alike
    const float a0 = (1.9779984951F * l - 2.4285922050F * m + 0.4505937099F * s) * vivid,
                b0 = (0.0259040371F * l + 0.7827717662F * m - 0.8086757660F * s) * vivid;
    const float a = a0 * cosine - b0 * sine, bb = a0 * sine + b0 * cosine;
    const auto cube = [](float v) { return v * v * v; };
    const float l3 = cube(light + 0.3963377774F * a + 0.2158037573F * bb),
                m3 = cube(light - 0.1055613458F * a - 0.0638541728F * bb),
                s3 = cube(light - 0.0894841775F * a - 1.2914855480F * bb);
    p[0] = srgb.nearest(4.0767416621F * l3 - 3.3077115913F * m3 + 0.2309699292F * s3);
    p[1] = srgb.nearest(-1.2684380046F * l3 + 2.6097574011F * m3 - 0.3413193965F * s3);
    p[2] = srgb.nearest(-0.0041960863F * l3 - 0.7034186147F * m3 + 1.7076147010F * s3);
  });
}

void copyChannel(const Picture& from, size_t from_channel, Picture& to, size_t to_channel) {
  const bool same = from.width == to.width && from.height == to.height;
  const Picture sized = same ? Picture() : resized(from, to.width, to.height, PictureUse::data);
  const Picture& source = same ? from : sized;
  for (size_t i = 0; i < to.pixels.size(); i += 4)
    to.pixels[i + to_channel] = source.pixels[i + from_channel];
}

}  // namespace rakugo::formats
