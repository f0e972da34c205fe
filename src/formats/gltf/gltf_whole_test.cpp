// What glTF 2.0 has beyond plain triangles, in files written by hand and by the codecs' own encoders.
#include <draco/compression/encode.h>
#include <draco/mesh/triangle_soup_mesh_builder.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <meshoptimizer.h>

#include "base/json.h"
#include "formats/gltf/gltf.h"

namespace rakugo::formats {
namespace {

using base::Json;
using testing::Contains;
using testing::ElementsAre;
using testing::Field;
using testing::HasSubstr;

base::Result<base::Bytes> nothing(const std::string& name) {
  return base::Error{"file.missing", "There is no such file.", base::Place{name}, ""};
}

// Builds a file piece by piece: bytes in one buffer, views and accessors on them.
class Builder {
 public:
  Json json = Json::parse(
      R"({"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}], "nodes": [{"mesh": 0}],
    "meshes": [{"primitives": [{"attributes": {}}]}], "accessors": [], "bufferViews": [], "buffers": [{"byteLength": 0}]})");

  template <class T>
  size_t view(const std::vector<T>& values, size_t stride = 0) {
    while (bytes_.size() % 4 != 0) bytes_.write<uint8_t>(0);
    Json v{{"buffer", 0}, {"byteOffset", bytes_.size()}, {"byteLength", values.size() * sizeof(T)}};
    if (stride != 0) v["byteStride"] = stride;
    bytes_.bytes(std::as_bytes(std::span(values)));
    json["bufferViews"].push_back(v);
    return json["bufferViews"].size() - 1;
  }
  template <class T>
  size_t accessor(const std::vector<T>& values, int type, const char* shape, size_t count,
                  size_t stride = 0) {
    json["accessors"].push_back(Json{
        {"bufferView", view(values, stride)}, {"componentType", type}, {"count", count}, {"type", shape}});
    return json["accessors"].size() - 1;
  }
  Json& primitive() { return json["meshes"][0]["primitives"][0]; }
  void triangle() {
    primitive()["attributes"]["POSITION"] = accessor<float>({0, 0, 0, 1, 0, 0, 0, 1, 0}, 5126, "VEC3", 3);
  }
  base::Bytes glb() {
    json["buffers"][0]["byteLength"] = bytes_.size();
    std::string text = json.dump();
    while (text.size() % 4 != 0) text += ' ';
    base::ByteWriter out;
    for (const uint32_t v : {0x46546C67U, 2U, static_cast<uint32_t>(28 + text.size() + bytes_.size()),
                             static_cast<uint32_t>(text.size()), 0x4E4F534AU})
      out.write<uint32_t>(v);
    out.bytes(base::asBytes(text));
    out.write<uint32_t>(static_cast<uint32_t>(bytes_.size()));
    out.write<uint32_t>(0x004E4942);
    out.bytes(bytes_.view());
    return out.take();
  }
  base::Result<ReadModel> read() { return readModel(glb(), "made.glb", nothing); }

 private:
  base::ByteWriter bytes_;
};

const scene::Primitive& only(const ReadModel& r) { return r.model.meshes.at(0)->primitives.at(0); }

TEST(GltfWhole, SparseAccessorsReplaceElements) {
  Builder b;
  b.triangle();
  const size_t places = b.view<uint16_t>({1}), values = b.view<float>({5, 6, 7});
  b.json["accessors"][0]["sparse"] = Json{{"count", 1},
                                          {"indices", {{"bufferView", places}, {"componentType", 5123}}},
                                          {"values", {{"bufferView", values}}}};
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_EQ(only(*r).positions, (std::vector<glm::vec3>{{0, 0, 0}, {5, 6, 7}, {0, 1, 0}}));
  // Without a view of its own the rest is zero.
  b.json["accessors"][0].erase("bufferView");
  EXPECT_EQ(only(*b.read()).positions, (std::vector<glm::vec3>{{0, 0, 0}, {5, 6, 7}, {0, 0, 0}}));
  b.json["accessors"][0]["count"] = 1;
  EXPECT_EQ(b.read().error().code, "gltf.accessor") << "element 1 of 1";
}

