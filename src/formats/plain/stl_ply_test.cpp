// STL and PLY, with files written by hand.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "formats/plain/ply.h"
#include "formats/plain/stl.h"

namespace rakugo::formats {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

base::Result<ReadModel> read(base::ByteSpan bytes, const std::string& name) {
  return readModel(bytes, name, nullptr);
}
base::Result<ReadModel> readText(const std::string& text, const std::string& name) {
  return read(base::asBytes(text), name);
}
const scene::Primitive& only(const ReadModel& read) { return read.model.meshes.at(0)->primitives.at(0); }

base::Bytes binaryStl(uint32_t counted, uint32_t written, const char* title = "a file of facets") {
  base::ByteWriter out;
  std::string head(title);
  head.resize(80, ' ');
  out.bytes(base::asBytes(head));
  out.write<uint32_t>(counted);
  for (uint32_t f = 0; f < written; ++f) {
    const auto z = static_cast<float>(f);
    for (const float v : {0.0F, 0.0F, 0.0F, 0.0F, 0.0F, z, 1.0F, 0.0F, z, 0.0F, 1.0F, z}) out.write<float>(v);
    out.write<uint16_t>(0);
  }
  return out.take();
}

constexpr const char* kFacet =
    "facet normal 0 0 1\n outer loop\n  vertex 0 0 0\n  vertex 1 0 0\n  vertex 0 1 0\n endloop\nendfacet\n";

TEST(ReadStl, ABinaryFileThatBeginsWithSolidIsReadByItsLength) {
  for (const char* title : {"a file of facets", "solid but binary"}) {
    const auto got = read(binaryStl(2, 2, title), "x.stl");
    ASSERT_TRUE(got) << got.error().text();
    EXPECT_EQ(got->version, "binary");
    EXPECT_EQ(got->stored_vertices, 6u);
    EXPECT_EQ(only(*got).indices.size(), 6u);
    EXPECT_FALSE(got->unit_m);
  }
}

TEST(ReadStl, CornersAtOnePlaceAreWelded) {
  const auto got = readText(std::string("solid two parts\n") + kFacet +
                                "facet normal 0 0 0\nouter loop\nvertex 1 0 0\nvertex 1 1 0\nvertex -0 1 "
                                "0\nendloop\nendfacet\nendsolid\n"
                                "solid\n" +
                                kFacet + "endsolid\n",
                            "x.stl");
  ASSERT_TRUE(got) << got.error().text();
  EXPECT_EQ(got->version, "text");
  ASSERT_EQ(got->model.nodes.size(), 2u);
  EXPECT_EQ(got->model.nodes[0].name, "two parts");
  EXPECT_EQ(got->model.nodes[1].name, "x");
  EXPECT_EQ(only(*got).positions.size(), 4u);
  EXPECT_THAT(only(*got).indices, ElementsAre(0, 1, 2, 1, 3, 2));
}

TEST(ReadStl, WhatIsCutOrWrongIsSaidWithItsPlace) {
  const auto cut = read(binaryStl(5, 3), "x.stl");
  ASSERT_FALSE(cut);
  EXPECT_EQ(cut.error().code, "stl.cut");
  EXPECT_THAT(cut.error().message, HasSubstr("counts 5 facets and holds 3"));
  const auto lie = read(binaryStl(4'000'000'000U, 1), "x.stl");
  ASSERT_FALSE(lie);
  EXPECT_EQ(lie.error().code, "stl.cut");
  const auto code = [](const std::string& text) {
    const auto got = readText(text, "x.stl");
    return got ? std::string("none") : got.error().code + "@" + std::to_string(got.error().place.line);
  };
  EXPECT_EQ(code("solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0\n"), "stl.syntax@4");
  EXPECT_EQ(code("solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nendloop\nendfacet\n"),
            "stl.syntax@6");
  EXPECT_EQ(code("solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\n"), "stl.cut@4");
  EXPECT_EQ(code("solid x\nfacet\nround loop\n"), "stl.syntax@3");
  EXPECT_EQ(code("solid x\nfacet\nouter loop\nvertex 0 0 0\nsolid y\n"), "stl.syntax@5");
  EXPECT_EQ(code("solid x\nendsolid\n"), "stl.empty@0");
  base::Bytes more = binaryStl(1, 1);
  more.resize(more.size() + 3);
  const auto got = read(more, "x.stl");
  ASSERT_TRUE(got);
  EXPECT_EQ(got->notes.at(0).code, "stl.more");
}

std::string plyHeader(const std::string& format, const std::string& rest) {
  return "ply\nformat " + format + " 1.0\ncomment by hand\n" + rest + "end_header\n";
}
const std::string kPlain =
    "element vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 2\nproperty list "
    "uchar int vertex_indices\n";

TEST(ReadPly, TextWithATriangleAndAQuad) {
  const auto got =
      readText(plyHeader("ascii", kPlain) + "0 0 0\n1 0 0\n1 1 0\n0 1 0\n3 0 1 2\n4 0 1 2 3\n", "x.ply");
  ASSERT_TRUE(got) << got.error().text();
  EXPECT_EQ(got->format, "PLY");
  EXPECT_EQ(got->version, "text 1.0");
  EXPECT_THAT(only(*got).indices, ElementsAre(0, 1, 2, 0, 1, 2, 0, 2, 3));
  EXPECT_EQ(got->model.nodes.at(0).name, "x");
}

TEST(ReadPly, BothByteOrdersGiveTheSame) {
  for (const bool big : {false, true}) {
    base::ByteWriter out;
    const auto put = [&](auto value) {
      base::ByteWriter one;
      one.write(value);
      base::Bytes raw = one.take();
      if (big) std::reverse(raw.begin(), raw.end());
      out.bytes(raw);
    };
    out.bytes(base::asBytes(
        plyHeader(big ? "binary_big_endian" : "binary_little_endian",
                  "element extra 1\nproperty list ushort short odd\nproperty double more\n"
                  "element vertex 3\nproperty double x\nproperty float y\nproperty short z\nproperty float "
                  "nx\nproperty float ny\nproperty float nz\n"
                  "property uchar red\nproperty uchar green\nproperty uchar blue\nproperty float s\nproperty "
                  "float t\nproperty int quality\n"
                  "element face 1\nproperty uchar flags\nproperty list uchar uint vertex_index\n")));
    put(uint16_t{2});
    put(int16_t{1});
    put(int16_t{-1});
    put(0.5);
    for (int v = 0; v < 3; ++v) {
      put(static_cast<double>(v) + 0.25);
      put(2.0F);
      put(static_cast<int16_t>(-300));
      for (const float n : {0.0F, 0.0F, 1.0F}) put(n);
      for (const uint8_t c : {uint8_t{255}, uint8_t{0}, uint8_t{188}}) put(c);
      put(0.5F);
      put(0.25F);
      put(int32_t{7});
    }
    put(uint8_t{9});
    put(uint8_t{3});
    for (const uint32_t i : {2U, 1U, 0U}) put(i);
    const auto got = read(out.view(), "x.ply");
    ASSERT_TRUE(got) << got.error().text();
    const scene::Primitive& p = only(*got);
    EXPECT_EQ(p.positions[1], glm::vec3(1.25F, 2, -300));
    EXPECT_EQ(p.normals[0], glm::vec3(0, 0, 1));
    EXPECT_EQ(p.uvs[0][0], glm::vec2(0.5F, 0.75F));
    EXPECT_NEAR(p.colors[0].z, 0.5029F, 1e-3F) << "stored colours are sRGB";
    EXPECT_THAT(p.indices, ElementsAre(2, 1, 0));
    ASSERT_EQ(got->notes.size(), 1u);
    EXPECT_THAT(got->notes[0].message, HasSubstr("quality"));
    EXPECT_THAT(got->notes[0].message, HasSubstr("element extra"));
    // Cut anywhere, it is refused.
    const base::ByteSpan whole = out.view();
    for (size_t n = 0; n < whole.size(); ++n) EXPECT_FALSE(read(whole.first(n), "x.ply")) << n;
  }
}

TEST(ReadPly, LiesAndNonsenseAreRefusedWithTheirPlace) {
  const auto code = [](const std::string& text) {
    const auto got = readText(text, "x.ply");
    return got ? std::string("none") : got.error().code + "@" + std::to_string(got.error().place.line);
  };
  // Ten lines of header, four of vertices: the first face stands in line 15.
  const std::string points = "0 0 0\n1 0 0\n1 1 0\n0 1 0\n";
  EXPECT_EQ(code(plyHeader("ascii", kPlain) + points + "3 0 1 4\n3 0 1 2\n"), "ply.index@0");
  EXPECT_EQ(code(plyHeader("ascii", kPlain) + points + "4 0 1 2 9\n3 0 1 2\n"), "ply.index@0");
  EXPECT_EQ(code(plyHeader("ascii", kPlain) + points + "3 0 1 -2\n3 0 1 2\n"), "ply.index@15");
  EXPECT_EQ(code(plyHeader("ascii", kPlain) + points + "3 0 1 x\n3 0 1 2\n"), "ply.number@15");
  EXPECT_EQ(code(plyHeader("ascii", kPlain) + points + "3 0 1 2\n"), "ply.cut@16");
  EXPECT_EQ(
      code(plyHeader("ascii",
                     "element vertex 4000000000\nproperty float x\nproperty float y\nproperty float z\n")),
      "ply.cut@9");
  EXPECT_EQ(code(plyHeader("spoken", kPlain)), "ply.header@2");
  EXPECT_EQ(code(plyHeader("ascii", "element vertex 1\nproperty word x\n")), "ply.type@5");
  EXPECT_EQ(code(plyHeader("ascii", "element vertex 1\nproperty list float int x\n")), "ply.type@5");
  EXPECT_EQ(code(plyHeader("ascii", "element vertex 1\nproperty float x\n") + "1\n"), "ply.header@0");
  EXPECT_EQ(
      code(plyHeader("ascii", "element vertex 1\nproperty float x\nproperty float y\nproperty float z\n") +
           "1 2 3\n"),
      "ply.empty@0");
  EXPECT_EQ(code(plyHeader("ascii", "element nothing 4000000000\n" + kPlain) + points + "3 0 1 2\n3 0 1 2\n"),
            "none");
  EXPECT_EQ(code(plyHeader("ascii", kPlain + "element vertex 1\nproperty float x\n")), "ply.header@10");
  EXPECT_EQ(code("ply\nformat ascii 1.0\n"), "ply.header@2");
  EXPECT_EQ(code("ply\nproperty float x\n"), "ply.header@2");
}

TEST(ReadModel, FlippedBytesNeverDoMoreThanRefuse) {
  std::mt19937 random(9);
  const base::Bytes stl = binaryStl(3, 3);
  const std::string ply = plyHeader("binary_little_endian", kPlain) + std::string(4 * 12, '\0') +
                          std::string("\3\0\0\0\0\1\0\0\0\2\0\0\0\3\0\0\0\0\1\0\0\0\2\0\0\0", 26);
  ASSERT_TRUE(readText(ply, "x.ply"));
  for (int round = 0; round < 3000; ++round) {
    base::Bytes bytes = stl;
    if (round % 2 != 0) bytes.assign(base::asBytes(ply).begin(), base::asBytes(ply).end());
    for (int i = 0; i < 3; ++i) bytes[random() % bytes.size()] ^= static_cast<std::byte>(1 + random() % 255);
    const auto got = read(bytes, round % 2 != 0 ? "x.ply" : "x.stl");
    if (!got) continue;
    for (const auto& mesh : got->model.meshes)
      for (const auto& p : mesh->primitives)
        for (const uint32_t i : p.indices) ASSERT_LT(i, p.positions.size());
  }
}

}  // namespace
}  // namespace rakugo::formats
