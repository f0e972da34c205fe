// Steps that mend how a mesh hangs together: each takes its fault away, does nothing the second time, and
// makes no other fault worse.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "support/applied_steps.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::FaultCode;
using test::applyStep;
using test::faultCount;
using test::modelOf;

// A sheet of n x n squares that waves a little, with normals and coordinates, every square with vertices of
// its own or all sharing theirs.
scene::Primitive sheet(int n, bool shared) {
  scene::Primitive p;
  const auto corner = [&](int x, int y) {
    p.positions.emplace_back(x, y, 0.1F * static_cast<float>((x * 7 + y * 5) % 3));
    p.normals.emplace_back(0, 0, 1);
    p.uvs[0].emplace_back(static_cast<float>(x) / static_cast<float>(n),
                          1 - static_cast<float>(y) / static_cast<float>(n));
    return static_cast<uint32_t>(p.positions.size() - 1);
  };
  if (shared)
    for (int y = 0; y <= n; ++y)
      for (int x = 0; x <= n; ++x) corner(x, y);
  for (int y = 0; y < n; ++y)
    for (int x = 0; x < n; ++x) {
      const auto at = [&](int dx, int dy) {
        return shared ? static_cast<uint32_t>((y + dy) * (n + 1) + x + dx) : corner(x + dx, y + dy);
      };
      const uint32_t a = at(0, 0), b = at(1, 0), c = at(1, 1), d = at(0, 1);
      p.indices.insert(p.indices.end(), {a, b, c, a, c, d});
    }
  return p;
}

TEST(StructureSteps, VerticesThatAreAlikeBecomeOne) {
  scene::Model model = modelOf(sheet(4, false));
  EXPECT_EQ(faultCount(model, FaultCode::coincident_vertices), 64U - 25U);
  EXPECT_EQ(applyStep(model, "weld").did, "39 vertices");
  EXPECT_EQ(model.meshes[0]->primitives[0].positions.size(), 25U);
  EXPECT_EQ(model.meshes[0]->primitives[0].normals.size(), 25U);
  EXPECT_EQ(faultCount(model, FaultCode::coincident_vertices), 0U);
  EXPECT_EQ(applyStep(model, "weld").did, "none left");
}

TEST(StructureSteps, ASeamStays) {
  scene::Primitive p = sheet(2, false);
  for (size_t v = 0; v < 4; ++v) p.uvs[0][v].x += 0.25F;  // the first square lies elsewhere on its picture
  scene::Model model = modelOf(p);
  applyStep(model, "weld");
  EXPECT_EQ(model.meshes[0]->primitives[0].positions.size(), 9U + 3U);
}

TEST(StructureSteps, DistancesAreThoseOfTheGameNotOfTheMesh) {
  scene::Primitive p = sheet(1, false);
  p.positions.push_back(p.positions[0] + glm::vec3(0.001F, 0, 0));
  p.normals.push_back(p.normals[0]);
  p.uvs[0].push_back(p.uvs[0][0]);
  p.indices.insert(p.indices.end(), {4, 1, 2});
  scene::Model model = modelOf(p);
  model.nodes[0].local.scale = glm::vec3(0.01F);  // a hundredth: the two lie 0.01 mm apart
  scene::Model far = modelOf(p);
  EXPECT_EQ(applyStep(far, "weld", Json{{"distance_mm", 0.1}}).did, "none left");
  EXPECT_EQ(applyStep(model, "weld", Json{{"distance_mm", 0.1}}).did, "1 vertex");
  EXPECT_EQ(applyStep(model, "weld", Json{{"distance_mm", -1}}).state, StepState::wrong);
}

TEST(StructureSteps, DoublesGoAndTheFirstStays) {
  scene::Primitive p = sheet(3, true);
  p.indices.insert(p.indices.end(), {p.indices[1], p.indices[0], p.indices[2]});  // the other way round, too
  scene::Model model = modelOf(p);
  EXPECT_EQ(applyStep(model, "remove_duplicates").did, "1 triangle");
  EXPECT_EQ(model.meshes[0]->primitives[0].indices, sheet(3, true).indices);
  EXPECT_EQ(applyStep(model, "remove_duplicates").did, "none left");
}

