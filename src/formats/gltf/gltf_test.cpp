#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "base/json.h"
#include "formats/gltf/gltf.h"
#include "formats/pictures/pictures.h"

namespace rakugo::formats {
namespace {

using base::Bytes;

base::Result<Bytes> nothing(const std::string& name) {
  return base::Error{"file.missing", "There is no such file.", base::Place{name}, ""};
}

base::Result<ReadModel> readText(const std::string& json) {
  return readModel(base::asBytes(json), "test.gltf", nothing);
}

// A .gltf with one buffer as a data URI: three positions (36 bytes) and three 16-bit indices (6 bytes).
std::string triangle(const std::string& change_from = "", const std::string& change_to = "") {
  std::string text = R"({
  "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}],
  "nodes": [{"name": "top", "children": [1]}, {"name": "tri", "mesh": 0, "translation": [1, 2, 3]}],
  "meshes": [{"primitives": [{"attributes": {"POSITION": 0}, "indices": 1}]}],
  "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"}, {"bufferView": 1, "componentType": 5123, "count": 3, "type": "SCALAR"}],
  "bufferViews": [{"buffer": 0, "byteLength": 36}, {"buffer": 0, "byteOffset": 36, "byteLength": 6}],
  "buffers": [{"byteLength": 42, "uri": "data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAAAAABAAIA"}]
})";
  if (!change_from.empty()) {
    const size_t at = text.find(change_from);
    EXPECT_NE(at, std::string::npos) << change_from;
    text.replace(at, change_from.size(), change_to);
  }
  return text;
}

TEST(ReadGltf, ReadsATriangleWithItsPlacement) {
  const auto read = readText(triangle());
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(read->format, "glTF");
  const scene::Model& m = read->model;
  ASSERT_EQ(m.meshes.size(), 1u);
  const auto& p = m.meshes[0]->primitives.at(0);
  EXPECT_EQ(p.positions, (std::vector<glm::vec3>{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}));
  EXPECT_EQ(p.indices, (std::vector<uint32_t>{0, 1, 2}));
  EXPECT_EQ(m.node(scene::findPart(m, "top/tri")).local.position, glm::vec3(1, 2, 3));
  EXPECT_EQ(scene::boundsOf(m).max, glm::vec3(2, 3, 3));
}

struct Lie {
  const char* from;
  const char* to;
  const char* code;
  const char* place;
};

class GltfLies : public testing::TestWithParam<Lie> {};

TEST_P(GltfLies, AreRefusedWithCodeAndPlace) {
  const auto read = readText(triangle(GetParam().from, GetParam().to));
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().code, GetParam().code) << read.error().text();
  EXPECT_EQ(read.error().place.path, GetParam().place);
  EXPECT_EQ(read.error().place.file, "test.gltf");
}

INSTANTIATE_TEST_SUITE_P(
    Table, GltfLies,
    testing::Values(
        Lie{R"("version": "2.0")", R"("version": "1.0")", "gltf.version", "/asset/version"},
        Lie{R"("asset": {"version": "2.0"})", R"("asset": 3)", "gltf.version", "/asset/version"},
        Lie{R"("count": 3, "type": "VEC3")", R"("count": 4, "type": "VEC3")", "gltf.accessor",
            "/accessors/0"},
        Lie{R"("count": 3, "type": "VEC3")", R"("count": 4000000000, "type": "VEC3")", "gltf.accessor",
            "/accessors/0"},
        Lie{R"("count": 3, "type": "VEC3")", R"("count": -1, "type": "VEC3")", "gltf.accessor",
            "/accessors/0"},
        Lie{R"("count": 3, "type": "VEC3")", R"("count": 3, "type": "VEC2")", "gltf.accessor",
            "/accessors/0"},
        Lie{R"("componentType": 5126)", R"("componentType": 7)", "gltf.accessor", "/accessors/0"},
        Lie{R"("bufferView": 1)", R"("bufferView": 9)", "gltf.reference", "/accessors/1/bufferView"},
        Lie{R"("byteOffset": 36)", R"("byteOffset": 40)", "gltf.buffer", "/bufferViews/1"},
        Lie{R"("byteOffset": 36)", R"("byteOffset": 18446744073709551615)", "gltf.buffer", "/bufferViews/1"},
        Lie{R"("byteLength": 42)", R"("byteLength": 43)", "gltf.buffer", "/buffers/0/byteLength"},
        Lie{R"("indices": 1)", R"("indices": 0)", "gltf.accessor", "/accessors/0"},
        Lie{R"("children": [1])", R"("children": [7])", "gltf.reference", "/nodes/0/children/0"},
        Lie{R"("children": [1])", R"("children": [0])", "gltf.tree", "/nodes/0/children/0"},
        Lie{R"("children": [1])", R"("children": [1, 1])", "gltf.tree", "/nodes/0/children/1"},
        Lie{R"("mesh": 0)", R"("mesh": 0, "children": [0])", "gltf.tree", "/nodes/0"},
        Lie{R"("mesh": 0)", R"("mesh": 5)", "gltf.reference", "/nodes/1/mesh"},
        Lie{R"([1, 2, 3])", R"([1, 2, "x"])", "gltf.node", "/nodes/1"},
        Lie{R"("nodes": [0]})", R"("nodes": [1]})", "gltf.tree", "/scenes/0/nodes/0"},
        Lie{R"("asset":)", R"("extensionsRequired": ["XX_unheard_of"], "asset":)", "gltf.extension",
            "/extensionsRequired/0"},
        Lie{"AAABAAIA", "AAABAAkA", "gltf.index", "/meshes/0/primitives/0/indices"}));

