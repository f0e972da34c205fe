// What of the window's library can be tested without a window.
#include <QFloat16>

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <limits>
#include <set>

#include "app/bench/bench_hit.h"
#include "app/bench/bench_scene.h"
#include "app/bench/part_pictures.h"
#include "app/shell/route.h"
#include "app/widgets/gauge.h"
#include "app/widgets/theme.h"
#include "mod/store.h"
#include "support/applied_steps.h"
#include "support/examined.h"
#include "support/test_folder.h"

namespace rakugo::app {
namespace {

namespace fs = std::filesystem;

TEST(TypedLength, ReadsUnitsCommasAndRefusesTheRest) {
  const auto read = [](const char* text) { return typedLength(QString::fromUtf8(text)); };
  EXPECT_DOUBLE_EQ(*read("2.4"), 2.4);
  EXPECT_DOUBLE_EQ(*read(" 2,4 m "), 2.4);
  EXPECT_DOUBLE_EQ(*read("240 cm"), 2.4);
  EXPECT_DOUBLE_EQ(*read("38mm"), 0.038);
  EXPECT_DOUBLE_EQ(*read("1 ft"), 0.3048);
  for (const char* bad : {"", "tall", "0", "-2 m", "2 km", "2 m 3", "1e9"}) EXPECT_FALSE(read(bad)) << bad;
}

// A sheet of side x side quads, its halves in two materials.
BenchPart sheet(uint32_t side) {
  BenchPart part;
  part.mesh.stride = 12;
  base::ByteWriter out;
  for (uint32_t y = 0; y <= side; ++y)
    for (uint32_t x = 0; x <= side; ++x)
      for (const float v : {static_cast<float>(x), static_cast<float>(y), 0.0F}) out.write<float>(v);
  part.mesh.vertices = out.take();
  part.mesh.vertex_count = (side + 1) * (side + 1);
  for (uint32_t y = 0; y < side; ++y)
    for (uint32_t x = 0; x < side; ++x) {
      const uint32_t a = y * (side + 1) + x, b = a + side + 1;
      part.mesh.indices.insert(part.mesh.indices.end(), {a, a + 1, b + 1, a, b + 1, b});
    }
  const auto all = static_cast<uint32_t>(part.mesh.indices.size()), half = side / 2 * side * 6;
  part.mesh.submeshes = {{0, half, 0}, {half, all - half, 1}};
  return part;
}

TEST(AddCoarse, HeavyModelsGetFewerTrianglesOverTheSameVertices) {
  std::vector<BenchPart> parts = {sheet(316), sheet(7)};
  addCoarse(parts, 60'000);  // of 199,810
  const BenchPart& heavy = parts[0];
  ASSERT_FALSE(heavy.coarse.empty());
  EXPECT_LT(heavy.coarse.size() / 3, 60'000u / 2);
  ASSERT_EQ(heavy.coarse_submeshes.size(), 2u);
  EXPECT_EQ(heavy.coarse_submeshes[0].index_count + heavy.coarse_submeshes[1].index_count,
            heavy.coarse.size());
  EXPECT_EQ(heavy.coarse_submeshes[1].first_index, heavy.coarse_submeshes[0].index_count);
  EXPECT_EQ(heavy.coarse_submeshes[1].material, 1u);
  for (const uint32_t i : heavy.coarse) ASSERT_LT(i, heavy.mesh.vertex_count);
  EXPECT_TRUE(parts[1].coarse.empty()) << "a small part is drawn as it is";
}

TEST(AddCoarse, LightModelsStayAsTheyAre) {
  std::vector<BenchPart> parts = {sheet(50)};
  addCoarse(parts, kHeavyTriangles);
  EXPECT_TRUE(parts[0].coarse.empty());
}

TEST(Route, EveryCheckHasAStation) {
  EXPECT_EQ(stationOf("source.unreadable"), Station::sources);
  EXPECT_EQ(stationOf("picture.missing"), Station::surface);
  for (const char* check : {"bones.missing", "weights.loose", "skin.breaks", "animation.tracks"})
    EXPECT_EQ(stationOf(check), Station::skeleton);
  EXPECT_EQ(stationOf("size.unit"), Station::shape);
  EXPECT_EQ(stationOf("icon.size"), Station::objects);
  EXPECT_EQ(stationOf("mod.card"), Station::bundle);
  // A sort of check that is new has to be thought of: each of the table's is one of these.
  const std::map<std::string, Station> sorts = {
      {"source", Station::sources},     {"file", Station::sources},     {"credit", Station::sources},
      {"bones", Station::skeleton},     {"weights", Station::skeleton}, {"skin", Station::skeleton},
      {"animation", Station::skeleton}, {"picture", Station::surface},  {"role", Station::surface},
      {"materials", Station::surface},  {"model", Station::surface},    {"object", Station::objects},
      {"field", Station::objects},      {"icon", Station::objects},     {"piece", Station::objects},
      {"point", Station::objects},      {"mod", Station::bundle},       {"rulebook", Station::bundle},
      {"document", Station::bundle},    {"step", Station::shape},       {"mesh", Station::shape},
      {"lighter", Station::shape},      {"size", Station::shape},       {"axes", Station::shape},
      {"origin", Station::shape},       {"placement", Station::shape},  {"parts", Station::shape},
      {"part", Station::shape},         {"grid", Station::shape},       {"region", Station::shape},
      {"variant", Station::shape},      {"seam", Station::shape},       {"list", Station::objects},
      {"sound", Station::objects},      {"text", Station::objects}};
  for (const check::CheckRow& row : check::checkTable()) {
    const std::string id = row.id;
    const auto sort = sorts.find(id.substr(0, id.find('.')));
    ASSERT_NE(sort, sorts.end()) << id << " leads to no station that was thought of";
    EXPECT_EQ(stationOf(id), sort->second) << id;
  }
}

// Relative luminance and contrast, WCAG 2.1, section 1.4.3.
double luminance(const QColor& c) {
  const auto linear = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}
double contrast(const QColor& a, const QColor& b) {
  const double x = luminance(a), y = luminance(b);
  return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

TEST(Theme, EveryTextColourCanBeReadOnEveryGround) {
  const Theme& t = theme();
  for (const QColor& text : {t.ink, t.quiet, t.stops, t.shows, t.tidy, t.good, t.click})
    for (const QColor& ground : {t.paper, t.sheet, t.wash})
      EXPECT_GE(contrast(text, ground), 4.5)
          << text.name().toStdString() << " on " << ground.name().toStdString();
  EXPECT_GE(contrast(t.sheet, t.click), 4.5);
}

std::shared_ptr<const check::Examination> examine(const char* name) {
  return test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods" / name);
}

TEST(BenchScene, ShowsWhatWillBeBuilt) {
  PictureCache pictures;
  const auto x = examine("lamplight");
  const auto scene = makeBenchScene(*x, "quay-lamp", pictures);
  ASSERT_TRUE(scene);
  EXPECT_EQ(scene->parts.size(), 5u);
  EXPECT_FALSE(scene->ghost.empty());
  EXPECT_EQ(scene->points.at(0).title, "Light");
  size_t tinted = 0, glowing = 0, painted = 0;
  for (const BenchMaterial& m : scene->materials) {
    tinted += m.tint ? 1 : 0;
    glowing += m.glows ? 1 : 0;
    painted += m.pictures[0] ? 1 : 0;
  }
  EXPECT_EQ(tinted, 1u);
  EXPECT_EQ(glowing, 1u);
  EXPECT_EQ(painted, 4u);
  // A second scene of the same pictures takes them from the cache.
  const size_t known = pictures.size();
  EXPECT_EQ(makeBenchScene(*x, "quay-lamp", pictures)->materials[0].pictures[0],
            scene->materials[0].pictures[0]);
  EXPECT_EQ(pictures.size(), known);
  EXPECT_EQ(makeBenchScene(*x, "none", pictures), nullptr);
}

TEST(BenchScene, AnEditThatItDoesNotShowKeepsIt) {
  const test::TestFolder folder;
  const fs::path path = folder.copyOfMod("lamplight", "m");
  check::Examiner examiner(path, test::kelpwick());
  PictureCache pictures;
  mod::ModState state = *mod::loadMod(path);
  const auto scene = [&](const std::shared_ptr<const BenchScene>& known) {
    return makeBenchScene(**examiner.examine(std::make_shared<const mod::ModState>(state)), "quay-lamp",
                          pictures, known);
  };
  const auto first = scene(nullptr);
  state.objects["quay-lamp"].card["price"] = 5;
  EXPECT_EQ(scene(first), first);
  state.models["quay-lamp"].points[0].position_m[2] = 1;
  const auto moved = scene(first);
  EXPECT_NE(moved, first);
  state.models["quay-lamp"].steps[0].values["unit"] = "m";
  EXPECT_NE(scene(moved), moved);
}

TEST(BenchScene, OnlyPointsOfAGlowingRoleAreLamps) {
  PictureCache pictures;
  const auto x =
      test::examined(fs::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight", [](mod::ModState& s) {
        s.models["quay-lamp"].points.push_back({"notice", {}, {}});
      });
  const auto scene = makeBenchScene(*x, "quay-lamp", pictures);
  ASSERT_EQ(scene->points.size(), 2u);
  EXPECT_TRUE(scene->points[0].lamp);
  EXPECT_FALSE(scene->points[1].lamp);
}

TEST(BenchScene, ARayMeetsTheNearestPartAndItsNormalFacesTheEye) {
  PictureCache pictures;
  const auto scene = makeBenchScene(*examine("lamplight"), "quay-lamp", pictures);
  const glm::vec3 middle = scene->bounds_m.center();
  EXPECT_FALSE(hit(*scene, {middle.x + 30, middle.y, 50}, {0, 0, -1})) << "beside it";
  // Through the post, which stands behind the middle of the box: from the left and from the right.
  for (const float side : {-1.0F, 1.0F}) {
    std::optional<BenchHit> found;
    for (float x = scene->bounds_m.min.x; x < scene->bounds_m.max.x && !found; x += 0.01F)
      found = hit(*scene, {x, 20 * side, 1.6F}, {0, -side, 0});
    ASSERT_TRUE(found);
    EXPECT_EQ(scene->parts[found->part].name, "post");
    EXPECT_GT(found->normal.y * side, 0);
    EXPECT_NEAR(found->position.z, 1.6F, 1e-3);
  }
}

// How many pixels of a picture are painted, and how bright they are on average.
std::pair<int, double> painted(const QImage& picture) {
  int count = 0;
  double sum = 0;
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x)
      if (qAlpha(picture.pixel(x, y)) > 128) ++count, sum += qGray(picture.pixel(x, y));
  return {count, count > 0 ? sum / count : 0};
}

TEST(PartPicture, ShowsThePartWholeInTheColoursItIsGiven) {
  const scene::Model cube = test::modelOf(test::cutCube(2));
  const auto world = scene::worldMatrices(cube);
  const auto draw = [&](const scene::Model& model, QColor lit, QColor shade) {
    return partPicture(model, scene::NodeIndex(0), world, {0, 0, 1}, {1, 0, 0}, 40, lit, shade);
  };
  const QImage picture = draw(cube, Qt::white, Qt::black);
  ASSERT_EQ(picture.size(), QSize(40, 40));
  const auto [count, bright] = painted(picture);
  // A cube seen from a corner fills a hexagon of about three quarters of its square.
  EXPECT_GT(count, 40 * 40 / 2);
  EXPECT_LT(count, 40 * 40 * 9 / 10);
  EXPECT_EQ(qAlpha(picture.pixel(0, 0)), 0) << "the ground is clear";
  // Three sides, each in a shade of its own.
  std::set<QRgb> shades;
  for (int y = 0; y < 40; ++y)
    for (int x = 0; x < 40; ++x)
      if (qAlpha(picture.pixel(x, y)) > 128) shades.insert(picture.pixel(x, y));
  EXPECT_EQ(shades.size(), 3u);
  EXPECT_LT(painted(draw(cube, Qt::darkGray, Qt::black)).second, bright - 30);
  // The size of a thing does not matter, nor where it stands.
  scene::Model far = cube;
  for (glm::vec3& v : far.editMesh(scene::MeshIndex(0)).primitives[0].positions)
    v = v * 300.0F + glm::vec3(5000, 0, 0);
  EXPECT_NEAR(painted(draw(far, Qt::white, Qt::black)).first, count, 30);
  // The one side that is near hides what is behind it.
  scene::Model closed = cube;
  closed.editMesh(scene::MeshIndex(0))
      .primitives.push_back(test::block({-0.1F, -0.1F, -0.1F}, {0.1F, 0.1F, 0.1F}));
  EXPECT_EQ(draw(closed, Qt::white, Qt::black), picture);
}

TEST(PartPicture, OfNothingIsClear) {
  scene::Model empty = test::modelOf(scene::Primitive());
  const auto world = scene::worldMatrices(empty);
  const auto draw = [&] {
    return painted(
               partPicture(empty, scene::NodeIndex(0), world, {0, 0, 1}, {1, 0, 0}, 40, Qt::white, Qt::black))
        .first;
  };
  EXPECT_EQ(draw(), 0);
  scene::Primitive& p = empty.editMesh(scene::MeshIndex(0)).primitives[0];
  p.positions.assign(3, glm::vec3(std::numeric_limits<float>::quiet_NaN()));
  p.indices = {0, 1, 2};
  EXPECT_EQ(draw(), 0);
}

TEST(Tint, NeighboursAreToldApartAndInkIsReadOnAll) {
  const auto luminance = [](QColor c) {
    const auto linear = [](double v) {
      return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
  };
  for (size_t i = 0; i < 12; ++i) {
    EXPECT_EQ(tint(i), tint(i));
    for (size_t k = i + 1; k < 12; ++k)
      EXPECT_GT(std::abs(tint(i).red() - tint(k).red()) + std::abs(tint(i).green() - tint(k).green()) +
                    std::abs(tint(i).blue() - tint(k).blue()),
                12)
          << i << " and " << k;
    EXPECT_GT((luminance(tint(i)) + 0.05) / (luminance(paperTheme().ink) + 0.05), 4.5) << i;
  }
}

// A post whose upper half goes with a bone: a ray finds it where the pose has put it.
TEST(BenchHit, IsWhereAPoseHasPutThings) {
  BenchScene scene;
  BenchPart part;
  part.key = "flag";
  part.mesh.vertex_count = 3;
  part.mesh.stride = 28;
  part.mesh.attributes = {{bundle::Semantic::position, bundle::AttributeFormat::f32x3, 0},
                          {bundle::Semantic::joints, bundle::AttributeFormat::u16x4, 12},
                          {bundle::Semantic::weights, bundle::AttributeFormat::unorm16x4, 20}};
  base::ByteWriter out;
  for (const glm::vec3 p : {glm::vec3(0, -1, 0), glm::vec3(0, 1, 0), glm::vec3(0, 0, 2)}) {
    for (int c = 0; c < 3; ++c) out.write<float>(p[c]);
    for (const uint16_t bone : {0, 1, 0, 0}) out.write<uint16_t>(bone);
    // The tip follows the second bone whole, the foot by a quarter.
    const uint16_t second = p.z > 1 ? 65'535 : 16'384;
    for (const uint16_t share : {static_cast<uint16_t>(65'535 - second), second, uint16_t{0}, uint16_t{0}})
      out.write<uint16_t>(share);
  }
  part.mesh.vertices = out.take();
  part.mesh.indices = {0, 1, 2};
  part.mesh.submeshes = {{0, 3, 0}};
  scene.parts.push_back(part);
  addTrees(scene.parts);
  scene.rig.nodes = {scene::NodeIndex(0), scene::NodeIndex(1)};
  BenchPose pose;
  pose.bones = {glm::mat4(1), glm::mat4(1)};
  pose.bones[1][3] = glm::vec4(0, 4, 0, 1);
  const auto posed = [&] {
    return posedScene(std::make_shared<const BenchScene>(scene), std::make_shared<const BenchPose>(pose));
  };
  auto there = posed();
  ASSERT_TRUE(there);
  HitOptions in_pose;
  in_pose.posed = there.get();
  const auto rest = hit(scene, {5, 0, 1.5F}, {-1, 0, 0});
  ASSERT_TRUE(rest);
  EXPECT_NEAR(rest->share[2], 0.75F, 1e-5) << "three quarters up";
  EXPECT_FALSE(hit(scene, {5, 0, 1.5F}, {-1, 0, 0}, in_pose)) << "its tip has gone aside";
  // The foot goes a quarter of the way, the tip all of it.
  const auto moved = hit(scene, {5, 3.985F, 1.99F}, {-1, 0, 0}, in_pose);
  ASSERT_TRUE(moved);
  EXPECT_NEAR(moved->position.z, 1.99, 1e-4);
  EXPECT_GT(moved->share[2], 0.99F);
  EXPECT_EQ(weightAt(scene.parts[0], 2, 1), 1);
  EXPECT_NEAR(weightAt(scene.parts[0], 0, 1), 0.25, 1e-4);
  EXPECT_NEAR(weightAt(scene.parts[0], 0, 0), 0.75, 1e-4);
  EXPECT_EQ(weightAt(scene.parts[0], 0, 7), 0);
  // What goes with one bone as a whole.
  scene.parts[0].mesh.attributes.resize(1);
  scene.parts[0].bone = 1;
  there = posed();
  in_pose.posed = there.get();
  EXPECT_FALSE(hit(scene, {5, 0, 0.5F}, {-1, 0, 0}, in_pose));
  EXPECT_TRUE(hit(scene, {5, 4, 0.5F}, {-1, 0, 0}, in_pose));
  EXPECT_EQ(weightAt(scene.parts[0], 0, 1), 0) << "it names no bones";
}

}  // namespace
}  // namespace rakugo::app
