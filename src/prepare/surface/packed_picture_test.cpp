#include "prepare/surface/packed_picture.h"

#include <gtest/gtest.h>

#include <random>

namespace rakugo::prepare {
namespace {

using rulebook::Channel;

scene::ImageIndex addImage(scene::Model& model, const formats::Picture& picture) {
  model.images.push_back(
      {"one", "", "image/png", std::make_shared<const base::Bytes>(formats::encodePng(picture))});
  return scene::ImageIndex(model.images.size() - 1);
}

formats::Picture noise(std::mt19937& random, uint32_t side) {
  formats::Picture out{side, side, base::Bytes(size_t{side} * side * 4)};
  for (std::byte& one : out.pixels) one = static_cast<std::byte>(random());
  return out;
}

// A material with a picture in each slot.
scene::Model clothed(unsigned seed, uint32_t side) {
  std::mt19937 random(seed);
  scene::Model model;
  scene::Material& m = model.materials.emplace_back();
  m.name = m.key = "cloth";
  m.emissive = glm::vec3(1);
  for (const scene::TextureSlot& slot : scene::kTextureSlots)
    (m.*slot.use).image = addImage(model, noise(random, side));
  return model;
}

formats::Picture pictureOf(const scene::Model& model, size_t slot) {
  const scene::ImageIndex image = (model.materials[0].*scene::kTextureSlots[slot].use).image;
  return formats::decodePicture(*model.images.at(image.value()).bytes, "test").value();
}

std::byte at(const formats::Picture& picture, size_t pixel, size_t channel) {
  return picture.pixels[pixel * 4 + channel];
}

TEST(PackedPicture, HoldsWhatTheRulebookSaysInEachChannel) {
  const scene::Model model = clothed(1, 4);
  rulebook::PackedPicture how{"props",       "", "", {}, Channel::metal, Channel::occlusion, Channel::glow,
                              Channel::gloss};
  const auto packed = packPicture(model, model.materials[0], how);
  ASSERT_TRUE(packed) << packed.error().text();
  const formats::Picture metal_rough = pictureOf(model, 1), occlusion = pictureOf(model, 3),
                         glow = pictureOf(model, 4);
  for (size_t i = 0; i < 16; ++i) {
    EXPECT_EQ(at(*packed, i, 0), at(metal_rough, i, 2));
    EXPECT_EQ(at(*packed, i, 1), at(occlusion, i, 0));
    EXPECT_EQ(at(*packed, i, 2), std::max({at(glow, i, 0), at(glow, i, 1), at(glow, i, 2)}));
    EXPECT_EQ(at(*packed, i, 3), std::byte{255} ^ at(metal_rough, i, 1));
  }
  EXPECT_EQ(packedText(how), "red: metal, green: occlusion, blue: glow and alpha: gloss");
  EXPECT_EQ(useOf(how), formats::PictureUse::color);
  const std::array<bool, 5> whole = packedWhole({&how});
  EXPECT_EQ(whole, (std::array<bool, 5>{false, true, false, true, true}));
}

TEST(PackedPicture, FactorsAndDefaultsStandWhereThereIsNoPicture) {
  scene::Model model;
  scene::Material& m = model.materials.emplace_back();
  m.metallic = 0.4F;
  m.roughness = 0.2F;
  rulebook::PackedPicture how{"props",       "", "", {}, Channel::metal, Channel::occlusion, Channel::nothing,
                              Channel::gloss};
  auto packed = packPicture(model, m, how);
  ASSERT_TRUE(packed);
  EXPECT_EQ(packed->pixels, (base::Bytes{std::byte{102}, std::byte{255}, std::byte{0}, std::byte{204}}));
  how.without = {-1, 0.5, 1, -1};
  packed = packPicture(model, m, how);
  EXPECT_EQ(packed->pixels, (base::Bytes{std::byte{102}, std::byte{128}, std::byte{255}, std::byte{204}}));
}

TEST(PackedPicture, TakenApartIsWhatWentIn) {
  for (unsigned seed = 1; seed <= 40; ++seed) {
    std::mt19937 random(seed);
    // A layout of channels that are each a slot's own, shuffled.
    std::vector<Channel> all = {Channel::red,        Channel::green,        Channel::blue,
                                Channel::alpha,      Channel::metal,        Channel::roughness,
                                Channel::occlusion,  Channel::normal_right, Channel::normal_up,
                                Channel::normal_out, Channel::glow_red,     Channel::glow_green,
                                Channel::glow_blue};
    std::shuffle(all.begin(), all.end(), random);
    const scene::Model before = clothed(seed, 8);
    const rulebook::PackedPicture how{"p", "", "", {}, all[0], all[1], all[2], all[3]};
    const auto packed = packPicture(before, before.materials[0], how);
    ASSERT_TRUE(packed);
    // The same material with nothing but the packed picture, in a slot that none of it belongs to or does.
    scene::Model after;
    scene::Material& m = after.materials.emplace_back();
    m.emissive = glm::vec3(0);
    m.metallic = 0;
    m.roughness = 0;
    const size_t slot = random() % 5;
    (m.*scene::kTextureSlots[slot].use).image = addImage(after, *packed);
    (m.*scene::kTextureSlots[slot].use).wrap_u = scene::Wrap::mirror;
    ASSERT_TRUE(unpackPicture(after, scene::MaterialIndex(0), slot, how.channels()));
    const auto again = packPicture(after, after.materials[0], how);
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_EQ(again->pixels, packed->pixels) << seed;
  }
}

TEST(PackedPicture, AMissingThirdPartOfANormalIsWorkedOut) {
  scene::Model model;
  scene::Material& m = model.materials.emplace_back();
  m.base_color_texture.image =
      addImage(model, {1, 1, {std::byte{204}, std::byte{128}, std::byte{7}, std::byte{9}}});
  ASSERT_TRUE(unpackPicture(model, scene::MaterialIndex(0), 0, {Channel::normal_right, Channel::normal_up}));
  EXPECT_FALSE(model.materials[0].base_color_texture.image.valid());
  const formats::Picture normal = pictureOf(model, 2);
  // x = 0.6, y = 0: z = 0.8.
  EXPECT_EQ(normal.pixels[0], std::byte{204});
  EXPECT_NEAR(std::to_integer<int>(normal.pixels[2]), (0.8 * 0.5 + 0.5) * 255, 1);
}

TEST(PackedPicture, WhatCannotBeDoneSaysSo) {
  scene::Model model = clothed(3, 4);
  model.materials[0].occlusion_texture.scale = glm::vec2(2);
  const rulebook::PackedPicture how{"p", "", "", {}, Channel::metal, Channel::occlusion};
  EXPECT_EQ(slotsApart(model.materials[0], how), std::vector<size_t>{3});
  EXPECT_EQ(packPicture(model, model.materials[0], how).error().code, "packed.apart");
  EXPECT_EQ(unpackPicture(model, scene::MaterialIndex(0), 0, {}).error().code, "packed.nothing");
  model.materials[0].base_color_texture = {};
  EXPECT_EQ(unpackPicture(model, scene::MaterialIndex(0), 0, {Channel::red}).error().code, "picture.none");
}

}  // namespace
}  // namespace rakugo::prepare
