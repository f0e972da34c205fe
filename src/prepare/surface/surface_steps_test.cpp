// Steps on materials and their pictures.
#include <gtest/gtest.h>

#include "formats/pictures/picture_traits.h"
#include "prepare/replay.h"
#include "support/made_pictures.h"

namespace rakugo::prepare {
namespace {

using base::Json;

const rulebook::Rulebook& emptyBook() {
  static const rulebook::Rulebook kBook = [] {
    rulebook::Rulebook b;
    b.id = "test";
    return b;
  }();
  return kBook;
}

std::shared_ptr<const base::Bytes> png(const formats::Picture& picture) {
  return std::make_shared<const base::Bytes>(formats::encodePng(picture));
}

// Two triangles, each with a material: "deck" shows a colour and a normal map, "rail" the same normal map.
formats::ReadModel twoMaterials() {
  formats::ReadModel read;
  scene::Model& m = read.model;
  m.images = {{"deck", "pictures/deck.jpg", "", png(test::plainPicture(24, 200, 120, 40))},
              {"dents", "pictures/dents.png", "", png(test::dentedNormals(48, false))}};
  m.materials.resize(2);
  m.materials[0].name = "deck";
  m.materials[1].name = "rail";
  m.materials[0].base_color_texture.image = scene::ImageIndex(0);
  for (scene::Material& one : m.materials) one.normal_texture.image = scene::ImageIndex(1);
  auto mesh = std::make_shared<scene::Mesh>();
  for (uint32_t i = 0; i < 2; ++i) {
    scene::Primitive& p = mesh->primitives.emplace_back();
    p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
    p.uvs[0] = {{0, 0}, {1, 0}, {0, 1}};
    p.indices = {0, 1, 2};
    p.material = scene::MaterialIndex(i);
  }
  m.meshes.push_back(std::move(mesh));
  m.nodes.resize(1);
  m.nodes[0].name = "boat";
  m.nodes[0].mesh = scene::MeshIndex(0);
  m.roots = {scene::NodeIndex(0)};
  scene::assignKeys(m);
  return read;
}

class SurfaceSteps : public testing::Test {
 protected:
  // The steps on the model; each must go as `wanted` says.
  scene::Model after(const std::vector<std::pair<const char*, Json>>& steps,
                     StepState wanted = StepState::good) {
    for (const auto& [kind, values] : steps) doc_.steps.push_back(makeStep(doc_, kind, values));
    auto prepared = replayer_.replay(source_, doc_.steps, emptyBook(), nullptr);
    EXPECT_TRUE(prepared);
    outcomes_ = prepared->outcomes;
    for (const StepOutcome& one : outcomes_)
      EXPECT_EQ(one.state, wanted) << (one.misses.empty() ? std::string() : one.misses.front());
    return *prepared->model;
  }
  static formats::Picture shown(const scene::Model& m, size_t material,
                                const scene::TextureUse scene::Material::*slot) {
    const scene::Image& image = m.images[(m.materials[material].*slot).image.value()];
    return std::move(formats::decodePicture(*image.bytes, image.uri)).value();
  }
  std::shared_ptr<formats::ReadModel> source_ = std::make_shared<formats::ReadModel>(twoMaterials());
  mod::ModelDoc doc_;
  Replayer replayer_;
  std::vector<StepOutcome> outcomes_;
};

TEST_F(SurfaceSteps, GreenTurnsRoundForAllThatShowThePictureAndTwiceIsNothing) {
  const scene::Model once = after({{"flip_green", {{"material", "deck"}}}});
  EXPECT_GT(formats::pictureTraits(shown(once, 0, &scene::Material::normal_texture)).green_up, 0.5);
  EXPECT_EQ(once.materials[1].normal_texture.image, once.materials[0].normal_texture.image);
  EXPECT_EQ(once.images.size(), 2U);
  const scene::Model twice = after({{"flip_green", {{"material", "rail"}}}});
  EXPECT_EQ(shown(twice, 0, &scene::Material::normal_texture).pixels,
            shown(source_->model, 0, &scene::Material::normal_texture).pixels);
  EXPECT_EQ(source_->model.images[1].uri, "pictures/dents.png") << "the source stays as it was";
}

TEST_F(SurfaceSteps, APictureOfTwoSlotsBecomesTwoWithNamesOfTheirOwn) {
  source_->model.materials[0].metallic_roughness_texture.image = scene::ImageIndex(0);
  const scene::Model m =
      after({{"invert_channel", {{"material", "deck"}, {"slot", "metal and roughness"}, {"channel", "g"}}}});
  ASSERT_EQ(m.images.size(), 3U);
  EXPECT_EQ(shown(m, 0, &scene::Material::base_color_texture).pixels[1], std::byte{120});
  EXPECT_EQ(shown(m, 0, &scene::Material::metallic_roughness_texture).pixels[1], std::byte{255 - 120});
  EXPECT_EQ(shown(m, 0, &scene::Material::metallic_roughness_texture).pixels[0], std::byte{200});
  const std::string& uri = m.images[m.materials[0].metallic_roughness_texture.image.value()].uri;
  EXPECT_EQ(uri, "pictures/deck-inverted.png") << "a PNG now, and its name says what was done";
  EXPECT_EQ(m.images[0].uri, "pictures/deck.jpg");
}

TEST_F(SurfaceSteps, ResizingKeepsWhatAPictureMeans) {
  const scene::Model m = after(
      {{"resize_picture", {{"material", "deck"}, {"slot", "normal"}, {"side", 20}, {"sides", "powers"}}},
       {"resize_picture", {{"material", "deck"}, {"slot", "base colour"}, {"side", 10}}}});
  const formats::Picture normal = shown(m, 0, &scene::Material::normal_texture);
  EXPECT_EQ(normal.width, 16U);
  EXPECT_GT(formats::pictureTraits(normal).directions, 0.99);
  const formats::Picture color = shown(m, 0, &scene::Material::base_color_texture);
  EXPECT_EQ(color.width, 10U);
  EXPECT_EQ(color.pixels[0], std::byte{200});
  EXPECT_EQ(outcomes_[1].did, "10 × 10 pixels");
}

TEST_F(SurfaceSteps, PicturesGoToOtherSlotsAndAreSeenThere) {
  const scene::Model m =
      after({{"move_picture", {{"material", "deck"}, {"slot", "base colour"}, {"to", "glow"}}},
             {"move_picture", {{"material", "rail"}, {"slot", "normal"}, {"to", "none"}}}});
  EXPECT_FALSE(m.materials[0].base_color_texture.image.valid());
  EXPECT_EQ(m.materials[0].emissive_texture.image, scene::ImageIndex(0));
  EXPECT_EQ(m.materials[0].emissive, glm::vec3(1)) << "a black glow would hide it";
  EXPECT_FALSE(m.materials[1].normal_texture.image.valid());
}

TEST_F(SurfaceSteps, APlainMaterialKeepsItsNameRoleAndColourPicture) {
  scene::Material& deck = source_->model.materials[0];
  deck.base_color = {0, 0, 0, 1};
  deck.alpha = scene::AlphaMode::blend;
  deck.metallic = 0.8F;
  deck.emissive = {1, 0, 0};
  deck.kept = "{}";
  const scene::Model m = after({{"plain_material", {{"material", "deck"}}}});
  scene::Material wanted;
  wanted.name = wanted.key = "deck";
  wanted.base_color_texture.image = scene::ImageIndex(0);
  wanted.metallic = 0;
  EXPECT_TRUE(scene::usedMaterials(m).size() == 2);
  EXPECT_EQ(m.materials[0].base_color, glm::vec4(1));
  EXPECT_EQ(m.materials[0].alpha, wanted.alpha);
  EXPECT_EQ(m.materials[0].metallic, 0);
  EXPECT_FALSE(m.materials[0].normal_texture.image.valid());
  EXPECT_EQ(m.materials[0].base_color_texture, wanted.base_color_texture);
  EXPECT_EQ(m.materials[0].kept, "");
}

TEST_F(SurfaceSteps, JoinedMaterialsAreWornAsOne) {
  const scene::Model m = after({{"join_materials", {{"material", "rail"}, {"into", "deck"}}}});
  EXPECT_EQ(scene::usedMaterials(m).size(), 1U);
}

TEST_F(SurfaceSteps, ChannelsArePackedIntoOnePictureAndTakenApart) {
  // Roughness in a picture of its own goes into green of the packed one, and comes back.
  source_->model.materials[1].occlusion_texture.image = scene::ImageIndex(0);
  const scene::Model packed = after({{"copy_channel",
                                      {{"material", "rail"},
                                       {"slot", "occlusion"},
                                       {"channel", "r"},
                                       {"into", "metal and roughness"},
                                       {"as", "g"}}}});
  const formats::Picture made = shown(packed, 1, &scene::Material::metallic_roughness_texture);
  EXPECT_EQ(made.width, 24U);
  EXPECT_EQ(made.pixels[1], std::byte{200});
  EXPECT_EQ(made.pixels[0], std::byte{255}) << "it began as white";
  const scene::Model apart = after({{"copy_channel",
                                     {{"material", "rail"},
                                      {"slot", "metal and roughness"},
                                      {"channel", "g"},
                                      {"into", "glow"},
                                      {"as", "b"}}}});
  EXPECT_EQ(shown(apart, 1, &scene::Material::emissive_texture).pixels[2], std::byte{200});
}

TEST_F(SurfaceSteps, AFilledPictureGoesOnPastItsSeamsAndStaysWhereItIsSeen) {
  // The triangle covers the upper left half; what nobody sees is black.
  formats::Picture half = test::plainPicture(32, 0, 0, 0);
  for (size_t y = 0; y < 32; ++y)
    for (size_t x = 0; x + y < 33; ++x) half.pixels[(y * 32 + x) * 4] = std::byte{240};
  source_->model.images[0].bytes = png(half);
  source_->model.images[0].uri = "pictures/half.png";
  const scene::Model m =
      after({{"fill_picture", {{"material", "deck"}, {"slot", "base colour"}, {"pixels", 4}}}});
  const formats::Picture filled = shown(m, 0, &scene::Material::base_color_texture);
  const auto red = [&](size_t x, size_t y) { return std::to_integer<int>(filled.pixels[(y * 32 + x) * 4]); };
  EXPECT_EQ(red(3, 3), 240);
  EXPECT_EQ(red(18, 18), 240) << "within four pixels of the seam";
  EXPECT_EQ(red(30, 30), 0) << "farther away";
}

TEST_F(SurfaceSteps, TintAndGradeMakeAVariantAndLeaveTheSource) {
  const scene::Model m =
      after({{"tint_picture", {{"material", "deck"}, {"slot", "base colour"}, {"color", {0, 1, 1}}}},
             {"grade_picture", {{"material", "deck"}, {"slot", "base colour"}, {"saturation", 0}}}});
  const formats::Picture p = shown(m, 0, &scene::Material::base_color_texture);
  EXPECT_NEAR(std::to_integer<int>(p.pixels[0]), std::to_integer<int>(p.pixels[1]), 1) << "grey";
  EXPECT_EQ(shown(source_->model, 0, &scene::Material::base_color_texture).pixels[0], std::byte{200});
}

TEST_F(SurfaceSteps, SayWhatIsNotThere) {
  after({{"flip_green", {{"material", "gone"}}}}, StepState::missed);
  doc_.steps.clear();
  source_->model.images[1].bytes = nullptr;
  replayer_ = Replayer();
  after({{"flip_green", {{"material", "deck"}}}}, StepState::missed);
  doc_.steps.clear();
  after({{"set_color", {{"material", "deck"}, {"color", {2, 0, 0}}}}}, StepState::wrong);
  doc_.steps.clear();
  after({{"join_materials", {{"material", "deck"}, {"into", "deck"}}}}, StepState::wrong);
}

TEST_F(SurfaceSteps, ADamagedPictureIsSaidAndStays) {
  source_->model.images[1].bytes = std::make_shared<const base::Bytes>(base::Bytes(40, std::byte{7}));
  const scene::Model m = after({{"flip_green", {{"material", "deck"}}}}, StepState::missed);
  EXPECT_EQ(m.images[1].bytes, source_->model.images[1].bytes);
}

}  // namespace
}  // namespace rakugo::prepare