TEST(GltfWhole, QuantisedNumbersAreNormalised) {
  Builder b;
  b.json["extensionsRequired"] = Json::array({"KHR_mesh_quantization"});
  // Signed bytes in a stride of four: -127, 0, 127 are -1, 0, 1; -128 is held at -1.
  b.primitive()["attributes"]["POSITION"] =
      b.accessor<int8_t>({-128, 0, 127, 0, 127, 0, 0, 0, 0, 127, -127, 0}, 5120, "VEC3", 3, 4);
  b.json["accessors"][0]["normalized"] = true;
  b.primitive()["attributes"]["TEXCOORD_0"] =
      b.accessor<uint16_t>({0, 65535, 65535, 0, 0, 0}, 5123, "VEC2", 3);
  b.json["accessors"][1]["normalized"] = true;
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_EQ(only(*r).positions, (std::vector<glm::vec3>{{-1, 0, 1}, {1, 0, 0}, {0, 1, -1}}));
  EXPECT_EQ(only(*r).uvs[0], (std::vector<glm::vec2>{{0, 1}, {1, 0}, {0, 0}}));
}

TEST(GltfWhole, MorphTargetsWithNamesAndWeights) {
  Builder b;
  b.triangle();
  const size_t deltas = b.accessor<float>({0, 0, 1, 0, 0, 2, 0, 0, 3}, 5126, "VEC3", 3);
  b.primitive()["targets"] = Json::array({Json{{"POSITION", deltas}}});
  b.json["meshes"][0]["weights"] = {0.25};
  b.json["meshes"][0]["extras"] = Json{{"targetNames", {"blink"}}, {"own", 1}};
  b.json["nodes"][0]["weights"] = {0.5};
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_THAT(r->model.meshes[0]->morph_names, ElementsAre("blink"));
  EXPECT_THAT(r->model.meshes[0]->morph_weights, ElementsAre(0.25F));
  EXPECT_THAT(r->model.nodes[0].morph_weights, ElementsAre(0.5F));
  EXPECT_EQ(only(*r).morphs.at(0).positions.at(2), glm::vec3(0, 0, 3));
  EXPECT_EQ(r->model.meshes[0]->kept, R"({"extras":{"own":1}})");
}

TEST(GltfWhole, TheRegionOfANodeGoesThroughWithItsOtherExtras) {
  Builder b;
  b.triangle();
  b.json["nodes"][0]["extras"] = Json{{"region", "collar"}, {"wool", "coarse"}};
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_EQ(r->model.nodes[0].region, "collar");
  EXPECT_EQ(r->model.nodes[0].kept, R"({"extras":{"wool":"coarse"}})");
  scene::Model handed_over = r->model;
  handed_over.nodes[0].region = "trunk";
  const auto again = readModel(writeGlb(handed_over), "again.glb", nothing);
  ASSERT_TRUE(again) << again.error().text();
  EXPECT_EQ(again->model.nodes[0].region, "trunk");
  EXPECT_EQ(again->model.nodes[0].kept, r->model.nodes[0].kept);
  // None named: none is written, and what else was there stays.
  handed_over.nodes[0].region.clear();
  const auto none = readModel(writeGlb(handed_over), "none.glb", nothing);
  ASSERT_TRUE(none) << none.error().text();
  EXPECT_EQ(none->model.nodes[0].region, "");
  EXPECT_EQ(none->model.nodes[0].kept, r->model.nodes[0].kept);
}

TEST(GltfWhole, ARegionThatIsNoNameIsKeptAsItStands) {
  for (const Json& odd : {Json(7), Json::array({"collar"}), Json(nullptr)}) {
    Builder b;
    b.triangle();
    b.json["nodes"][0]["extras"] = Json{{"region", odd}};
    const auto r = b.read();
    ASSERT_TRUE(r) << r.error().text();
    EXPECT_EQ(r->model.nodes[0].region, "") << odd;
    EXPECT_EQ(Json::parse(r->model.nodes[0].kept)["extras"]["region"], odd);
  }
  // A name is held to what can be shown: no line breaks, not endless.
  Builder b;
  b.triangle();
  b.json["nodes"][0]["extras"] = Json{{"region", std::string(5000, 'x') + "\n"}};
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_LE(r->model.nodes[0].region.size(), 70u);
}