TEST(ReadGltf, ASmallFileCannotAskForGigabytes) {
  // Many primitives that share one accessor without data: each would take 12 MB.
  std::string primitives;
  for (int i = 0; i < 5000; ++i)
    primitives += std::string(i > 0 ? "," : "") + R"({"attributes": {"POSITION": 0}})";
  const auto read = readText(R"({"asset":{"version":"2.0"},"meshes":[{"primitives":[)" + primitives +
                             R"(]}],"accessors":[{"componentType":5126,"count":1000000,"type":"VEC3"}]})");
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().code, "gltf.too_large");
}

TEST(ReadGltf, StripsAndFansBecomeTrianglesWithTheirWinding) {
  const auto mode = [](const char* value) {
    auto read =
        readText(triangle(R"("indices": 1})", std::string(R"("indices": 1, "mode": )") + value + "}"));
    EXPECT_TRUE(read);
    return read->model.meshes[0]->primitives.empty() ? std::vector<uint32_t>()
                                                     : read->model.meshes[0]->primitives[0].indices;
  };
  EXPECT_EQ(mode("5"), (std::vector<uint32_t>{0, 1, 2}));
  EXPECT_EQ(mode("6"), (std::vector<uint32_t>{0, 1, 2}));
  EXPECT_TRUE(mode("1").empty());
}

TEST(ReadGltf, AMissingPictureIsANoteAndNotAnError) {
  const auto read =
      readText(triangle(R"("meshes":)", R"("images": [{"uri": "tex%20tures/a.png"}], "meshes":)"));
  ASSERT_TRUE(read);
  ASSERT_EQ(read->model.images.size(), 1u);
  EXPECT_EQ(read->model.images[0].uri, "tex tures/a.png");
  EXPECT_EQ(read->model.images[0].bytes, nullptr);
  EXPECT_EQ(read->notes.at(0).code, "gltf.image_missing");
}

TEST(ReadGltf, ADotInFrontOfAPathIsTheFolderItself) {
  const std::string text = triangle(R"("meshes":)", R"("images": [{"uri": "./tex/./a.png"}], "meshes":)");
  std::string asked;
  const auto read =
      readModel(base::asBytes(text), "m.gltf", [&](const std::string& path) -> base::Result<Bytes> {
        asked = path;
        return Bytes(4, std::byte{1});
      });
  ASSERT_TRUE(read);
  EXPECT_EQ(asked, "tex/a.png");
  EXPECT_EQ(read->model.images[0].uri, "tex/a.png");
  EXPECT_THAT(read->named_files, testing::ElementsAre("tex/a.png"));
}

TEST(ReadGltf, ASceneThatIsNotThereIsRefusedWithItsPlace) {
  const auto read = readText(R"({"asset": {"version": "2.0"}, "scene": 2, "nodes": [{}]})");
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().code, "gltf.reference");
  EXPECT_EQ(read.error().place.path, "/scene");
}

TEST(ReadGltf, NamesTheFilesThatBelongToItOnceEach) {
  const auto read = readModel(
      base::asBytes(
          R"({"asset":{"version":"2.0"},"images":[{"uri":"t/x.png"},{"uri":"a%20b.png"},{"uri":"t/x.png"},{"uri":"data:image/png;base64,AA=="}]})"),
      "x.gltf", nothing);
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(read->named_files, (std::vector<std::string>{"t/x.png", "a b.png"}));
}

