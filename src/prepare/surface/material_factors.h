// A material's factors worked into its pictures, so that one picture says all.
#pragma once

#include <cstdint>
#include <optional>

#include "formats/pictures/pictures.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// Positions in `scene::kTextureSlots`.
inline constexpr size_t kBaseColor = 0, kMetalRough = 1, kNormal = 2, kOcclusion = 3, kGlow = 4;

struct Texel {
  uint8_t r, g, b, a;
};

/// What a slot without a picture stands for, before factors: white, or a flat normal.
Texel neutral(size_t slot);
/// A picture of one colour.
formats::Picture filled(uint32_t width, uint32_t height, Texel texel);
/// Multiplies the material's factors for a slot into a picture of it (glTF 2.0, section 3.9): colours in
/// linear light. `emissive_strength` is left to the material.
void takeFactors(formats::Picture& picture, const scene::Material& material, size_t slot);
/// The way all pictures of a material look coordinates up, its `image` invalid; nothing where they differ.
std::optional<scene::TextureUse> commonLookup(const scene::Material& material);

}  // namespace rakugo::prepare
