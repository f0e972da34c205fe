// OBJ and MTL, with files written by hand to the letter of the format's description.
#include "formats/plain/obj.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

#include "formats/export.h"
#include "formats/plain/mtl.h"

namespace rakugo::formats {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

using Files = std::map<std::string, std::string>;

base::Result<ReadModel> read(const std::string& text, const Files& files = {}) {
  const Fetch fetch = [&](const std::string& path) -> base::Result<base::Bytes> {
    const auto found = files.find(path);
    if (found == files.end()) return base::Error{"file.missing", "none", base::Place{path}, ""};
    const auto bytes = base::asBytes(found->second);
    return base::Bytes(bytes.begin(), bytes.end());
  };
  return readModel(base::asBytes(text), "thing.obj", fetch);
}

const scene::Primitive& only(const ReadModel& read) { return read.model.meshes.at(0)->primitives.at(0); }

std::string error(const std::string& text) {
  const auto got = read(text);
  return got ? "none" : got.error().code + "@" + std::to_string(got.error().place.line);
}

constexpr const char* kSquare = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n";

TEST(ReadObj, AQuadWithTextureAndNormalsBecomesTwoTriangles) {
  const auto got = read(std::string(kSquare) + "vt 0 0\nvt 1 0.25\nvn 0 0 1\nf 1/1/1 2/2/1 3/2/1 4/1/1\n");
  ASSERT_TRUE(got) << got.error().text();
  EXPECT_EQ(got->format, "OBJ");
  EXPECT_FALSE(got->unit_m);
  EXPECT_FALSE(got->up);
  const scene::Primitive& p = only(*got);
  EXPECT_EQ(p.positions.size(), 4u);
  EXPECT_THAT(p.indices, ElementsAre(0, 1, 2, 0, 2, 3));
  EXPECT_EQ(p.uvs[0][1], glm::vec2(1, 0.75F)) << "V runs upward in OBJ";
  EXPECT_EQ(p.normals[2], glm::vec3(0, 0, 1));
  EXPECT_EQ(got->model.nodes.at(0).name, "thing");
}

TEST(ReadObj, NegativeIndicesCountBackFromWhereTheyStand) {
  const auto got = read("v 9 9 9\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf -3 -2 -1\nv 5 5 5\n");
  ASSERT_TRUE(got) << got.error().text();
  EXPECT_EQ(only(*got).positions[0], glm::vec3(0));
  EXPECT_EQ(only(*got).positions[2], glm::vec3(0, 1, 0));
  EXPECT_EQ(error("v 0 0 0\nv 1 0 0\n\nf -1 -2 -3\n"), "obj.index@4");
}

TEST(ReadObj, IndicesMayPointForwardButNotOutside) {
  EXPECT_TRUE(read("f 1 2 3\nv 0 0 0\nv 1 0 0\nv 0 1 0\n"));
  EXPECT_EQ(error("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 4\n"), "obj.index@4");
  EXPECT_EQ(error("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1/1 2/1 3/1\n"), "obj.index@4");
  EXPECT_EQ(error("v 0 0 0\nf 0 1 1\n"), "obj.index@2");
  EXPECT_EQ(error("v 0 0 0\nf 1 99999999999 1\n"), "obj.index@2");
  EXPECT_EQ(error("v 0 0 0\nf 1;2 1 1\n"), "obj.index@2");
  EXPECT_EQ(error("v 0 0 zero\nf 1 1 1\n"), "obj.number@1");
  EXPECT_EQ(error("v 0 0\nf 1 1 1\n"), "obj.number@1");
  EXPECT_EQ(error("v 0 0 0\n"), "obj.empty@0");
}

TEST(ReadObj, ObjectsArePartsAndGroupsOnlyWhereThereAreNone) {
  const std::string faces = "usemtl red\nf 1 2 3\nusemtl blue\nf 1 3 4\nusemtl red\nf 1 2 4\n";
  const auto objects = read(std::string(kSquare) + "o Left door\ng ignored\n" + faces + "o Right\n" + faces);
  ASSERT_TRUE(objects);
  ASSERT_EQ(objects->model.nodes.size(), 2u);
  EXPECT_EQ(objects->model.nodes[0].name, "Left door");
  EXPECT_EQ(objects->model.meshes[0]->primitives.size(), 2u) << "one a material";
  EXPECT_EQ(objects->model.meshes[0]->primitives[0].indices.size(), 6u);
  ASSERT_EQ(objects->model.materials.size(), 2u);
  EXPECT_EQ(objects->model.materials[0].name, "red");
  const auto groups = read(std::string(kSquare) + "g a b\nf 1 2 3\ng c\nf 1 3 4\n");
  ASSERT_TRUE(groups);
  EXPECT_EQ(groups->model.nodes.at(0).name, "a b");
  EXPECT_EQ(groups->model.nodes.at(1).name, "c");
}

TEST(ReadObj, ConcavePolygonsAreCutInside) {
  // An L: five corners turn left, one turns right.
  const auto got = read("v 0 0 0\nv 2 0 0\nv 2 1 0\nv 1 1 0\nv 1 2 0\nv 0 2 0\nf 1 2 3 4 5 6\n");
  ASSERT_TRUE(got);
  const scene::Primitive& p = only(*got);
  ASSERT_EQ(p.indices.size(), 12u);
  float area = 0;
  for (size_t t = 0; t < 12; t += 3)
    area += glm::cross(p.positions[p.indices[t + 1]] - p.positions[p.indices[t]],
                       p.positions[p.indices[t + 2]] - p.positions[p.indices[t]])
                .z /
            2;
  EXPECT_FLOAT_EQ(area, 3);
}

TEST(ReadObj, SmoothingGroupsBecomeNormals) {
  // Two squares that meet at a right angle along the Y axis.
  const std::string roof = "v 0 0 0\nv 0 1 0\nv 1 0 0\nv 1 1 0\nv 0 0 1\nv 0 1 1\n";
  const auto flat = read(roof + "s off\nf 1 3 4 2\nf 1 2 6 5\n");
  ASSERT_TRUE(flat);
  EXPECT_EQ(only(*flat).positions.size(), 8u);
  const auto smooth = read(roof + "s 1\nf 1 3 4 2\nf 1 2 6 5\n");
  ASSERT_TRUE(smooth);
  EXPECT_EQ(only(*smooth).positions.size(), 6u);
  EXPECT_LT(glm::distance(only(*smooth).normals[0], glm::normalize(glm::vec3(1, 0, 1))), 1e-5F);
  const auto apart = read(roof + "s 1\nf 1 3 4 2\ns 2\nf 1 2 6 5\n");
  ASSERT_TRUE(apart);
  EXPECT_EQ(only(*apart).positions.size(), 8u);
  EXPECT_LT(glm::distance(only(*apart).normals[0], glm::vec3(0, 0, 1)), 1e-5F);
  const auto none = read(roof + "f 1 3 4 2\n");
  ASSERT_TRUE(none);
  EXPECT_TRUE(only(*none).normals.empty()) << "nothing was said of smoothing: a check will ask";
}

TEST(ReadObj, ColoursBehindPositionsAreKept) {
  const auto got = read("v 0 0 0\nv 1 0 0 1 0 0\nv 0 1 0 0 1 0 0.5\nf 1 2 3\n");
  ASSERT_TRUE(got);
  EXPECT_THAT(only(*got).colors, ElementsAre(glm::vec4(1), glm::vec4(1, 0, 0, 1), glm::vec4(0, 1, 0, 0.5F)));
  const auto weighted = read("v 0 0 0 1\nv 1 0 0 1\nv 0 1 0 1\nf 1 2 3\n");
  ASSERT_TRUE(weighted);
  EXPECT_TRUE(only(*weighted).colors.empty());
}

TEST(ReadObj, LineEndsContinuationsMarksAndWideText) {
  const std::string plain = "# made by hand\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
  const auto same = [&](const std::string& text) {
    const auto got = read(text);
    return got && only(*got).positions == std::vector<glm::vec3>{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
  };
  const auto ends = [&](const char* with) {
    std::string out;
    for (const char c : plain) out += c == '\n' ? std::string(with) : std::string(1, c);
    return out;
  };
  EXPECT_TRUE(same(plain));
  EXPECT_TRUE(same(ends("\r\n")));
  EXPECT_TRUE(same(ends("\r")));
  EXPECT_TRUE(same("\xEF\xBB\xBF" + plain));
  EXPECT_TRUE(same("v 0 0 \\\n0\nv 1 \\\r\n 0 \\\n 0\nv 0 1 0\nf 1 2 \\\n3"));
  for (const bool big : {false, true})
    for (const bool mark : {true, false}) {
      std::string wide = !mark ? "" : big ? "\xFE\xFF" : "\xFF\xFE";
      for (const char c : plain) {
        if (big) wide += '\0';
        wide += c;
        if (!big) wide += '\0';
      }
      EXPECT_TRUE(same(wide)) << big << mark;
    }
  EXPECT_TRUE(same("\tv\t0 0 0   \n   v 1 0 0 # here\n\n\nv 0 1 0\nf 1 2 3 # there"))
      << "white space and comments";
}

TEST(ReadObj, LinesPointsAndCurvesAreSaidAndLeftOut) {
  const auto got =
      read(std::string(kSquare) + "f 1 2 3\nl 1 2 3\np 1\nf 1 2\ncurv 0 1 1 2\nvp 1 2\nvp 2 3\n");
  ASSERT_TRUE(got);
  EXPECT_EQ(got->lines, 3u);  // two pieces of one line, and a face of two corners
  EXPECT_EQ(got->points, 1u);
  ASSERT_EQ(got->notes.size(), 4u);
  EXPECT_THAT(got->notes[0].message, HasSubstr("\"curv\""));
  EXPECT_EQ(got->notes[0].place.line, 9);
  EXPECT_THAT(got->notes[1].message, HasSubstr("2 lines that begin with \"vp\""));
  EXPECT_EQ(got->notes[2].code, "obj.no_triangles");
  EXPECT_EQ(got->notes[3].code, "obj.unused_vertices");
  EXPECT_EQ(got->unused_vertices, 1u) << "the fourth corner of the square";
  EXPECT_EQ(error(std::string(kSquare) + "l 1 2 3\n"), "obj.empty@0");
}

TEST(ReadObj, NotANumberIsKeptForTheChecksToFind) {
  const auto got = read("v nan 0 0\nv 1 -1.#IND 0\nv 0 1 inf\nf 1 2 3\n");
  ASSERT_TRUE(got) << got.error().text();
  EXPECT_TRUE(std::isnan(only(*got).positions[0].x));
}

TEST(ReadObj, ManyChunksGiveWhatOneGives) {
  // More than a megabyte, with indices of both kinds, and continued lines where chunks may be cut.
  std::string text;
  std::mt19937 random(2);
  std::vector<glm::vec3> expected;
  size_t count = 0;
  while (text.size() < (size_t{5} << 20)) {
    for (int i = 0; i < 3; ++i) {
      const auto value = static_cast<float>(random() % 1000) / 8;
      text += "v " + std::to_string(value) + (random() % 7 == 0 ? " \\\n" : " ") + std::to_string(i) + " 0\n";
      expected.emplace_back(value, i, 0);
    }
    count += 3;
    text += random() % 2 == 0 ? "f -3 -2 -1\n"
                              : "f " + std::to_string(count - 2) + " " + std::to_string(count - 1) + " " +
                                    std::to_string(count) + "\n";
    if (random() % 50 == 0) text += "usemtl m" + std::to_string(random() % 3) + "\n";
  }
  const auto got = read(text);
  ASSERT_TRUE(got) << got.error().text();
  EXPECT_EQ(got->stored_vertices, expected.size());
  size_t faces = 0;
  for (const scene::Primitive& p : got->model.meshes.at(0)->primitives) {
    for (size_t i = 0; i + 2 < p.indices.size(); i += 3)
      ASSERT_EQ(p.positions[p.indices[i + 2]].y - p.positions[p.indices[i]].y, 2)
          << "corners of one face stay together";
    faces += p.indices.size() / 3;
  }
  EXPECT_EQ(faces, expected.size() / 3);
  // A mistake far behind is found with its line.
  const auto lines = static_cast<int>(std::count(text.begin(), text.end(), '\n'));
  const auto bad = read(text + "f 1 2 x\n");
  ASSERT_FALSE(bad);
  EXPECT_EQ(bad.error().place.line, lines + 1);
}

TEST(ReadObj, EveryBeginningOfAFileIsReadOrRefused) {
  const std::string text =
      "mtllib a.mtl\no x\nv 0 0 0\nv 1 0 0\nv 0 1 0 \\\n\nvt 0 0\nvn 0 0 1\nusemtl m\ns 1\nf 1/1/1 2/1/1 "
      "-1//-1\n";
  for (size_t n = 0; n < text.size(); ++n) {
    const auto got = read(text.substr(0, n), {{"a.mtl", "newmtl m\n"}});
    EXPECT_TRUE(got || !got.error().message.empty()) << n;
  }
}

TEST(ReadMtl, ColoursNumbersAndPictures) {
  const auto got =
      read("mtllib my things.mtl\n" + std::string(kSquare) +
               "usemtl wet oak\nf 1 2 3\nusemtl pane\nf 1 3 4\nusemtl nowhere\nf 2 3 4\n",
           {{"my things.mtl",
             "# library\nnewmtl wet oak\r\nKd 0.5 0.25 0.125\nNs 98\nmap_Kd -s 1 1 1 -o 0.5 "
             "-clamp on tex\\oak grain.png\n"
             "map_Bump -bm 0.3 -t 1 1 oak_n.png\nKe 0\nillum 2\nmap_Ks spec.png\nnewmtl pane\nTr "
             "0.75\nPm 0.5\nPr 0.1\nNs 500\n"},
            {"tex/oak grain.png", "png"}});
  ASSERT_TRUE(got) << got.error().text();
  const auto& materials = got->model.materials;
  ASSERT_EQ(materials.size(), 3u);
  EXPECT_EQ(materials[0].name, "wet oak");
  EXPECT_EQ(materials[0].base_color, glm::vec4(0.5F, 0.25F, 0.125F, 1));
  EXPECT_FLOAT_EQ(materials[0].roughness, std::sqrt(0.02F));
  EXPECT_EQ(materials[0].base_color_texture.wrap_u, scene::Wrap::clamp);
  ASSERT_TRUE(materials[0].base_color_texture.image.valid());
  const scene::Image& oak = got->model.images[materials[0].base_color_texture.image.value()];
  EXPECT_EQ(oak.uri, "tex/oak grain.png");
  EXPECT_NE(oak.bytes, nullptr);
  ASSERT_TRUE(materials[0].normal_texture.image.valid());
  EXPECT_EQ(got->model.images[materials[0].normal_texture.image.value()].bytes, nullptr) << "not at hand";
  EXPECT_FLOAT_EQ(materials[1].base_color.w, 0.25F);
  EXPECT_EQ(materials[1].alpha, scene::AlphaMode::blend);
  EXPECT_FLOAT_EQ(materials[1].roughness, 0.1F) << "said outright, whatever the exponent";
  EXPECT_FLOAT_EQ(materials[1].metallic, 0.5F);
  EXPECT_EQ(materials[2].name, "nowhere");
  std::string notes;
  for (const base::Note& n : got->notes) notes += n.message + "|";
  EXPECT_EQ(materials[0].base_color_texture.offset, glm::vec2(0.5F, 0));
  EXPECT_THAT(notes, HasSubstr("stirred")) << "-t";
  EXPECT_THAT(notes, HasSubstr("map_ks"));
  EXPECT_THAT(got->named_files, testing::IsSupersetOf({"my things.mtl", "tex/oak grain.png", "oak_n.png"}));
}

TEST(ReadMtl, ShiftAndScaleAreKeptFromThePicturesUpperEdge) {
  // By the library: u 3 * 0.5 + 0.25, v from below 2 * 0.25 + 0.125.
  const std::string text =
      "mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0.5 0.25\nusemtl one\nf 1/1 2/1 3/1\n";
  const auto got = read(text, {{"a.mtl", "newmtl one\nmap_Kd -s 3 2 -o 0.25 0.125 oak.png\n"}});
  ASSERT_TRUE(got);
  const scene::TextureUse& use = got->model.materials.at(0).base_color_texture;
  const glm::vec2 uv = got->model.meshes[0]->primitives[0].uvs[0][0];
  const glm::vec2 at = use.lookedUp(uv);
  EXPECT_FLOAT_EQ(at.x, 1.75F);
  EXPECT_FLOAT_EQ(1 - at.y, 0.625F);
  // And written again as they were.
  const auto again = exportModel(got->model, "b.obj");
  ASSERT_TRUE(again);
  const std::string library(base::asText(again->files.at("b.mtl")));
  EXPECT_THAT(library, HasSubstr("-o 0.25 0.125 0 -s 3 2 1 "));
}

TEST(ReadMtl, SeveralLibrariesOnALineAndAMissingOne) {
  const auto got = read(
      "mtllib a.mtl b.mtl gone.mtl\n" + std::string(kSquare) + "usemtl one\nf 1 2 3\nusemtl two\nf 1 3 4\n",
      {{"a.mtl", "newmtl one\nKd 1 0 0\n"}, {"b.mtl", "newmtl two\nKd 0 0 1\nnewmtl one\nKd 0 1 0\n"}});
  ASSERT_TRUE(got);
  EXPECT_EQ(got->model.materials.at(0).base_color, glm::vec4(1, 0, 0, 1)) << "the first to define it counts";
  EXPECT_EQ(got->model.materials.at(1).base_color, glm::vec4(0, 0, 1, 1));
  ASSERT_FALSE(got->notes.empty());
  EXPECT_EQ(got->notes[0].code, "obj.library_missing");
  EXPECT_THAT(got->notes[0].message, HasSubstr("gone.mtl"));
}

}  // namespace
}  // namespace rakugo::formats