TEST(ReadModel, SaysWhichFormatsToAskFor) {
  const auto read = readModel(base::asBytes("PK\x03\x04 something else"), "x.zip", nothing);
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().code, "model.unknown_format");
  EXPECT_THAT(read.error().cure, testing::HasSubstr("glTF 2.0"));
}

// Everything the writer can carry, with odd names.
scene::Model richModel() {
  scene::Model m;
  m.nodes.resize(4);
  m.nodes[0].name = "root \"quoted\" ü";
  m.nodes[0].children = {scene::NodeIndex(1), scene::NodeIndex(2)};
  m.nodes[1].name = "body";
  m.nodes[1].parent = scene::NodeIndex(0);
  m.nodes[1].mesh = scene::MeshIndex(0);
  m.nodes[1].skin = scene::SkinIndex(0);
  m.nodes[1].local.scale = {1, 2, -1};
  m.nodes[2].name = "bone";
  m.nodes[2].parent = scene::NodeIndex(0);
  m.nodes[2].local.turn = glm::normalize(glm::quat(0.5F, 0.5F, 0.5F, -0.5F));
  m.cameras.emplace_back();
  m.nodes[3].camera = scene::CameraIndex(0);
  m.roots = {scene::NodeIndex(0), scene::NodeIndex(3)};
  scene::Primitive p;
  p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  p.normals.assign(4, {0, 0, 1});
  p.tangents.assign(4, {1, 0, 0, -1});
  p.uvs[0] = {{0, 0}, {1, 0}, {0, 1}, {0.5F, 0.25F}};
  p.uvs[1] = p.uvs[0];
  p.colors.assign(4, {0.25F, 0.5F, 0.75F, 1});
  p.joints.assign(4, {0, 0, 0, 0});
  p.weights.assign(4, {1, 0, 0, 0});
  p.indices = {0, 1, 2, 0, 2, 3};
  p.material = scene::MaterialIndex(0);
  m.meshes.push_back(std::make_shared<const scene::Mesh>(scene::Mesh{"mesh", {p}}));
  scene::Image image;
  image.name = "picture";
  image.mime = "image/png";
  image.bytes = std::make_shared<const Bytes>(encodePng(Picture{1, 1, Bytes(4, std::byte{200})}));
  m.images.push_back(image);
  scene::Material material;
  material.name = "paint";
  material.base_color = {0.5F, 0.25F, 1, 0.5F};
  material.metallic = 0.25F;
  material.alpha = scene::AlphaMode::blend;
  material.double_sided = true;
  material.base_color_texture = {scene::ImageIndex(0), 1, scene::Filter::nearest, scene::Wrap::clamp,
                                 scene::Wrap::mirror};
  m.materials.push_back(material);
  scene::Skin skin;
  skin.joints = {scene::NodeIndex(2)};
  skin.inverse_bind = {glm::mat4(2)};
  m.skins.push_back(skin);
  scene::Animation animation;
  animation.name = "nod";
  animation.channels.push_back({scene::NodeIndex(2),
                                scene::AnimatedPath::turn,
                                scene::Interpolation::step,
                                {0, 0.5F},
                                {0, 0, 0, 1, 1, 0, 0, 0}});
  m.animations.push_back(animation);
  scene::assignKeys(m);
  return m;
}

TEST(WriteGlb, APictureIsDeclaredAsWhatItsBytesAre) {
  scene::Model m = richModel();
  ASSERT_FALSE(m.images.empty());
  // A JPEG that its maker called PNG.
  m.images[0].name = "wood.png";
  m.images[0].mime = "image/png";
  m.images[0].uri.clear();
  m.images[0].bytes = std::make_shared<const Bytes>(
      Bytes{std::byte{0xFF}, std::byte{0xD8}, std::byte{0xFF}, std::byte{0xE0}, std::byte{0}, std::byte{16}});
  const auto read = readModel(writeGlb(m), "m.glb", nothing);
  ASSERT_TRUE(read) << read.error().text();
  EXPECT_EQ(read->model.images[0].mime, "image/jpeg");
}