TEST(StructureSteps, TrianglesAreTurnedTheWayOfTheirShell) {
  scene::Primitive p = sheet(4, true);
  for (const size_t t : {3U, 11U, 12U}) std::swap(p.indices[t * 3 + 1], p.indices[t * 3 + 2]);
  scene::Model model = modelOf(p);
  EXPECT_EQ(faultCount(model, FaultCode::flipped_triangles), 3U);
  EXPECT_EQ(applyStep(model, "orient").did, "3 triangles");
  EXPECT_EQ(faultCount(model, FaultCode::flipped_triangles), 0U);
  EXPECT_EQ(model.meshes[0]->primitives[0].indices, sheet(4, true).indices);
  EXPECT_EQ(applyStep(model, "orient").did, "none left");
}

TEST(StructureSteps, AShellThatFacesInwardIsTurnedWithWhatStoodAgainstIt) {
  scene::Primitive p;
  p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  p.indices = {0, 1, 2, 0, 3, 1, 1, 3, 2, 0, 2, 3};  // all inward
  std::swap(p.indices[1], p.indices[2]);             // but for one
  scene::Model model = modelOf(p);
  EXPECT_EQ(applyStep(model, "orient").did, "3 triangles");
  EXPECT_EQ(faultCount(model, FaultCode::flipped_triangles), 0U);
  EXPECT_EQ(faultCount(model, FaultCode::inside_out_shells), 0U);
}

TEST(StructureSteps, UnusedVerticesGoAndTheOthersKeepTheirOrder) {
  scene::Primitive p = sheet(2, true);
  p.indices.resize(6);  // one square of four
  scene::Model model = modelOf(p);
  EXPECT_EQ(applyStep(model, "remove_unused").did, "5 vertices");
  EXPECT_EQ(model.meshes[0]->primitives[0].positions,
            (std::vector<glm::vec3>{p.positions[0], p.positions[1], p.positions[3], p.positions[4]}));
  EXPECT_EQ(applyStep(model, "remove_unused").did, "none left");
}

TEST(StructureSteps, OnlyWrongNormalsAreMadeAnew) {
  scene::Primitive p = sheet(3, true);
  p.normals[5] = {0, 0, -1};
  p.normals[6] = {0, 0, 7};
  scene::Model model = modelOf(p);
  EXPECT_EQ(applyStep(model, "make_normals").did, "all had them");
  EXPECT_EQ(applyStep(model, "make_normals", Json{{"which", "wrong"}}).did, "2 normals");
  EXPECT_EQ(faultCount(model, FaultCode::normals_bad), 0U);
  EXPECT_EQ(model.meshes[0]->primitives[0].normals[4], p.normals[4]);
  EXPECT_EQ(applyStep(model, "make_normals", Json{{"which", "wrong"}}).did, "all had them");
  EXPECT_EQ(applyStep(model, "make_normals", Json{{"which", "all"}}).did, "16 normals");
  EXPECT_EQ(applyStep(model, "make_normals", Json{{"which", "some"}}).state, StepState::wrong);
}

TEST(StructureSteps, HolesAreFilledAndOutlinesOfSheetsAreNot) {
  // A sheet with a square missing in its middle: the hole is filled, its own outline stays.
  scene::Primitive p = sheet(3, true);
  p.indices.erase(p.indices.begin() + 24, p.indices.begin() + 30);  // the fifth square
  scene::Model model = modelOf(p);
  EXPECT_EQ(faultCount(model, FaultCode::open_edges), 12U + 4U);
  EXPECT_EQ(applyStep(model, "fill_holes").did, "1 hole");
  EXPECT_EQ(faultCount(model, FaultCode::open_edges), 12U);
  EXPECT_EQ(faultCount(model, FaultCode::flipped_triangles), 0U);
  EXPECT_EQ(faultCount(model, FaultCode::normals_bad), 0U);
  EXPECT_EQ(model.meshes[0]->primitives[0].uvs[0].size(), model.meshes[0]->primitives[0].positions.size());
  EXPECT_EQ(applyStep(model, "fill_holes").did, "none left");
}