TEST(GltfWhole, StripsFansLinesAndPoints) {
  Builder b;
  b.primitive()["attributes"]["POSITION"] =
      b.accessor<float>({0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0}, 5126, "VEC3", 4);
  b.primitive()["mode"] = 5;
  EXPECT_THAT(only(*b.read()).indices, ElementsAre(0, 1, 2, 1, 3, 2));
  b.primitive()["mode"] = 6;
  EXPECT_THAT(only(*b.read()).indices, ElementsAre(0, 1, 2, 0, 2, 3));
  const std::pair<int, uint64_t> lines[] = {{1, 2}, {2, 4}, {3, 3}};
  for (const auto& [mode, count] : lines) {
    b.primitive()["mode"] = mode;
    EXPECT_EQ(b.read()->lines, count) << mode;
  }
  b.primitive()["mode"] = 0;
  EXPECT_EQ(b.read()->points, 4U);
  EXPECT_EQ(b.read()->stored_vertices, 4U);
}

TEST(GltfWhole, MaterialExtensions) {
  Builder b;
  b.triangle();
  b.json["images"] = Json::array({Json{{"uri", "a.png"}}, Json{{"uri", "a.webp"}}});
  b.json["textures"] =
      Json::array({Json{{"source", 0}, {"extensions", {{"EXT_texture_webp", {{"source", 1}}}}}}});
  b.json["materials"] =
      Json::array({Json::parse(R"({"emissiveFactor": [1, 1, 1], "emissiveTexture": {"index": 0,
      "extensions": {"KHR_texture_transform": {"offset": [0.5, 0.25], "rotation": 1.5707963267948966, "scale": [2, 3], "texCoord": 1}}},
      "extensions": {"KHR_materials_unlit": {}, "KHR_materials_emissive_strength": {"emissiveStrength": 4}, "EX_varnish": {"coats": 2}}})")});
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  const scene::Material& m = r->model.materials.at(0);
  EXPECT_TRUE(m.unlit);
  EXPECT_EQ(m.emissive_strength, 4);
  EXPECT_EQ(m.emissive_texture.image, scene::ImageIndex(1));
  EXPECT_EQ(m.emissive_texture.uv_set, 1U);
  EXPECT_EQ(m.emissive_texture.offset, glm::vec2(0.5F, 0.25F));
  // The extension's own formula: offset + R * (scale * uv), R = [cos sin; -sin cos].
  const glm::vec2 at = m.emissive_texture.lookedUp({1, 1});
  EXPECT_NEAR(at.x, 0.5F + 3, 1e-5);
  EXPECT_NEAR(at.y, 0.25F - 2, 1e-5);
  EXPECT_EQ(m.kept, R"({"extensions":{"EX_varnish":{"coats":2}}})");
  // And back: the extension stands in the list of those used.
  const base::Bytes again = writeGlb(r->model);
  const std::string_view text = base::asText(again);
  EXPECT_NE(text.find("EX_varnish"), std::string_view::npos);
  EXPECT_NE(text.find("\"extensionsUsed\""), std::string_view::npos);
}

TEST(GltfWhole, RequiredExtensionsAreReadOrRefusedByName) {
  Builder b;
  b.triangle();
  b.json["extensionsRequired"] = Json::array({"EX_cordage"});
  const auto r = b.read();
  ASSERT_FALSE(r);
  EXPECT_EQ(r.error().code, "gltf.extension");
  EXPECT_THAT(r.error().message, HasSubstr("EX_cordage"));
  EXPECT_EQ(r.error().place.path, "/extensionsRequired/0");
  const auto old =
      readModel(base::asBytes(R"({"asset": {"version": "1.0"}, "meshes": {}})"), "old.gltf", nothing);
  EXPECT_EQ(old.error().code, "gltf.version");
  EXPECT_THAT(old.error().message, HasSubstr("1.0"));
}

