// What is written reads back as what it was, for all that the format carries.
#include "formats/export.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <random>

namespace rakugo::formats {
namespace {

using testing::Contains;
using testing::HasSubstr;

base::Result<ReadModel> again(const Exported& exported, const std::string& name) {
  return readModel(exported.files.at(name), name, [&](const std::string& file) -> base::Result<base::Bytes> {
    const auto found = exported.files.find(file);
    if (found == exported.files.end()) return base::Error{"file.missing", "none", {}, ""};
    return found->second;
  });
}

// Models of odd floats, odd names, parts with and without attributes. Every vertex is used and none is like
// another, so that reading need not change their order.
scene::Model made(std::mt19937& random) {
  scene::Model model;
  const auto real = [&] {
    float v = 0;
    do v = std::bit_cast<float>(static_cast<uint32_t>(random()));
    while (!std::isfinite(v) || std::abs(v) > 1e6F || (v != 0 && std::abs(v) < 1e-6F));
    return v;
  };
  const char* kNames[] = {"Door", "left  wheel", "ünter", "a#b", "x\\y", "o", "-clamp"};
  const int materials = static_cast<int>(random() % 3);
  for (int m = 0; m < materials; ++m) {
    scene::Material material;
    material.name = std::string(kNames[random() % 7]) + std::to_string(m);
    material.base_color = {0.25F, 0.5F, 0.125F, random() % 2 != 0 ? 1.0F : 0.5F};
    material.alpha = material.base_color.w < 1 ? scene::AlphaMode::blend : scene::AlphaMode::opaque;
    material.metallic = 0.1F;
    material.roughness = 0.7F;
    material.emissive = {0, 0.5F, 0};
    if (random() % 2 != 0) {
      const base::ByteSpan picture = base::asBytes("a picture");
      model.images.push_back({"p.png", "tex/p " + std::to_string(m) + ".png", "image/png",
                              std::make_shared<const base::Bytes>(picture.begin(), picture.end())});
      material.base_color_texture.image = scene::ImageIndex(model.images.size() - 1);
    }
    model.materials.push_back(material);
  }
  const int parts = 1 + static_cast<int>(random() % 3);
  for (int part = 0; part < parts; ++part) {
    scene::Mesh mesh;
    scene::Primitive p;
    const uint32_t n = 3 + static_cast<uint32_t>(random() % 20);
    const bool uvs = random() % 2 != 0, normals = random() % 2 != 0;
    for (uint32_t v = 0; v < n; ++v) {
      p.positions.emplace_back(real(), real(), static_cast<float>(v));
      // Halves and quarters: V is turned over twice, and must come back to the bit.
      if (uvs) p.uvs[0].emplace_back(real(), static_cast<float>(random() % 64) / 16 - 2);
      if (normals) p.normals.push_back(glm::vec3(real(), real(), real()));
    }
    for (uint32_t v = 0; v + 2 < n; ++v) p.indices.insert(p.indices.end(), {v, v + 1, v + 2});
    if (materials > 0) p.material = scene::MaterialIndex(random() % static_cast<size_t>(materials));
    mesh.primitives.push_back(std::move(p));
    scene::Node node;
    node.name = std::string(kNames[part * 2 + static_cast<int>(random() % 2)]) + std::to_string(part);
    node.mesh = scene::MeshIndex(model.meshes.size());
    model.roots.emplace_back(model.nodes.size());
    model.nodes.push_back(node);
    model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
  }
  scene::assignKeys(model);
  return model;
}

const scene::Primitive& first(const scene::Model& model, size_t mesh) {
  return model.meshes.at(mesh)->primitives.at(0);
}

TEST(ExportModel, ObjReadsBackAsItWasWritten) {
  std::mt19937 random(17);
  for (int round = 0; round < 200; ++round) {
    const scene::Model model = made(random);
    const auto exported = exportModel(model, "thing.obj");
    ASSERT_TRUE(exported);
    EXPECT_EQ(exported->files, exportModel(model, "thing.obj")->files);
    const auto read = again(*exported, "thing.obj");
    ASSERT_TRUE(read) << read.error().text();
    ASSERT_EQ(read->model.nodes.size(), model.nodes.size());
    for (size_t i = 0; i < model.nodes.size(); ++i) {
      EXPECT_EQ(read->model.nodes[i].name, model.nodes[i].name);
      const scene::Primitive &was = first(model, i), &is = first(read->model, i);
      ASSERT_EQ(is.positions, was.positions) << round;
      ASSERT_EQ(is.uvs[0], was.uvs[0]);
      ASSERT_EQ(is.normals, was.normals);
      ASSERT_EQ(is.indices, was.indices);
      if (!was.material.valid()) continue;
      const scene::Material &had = model.materials[was.material.value()],
                            &has = read->model.materials[is.material.value()];
      EXPECT_EQ(has.name, had.name);
      EXPECT_EQ(has.base_color, had.base_color);
      EXPECT_EQ(has.roughness, had.roughness);
      EXPECT_EQ(has.metallic, had.metallic);
      EXPECT_EQ(has.emissive, had.emissive);
      EXPECT_EQ(has.alpha, had.alpha);
      ASSERT_EQ(has.base_color_texture.image.valid(), had.base_color_texture.image.valid());
      if (had.base_color_texture.image.valid()) {
        const scene::Image &had_image = model.images[had.base_color_texture.image.value()],
                           &has_image = read->model.images[has.base_color_texture.image.value()];
        EXPECT_EQ(has_image.uri, had_image.uri);
        ASSERT_NE(has_image.bytes, nullptr);
        EXPECT_EQ(*has_image.bytes, *had_image.bytes);
      }
    }
  }
}

TEST(ExportModel, PlyAndStlKeepEveryTriangle) {
  std::mt19937 random(23);
  for (int round = 0; round < 100; ++round) {
    const scene::Model model = made(random);
    std::vector<glm::vec3> corners;
    for (const auto& mesh : model.meshes)
      for (const uint32_t i : mesh->primitives[0].indices)
        corners.push_back(mesh->primitives[0].positions[i]);
    for (const char* name : {"x.ply", "x.stl"}) {
      const auto read = again(*exportModel(model, name), name);
      ASSERT_TRUE(read) << read.error().text();
      const scene::Primitive& p = first(read->model, 0);
      ASSERT_EQ(p.indices.size(), corners.size()) << name;
      for (size_t i = 0; i < corners.size(); ++i)
        ASSERT_EQ(p.positions[p.indices[i]], corners[i]) << name << round;
    }
  }
}

TEST(ExportModel, PartsStandWhereTheyStoodAndMirroredOnesAreNotInsideOut) {
  std::mt19937 random(1);
  scene::Model model;
  scene::Primitive p;
  p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
  p.normals.assign(3, {0, 0, 1});
  p.indices = {0, 1, 2};
  model.meshes.push_back(std::make_shared<const scene::Mesh>(scene::Mesh{"m", {p}}));
  scene::Node node;
  node.name = "mirrored";
  node.local.position = {5, 0, 0};
  node.local.scale = {-2, 1, 1};
  node.mesh = scene::MeshIndex(0);
  model.nodes.push_back(node);
  model.roots.emplace_back(0);
  scene::assignKeys(model);
  for (const char* name : {"x.obj", "x.ply", "x.stl"}) {
    const auto read = again(*exportModel(model, name), name);
    ASSERT_TRUE(read);
    const scene::Primitive& is = first(read->model, 0);
    const glm::vec3 a = is.positions[is.indices[0]], b = is.positions[is.indices[1]],
                    c = is.positions[is.indices[2]];
    EXPECT_GT(glm::cross(b - a, c - a).z, 0) << name;
    EXPECT_FLOAT_EQ(std::min({a.x, b.x, c.x}), 3) << name;
    EXPECT_FLOAT_EQ(std::max({a.x, b.x, c.x}), 5) << name;
    if (!is.normals.empty()) {
      EXPECT_GT(is.normals[0].z, 0.99F);
    }
  }
}

TEST(ExportModel, SaysWhatAFormatCannotCarry) {
  std::mt19937 random(2);
  scene::Model model = made(random);
  model.skins.resize(1);
  model.animations.resize(2);
  EXPECT_THAT(exportModel(model, "x.obj")->lost,
              testing::ElementsAre(HasSubstr("1 skeleton"), HasSubstr("2 animations")));
  EXPECT_THAT(exportModel(model, "x.stl")->lost, Contains(HasSubstr("2 animations")));
  const auto other = exportModel(model, "x.doc");
  ASSERT_FALSE(other);
  EXPECT_EQ(other.error().code, "export.unknown_format");
}

}  // namespace
}  // namespace rakugo::formats