TEST(StructureSteps, AnOpenTubeBecomesABodyOfKnownVolume) {
  scene::Primitive p;
  const int n = 24;
  for (int end = 0; end < 2; ++end)
    for (int i = 0; i < n; ++i) {
      const float a = 6.2831853F * static_cast<float>(i) / n;
      p.positions.emplace_back(std::cos(a), std::sin(a), end * 3);
    }
  for (uint32_t i = 0; i < n; ++i) {
    const uint32_t b = (i + 1) % n;
    p.indices.insert(p.indices.end(), {i, b, b + n, i, b + n, i + n});
  }
  scene::Model model = modelOf(p);
  EXPECT_EQ(applyStep(model, "fill_holes", Json{{"most_edges", 20}}).did, "none left");
  EXPECT_EQ(applyStep(model, "fill_holes").did, "2 holes");
  const auto s = scene::structureOf(model).value().at(0);
  EXPECT_TRUE(s.closed);
  EXPECT_EQ(s.euler, 2);
  // Of a regular polygon with 24 corners: n/2 sin(2 pi / n), times the height.
  EXPECT_NEAR(*s.volume_m3, 3 * 12 * std::sin(6.2831853 / 24), 1e-4);
  EXPECT_EQ(s.fault(FaultCode::inside_out_shells).count, 0U);
  EXPECT_EQ(s.fault(FaultCode::flipped_triangles).count, 0U);
}

// Sheets with faults of every sort strewn over them at random.
TEST(StructureSteps, NoMendMakesAnotherFaultWorseOrDoesAnythingTwice) {
  const char* const kSteps[] = {"weld", "remove_duplicates", "orient", "remove_unused", "remove_degenerate"};
  for (uint32_t seed = 1; seed <= 40; ++seed) {
    std::mt19937 random(seed);
    const auto below = [&](size_t n) { return static_cast<uint32_t>(random() % n); };
    scene::Primitive p = sheet(3 + static_cast<int>(below(4)), below(2) == 0);
    const size_t triangles = p.indices.size() / 3;
    for (uint32_t i = 0; i < below(5); ++i) {
      const size_t t = below(triangles);
      std::swap(p.indices[t * 3 + 1], p.indices[t * 3 + 2]);
    }
    for (uint32_t i = 0; i < below(4); ++i) {
      const size_t t = below(triangles);
      p.indices.insert(p.indices.end(), {p.indices[t * 3], p.indices[t * 3 + 1], p.indices[t * 3 + 2]});
    }
    for (uint32_t i = 0; i < below(4); ++i)
      p.indices[below(triangles) * 3] = p.indices[below(triangles) * 3 + 1];
    if (below(2) == 0) p.indices.erase(p.indices.begin(), p.indices.begin() + 6);
    const scene::Model before = modelOf(p);
    for (const char* step : kSteps) {
      scene::Model after = before;
      applyStep(after, step);
      const bool parts = std::string_view(step) != "orient" && std::string_view(step) != "remove_unused";
      for (const FaultCode code :
           {FaultCode::degenerate_triangles, FaultCode::duplicate_triangles, FaultCode::coincident_vertices,
            FaultCode::flipped_triangles, FaultCode::inside_out_shells, FaultCode::nonmanifold_edges}) {
        // Where three triangles met at an edge nothing is wound with or against the others; once one is gone,
        // what was wrong comes to light.
        if (parts && code == FaultCode::flipped_triangles) continue;
        EXPECT_LE(faultCount(after, code), faultCount(before, code))
            << step << ", " << scene::faultName(code) << ", seed " << seed;
      }
      const std::string again = applyStep(after, step).did;
      EXPECT_EQ(again, "none left") << step << seed;
    }
  }
}

}  // namespace
}  // namespace rakugo::prepare
