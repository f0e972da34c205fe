#include "prepare/surface/material_factors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "formats/pictures/srgb.h"

namespace rakugo::prepare {

using formats::Picture;

namespace {

// What a factor makes of each byte, in light for colours.
std::array<uint8_t, 256> timesLight(float factor) {
  const formats::Srgb& srgb = formats::Srgb::tables();
  std::array<uint8_t, 256> out{};
  for (size_t i = 0; i < 256; ++i)
    out[i] = factor == 1
                 ? static_cast<uint8_t>(i)
                 : std::to_integer<uint8_t>(srgb.nearest(srgb.light(static_cast<std::byte>(i)) * factor));
  return out;
}

std::array<uint8_t, 256> timesPlain(float factor) {
  std::array<uint8_t, 256> out{};
  for (size_t i = 0; i < 256; ++i)
    out[i] = static_cast<uint8_t>(std::lround(std::clamp(static_cast<float>(i) * factor, 0.0F, 255.0F)));
  return out;
}

}  // namespace

void takeFactors(Picture& picture, const scene::Material& m, size_t slot) {
  std::array<std::array<uint8_t, 256>, 4> by{};
  for (auto& one : by) one = timesPlain(1);
  if (slot == kBaseColor) {
    for (int c = 0; c < 3; ++c) by[static_cast<size_t>(c)] = timesLight(m.base_color[c]);
    by[3] = timesPlain(m.base_color.w);
  } else if (slot == kMetalRough) {
    by[1] = timesPlain(m.roughness);
    by[2] = timesPlain(m.metallic);
  } else if (slot == kGlow) {
    for (int c = 0; c < 3; ++c) by[static_cast<size_t>(c)] = timesLight(m.emissive[c]);
  } else if (slot == kOcclusion) {
    // 1 + strength (value - 1), glTF 2.0, section 3.9.3
    for (size_t i = 0; i < 256; ++i)
      by[0][i] = static_cast<uint8_t>(std::lround(
          255 * std::clamp(1 + m.occlusion_strength * (static_cast<float>(i) / 255 - 1), 0.0F, 1.0F)));
  }
  if (slot == kNormal) {
    if (m.normal_scale == 1) return;
    for (size_t i = 0; i + 3 < picture.pixels.size(); i += 4) {
      glm::vec3 n;
      for (int c = 0; c < 3; ++c)
        n[c] =
            static_cast<float>(std::to_integer<int>(picture.pixels[i + static_cast<size_t>(c)])) / 127.5F - 1;
      n = glm::normalize(glm::vec3(n.x * m.normal_scale, n.y * m.normal_scale, std::max(n.z, 1e-3F)));
      for (int c = 0; c < 3; ++c)
        picture.pixels[i + static_cast<size_t>(c)] =
            static_cast<std::byte>(std::lround((n[c] * 0.5F + 0.5F) * 255));
    }
    return;
  }
  for (size_t i = 0; i < picture.pixels.size(); ++i)
    picture.pixels[i] = static_cast<std::byte>(by[i % 4][std::to_integer<size_t>(picture.pixels[i])]);
}

Texel neutral(size_t slot) { return slot == kNormal ? Texel{128, 128, 255, 255} : Texel{255, 255, 255, 255}; }

Picture filled(uint32_t width, uint32_t height, Texel texel) {
  Picture out{width, height, base::Bytes(size_t{width} * height * 4)};
  for (size_t i = 0; i < out.pixels.size(); i += 4) std::memcpy(out.pixels.data() + i, &texel, 4);
  return out;
}

std::optional<scene::TextureUse> commonLookup(const scene::Material& m) {
  std::optional<scene::TextureUse> out;
  for (const scene::TextureSlot& slot : scene::kTextureSlots) {
    scene::TextureUse use = m.*slot.use;
    if (!use.image.valid()) continue;
    use.image = {};
    if (out && !(*out == use)) return std::nullopt;
    out = use;
  }
  return out ? out : scene::TextureUse();
}

}  // namespace rakugo::prepare