TEST(GltfWhole, WrongTypesAreNeverPassedOver) {
  const std::pair<const char*, const char*> kWrong[] = {
      {"/materials", R"([{"doubleSided": "yes"}])"},
      {"/materials", R"([{"alphaMode": "GLASS"}])"},
      {"/nodes/0/name", "5"},
      {"/meshes/0/primitives/0/mode", "\"lines\""},
      {"/materials", R"([{"pbrMetallicRoughness": 3}])"},
      {"/scenes/0/nodes", R"({"0": 0})"},
      {"/accessors/0/normalized", "1"},
      {"/nodes/0/translation", R"([1, 2])"},
      {"/meshes/0/weights", R"(["much"])"},
      {"/materials", R"({"name": "x"})"},
      {"/materials", R"([{"extensions": {"KHR_materials_emissive_strength": {"emissiveStrength": "2"}}}])"},
      {"/extensions", R"({"KHR_lights_punctual": {"lights": [{"type": "sun"}]}})"},
      {"/nodes/0/extensions", R"({"KHR_lights_punctual": []})"}};
  for (const auto& [pointer, value] : kWrong) {
    Builder b;
    b.triangle();
    b.json[Json::json_pointer(pointer)] = Json::parse(value);
    const auto r = b.read();
    if (!r) {
      EXPECT_FALSE(r.error().place.path.empty()) << pointer;
      continue;
    }
    EXPECT_THAT(r->notes, Contains(Field(&base::Note::code, "gltf.type"))) << pointer << value;
  }
}

TEST(GltfWhole, AWholeNumberMayBeWrittenWithAPoint) {
  // JSON has one sort of number: 3.0 is 3 (RFC 8259 section 6, JSON Schema "integer").
  Builder b;
  b.triangle();
  b.json["accessors"][0]["count"] = 3.0;
  b.json["nodes"][0]["mesh"] = 0.0;
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_THAT(r->notes, testing::IsEmpty());
  EXPECT_EQ(scene::countsOf(r->model).triangles, 1U);
  b.json["accessors"][0]["count"] = 3.5;
  EXPECT_FALSE(b.read());
}

TEST(GltfWhole, CountsAreThoseOfTheFile) {
  Builder b;
  b.triangle();
  b.json["cameras"] = Json::parse(R"([{"type": "perspective", "perspective": {"yfov": 1, "znear": 1}}])");
  Json& primitives = b.json["meshes"][0]["primitives"];
  primitives.push_back(primitives[0]);
  primitives[1]["mode"] = 1;
  primitives[1].erase("indices");
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_EQ(r->stored_primitives, 2U);
  EXPECT_EQ(r->cameras, 1U) << "no node uses it";
}

