#include "prepare/surface/packed_picture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "base/phrase.h"
#include "base/text.h"
#include "prepare/surface/material_factors.h"

namespace rakugo::prepare {
namespace {

using formats::Picture;
using rulebook::Channel;
using rulebook::PackedPicture;

constexpr size_t kPictureSlots = scene::kTextureSlots.size();

// Where glTF has it.
struct Home {
  size_t slot = 0;
  std::array<bool, 3> parts{};  // the channels of the slot's picture; more than one: the largest of them
  bool alpha = false, inverted = false;
};

std::optional<Home> homeOf(Channel channel) {
  switch (channel) {
    case Channel::nothing:
      return std::nullopt;
    case Channel::red:
      return Home{kBaseColor, {true, false, false}};
    case Channel::green:
      return Home{kBaseColor, {false, true, false}};
    case Channel::blue:
      return Home{kBaseColor, {false, false, true}};
    case Channel::alpha:
      return Home{kBaseColor, {}, true};
    case Channel::metal:
      return Home{kMetalRough, {false, false, true}};
    case Channel::roughness:
      return Home{kMetalRough, {false, true, false}};
    case Channel::gloss:
      return Home{kMetalRough, {false, true, false}, false, true};
    case Channel::occlusion:
      return Home{kOcclusion, {true, false, false}};
    case Channel::normal_right:
      return Home{kNormal, {true, false, false}};
    case Channel::normal_up:
      return Home{kNormal, {false, true, false}};
    case Channel::normal_out:
      return Home{kNormal, {false, false, true}};
    case Channel::glow_red:
      return Home{kGlow, {true, false, false}};
    case Channel::glow_green:
      return Home{kGlow, {false, true, false}};
    case Channel::glow_blue:
      return Home{kGlow, {false, false, true}};
    case Channel::glow:
      return Home{kGlow, {true, true, true}};
  }
  return std::nullopt;
}

std::byte valueOf(const std::byte* pixel, const Home& home) {
  std::byte out{0};
  if (home.alpha) out = pixel[3];
  for (size_t c = 0; c < 3; ++c)
    if (home.parts[c]) out = std::max(out, pixel[c]);
  return home.inverted ? std::byte{255} ^ out : out;
}

std::set<size_t> slotsIn(const std::array<Channel, 4>& channels) {
  std::set<size_t> out;
  for (const Channel one : channels)
    if (const auto home = homeOf(one)) out.insert(home->slot);
  return out;
}

bool hasPicture(const scene::Model& model, const scene::Material& material, size_t slot) {
  const scene::ImageIndex image = (material.*scene::kTextureSlots[slot].use).image;
  return image.valid() && model.images[image.value()].bytes != nullptr;
}

base::Result<Picture> decoded(const scene::Model& model, const scene::Material& material, size_t slot) {
  const scene::Image& image = model.images[(material.*scene::kTextureSlots[slot].use).image.value()];
  return formats::decodePicture(*image.bytes, image.uri.empty() ? image.name : image.uri);
}

bool pixelArt(const scene::Material& material, size_t slot) {
  return (material.*scene::kTextureSlots[slot].use).filter == scene::Filter::nearest;
}

// Unit length, from x and y alone.
void completeNormals(Picture& picture) {
  for (size_t i = 0; i + 3 < picture.pixels.size(); i += 4) {
    const auto part = [&](size_t c) {
      return static_cast<float>(std::to_integer<int>(picture.pixels[i + c])) / 127.5F - 1;
    };
    const float z = std::sqrt(std::max(0.0F, 1 - part(0) * part(0) - part(1) * part(1)));
    picture.pixels[i + 2] = static_cast<std::byte>(std::lround((z * 0.5F + 0.5F) * 255));
  }
}

// The values that came are the material's own now: no factor takes from them.
void takeWhole(scene::Material& material, size_t slot, const std::array<Channel, 4>& channels) {
  for (const Channel one : channels) {
    const auto home = homeOf(one);
    if (!home || home->slot != slot) continue;
    if (home->alpha) material.base_color.w = 1;
    if (slot == kNormal) material.normal_scale = 1;
    if (slot == kOcclusion) material.occlusion_strength = 1;
    for (int c = 0; c < 3; ++c) {
      if (!home->parts[static_cast<size_t>(c)]) continue;
      if (slot == kBaseColor) material.base_color[c] = 1;
      if (slot == kGlow) material.emissive[c] = 1;
      if (slot == kMetalRough) (c == 1 ? material.roughness : material.metallic) = 1;
    }
  }
}

}  // namespace

std::vector<const PackedPicture*> packedPictures(const rulebook::Rulebook& book,
                                                 const scene::Material& material) {
  std::vector<const PackedPicture*> out;
  for (const PackedPicture& one : book.packed_pictures)
    if (one.roles.empty() || std::find(one.roles.begin(), one.roles.end(), material.role) != one.roles.end())
      out.push_back(&one);
  return out;
}

std::string packedText(const PackedPicture& packed) {
  static constexpr std::array<const char*, 4> kColors = {"red", "green", "blue", "alpha"};
  std::vector<std::string> out;
  for (size_t c = 0; c < 4; ++c)
    if (const Channel one = packed.channels()[c]; one != Channel::nothing) {
      std::string name = rulebook::kChannelNames[static_cast<size_t>(one)];
      std::replace(name.begin(), name.end(), '_', ' ');
      out.push_back(base::phrase("{0}: {1}", base::phrase(kColors[c]), base::phrase(name)));
    }
  return base::listText(out, out.size());
}

formats::PictureUse useOf(const PackedPicture& packed) {
  const std::set<size_t> slots = slotsIn({packed.r, packed.g, packed.b, Channel::nothing});
  if (slots.count(kBaseColor) + slots.count(kGlow) > 0) return formats::PictureUse::color;
  const bool whole =
      packed.r == Channel::normal_right && packed.g == Channel::normal_up && packed.b == Channel::normal_out;
  return whole ? formats::PictureUse::normal : formats::PictureUse::data;
}

std::array<bool, 5> packedWhole(const std::vector<const PackedPicture*>& packed) {
  std::set<Channel> in;
  for (const PackedPicture* one : packed)
    for (const Channel channel : one->channels()) in.insert(channel);
  const auto has = [&](Channel channel) { return in.count(channel) != 0; };
  std::array<bool, 5> out{};
  out[kBaseColor] = has(Channel::red) && has(Channel::green) && has(Channel::blue);
  out[kMetalRough] = has(Channel::metal) && (has(Channel::roughness) || has(Channel::gloss));
  out[kNormal] = has(Channel::normal_right) && has(Channel::normal_up);
  out[kOcclusion] = has(Channel::occlusion);
  out[kGlow] =
      has(Channel::glow) || (has(Channel::glow_red) && has(Channel::glow_green) && has(Channel::glow_blue));
  return out;
}

std::vector<size_t> slotsApart(const scene::Material& material, const PackedPicture& packed) {
  std::optional<scene::TextureUse> first;
  std::vector<size_t> out;
  for (const size_t slot : slotsIn(packed.channels())) {
    scene::TextureUse use = material.*scene::kTextureSlots[slot].use;
    if (!use.image.valid()) continue;
    use.image = {};
    if (!first) first = use;
    if (!(*first == use)) out.push_back(slot);
  }
  return out;
}

base::Result<Picture> packPicture(const scene::Model& model, const scene::Material& material,
                                  const PackedPicture& packed) {
  if (!slotsApart(material, packed).empty())
    return base::Error{
        "packed.apart",
        base::phrase("Pictures of {0} that go into one lie differently on the surface.", material.name),
        {},
        base::phrase("Let all of them use the same UVs.")};
  std::array<Picture, kPictureSlots> slots;
  uint32_t width = 1, height = 1;
  for (const size_t slot : slotsIn(packed.channels())) {
    slots[slot] = filled(1, 1, neutral(slot));
    if (hasPicture(model, material, slot)) {
      RAKUGO_ASSIGN(slots[slot], decoded(model, material, slot));
    }
    takeFactors(slots[slot], material, slot);
    width = std::max(width, slots[slot].width);
    height = std::max(height, slots[slot].height);
  }
  Picture out = filled(width, height, {0, 0, 0, 255});
  for (const size_t slot : slotsIn(packed.channels()))
    if (slots[slot].width != width || slots[slot].height != height)
      slots[slot] = formats::resized(
          slots[slot], width, height, formats::useOf(scene::kTextureSlots[slot]),
          pixelArt(material, slot) ? formats::Resampling::pixels : formats::Resampling::smooth);
  for (size_t c = 0; c < 4; ++c) {
    const auto home = homeOf(packed.channels()[c]);
    const bool given = packed.without[c] >= 0 && (!home || !hasPicture(model, material, home->slot));
    if (!home && !given) continue;
    const auto constant = static_cast<std::byte>(std::lround(std::clamp(packed.without[c], 0.0, 1.0) * 255));
    for (size_t i = 0; i < out.pixels.size(); i += 4)
      out.pixels[i + c] = given ? constant : valueOf(slots[home->slot].pixels.data() + i, *home);
  }
  return out;
}

base::Status unpackPicture(scene::Model& model, scene::MaterialIndex index, size_t slot,
                           const std::array<Channel, 4>& channels) {
  scene::Material& material = model.materials[index.value()];
  if (!hasPicture(model, material, slot))
    return base::Error{"picture.none", base::phrase("{0} shows no picture there.", material.name), {}, {}};
  const std::set<size_t> goals = slotsIn(channels);
  if (goals.empty())
    return base::Error{"packed.nothing",
                       base::phrase("No channel of the picture holds anything."),
                       {},
                       base::phrase("Say what red, green, blue or alpha holds.")};
  RAKUGO_ASSIGN(const Picture whole, decoded(model, material, slot));
  const scene::TextureUse lookup = material.*scene::kTextureSlots[slot].use;
  const std::string stem = model.images[lookup.image.value()].name.empty()
                               ? material.name
                               : model.images[lookup.image.value()].name;
  const bool third = std::find(channels.begin(), channels.end(), Channel::normal_out) != channels.end();
  for (const size_t goal : goals) {
    Picture picture = filled(whole.width, whole.height, neutral(goal));
    // What the slot shows already stays, but for the channels that come.
    if (goal != slot && hasPicture(model, material, goal)) {
      RAKUGO_ASSIGN(picture, decoded(model, material, goal));
    }
    const bool same = picture.width == whole.width && picture.height == whole.height;
    const Picture from =
        same ? whole : formats::resized(whole, picture.width, picture.height, formats::PictureUse::data);
    for (size_t c = 0; c < 4; ++c) {
      const auto home = homeOf(channels[c]);
      if (!home || home->slot != goal) continue;
      for (size_t i = 0; i < picture.pixels.size(); i += 4) {
        const std::byte value = home->inverted ? std::byte{255} ^ from.pixels[i + c] : from.pixels[i + c];
        if (home->alpha) picture.pixels[i + 3] = value;
        for (size_t part = 0; part < 3; ++part)
          if (home->parts[part]) picture.pixels[i + part] = value;
      }
    }
    if (goal == kNormal && !third) completeNormals(picture);
    scene::Image image;
    image.name = stem + "-" + base::slug(scene::kTextureSlots[goal].name);
    image.mime = "image/png";
    image.bytes = std::make_shared<const base::Bytes>(formats::encodePng(picture, formats::PngEffort::quick));
    scene::TextureUse& use = material.*scene::kTextureSlots[goal].use;
    if (goal != slot && !use.image.valid()) use = lookup;
    use.image = scene::ImageIndex(model.images.size());
    model.images.push_back(std::move(image));
    takeWhole(material, goal, channels);
  }
  if (goals.count(slot) == 0) material.*scene::kTextureSlots[slot].use = {};
  return {};
}

}  // namespace rakugo::prepare
