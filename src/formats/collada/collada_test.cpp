// COLLADA files written by hand to the letter of the specification.
#include "formats/collada/collada.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "scene/keys.h"

namespace rakugo::formats {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

base::Result<base::Bytes> nothing(const std::string& name) {
  return base::Error{"file.missing", "There is no such file.", base::Place{name}, ""};
}

base::Result<ReadModel> read(const std::string& xml, const Fetch& fetch = nothing) {
  return readModel(base::asBytes(xml), "test.dae", fetch);
}

// A document: the asset's inside, then libraries, then the scene's nodes.
std::string document(const std::string& libraries, const std::string& nodes, const std::string& asset = "") {
  return "<?xml version=\"1.0\"?>\n<COLLADA xmlns=\"http://www.collada.org/2005/11/COLLADASchema\" "
         "version=\"1.4.1\">\n<asset>" +
         asset + "</asset>\n" + libraries + "\n<library_visual_scenes><visual_scene id=\"s\">" + nodes +
         "</visual_scene></library_visual_scenes>\n<scene><instance_visual_scene "
         "url=\"#s\"/></scene>\n</COLLADA>\n";
}

std::string source(const std::string& id, const std::string& numbers, int count, int stride,
                   const std::string& params) {
  std::string out = "<source id=\"" + id + "\"><float_array id=\"" + id + "-a\" count=\"" +
                    std::to_string(count * stride) + "\">" + numbers +
                    "</float_array><technique_common><accessor source=\"#" + id + "-a\" count=\"" +
                    std::to_string(count) + "\" stride=\"" + std::to_string(stride) + "\">";
  for (const char c : params)
    out += c == '_' ? "<param type=\"float\"/>" : std::string("<param name=\"") + c + "\" type=\"float\"/>";
  return out + "</accessor></technique_common></source>";
}

// A square in the z plane from (0,0) to (1,1), with texture coordinates.
std::string square(const std::string& elements) {
  return "<library_geometries><geometry id=\"g\" name=\"Square\"><mesh>" +
         source("p", "0 0 0 1 0 0 1 1 0 0 1 0", 4, 3, "XYZ") + source("t", "0 0 1 0 1 1 0 1", 4, 2, "ST") +
         source("n", "0 0 1", 1, 3, "XYZ") +
         "<vertices id=\"v\"><input semantic=\"POSITION\" source=\"#p\"/></vertices>" + elements +
         "</mesh></geometry></library_geometries>";
}

const std::string kInputs =
    "<input semantic=\"VERTEX\" source=\"#v\" offset=\"0\"/><input semantic=\"NORMAL\" source=\"#n\" "
    "offset=\"1\"/>"
    "<input semantic=\"TEXCOORD\" source=\"#t\" offset=\"2\" set=\"0\"/>";
const std::string kNode = "<node id=\"a\" name=\"A\"><instance_geometry url=\"#g\"/></node>";

const scene::Primitive& only(const ReadModel& r) { return r.model.meshes.at(0)->primitives.at(0); }

// The area of all triangles, and whether all face +Z.
float areaUp(const scene::Primitive& p) {
  float out = 0;
  for (size_t i = 0; i + 2 < p.indices.size(); i += 3) {
    const glm::vec3 n = glm::cross(p.positions[p.indices[i + 1]] - p.positions[p.indices[i]],
                                   p.positions[p.indices[i + 2]] - p.positions[p.indices[i]]);
    EXPECT_GT(n.z, 0);
    out += n.z / 2;
  }
  return out;
}

TEST(ReadCollada, EveryKindOfTriangles) {
  const struct {
    const char* what;
    std::string elements;
    size_t vertices;
  } kinds[] = {
      {"triangles",
       "<triangles count=\"2\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2 0 0 0 2 0 2 3 0 3</p></triangles>", 4},
      {"polylist",
       "<polylist count=\"1\">" + kInputs + "<vcount>4</vcount><p>0 0 0 1 0 1 2 0 2 3 0 3</p></polylist>", 4},
      {"polygons", "<polygons count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2 3 0 3</p></polygons>", 4},
      {"tristrips", "<tristrips count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 3 0 3 2 0 2</p></tristrips>", 4},
      {"trifans", "<trifans count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2 3 0 3</p></trifans>", 4},
  };
  for (const auto& kind : kinds) {
    SCOPED_TRACE(kind.what);
    const auto r = read(document(square(kind.elements), kNode));
    ASSERT_TRUE(r) << r.error().text();
    EXPECT_THAT(r->notes, testing::IsEmpty());
    const scene::Primitive& p = only(*r);
    EXPECT_EQ(p.positions.size(), kind.vertices);
    EXPECT_EQ(p.indices.size(), 6U);
    EXPECT_FLOAT_EQ(areaUp(p), 1);
    EXPECT_EQ(p.normals.at(0), glm::vec3(0, 0, 1));
    // Texture coordinates count from below in COLLADA, from above in the scene.
    for (size_t v = 0; v < p.positions.size(); ++v)
      EXPECT_EQ(p.uvs[0][v], glm::vec2(p.positions[v].x, 1 - p.positions[v].y));
    EXPECT_EQ(r->stored_vertices, 4U);
    EXPECT_EQ(r->stored_triangles, 2U);
  }
}

TEST(ReadCollada, AGeometryThatStandsTwiceIsCountedOnce) {
  const std::string twice =
      "<node id=\"n\"><instance_geometry url=\"#g\"/><instance_geometry url=\"#g\"/></node>";
  const auto r = read(document(
      square("<triangles count=\"2\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2 0 0 0 2 0 2 3 0 3</p></triangles>"),
      twice));
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_EQ(r->stored_meshes, 1U);
  EXPECT_EQ(r->stored_primitives, 1U);
  EXPECT_EQ(r->stored_triangles, 2U);
  EXPECT_EQ(scene::countsOf(r->model).triangles, 4U);
  EXPECT_EQ(scene::reachedNodes(r->model).size() - r->added_nodes, 1U);
}

TEST(ReadCollada, EachUseOfAGeometryHasItsOwnMaterialAndAllOfItsVertices) {
  const std::string materials =
      "<library_effects><effect id=\"e\"><profile_COMMON><technique sid=\"t\"><lambert/></technique>"
      "</profile_COMMON></effect></library_effects><library_materials>"
      "<material id=\"m1\" name=\"red\"><instance_effect url=\"#e\"/></material>"
      "<material id=\"m2\" name=\"blue\"><instance_effect url=\"#e\"/></material></library_materials>";
  const auto use = [](const std::string& node, const std::string& material) {
    return "<node id=\"" + node + "\"><instance_geometry url=\"#g\"><bind_material><technique_common>" +
           "<instance_material symbol=\"s\" target=\"#" + material +
           "\"/></technique_common></bind_material></instance_geometry></node>";
  };
  const auto r = read(document(materials + square("<triangles count=\"2\" material=\"s\">" + kInputs +
                                                  "<p>0 0 0 1 0 1 2 0 2 0 0 0 2 0 2 3 0 3</p></triangles>"),
                               use("a", "m1") + use("b", "m2") + use("c", "m1")));
  ASSERT_TRUE(r) << r.error().text();
  ASSERT_EQ(r->model.meshes.size(), 2U) << "two materials, three uses";
  for (size_t m = 0; m < 2; ++m) {
    const scene::Primitive& p = r->model.meshes[m]->primitives.at(0);
    EXPECT_EQ(p.positions.size(), 4U);
    EXPECT_EQ(p.uvs[0].size(), 4U);
    EXPECT_FLOAT_EQ(areaUp(p), 1);
    EXPECT_EQ(r->model.materials.at(p.material.value()).name, m == 0 ? "red" : "blue");
  }
  EXPECT_EQ(r->stored_triangles, 2U);
  EXPECT_EQ(scene::countsOf(r->model).triangles, 6U);
}

TEST(ReadCollada, PolygonsKeepTheirHoles) {
  const std::string points =
      source("p", "0 0 0 4 0 0 4 4 0 0 4 0 1 1 0 1 2 0 2 2 0 2 1 0 2.5 2.5 0 3.5 2.5 0 3.5 3.5 0 2.5 3.5 0",
             12, 3, "XYZ");
  const std::string mesh =
      "<library_geometries><geometry id=\"g\"><mesh>" + points +
      "<vertices id=\"v\"><input semantic=\"POSITION\" source=\"#p\"/></vertices><polygons count=\"1\">"
      "<input semantic=\"VERTEX\" source=\"#v\" offset=\"0\"/><ph><p>0 1 2 3</p><h>4 5 6 7</h><h>8 9 10 "
      "11</h></ph></polygons>"
      "</mesh></geometry></library_geometries>";
  const auto r = read(document(mesh, kNode));
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_NEAR(areaUp(only(*r)), 16 - 1 - 1, 1e-5);
}

TEST(ReadCollada, InputsInAnyLayout) {
  // Normals with the positions in <vertices>; a stride of four with the third number unnamed; positions
  // Z-last.
  const std::string mesh = "<library_geometries><geometry id=\"g\"><mesh>" +
                           source("p", "9 1 2 9 3 9 4 5 9 6 9 7 8 9 9", 3, 5, "_XY_Z") +
                           source("n", "1 0 0 0 1 0 0 0 1", 3, 3, "XYZ") +
                           "<vertices id=\"v\"><input semantic=\"POSITION\" source=\"#p\"/><input "
                           "semantic=\"NORMAL\" source=\"#n\"/></vertices>"
                           "<triangles count=\"1\"><input semantic=\"VERTEX\" source=\"#v\" "
                           "offset=\"2\"/><p>7 7 0 7 7 1 7 7 2</p></triangles>"
                           "</mesh></geometry></library_geometries>";
  const auto r = read(document(mesh, kNode));
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_EQ(only(*r).positions, (std::vector<glm::vec3>{{1, 2, 3}, {4, 5, 6}, {7, 8, 9}}));
  EXPECT_EQ(only(*r).normals, (std::vector<glm::vec3>{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}));
}

TEST(ReadCollada, UnitAndAxisAreSaidAndNumbersLeftAlone) {
  const std::string mesh =
      square("<triangles count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2</p></triangles>");
  const auto z = read(document(mesh, kNode, "<unit name=\"inch\" meter=\"0.0254\"/><up_axis>Z_UP</up_axis>"));
  ASSERT_TRUE(z);
  EXPECT_EQ(z->format, "COLLADA");
  EXPECT_EQ(z->version, "1.4.1");
  EXPECT_DOUBLE_EQ(*z->unit_m, 0.0254);
  EXPECT_EQ(*z->up, geometry::Axis::plus_z);
  EXPECT_EQ(z->model.frame.forward, geometry::Axis::minus_y);
  EXPECT_EQ(scene::boundsOf(z->model).max, glm::vec3(1, 1, 0));
  const auto none = read(document(mesh, kNode));
  EXPECT_DOUBLE_EQ(*none->unit_m, 1);
  EXPECT_EQ(*none->up, geometry::Axis::plus_y);
}

TEST(ReadCollada, TransformsMultiplyInTheirOrder) {
  const std::string mesh =
      square("<triangles count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2</p></triangles>");
  // (1, 0, 0) doubled, turned to (0, 2, 0), moved by (10, 0, 0); below that by a row-major matrix by (0, 0,
  // 5).
  const auto r = read(
      document(mesh,
               "<node id=\"top\"><translate>10 0 0</translate><rotate>0 0 1 90</rotate><scale>2 2 2</scale>"
               "<node id=\"low\"><matrix>1 0 0 0 0 1 0 0 0 0 1 5 0 0 0 1</matrix><instance_geometry "
               "url=\"#g\"/></node></node>"));
  ASSERT_TRUE(r) << r.error().text();
  const scene::NodeIndex low = scene::findPart(r->model, "top/low");
  ASSERT_TRUE(low.valid());
  const glm::vec3 at = scene::worldMatrices(r->model)[low.value()] * glm::vec4(1, 0, 0, 1);
  EXPECT_NEAR(glm::length(at - glm::vec3(10, 2, 10)), 0, 1e-5);
  // A look from (0, 0, 5) to the origin: -Z of the node points there.
  const auto looks = read(document(
      mesh, "<node id=\"a\"><lookat>0 0 5 0 0 0 0 1 0</lookat><instance_geometry url=\"#g\"/></node>"));
  ASSERT_TRUE(looks);
  const glm::vec3 ahead = scene::worldMatrices(looks->model)[0] * glm::vec4(0, 0, -1, 1);
  EXPECT_NEAR(glm::length(ahead - glm::vec3(0, 0, 4)), 0, 1e-5);
  const auto skewed = read(
      document(mesh, "<node id=\"a\"><skew>45 0 1 0 1 0 0</skew><instance_geometry url=\"#g\"/></node>"));
  ASSERT_TRUE(skewed);
  EXPECT_EQ(skewed->notes.at(0).code, "collada.shear");
}

const std::string kSkin =
    "<library_controllers><controller id=\"c\" name=\"Rig\"><skin source=\"#g\">"
    "<bind_shape_matrix>1 0 0 1 0 1 0 0 0 0 1 0 0 0 0 1</bind_shape_matrix>"
    "<source id=\"j\"><Name_array id=\"j-a\" count=\"2\">root_sid tip_sid</Name_array></source>" +
    source("ib", "1 0 0 0 0 1 0 0 0 0 1 0 0 0 0 1  1 0 0 0 0 1 0 -1 0 0 1 0 0 0 0 1", 2, 16, "M") +
    source("w", "0.25 0.75 1", 3, 1, "W") +
    "<joints><input semantic=\"JOINT\" source=\"#j\"/><input semantic=\"INV_BIND_MATRIX\" "
    "source=\"#ib\"/></joints>"
    "<vertex_weights count=\"4\"><input semantic=\"JOINT\" source=\"#j\" offset=\"0\"/><input "
    "semantic=\"WEIGHT\" source=\"#w\" offset=\"1\"/>"
    "<vcount>1 2 1 2</vcount><v>0 2 0 0 1 1 1 2 -1 2 1 "
    "2</v></vertex_weights></skin></controller></library_controllers>";
const std::string kSkinNodes =
    "<node id=\"r\" sid=\"root_sid\" name=\"Root\" type=\"JOINT\"><node id=\"tip\" sid=\"tip_sid\" "
    "name=\"Tip\" type=\"JOINT\">"
    "<translate sid=\"move\">0 1 0</translate></node></node>"
    "<node id=\"m\" name=\"Body\"><instance_controller "
    "url=\"#c\"><skeleton>#r</skeleton></instance_controller></node>";

TEST(ReadCollada, SkinsWithBindShapeAndJointsBySid) {
  const std::string mesh = square("<polylist count=\"1\">" + kInputs +
                                  "<vcount>4</vcount><p>0 0 0 1 0 1 2 0 2 3 0 3</p></polylist>");
  std::string matrices = kSkin;
  // The params of a matrix are one of type float4x4.
  const std::string one = "<param name=\"M\" type=\"float\"/>";
  matrices.replace(matrices.find(one), one.size(), "<param name=\"TRANSFORM\" type=\"float4x4\"/>");
  const auto r = read(document(mesh + matrices, kSkinNodes));
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_THAT(r->notes, testing::IsEmpty());
  const scene::Model& m = r->model;
  ASSERT_EQ(m.skins.size(), 1U);
  EXPECT_EQ(m.skins[0].name, "Rig");
  ASSERT_EQ(m.skins[0].joints.size(), 2U);
  EXPECT_EQ(m.node(m.skins[0].joints[0]).name, "Root");
  EXPECT_EQ(m.node(m.skins[0].joints[1]).name, "Tip");
  const scene::Primitive& p = only(*r);
  ASSERT_EQ(p.weights.size(), 4U);
  EXPECT_EQ(p.weights[0], glm::vec4(1, 0, 0, 0));
  EXPECT_EQ(p.joints[1][0], 1);
  EXPECT_EQ(p.weights[1], glm::vec4(0.75F, 0.25F, 0, 0)) << "the heaviest first";
  EXPECT_EQ(p.weights[3], glm::vec4(1, 0, 0, 0)) << "joint -1 is the bind shape, no bone";
  // At rest: the bind shape moves by (1, 0, 0); Tip stands where its bind matrix says.
  EXPECT_NEAR(glm::length(scene::boundsOf(m).min - glm::vec3(1, 0, 0)), 0, 1e-6);
  EXPECT_EQ(scene::unbentBounds(m).min, glm::vec3(0));
}

TEST(ReadCollada, MorphTargetsAreDifferences) {
  const std::string mesh =
      square("<triangles count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2</p></triangles>");
  const std::string target = "<library_geometries><geometry id=\"up\" name=\"Lifted\"><mesh>" +
                             source("q", "0 0 1 1 0 1 1 1 3 0 1 1", 4, 3, "XYZ") +
                             "<vertices id=\"qv\"><input semantic=\"POSITION\" "
                             "source=\"#q\"/></vertices></mesh></geometry></library_geometries>";
  const std::string morph =
      "<library_controllers><controller id=\"c\"><morph source=\"#g\" method=\"NORMALIZED\">"
      "<source id=\"mt\"><IDREF_array id=\"mt-a\" count=\"1\">up</IDREF_array></source>" +
      source("mw", "0.5", 1, 1, "W") +
      "<targets><input semantic=\"MORPH_TARGET\" source=\"#mt\"/><input semantic=\"MORPH_WEIGHT\" "
      "source=\"#mw\"/></targets>"
      "</morph></controller></library_controllers>";
  const auto r =
      read(document(mesh + target + morph, "<node id=\"a\"><instance_controller url=\"#c\"/></node>"));
  ASSERT_TRUE(r) << r.error().text();
  ASSERT_EQ(r->model.meshes.size(), 1U) << "a target is no mesh of its own";
  EXPECT_THAT(r->model.meshes[0]->morph_names, ElementsAre("Lifted"));
  EXPECT_THAT(r->model.meshes[0]->morph_weights, ElementsAre(0.5F));
  EXPECT_EQ(only(*r).morphs.at(0).positions, (std::vector<glm::vec3>{{0, 0, 1}, {0, 0, 1}, {0, 0, 3}}));
}

TEST(ReadCollada, MaterialsOfTheCommonProfile) {
  const std::string mesh =
      square("<triangles count=\"1\" material=\"sym\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2</p></triangles>");
  const std::string libraries =
      "<library_images><image id=\"img\" "
      "name=\"wood\"><init_from>./tex/Deck%20A.png</init_from></image></library_images>"
      "<library_effects><effect id=\"e\"><profile_COMMON>"
      "<newparam sid=\"surf\"><surface type=\"2D\"><init_from>img</init_from></surface></newparam>"
      "<newparam "
      "sid=\"samp\"><sampler2D><source>surf</source><wrap_s>CLAMP</wrap_s><wrap_t>MIRROR</"
      "wrap_t><magfilter>NEAREST</magfilter></sampler2D></newparam>"
      "<technique sid=\"t\"><phong><emission><color>0 0.5 0 1</color></emission>"
      "<diffuse><texture texture=\"samp\" texcoord=\"UV\"/></diffuse><shininess><float>30</float></shininess>"
      "<transparent opaque=\"RGB_ZERO\"><color>0.5 0.5 0.5 "
      "1</color></transparent><transparency><float>1</float></transparency>"
      "</phong></technique></profile_COMMON></effect></library_effects>"
      "<library_materials><material id=\"mat\" name=\"Planks\"><instance_effect "
      "url=\"#e\"/></material></library_materials>";
  const auto r =
      read(document(libraries + mesh,
                    "<node id=\"a\"><instance_geometry url=\"#g\"><bind_material><technique_common>"
                    "<instance_material symbol=\"sym\" target=\"#mat\"><bind_vertex_input semantic=\"UV\" "
                    "input_semantic=\"TEXCOORD\" input_set=\"0\"/></instance_material>"
                    "</technique_common></bind_material></instance_geometry></node>"),
           [](const std::string& name) -> base::Result<base::Bytes> {
             EXPECT_EQ(name, "tex/Deck A.png");
             return base::Bytes(3, std::byte{1});
           });
  ASSERT_TRUE(r) << r.error().text();
  ASSERT_EQ(r->model.materials.size(), 1U);
  const scene::Material& m = r->model.materials[0];
  EXPECT_EQ(m.name, "Planks");
  EXPECT_FLOAT_EQ(m.roughness, 0.25F);  // sqrt(2 / (30 + 2))
  EXPECT_EQ(m.emissive, glm::vec3(0, 0.5F, 0));
  EXPECT_NEAR(m.base_color.w, 0.5F, 1e-4);
  EXPECT_EQ(m.alpha, scene::AlphaMode::blend);
  EXPECT_EQ(m.base_color_texture.wrap_u, scene::Wrap::clamp);
  EXPECT_EQ(m.base_color_texture.wrap_v, scene::Wrap::mirror);
  EXPECT_EQ(m.base_color_texture.filter, scene::Filter::nearest);
  ASSERT_NE(r->model.images.at(0).bytes, nullptr);
  EXPECT_THAT(r->named_files, ElementsAre("tex/Deck A.png"));
}

// One channel on a node of the square; gives the value at a time.
std::string moving(const std::string& target, const std::string& values, int width, const std::string& ways,
                   const std::string& tangents = "") {
  const std::string square_mesh =
      square("<triangles count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2</p></triangles>");
  const std::string params = width == 16 ? "M" : std::string("XYZA").substr(0, static_cast<size_t>(width));
  std::string out = source("out", values, 2, width, params);
  if (width == 16) {
    const std::string one = "<param name=\"M\" type=\"float\"/>";
    out.replace(out.find(one), one.size(), "<param name=\"T\" type=\"float4x4\"/>");
  }
  return document(
      square_mesh + "<library_animations><animation id=\"an\" name=\"Slide\">" +
          source("in", "0 2", 2, 1, "T") + out + "<source id=\"way\"><Name_array id=\"way-a\" count=\"2\">" +
          ways + "</Name_array></source>" + tangents +
          "<sampler id=\"sa\"><input semantic=\"INPUT\" source=\"#in\"/><input semantic=\"OUTPUT\" "
          "source=\"#out\"/>"
          "<input semantic=\"INTERPOLATION\" source=\"#way\"/>" +
          (tangents.empty() ? ""
                            : "<input semantic=\"IN_TANGENT\" source=\"#it\"/><input "
                              "semantic=\"OUT_TANGENT\" source=\"#ot\"/>") +
          "</sampler><channel source=\"#sa\" target=\"" + target + "\"/></animation></library_animations>",
      "<node id=\"a\"><matrix sid=\"m\">1 0 0 0 0 1 0 0 0 0 1 0 0 0 0 1</matrix><translate sid=\"t\">0 0 "
      "0</translate>"
      "<rotate sid=\"r\">0 0 1 0</rotate><instance_geometry url=\"#g\"/></node>");
}

glm::vec4 valueOf(const ReadModel& r, scene::AnimatedPath path, float t) {
  float v[4] = {};
  for (const scene::Channel& c : r.model.animations.at(0).channels)
    if (c.path == path) scene::valueAt(c, t, v);
  return {v[0], v[1], v[2], v[3]};
}

TEST(ReadCollada, AnimationsOfEveryWay) {
  const auto linear = read(moving("a/t.X", "0 8", 1, "LINEAR LINEAR"));
  ASSERT_TRUE(linear) << linear.error().text();
  EXPECT_EQ(linear->model.animations.at(0).name, "Slide");
  EXPECT_FLOAT_EQ(valueOf(*linear, scene::AnimatedPath::position, 0.5F).x, 2);
  const auto held = read(moving("a/t.Y", "1 8", 1, "STEP STEP"));
  EXPECT_FLOAT_EQ(valueOf(*held, scene::AnimatedPath::position, 1.9F).y, 1);
  EXPECT_EQ(held->model.animations[0].channels.at(0).interpolation, scene::Interpolation::step);
  const auto whole = read(moving("a/t", "0 0 0 2 4 6", 3, "LINEAR LINEAR"));
  EXPECT_EQ(glm::vec3(valueOf(*whole, scene::AnimatedPath::position, 1)), glm::vec3(1, 2, 3));
  // A whole turn between two keys is no standing still.
  const auto wheel = read(moving("a/r.ANGLE", "0 360", 1, "LINEAR LINEAR"));
  EXPECT_NEAR(std::abs(valueOf(*wheel, scene::AnimatedPath::turn, 1).z), 1, 1e-4);
  // Bezier with level ends: halfway it is halfway, at a quarter 3 s^2 - 2 s^3 = 0.15625.
  const auto curve = read(moving("a/t.Z", "0 1", 1, "BEZIER BEZIER",
                                 source("it", "-0.6666667 0 1.3333333 1", 2, 2, "XY") +
                                     source("ot", "0.6666667 0 2.6666667 1", 2, 2, "XY")));
  ASSERT_TRUE(curve);
  EXPECT_NEAR(valueOf(*curve, scene::AnimatedPath::position, 1).z, 0.5F, 1e-3);
  EXPECT_NEAR(valueOf(*curve, scene::AnimatedPath::position, 0.5F).z, 0.15625F, 2e-3);
  const auto hermite = read(moving("a/t.Z", "0 1", 1, "HERMITE HERMITE",
                                   source("it", "0 0", 2, 1, "Y") + source("ot", "0 0", 2, 1, "Y")));
  ASSERT_TRUE(hermite);
  EXPECT_NEAR(valueOf(*hermite, scene::AnimatedPath::position, 0.5F).z, 0.15625F, 2e-3);
  const auto matrix = read(
      moving("a/m", "1 0 0 0 0 1 0 0 0 0 1 0 0 0 0 1  1 0 0 5 0 1 0 0 0 0 1 0 0 0 0 1", 16, "LINEAR LINEAR"));
  ASSERT_TRUE(matrix) << matrix.error().text();
  EXPECT_FLOAT_EQ(valueOf(*matrix, scene::AnimatedPath::position, 2).x, 5);
  // Row 0, column 3.
  const auto cell = read(moving("a/m(0)(3)", "0 4", 1, "LINEAR LINEAR"));
  EXPECT_FLOAT_EQ(valueOf(*cell, scene::AnimatedPath::position, 1).x, 2);
  const auto lost = read(moving("a/nothing.X", "0 8", 1, "LINEAR LINEAR"));
  ASSERT_TRUE(lost);
  EXPECT_EQ(lost->notes.at(0).code, "collada.animation_target");
}

TEST(ReadCollada, InstancesOfNodesAndOtherDocuments) {
  const std::string mesh =
      square("<triangles count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2</p></triangles>");
  const auto twice =
      read(document(mesh + "<library_nodes><node id=\"lib\" name=\"Post\"><instance_geometry "
                           "url=\"#g\"/></node></library_nodes>",
                    "<node id=\"x\"><translate>1 0 0</translate><instance_node url=\"#lib\"/></node>"
                    "<node id=\"y\"><translate>4 0 0</translate><instance_node url=\"#lib\"/></node>"));
  ASSERT_TRUE(twice) << twice.error().text();
  EXPECT_EQ(twice->model.nodes.size(), 4U);
  EXPECT_EQ(twice->model.meshes.size(), 1U) << "one mesh, used twice";
  EXPECT_EQ(scene::boundsOf(twice->model).max.x, 5);
  const std::string other = document(mesh, "");
  const auto outside =
      read(document("", "<node id=\"x\"><instance_geometry url=\"parts/other.dae#g\"/></node>"),
           [&](const std::string& name) -> base::Result<base::Bytes> {
             EXPECT_EQ(name, "parts/other.dae");
             const auto span = base::asBytes(other);
             return base::Bytes(span.begin(), span.end());
           });
  ASSERT_TRUE(outside) << outside.error().text();
  EXPECT_EQ(outside->model.meshes.size(), 1U);
  const auto missing = read(document("", "<node id=\"x\"><instance_geometry url=\"gone.dae#g\"/></node>"));
  ASSERT_TRUE(missing);
  EXPECT_EQ(missing->notes.at(0).code, "collada.document_missing");
}

struct Lie {
  const char* from;
  const char* to;
  const char* code;
  const char* place;
};

TEST(ReadCollada, LiesAreRefusedWithTheirPlace) {
  const std::string good =
      document(square("<triangles count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2</p></triangles>"), kNode);
  const Lie lies[] = {
      {"0 0 0 1 0 1 2 0 2</p>", "0 0 0 1 0 1 4 0 2</p>", "collada.index", "triangles"},
      {"0 0 0 1 0 1 2 0 2</p>", "0 0 0 1 0 1 -1 0 2</p>", "collada.index", "triangles"},
      {"0 0 0 1 0 1 2 0 2</p>", "0 0 0 x 0 1 2 0 2</p>", "collada.number", "/p"},
      {"0 0 0 1 0 0 1 1 0 0 1 0", "0 0 0 1 0 0 1 1 0 0 one 0", "collada.number", "float_array"},
      {"count=\"4\" stride=\"3\"", "count=\"4000000000\" stride=\"3\"", "collada.source", "accessor"},
      {"count=\"4\" stride=\"3\"", "count=\"4\" stride=\"0\"", "collada.source", "accessor"},
      {"version=\"1.4.1\"", "version=\"1.3\"", "collada.version", "COLLADA"},
      {"source=\"#v\"", "source=\"#w\"", "collada.reference", "input"},
      {"</mesh>", "", "collada.syntax", ""},
      {"<node id=\"a\" name=\"A\">", "<node id=\"a\" name=\"A\"><instance_node url=\"#a\"/>", "collada.tree",
       "node"},
      {"<node id=\"a\" name=\"A\">", "<node id=\"a\" name=\"A\"><matrix>1 2 3</matrix>", "collada.number",
       "matrix"},
      {"<node id=\"a\" name=\"A\">", "<node id=\"a\" name=\"A\"><translate>0 NaN 0</translate>",
       "collada.number", "translate"},
  };
  for (const Lie& lie : lies) {
    std::string bad = good;
    const size_t at = bad.find(lie.from);
    ASSERT_NE(at, std::string::npos) << lie.from;
    bad.replace(at, std::string(lie.from).size(), lie.to);
    const auto r = read(bad);
    ASSERT_FALSE(r) << lie.to;
    EXPECT_EQ(r.error().code, lie.code) << lie.to;
    EXPECT_THAT(r.error().place.path, HasSubstr(lie.place)) << lie.to;
    EXPECT_EQ(r.error().place.file, "test.dae");
    EXPECT_GT(r.error().place.line, 0) << lie.to;
    EXPECT_FALSE(r.error().cure.empty());
  }
}

TEST(ReadCollada, EntitiesAreNeverExpandedOrFetched) {
  int asked = 0;
  const std::string bomb =
      "<?xml version=\"1.0\"?>\n<!DOCTYPE x [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b \"&a;&a;&a;&a;\"><!ENTITY "
      "f SYSTEM \"file:///etc/passwd\">]>\n" +
      document(square("<triangles count=\"1\">" + kInputs + "<p>0 0 0 1 0 1 2 0 2</p></triangles>"),
               "<node id=\"a\" name=\"&b;&f;\"><instance_geometry url=\"#g\"/></node>")
          .substr(22);
  const auto r = read(bomb, [&](const std::string& name) {
    ++asked;
    return nothing(name);
  });
  ASSERT_TRUE(r) << r.error().text();
  EXPECT_EQ(r->model.nodes.at(0).name, "&b;&f;");
  EXPECT_EQ(asked, 0);
}

TEST(ReadCollada, NodesThatMultiplyThemselvesAreRefused) {
  std::string nodes;
  for (int i = 0; i < 30; ++i) {
    const std::string next = "<instance_node url=\"#n" + std::to_string(i + 1) + "\"/>";
    nodes += "<node id=\"n" + std::to_string(i) + "\">" + next + next + "</node>";
  }
  const auto r = read(document("<library_nodes>" + nodes + "<node id=\"n30\"/></library_nodes>",
                               "<node id=\"x\"><instance_node url=\"#n0\"/></node>"));
  ASSERT_FALSE(r);
  EXPECT_EQ(r.error().code, "collada.too_large");
}

TEST(ReadCollada, EveryPrefixIsRefusedOrReadWithoutHarm) {
  const std::string good = document(square("<polylist count=\"1\">" + kInputs +
                                           "<vcount>4</vcount><p>0 0 0 1 0 1 2 0 2 3 0 3</p></polylist>") +
                                        kSkin,
                                    kSkinNodes);
  for (size_t n = 0; n + 2 < good.size(); ++n) ASSERT_FALSE(read(good.substr(0, n))) << n;
}

TEST(ReadCollada, FlippedBytesNeverCrash) {
  const std::string good = document(square("<polylist count=\"1\">" + kInputs +
                                           "<vcount>4</vcount><p>0 0 0 1 0 1 2 0 2 3 0 3</p></polylist>") +
                                        kSkin,
                                    kSkinNodes);
  std::mt19937 random(11);
  int refused = 0;
  for (int i = 0; i < 4000; ++i) {
    std::string damaged = good;
    for (int k = 0; k < 1 + i % 3; ++k)
      damaged[random() % damaged.size()] ^= static_cast<char>(1u << random() % 7);
    const auto r = read(damaged);
    if (!r) {
      ++refused;
      continue;
    }
    for (const auto& mesh : r->model.meshes)
      for (const auto& p : mesh->primitives)
        for (const uint32_t index : p.indices) ASSERT_LT(index, p.positions.size());
  }
  EXPECT_GT(refused, 100);
}

}  // namespace
}  // namespace rakugo::formats
