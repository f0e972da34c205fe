#include "pictures.h"

#include <algorithm>
#include <cmath>

#include <glm/glm.hpp>

namespace rakugo::demo {
namespace {

// A hash of a lattice point, 0..1. Whole numbers only, so that every machine draws the same.
float hash(uint32_t x, uint32_t y, uint32_t seed) {
  uint32_t h = x * 374761393u + y * 668265263u + seed * 2246822519u;
  h = (h ^ (h >> 13)) * 1274126177u;
  h ^= h >> 16;
  return static_cast<float>(h & 0xFFFFFFu) / 16777216.0F;
}

// Smooth noise that repeats after `px` by `py` cells.
float noise(float x, float y, uint32_t px, uint32_t py, uint32_t seed) {
  const float fx = std::floor(x), fy = std::floor(y);
  const auto wrap = [](float v, uint32_t p) {
    return static_cast<uint32_t>((static_cast<int>(v) % static_cast<int>(p) + static_cast<int>(p)) %
                                 static_cast<int>(p));
  };
  const uint32_t x0 = wrap(fx, px), x1 = wrap(fx + 1, px), y0 = wrap(fy, py), y1 = wrap(fy + 1, py);
  float u = x - fx, v = y - fy;
  u = u * u * (3 - 2 * u);
  v = v * v * (3 - 2 * v);
  const float a = hash(x0, y0, seed) * (1 - u) + hash(x1, y0, seed) * u;
  const float b = hash(x0, y1, seed) * (1 - u) + hash(x1, y1, seed) * u;
  return a * (1 - v) + b * v;
}

template <class Paint>
formats::Picture draw(uint32_t side, const Paint& paint) {
  formats::Picture out{side, side, base::Bytes(size_t{side} * side * 4)};
  for (uint32_t y = 0; y < side; ++y)
    for (uint32_t x = 0; x < side; ++x) {
      const glm::vec3 c = glm::clamp(paint((static_cast<float>(x) + 0.5F) / static_cast<float>(side),
                                           (static_cast<float>(y) + 0.5F) / static_cast<float>(side)),
                                     0.0F, 1.0F);
      // 5 bits of steps would show; 7 do not, and pack far better than 8.
      for (int i = 0; i < 3; ++i)
        out.pixels[(size_t{y} * side + x) * 4 + static_cast<size_t>(i)] =
            static_cast<std::byte>(std::lround(c[i] * 127) * 255 / 127);
      out.pixels[(size_t{y} * side + x) * 4 + 3] = std::byte{255};
    }
  return out;
}

}  // namespace

formats::Picture drawOak(uint32_t side) {
  return draw(side, [](float u, float v) {
    // Grain runs along v: rings wander slowly, fibres are fine streaks, a few knots push the rings aside.
    const float wander = noise(u * 4, v * 2, 4, 2, 1) * 0.9F + noise(u * 8, v * 4, 8, 4, 2) * 0.4F;
    float rings = 0.5F + 0.5F * std::sin(6.2831853F * (u * 7 + wander));
    rings = std::pow(rings, 2.2F);
    const float fibre = noise(u * 128, v * 6, 128, 6, 3) * 0.6F + noise(u * 64, v * 12, 64, 12, 4) * 0.4F;
    const float weather = noise(u * 6, v * 10, 6, 10, 5);
    const glm::vec3 light(0.69F, 0.53F, 0.35F), dark(0.43F, 0.29F, 0.17F), grey(0.56F, 0.52F, 0.46F);
    glm::vec3 c = glm::mix(light, dark, rings * 0.55F + (1 - fibre) * 0.32F);
    c = glm::mix(c, grey, glm::smoothstep(0.55F, 0.9F, weather) * 0.45F);
    const float crack = glm::smoothstep(
        0.985F, 1.0F, noise(u * 24, v * 1.0F, 24, 1, 6) * 0.5F + noise(u * 48, v * 3, 48, 3, 7) * 0.52F);
    return c * (1 - 0.55F * crack);
  });
}

formats::Picture drawRope(uint32_t side) {
  return draw(side, [](float u, float v) {
    // Strands run slantwise; each is a rounded band with finer yarns across it.
    const float t = u * 3 + v * 6;
    const float band = t - std::floor(t);
    const float round = std::sqrt(std::max(0.0F, 1 - (2 * band - 1) * (2 * band - 1)));
    const float yarn = 0.5F + 0.5F * std::sin(6.2831853F * (u * 18 - v * 30 + band * 2));
    const float fuzz = noise(u * 48, v * 48, 48, 48, 11);
    const glm::vec3 base(0.77F, 0.66F, 0.46F);
    return base * (0.42F + 0.5F * round) * (0.86F + 0.14F * yarn) * (0.9F + 0.2F * fuzz);
  });
}

formats::Picture drawPaintedIron(uint32_t side) {
  return draw(side, [](float u, float v) {
    // Thick brushed paint, light so that a game may tint it; runs, dimples, and rust where it chipped.
    const float brush = noise(u * 90, v * 5, 90, 5, 21) * 0.5F + noise(u * 40, v * 9, 40, 9, 22) * 0.5F;
    const float cloud = noise(u * 5, v * 5, 5, 5, 23) * 0.6F + noise(u * 11, v * 11, 11, 11, 24) * 0.4F;
    glm::vec3 c = glm::vec3(0.86F, 0.87F, 0.86F) * (0.87F + 0.1F * brush + 0.06F * cloud);
    const float chip = noise(u * 9, v * 9, 9, 9, 25) * 0.55F + noise(u * 26, v * 26, 26, 26, 26) * 0.3F +
                       noise(u * 70, v * 70, 70, 70, 27) * 0.15F;
    const float rust = glm::smoothstep(0.715F, 0.745F, chip);
    const float rim = glm::smoothstep(0.68F, 0.715F, chip) * (1 - rust);
    const glm::vec3 iron = glm::mix(glm::vec3(0.38F, 0.2F, 0.11F), glm::vec3(0.2F, 0.14F, 0.12F),
                                    noise(u * 40, v * 40, 40, 40, 28));
    c = glm::mix(c, c * 0.72F, rim);
    return glm::mix(c, iron, rust);
  });
}

formats::Picture drawBrass(uint32_t side) {
  return draw(side, [](float u, float v) {
    const float turned = noise(u * 3, v * 120, 3, 120, 31);
    const float tarnish = noise(u * 6, v * 6, 6, 6, 32) * 0.6F + noise(u * 17, v * 17, 17, 17, 33) * 0.4F;
    const glm::vec3 bright(0.88F, 0.69F, 0.33F), old(0.52F, 0.4F, 0.2F), green(0.36F, 0.5F, 0.41F);
    glm::vec3 c =
        glm::mix(bright, old, glm::smoothstep(0.35F, 0.8F, tarnish) * 0.8F) * (0.9F + 0.12F * turned);
    return glm::mix(c, green, glm::smoothstep(0.76F, 0.9F, tarnish) * 0.5F);
  });
}

namespace {

// A shape given by "inside or not" in -1..1 across and 0..1 upward, with four samples a pixel.
template <class Inside>
formats::Picture drawIcon(uint32_t width, uint32_t height, glm::vec3 color, const Inside& inside) {
  formats::Picture out;
  out.width = width;
  out.height = height;
  out.pixels.resize(size_t{width} * height * 4);
  for (uint32_t y = 0; y < height; ++y)
    for (uint32_t x = 0; x < width; ++x) {
      int hits = 0;
      for (int k = 0; k < 4; ++k) {
        const float u =
            (static_cast<float>(x) + 0.25F + 0.5F * static_cast<float>(k % 2)) / static_cast<float>(width);
        const float v =
            (static_cast<float>(y) + 0.25F + 0.5F * static_cast<float>(k / 2)) / static_cast<float>(height);
        hits += inside(2 * u - 1, 1 - v) ? 1 : 0;
      }
      std::byte* p = &out.pixels[(size_t{y} * width + x) * 4];
      for (int c = 0; c < 3; ++c) p[c] = static_cast<std::byte>(std::lround(color[c] * 255));
      p[3] = static_cast<std::byte>(hits * 255 / 4);
    }
  return out;
}

}  // namespace

formats::Picture drawBollardIcon(uint32_t side) {
  return drawIcon(side, side, {0.2F, 0.36F, 0.38F}, [](float x, float y) {
    const float w = std::abs(x);
    if (y < 0.08F) return false;
    if (y < 0.16F) return w < 0.5F;
    if (y < 0.68F) return w < 0.28F;
    return y < 0.88F && w < 0.28F + 0.2F * std::sqrt(std::max(0.0F, 1 - std::pow((y - 0.78F) / 0.1F, 2.0F)));
  });
}

formats::Picture drawDinghyIcon(uint32_t width, uint32_t height) {
  return drawIcon(width, height, {0.55F, 0.2F, 0.17F}, [](float x, float y) {
    // From the side: a sheer that rises to the bow, a keel that runs up to it.
    const float sheer = 0.58F + 0.12F * x * x + 0.06F * x,
                keel = 0.26F + 0.2F * std::pow(std::max(x, 0.0F), 3.0F);
    return x > -0.82F && x < 0.86F && y > keel && y < sheer;
  });
}

formats::Picture drawLanternIcon(uint32_t side) {
  return drawIcon(side, side, {0.3F, 0.26F, 0.2F}, [](float x, float y) {
    const float w = std::abs(x);
    if (y < 0.1F) return false;
    if (y < 0.18F) return w < 0.34F;
    if (y < 0.54F) return w < 0.22F && (w > 0.15F || std::abs(y - 0.34F) < 0.1F);
    if (y < 0.7F) return w < 0.32F - (y - 0.54F) * 1.4F;
    const float bow = std::hypot(x, (y - 0.62F) * 1.2F);
    return y < 0.95F && bow > 0.26F && bow < 0.32F;
  });
}

formats::Picture drawStallIcon(uint32_t side) {
  return drawIcon(side, side, {0.24F, 0.42F, 0.45F}, [](float x, float y) {
    const float w = std::abs(x);
    if (y < 0.08F || y > 0.88F || w > 0.86F) return false;
    if (y > 0.66F) return w < 0.74F + (0.88F - y) * 0.5F;
    if (y > 0.58F) return y > 0.6F + 0.04F * std::cos(x * 22);
    if (y > 0.4F && y < 0.46F) return w < 0.8F;
    return std::abs(w - 0.7F) < 0.05F || (y < 0.46F && std::abs(w - 0.34F) < 0.03F);
  });
}

formats::Picture drawStoolIcon(uint32_t width, uint32_t height) {
  return drawIcon(width, height, {0.5F, 0.34F, 0.46F}, [](float x, float y) {
    const float w = std::abs(x);
    if (y < 0.12F || y > 0.86F) return false;
    if (y < 0.62F) return std::abs(w - (0.52F - 0.3F * (y - 0.12F))) < 0.05F;
    if (y < 0.72F) return w < 0.56F;
    return w < 0.5F - std::pow((y - 0.72F) / 0.14F, 4.0F) * 0.3F;
  });
}

}  // namespace rakugo::demo