TEST(GltfWhole, CamerasLightsAndAnimations) {
  Builder b;
  b.triangle();
  b.json["cameras"] = Json::array(
      {Json::parse(R"({"type": "perspective", "perspective": {"yfov": 0.5, "znear": 0.25, "zfar": 9}})")});
  b.json["extensions"] = Json::parse(
      R"({"KHR_lights_punctual": {"lights": [{"type": "spot", "color": [1, 0.5, 0], "intensity": 7,
      "range": 3, "spot": {"innerConeAngle": 0.1, "outerConeAngle": 0.2}}]}})");
  b.json["nodes"][0]["camera"] = 0;
  b.json["nodes"][0]["extensions"] = Json::parse(R"({"KHR_lights_punctual": {"light": 0}})");
  const size_t times = b.accessor<float>({0, 1}, 5126, "SCALAR", 2);
  // Turns as normalised bytes: none, then half round +Z.
  const size_t turns = b.accessor<int8_t>({0, 0, 0, 127, 0, 0, 127, 0}, 5120, "VEC4", 2);
  b.json["accessors"][turns]["normalized"] = true;
  b.json["animations"] = Json::array({Json{
      {"name", "spin"},
      {"samplers", Json::array({Json{{"input", times}, {"output", turns}, {"interpolation", "STEP"}}})},
      {"channels", Json::array({Json{{"sampler", 0}, {"target", {{"node", 0}, {"path", "rotation"}}}}})}}});
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_THAT(r->notes, testing::IsEmpty());
  EXPECT_FLOAT_EQ(r->model.cameras.at(0).fov_y_rad, 0.5F);
  EXPECT_FLOAT_EQ(r->model.cameras[0].far_m, 9);
  const scene::Light& l = r->model.lights.at(0);
  EXPECT_EQ(l.kind, scene::Light::Kind::spot);
  EXPECT_EQ(l.range_m, 3);
  EXPECT_EQ(l.outer_rad, 0.2F);
  EXPECT_EQ(r->cameras, 1U);
  const scene::Channel& c = r->model.animations.at(0).channels.at(0);
  EXPECT_THAT(c.values, ElementsAre(0, 0, 0, 1, 0, 0, 1, 0));
}

TEST(GltfWhole, CompressedViewsAreDecompressed) {
  Builder b;
  std::vector<float> positions;
  std::vector<uint32_t> indices;
  for (int i = 0; i < 40; ++i) {
    positions.insert(positions.end(), {static_cast<float>(i), static_cast<float>(i % 3), 0.5F});
    if (i > 1)
      indices.insert(indices.end(),
                     {static_cast<uint32_t>(i - 2), static_cast<uint32_t>(i - 1), static_cast<uint32_t>(i)});
  }
  const auto pack = [&](size_t count, size_t stride, const char* mode,
                        const std::vector<unsigned char>& packed) {
    const size_t view = b.view(packed);
    const Json at = b.json["bufferViews"][view];
    b.json["bufferViews"][view] = Json{{"buffer", 1},
                                       {"byteOffset", 0},
                                       {"byteLength", count * stride},
                                       {"extensions",
                                        {{"EXT_meshopt_compression",
                                          {{"buffer", 0},
                                           {"byteOffset", at["byteOffset"]},
                                           {"byteLength", at["byteLength"]},
                                           {"byteStride", stride},
                                           {"count", count},
                                           {"mode", mode}}}}}};
    return view;
  };
  std::vector<unsigned char> vertices(meshopt_encodeVertexBufferBound(40, 12));
  vertices.resize(meshopt_encodeVertexBuffer(vertices.data(), vertices.size(), positions.data(), 40, 12));
  std::vector<unsigned char> triangles(meshopt_encodeIndexBufferBound(indices.size(), 40));
  triangles.resize(
      meshopt_encodeIndexBuffer(triangles.data(), triangles.size(), indices.data(), indices.size()));
  b.json["extensionsRequired"] = Json::array({"EXT_meshopt_compression"});
  b.json["buffers"].push_back(
      Json::parse(R"({"byteLength": 9000, "extensions": {"EXT_meshopt_compression": {"fallback": true}}})"));
  const size_t v = pack(40, 12, "ATTRIBUTES", vertices), t = pack(indices.size(), 4, "TRIANGLES", triangles);
  b.json["accessors"] = Json::array(
      {Json{{"bufferView", v}, {"componentType", 5126}, {"count", 40}, {"type", "VEC3"}},
       Json{{"bufferView", t}, {"componentType", 5125}, {"count", indices.size()}, {"type", "SCALAR"}}});
  b.primitive()["attributes"]["POSITION"] = 0;
  b.primitive()["indices"] = 1;
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  ASSERT_EQ(only(*r).positions.size(), 40U);
  EXPECT_EQ(only(*r).positions[39], glm::vec3(39, 0, 0.5F));
  EXPECT_EQ(only(*r).indices.size(), indices.size());
  b.json["bufferViews"][v]["extensions"]["EXT_meshopt_compression"]["count"] = 4000000000u;
  EXPECT_EQ(b.read().error().code, "gltf.compressed");
}