TEST(WriteGlb, ReadsBackEqual) {
  const scene::Model m = richModel();
  const Bytes file = writeGlb(m);
  const auto read = readModel(file, "m.glb", nothing);
  ASSERT_TRUE(read) << read.error().text();
  const scene::Model& r = read->model;
  ASSERT_EQ(r.nodes.size(), m.nodes.size());
  for (size_t i = 0; i < m.nodes.size(); ++i) {
    EXPECT_EQ(r.nodes[i].name, m.nodes[i].name);
    EXPECT_EQ(r.nodes[i].key, m.nodes[i].key);
    EXPECT_EQ(r.nodes[i].local.position, m.nodes[i].local.position);
    EXPECT_EQ(r.nodes[i].local.scale, m.nodes[i].local.scale);
    EXPECT_NEAR(glm::dot(r.nodes[i].local.turn, m.nodes[i].local.turn), 1, 1e-6);
  }
  const auto &a = r.meshes[0]->primitives[0], &b = m.meshes[0]->primitives[0];
  EXPECT_EQ(a.positions, b.positions);
  EXPECT_EQ(a.tangents, b.tangents);
  EXPECT_EQ(a.uvs[1], b.uvs[1]);
  EXPECT_EQ(a.colors, b.colors);
  EXPECT_EQ(a.joints, b.joints);
  EXPECT_EQ(a.weights, b.weights);
  EXPECT_EQ(a.indices, b.indices);
  EXPECT_EQ(r.materials[0].base_color, m.materials[0].base_color);
  EXPECT_EQ(r.materials[0].base_color_texture, m.materials[0].base_color_texture);
  EXPECT_EQ(*r.images[0].bytes, *m.images[0].bytes);
  EXPECT_EQ(r.skins[0].inverse_bind[0], m.skins[0].inverse_bind[0]);
  EXPECT_EQ(r.animations[0].channels[0].values, m.animations[0].channels[0].values);
  EXPECT_EQ(r.animations[0].channels[0].interpolation, scene::Interpolation::step);
  EXPECT_EQ(writeGlb(m), file) << "equal models must give equal bytes";
}

TEST(ReadGlb, EveryPrefixIsRefusedOrReadWithoutHarm) {
  const Bytes file = writeGlb(richModel());
  for (size_t n = 0; n < file.size(); ++n)
    ASSERT_FALSE(readModel(base::ByteSpan(file).first(n), "m.glb", nothing)) << n;
}

TEST(ReadGlb, FlippedBitsNeverCrash) {
  const Bytes file = writeGlb(richModel());
  std::mt19937 random(7);
  int refused = 0;
  for (int i = 0; i < 4000; ++i) {
    Bytes damaged = file;
    for (int k = 0; k < 1 + i % 4; ++k)
      damaged[random() % damaged.size()] ^= static_cast<std::byte>(1u << random() % 8);
    const auto read = readModel(damaged, "m.glb", nothing);
    if (!read) {
      ++refused;
      EXPECT_FALSE(read.error().code.empty());
      EXPECT_FALSE(read.error().message.empty());
      continue;
    }
    for (const auto& mesh : read->model.meshes)
      for (const auto& p : mesh->primitives)
        for (const uint32_t index : p.indices) ASSERT_LT(index, p.positions.size());
  }
  EXPECT_GT(refused, 100);
}

TEST(Pictures, PngComesBackAndDamageIsNamed) {
  Picture p{3, 2, Bytes(24)};
  for (size_t i = 0; i < p.pixels.size(); ++i) p.pixels[i] = static_cast<std::byte>(i * 10);
  for (size_t i = 3; i < 24; i += 4) p.pixels[i] = std::byte{255};
  const Bytes png = encodePng(p);
  const auto back = decodePicture(png, "a.png");
  ASSERT_TRUE(back);
  EXPECT_EQ(back->pixels, p.pixels);
  EXPECT_EQ(pictureInfo(png, "a.png")->format, "PNG");
  for (size_t n = 0; n < png.size() - 12; ++n)
    ASSERT_FALSE(decodePicture(base::ByteSpan(png).first(n), "a.png")) << n;
  EXPECT_EQ(decodePicture(base::asBytes("GIF89a"), "a.gif").error().code, "picture.unknown_format");
  base::Limits small;
  small.picture_side = 2;
  EXPECT_EQ(decodePicture(png, "a.png", small).error().code, "picture.too_large");
}

TEST(Pictures, DamagedJpegIsRefusedWithoutACrash) {
  Bytes jpeg;
  for (const int b : {0xFF, 0xD8, 0xFF, 0xE0, 0,    16, 0x4A, 0x46, 0x49, 0x46, 0,    1,    1, 0, 0,    1, 0,
                      1,    0,    0,    0xFF, 0xC0, 0,  11,   8,    0xFF, 0xFF, 0xFF, 0xFF, 1, 1, 0x11, 0})
    jpeg.push_back(static_cast<std::byte>(b));
  const auto read = decodePicture(jpeg, "a.jpg");
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().place.file, "a.jpg");
}

}  // namespace
}  // namespace rakugo::formats
