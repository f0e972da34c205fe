#include "prepare/surface/atlas.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "formats/pictures/pictures.h"
#include "support/made_pictures.h"

namespace rakugo::prepare {
namespace {

using formats::Picture;

scene::ImageIndex add(scene::Model& m, const Picture& picture) {
  m.images.push_back({"", "", "image/png", std::make_shared<const base::Bytes>(formats::encodePng(picture))});
  return scene::ImageIndex(m.images.size() - 1);
}

Picture noisePicture(uint32_t side, std::mt19937& random) {
  Picture out{side, side, base::Bytes(size_t{side} * side * 4)};
  for (size_t i = 0; i < out.pixels.size(); ++i)
    out.pixels[i] = i % 4 == 3 ? std::byte{255} : static_cast<std::byte>(random());
  return out;
}

// Materials with a picture each (and factors), worn by triangles at places of their own.
// `reach`: how many times a triangle may repeat its picture.
scene::Model randomModel(unsigned seed, size_t materials, double reach = 0) {
  std::mt19937 random(seed);
  const auto from = [&](double low, double high) {
    return static_cast<float>(std::uniform_real_distribution<double>(low, high)(random));
  };
  scene::Model m;
  auto mesh = std::make_shared<scene::Mesh>();
  for (size_t i = 0; i < materials; ++i) {
    scene::Material& material = m.materials.emplace_back();
    material.name = "m" + std::to_string(i);
    material.metallic = from(0, 1);
    material.roughness = from(0, 1);
    if (i % 3 != 2) {
      const auto side = static_cast<uint32_t>(16 + random() % 48);
      material.base_color_texture.image = add(m, noisePicture(side, random));
      if (i % 2 == 0) material.metallic_roughness_texture.image = add(m, noisePicture(side, random));
    }
    if (i % 4 == 1) material.base_color = {from(0, 1), from(0, 1), from(0, 1), 1};
    scene::Primitive& p = mesh->primitives.emplace_back();
    p.material = scene::MaterialIndex(i);
    for (int t = 0; t < 5; ++t) {
      const glm::vec2 shift(static_cast<float>(random() % 5) - 2, static_cast<float>(random() % 3) - 1);
      for (int c = 0; c < 3; ++c) {
        p.positions.emplace_back(from(0, 1), from(0, 1), static_cast<float>(i));
        const double most = reach > 0 ? reach : 0.99;
        p.uvs[0].push_back(glm::vec2(from(0.01, most), from(0.01, most)) + shift);
        p.indices.push_back(static_cast<uint32_t>(p.indices.size()));
      }
    }
  }
  m.meshes.push_back(std::move(mesh));
  m.nodes.resize(1);
  m.nodes[0].mesh = scene::MeshIndex(0);
  m.roots = {scene::NodeIndex(0)};
  scene::assignKeys(m);
  return m;
}

// What a slot shows there: the nearest pixel, times the factors, in light for colour.
glm::vec3 sampled(const scene::Model& m, const scene::Material& material, bool color, glm::vec2 uv) {
  const scene::TextureUse& use = color ? material.base_color_texture : material.metallic_roughness_texture;
  glm::vec3 out(1);
  if (use.image.valid()) {
    const Picture p = *formats::decodePicture(*m.images[use.image.value()].bytes, "x");
    glm::vec2 in = uv - glm::floor(uv);
    for (int c = 0; c < 2; ++c)
      if ((c == 0 ? use.wrap_u : use.wrap_v) == scene::Wrap::mirror &&
          std::fmod(std::abs(std::floor(uv[c])), 2.0F) == 1)
        in[c] = 1 - in[c];
    const auto x = std::min(p.width - 1, static_cast<uint32_t>(in.x * static_cast<float>(p.width))),
               y = std::min(p.height - 1, static_cast<uint32_t>(in.y * static_cast<float>(p.height)));
    for (int c = 0; c < 3; ++c) {
      const double s =
          std::to_integer<int>(p.pixels[(size_t{y} * p.width + x) * 4 + static_cast<size_t>(c)]) / 255.0;
      out[c] = static_cast<float>(!color ? s : s <= 0.04045 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4));
    }
  }
  return color ? out * glm::vec3(material.base_color)
               : out * glm::vec3(0, material.roughness, material.metallic);
}

double stored(float light) {
  return 255 * (light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055);
}

std::vector<scene::MaterialIndex> all(const scene::Model& m) {
  std::vector<scene::MaterialIndex> out;
  for (size_t i = 0; i < m.materials.size(); ++i) out.push_back(scene::MaterialIndex(i));
  return out;
}

TEST(Atlas, ThenSampleIsSampleThenAtlas) {
  // The second half repeats its pictures, every third mirrored.
  for (unsigned seed = 1; seed <= 24; ++seed) {
    scene::Model before = randomModel(seed, 2 + seed % 7, seed > 12 ? 3.5 : 0);
    for (scene::Material& one : before.materials)
      for (const scene::TextureSlot& slot : scene::kTextureSlots)
        if (seed > 12 && seed % 3 == 0) (one.*slot.use).wrap_v = scene::Wrap::mirror;
    scene::Model after = before;
    const auto packed = packAtlas(after, all(after), {"sheet", 4096, 3});
    const auto report = mergeIntoAtlas(after, all(after), {"sheet", 4096, 3});
    ASSERT_TRUE(packed && packed->side == report->side && packed->filled == report->filled);
    ASSERT_TRUE(report) << report.error().text();
    EXPECT_EQ(report->scale, 1);
    ASSERT_EQ(scene::usedMaterials(after).size(), 1U);
    const scene::Material& sheet = after.materials[scene::usedMaterials(after)[0].value()];
    std::mt19937 random(seed);
    for (size_t k = 0; k < before.meshes[0]->primitives.size(); ++k) {
      const scene::Primitive &was = before.meshes[0]->primitives[k], &is = after.meshes[0]->primitives[k];
      const scene::Material& own = before.materials[k];
      for (size_t t = 0; t + 2 < was.indices.size(); t += 3) {
        // Vertices lie where they lay, to a hair of a pixel; the middle of the triangle's own pixels is
        // taken.
        const float a = static_cast<float>(random() % 100) / 300,
                    b = static_cast<float>(random() % 100) / 300;
        const auto at = [&](const scene::Primitive& p) {
          return p.uvs[0][p.indices[t]] * (1 - a - b) + p.uvs[0][p.indices[t + 1]] * a +
                 p.uvs[0][p.indices[t + 2]] * b;
        };
        if (own.base_color_texture.image.valid()) {
          // A place near the border of two pixels may be rounded to either.
          const Picture p =
              *formats::decodePicture(*before.images[own.base_color_texture.image.value()].bytes, "x");
          const glm::vec2 pixel = at(was) * glm::vec2(p.width, p.height),
                          rest = glm::abs(glm::fract(pixel) - 0.5F);
          if (std::max(rest.x, rest.y) > 0.49F) continue;
        }
        for (const bool color : {true, false}) {
          const glm::vec3 wanted = sampled(before, own, color, at(was)),
                          found = sampled(after, sheet, color, at(is));
          for (int c = color ? 0 : 1; c < 3; ++c)
            ASSERT_NEAR(color ? stored(found[c]) : found[c] * 255,
                        color ? stored(wanted[c]) : wanted[c] * 255, 0.51)
                << "seed " << seed << ", material " << k << ", " << (color ? "colour" : "data") << " " << c;
        }
      }
    }
  }
}

TEST(Atlas, IsTheSameEachTimeAndLeavesTheSourceAlone) {
  const scene::Model before = randomModel(5, 6);
  scene::Model a = before, b = before;
  ASSERT_TRUE(mergeIntoAtlas(a, all(a), {"sheet", 512, 4}));
  ASSERT_TRUE(mergeIntoAtlas(b, all(b), {"sheet", 512, 4}));
  EXPECT_EQ(*a.images.back().bytes, *b.images.back().bytes);
  EXPECT_EQ(a.meshes[0]->primitives[0].uvs[0], b.meshes[0]->primitives[0].uvs[0]);
  EXPECT_EQ(before.meshes[0]->primitives[0].material, scene::MaterialIndex(0));
  EXPECT_EQ(before.images.size(), randomModel(5, 6).images.size());
}

TEST(Atlas, ShrinksEvenlyWhatDoesNotFit) {
  scene::Model m = randomModel(3, 7);
  const auto report = mergeIntoAtlas(m, all(m), {"sheet", 64, 1});
  ASSERT_TRUE(report) << report.error().text();
  EXPECT_EQ(report->side, 64U);
  EXPECT_LT(report->scale, 1);
  for (const scene::Primitive& p : m.meshes[0]->primitives)
    for (const glm::vec2 uv : p.uvs[0]) {
      EXPECT_GE(std::min(uv.x, uv.y), 0);
      EXPECT_LE(std::max(uv.x, uv.y), 1);
    }
}

TEST(Atlas, SaysWhyMaterialsCannotBeOne) {
  scene::Model m = randomModel(2, 3);
  const auto refused = [&](const auto& change) {
    scene::Model other = m;
    change(other);
    const auto result = mergeIntoAtlas(other, all(other), {"sheet", 512, 2});
    return result ? std::string("merged") : result.error().code + ": " + result.error().message;
  };
  EXPECT_EQ(refused([](scene::Model&) {}), "merged");
  EXPECT_EQ(refused([](scene::Model& x) { x.materials[1].role = "glass"; }),
            "atlas.apart: m0 and m1 cannot be one: they have different roles.");
  EXPECT_EQ(refused([](scene::Model& x) { x.materials[1].alpha = scene::AlphaMode::blend; }).substr(0, 11),
            "atlas.apart");
  EXPECT_EQ(refused([](scene::Model& x) { x.materials[1].double_sided = true; }).substr(0, 11),
            "atlas.apart");
  EXPECT_EQ(
      refused([](scene::Model& x) {
        for (glm::vec2& uv : x.editMesh(scene::MeshIndex(0)).primitives[0].uvs[0]) uv *= 9.0F;
      }),
      "atlas.sheet: m0 cannot go onto a sheet: its picture repeats too often across one island, or its UVs "
      "lie beside a picture that does not repeat.");
  EXPECT_EQ(refused([](scene::Model& x) {
              for (scene::Material& one : x.materials)
                for (const scene::TextureSlot& slot : scene::kTextureSlots)
                  (one.*slot.use).wrap_u = scene::Wrap::clamp;
              for (glm::vec2& uv : x.editMesh(scene::MeshIndex(0)).primitives[0].uvs[0]) uv.x += 0.5F;
            }).substr(0, 11),
            "atlas.sheet");
  EXPECT_EQ(
      refused([](scene::Model& x) {
        x.materials[0].base_color = {0, 0, 0, 1};
      }),
      "atlas.sheet: m0 cannot go onto a sheet: its colour of 0 takes its picture away, which is to be mended "
      "first.");
  EXPECT_EQ(refused([](scene::Model& x) { x.images[0].bytes = nullptr; }),
            "atlas.sheet: m0 cannot go onto a sheet: a picture of it is not there.");
  // A material of one colour goes however its coordinates lie.
  EXPECT_EQ(refused([](scene::Model& x) {
              for (glm::vec2& uv : x.editMesh(scene::MeshIndex(0)).primitives[2].uvs[0]) uv *= 9.0F;
            }),
            "merged");
  scene::Model one = m;
  EXPECT_EQ(mergeIntoAtlas(one, {}, {"sheet", 512, 2}).error().code, "atlas.apart");
  base::Progress progress;
  progress.cancel();
  EXPECT_EQ(mergeIntoAtlas(one, all(one), {"sheet", 512, 2}, &progress).error().code, "job.cancelled");
}

TEST(Atlas, PixelArtStaysSharpWhicheverMaterialComesFirst) {
  scene::Model m = randomModel(4, 6);
  // The third is of one colour; the others' pictures are pixel art.
  for (scene::Material& material : m.materials)
    for (const scene::TextureSlot& slot : scene::kTextureSlots)
      (material.*slot.use).filter = scene::Filter::nearest;
  m.materials[2].base_color_texture.filter = scene::Filter::linear;
  const std::vector<scene::MaterialIndex> order = {scene::MaterialIndex(2), scene::MaterialIndex(0),
                                                   scene::MaterialIndex(1)};
  scene::Model sharp = m;
  ASSERT_TRUE(mergeIntoAtlas(sharp, order, {"sheet", 32, 1}));
  EXPECT_EQ(sharp.materials.back().base_color_texture.filter, scene::Filter::nearest);
  // One that is not cannot go with them, whoever stands between.
  m.materials[1].base_color_texture.filter = scene::Filter::linear;
  m.materials[1].metallic_roughness_texture.filter = scene::Filter::linear;
  EXPECT_EQ(mergeIntoAtlas(m, order, {"sheet", 512, 1}).error().code, "atlas.apart");
}

TEST(Atlas, MarginsGoOnAsThePictureDoes) {
  // Two pictures of one colour each: within the margin, no pixel is of the other or of none.
  scene::Model m = randomModel(1, 2);
  m.images.clear();
  for (size_t i = 0; i < 2; ++i) {
    m.materials[i] = scene::Material();
    m.materials[i].name = m.materials[i].key = "c" + std::to_string(i);
    m.materials[i].base_color_texture.image =
        add(m, test::plainPicture(32, i == 0 ? 255 : 0, 0, i == 0 ? 0 : 255));
  }
  const uint32_t margin = 4;
  const auto report = mergeIntoAtlas(m, all(m), {"sheet", 512, margin});
  ASSERT_TRUE(report);
  const scene::Material& sheet = m.materials.back();
  const Picture p = *formats::decodePicture(*m.images[sheet.base_color_texture.image.value()].bytes, "x");
  for (size_t k = 0; k < 2; ++k)
    for (const glm::vec2 uv : m.meshes[0]->primitives[k].uvs[0])
      for (int dx = -3; dx <= 3; ++dx) {
        const auto x = static_cast<size_t>(
                       std::clamp(uv.x * static_cast<float>(p.width) + static_cast<float>(dx), 0.0F,
                                  static_cast<float>(p.width - 1))),
                   y = static_cast<size_t>(
                       std::min(uv.y * static_cast<float>(p.height), static_cast<float>(p.height - 1)));
        EXPECT_EQ(std::to_integer<int>(p.pixels[(y * p.width + x) * 4]), k == 0 ? 255 : 0);
      }
}

}  // namespace
}  // namespace rakugo::prepare