TEST(GltfWhole, DracoPrimitivesAreDecompressed) {
  draco::TriangleSoupMeshBuilder builder;
  builder.Start(2);
  const int position = builder.AddAttribute(draco::GeometryAttribute::POSITION, 3, draco::DT_FLOAT32);
  const int uv = builder.AddAttribute(draco::GeometryAttribute::TEX_COORD, 2, draco::DT_FLOAT32);
  const float p[4][3] = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 1, 0}},
              t[4][2] = {{0, 0}, {1, 0}, {0, 1}, {1, 1}};
  builder.SetAttributeValuesForFace(position, draco::FaceIndex(0), p[0], p[1], p[2]);
  builder.SetAttributeValuesForFace(position, draco::FaceIndex(1), p[2], p[1], p[3]);
  builder.SetAttributeValuesForFace(uv, draco::FaceIndex(0), t[0], t[1], t[2]);
  builder.SetAttributeValuesForFace(uv, draco::FaceIndex(1), t[2], t[1], t[3]);
  const auto mesh = builder.Finalize();
  draco::Encoder encoder;
  draco::EncoderBuffer packed;
  ASSERT_TRUE(encoder.EncodeMeshToBuffer(*mesh, &packed).ok());
  Builder b;
  const size_t view = b.view(std::vector<char>(packed.data(), packed.data() + packed.size()));
  b.json["accessors"] = Json::array({Json{{"componentType", 5126}, {"count", 4}, {"type", "VEC3"}},
                                     Json{{"componentType", 5126}, {"count", 4}, {"type", "VEC2"}},
                                     Json{{"componentType", 5125}, {"count", 6}, {"type", "SCALAR"}}});
  b.json["extensionsRequired"] = Json::array({"KHR_draco_mesh_compression"});
  b.primitive()["attributes"] = Json{{"POSITION", 0}, {"TEXCOORD_0", 1}};
  b.primitive()["indices"] = 2;
  b.primitive()["extensions"]["KHR_draco_mesh_compression"] =
      Json{{"bufferView", view},
           {"attributes",
            {{"POSITION", mesh->attribute(position)->unique_id()},
             {"TEXCOORD_0", mesh->attribute(uv)->unique_id()}}}};
  const auto r = b.read();
  ASSERT_TRUE(r) << r.error().text();
  ASSERT_EQ(only(*r).positions.size(), 4U);
  ASSERT_EQ(only(*r).indices.size(), 6U);
  for (size_t i = 0; i < 4; ++i) {
    EXPECT_NEAR(only(*r).uvs[0][i].x, only(*r).positions[i].x, 1e-2);
    EXPECT_NEAR(only(*r).uvs[0][i].y, only(*r).positions[i].y, 1e-2);
  }
  b.primitive()["extensions"]["KHR_draco_mesh_compression"]["attributes"]["POSITION"] = 77;
  EXPECT_EQ(b.read().error().code, "gltf.compressed");
}

TEST(GltfWhole, ASkinWithoutJointsIsSaidAndWrittenSoThatItCanBeRead) {
  const auto r =
      readModel(base::asBytes(R"({"asset": {"version": "2.0"}, "skins": [{}]})"), "a.gltf", nothing);
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_THAT(r->notes, Contains(Field(&base::Note::code, "gltf.skin")));
  EXPECT_TRUE(readModel(writeGlb(r->model), "again.glb", nothing));
}

TEST(GltfWhole, APictureOfNoBytesIsWrittenSoThatItCanBeRead) {
  scene::Model model;
  scene::Image image;
  image.mime = "image/png";
  image.bytes = std::make_shared<const base::Bytes>();
  model.images.push_back(image);
  const auto read = readModel(writeGlb(model), "again.glb", nullptr);
  ASSERT_TRUE(read) << read.error().text();
  ASSERT_EQ(read->model.images.size(), 1U);
}

}  // namespace
}  // namespace rakugo::formats
