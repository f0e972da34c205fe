// Steps that take triangles and vertices away: what is seen stays as it was, or as near to it as they say.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "geometry/nearest.h"
#include "support/applied_steps.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::FaultCode;
using test::applyStep;
using test::cutCube;
using test::faultCount;
using test::modelOf;

// A wavy tube, open at both ends, with normals, a picture whose seam runs along it, and two materials.
scene::Model tube(uint32_t n) {
  std::vector<scene::Primitive> halves(2);
  for (uint32_t half = 0; half < 2; ++half) {
    scene::Primitive& p = halves[half];
    p.material = scene::MaterialIndex(half);
    const uint32_t rows = n / 2;
    for (uint32_t y = 0; y <= rows; ++y)
      for (uint32_t x = 0; x <= n; ++x) {
        const float a = 6.2831853F * static_cast<float>(x % n) / static_cast<float>(n);
        const float z = static_cast<float>(y + half * rows) / static_cast<float>(n);
        const float r = 1 + 0.1F * std::sin(3 * a) * std::sin(9 * z);
        p.positions.emplace_back(r * std::cos(a), r * std::sin(a), 3 * z);
        p.normals.emplace_back(std::cos(a), std::sin(a), 0);
        p.tangents.emplace_back(-std::sin(a), std::cos(a), 0, 1);
        p.uvs[0].emplace_back(static_cast<float>(x) / static_cast<float>(n), 1 - z);
      }
    for (uint32_t y = 0; y < rows; ++y)
      for (uint32_t x = 0; x < n; ++x) {
        const uint32_t a = y * (n + 1) + x;
        p.indices.insert(p.indices.end(), {a, a + 1, a + n + 2, a, a + n + 2, a + n + 1});
      }
  }
  scene::Model model = modelOf(std::move(halves));
  model.materials.resize(2);
  return model;
}

TEST(MakeLighterStep, MakesVersionsBesideThePartThatTakeNothingFromIt) {
  scene::Model model = tube(64);
  const scene::Model before = model;
  const StepOutcome out =
      applyStep(model, "make_lighter", Json{{"levels", 3.0}, {"share", 0.25}, {"from_m", 10.0}});
  ASSERT_EQ(out.state, StepState::good);
  const auto node = std::find_if(model.nodes.begin(), model.nodes.end(),
                                 [](const scene::Node& n) { return n.mesh.valid(); });
  ASSERT_EQ(node->lighter.size(), 3U);
  EXPECT_EQ(scene::countsOf(model).triangles, scene::countsOf(before).triangles);
  EXPECT_EQ(model.meshes[node->mesh.value()], before.meshes[node->mesh.value()]) << "shared, not copied";
  uint64_t last = scene::countsOf(before).triangles;
  float from = 5;
  for (const scene::LighterMesh& far : node->lighter) {
    EXPECT_FLOAT_EQ(far.from_m, from *= 2);
    scene::Model worn = model;
    worn.node(scene::NodeIndex(static_cast<uint32_t>(node - model.nodes.begin()))).mesh = far.mesh;
    const uint64_t triangles = scene::countsOf(worn).triangles;
    EXPECT_LE(triangles, last / 4 + 1);
    EXPECT_GE(triangles, last / 8);
    last = triangles;
    EXPECT_EQ(scene::structureOf(worn).value().at(0).open_loops.size(), 2U) << "whole, as the part is";
  }
  EXPECT_NE(out.did.find(", then "), std::string::npos) << out.did;
  // Once more: made anew, none on top of the others.
  applyStep(model, "make_lighter", Json{{"levels", 1.0}, {"share", 0.5}, {"from_m", 10.0}});
  EXPECT_EQ(model.nodes[static_cast<size_t>(node - model.nodes.begin())].lighter.size(), 1U);
}

TEST(MakeLighterStep, SaysWhenThereIsNothingToSpareAndWhatItsNumbersMayBe) {
  scene::Model cube = modelOf({cutCube(1)});
  EXPECT_EQ(applyStep(cube, "make_lighter", Json::object()).state, StepState::missed);
  for (const Json& wrong :
       {Json{{"levels", 0.0}}, Json{{"levels", 1.5}}, Json{{"levels", 5.0}}, Json{{"share", 0.0}},
        Json{{"share", 1.0}}, Json{{"from_m", 0.0}}, Json{{"from_m", 1e9}}})
    EXPECT_EQ(applyStep(cube, "make_lighter", wrong).state, StepState::wrong) << wrong;
}

TEST(SimplifyStep, KeepsTheBudgetTheSeamsAndSaysHowFarOff) {
  scene::Model model = tube(64);
  const StepOutcome out = applyStep(model, "simplify", Json{{"triangles", 800.0}});
  EXPECT_EQ(out.state, StepState::good) << out.did;
  const auto counts = scene::countsOf(model);
  EXPECT_LE(counts.triangles, 800U);
  EXPECT_GE(counts.triangles, 700U);
  EXPECT_NE(out.did.find("left, at most"), std::string::npos) << out.did;
  // No crack between the materials or along the picture's seam: the only borders are the two ends.
  const auto s = scene::structureOf(model).value().at(0);
  EXPECT_EQ(s.open_loops.size(), 2U);
  EXPECT_EQ(s.fault(FaultCode::nonmanifold_edges).count, 0U);
  EXPECT_EQ(s.fault(FaultCode::flipped_triangles).count, 0U);
  EXPECT_EQ(s.fault(FaultCode::normals_bad).count, 0U);
  EXPECT_EQ(s.fault(FaultCode::unused_vertices).count, 0U);
  // Pictures still lie where they lay: u goes round once.
  for (const auto& p : model.meshes[0]->primitives) {
    EXPECT_EQ(p.tangents.size(), p.positions.size());
    for (size_t v = 0; v < p.positions.size(); ++v) {
      const float u = std::atan2(p.positions[v].y, p.positions[v].x) / 6.2831853F;
      const float off = p.uvs[0][v].x - u;
      EXPECT_NEAR(off, std::round(off), 1e-4);
    }
  }
}

TEST(SimplifyStep, WhatItSaysItIsOffIsWhatItIsOff) {
  const scene::Model before = tube(48);
  scene::Model model = before;
  model.nodes[0].local.scale = glm::vec3(0.5F);
  const StepOutcome out = applyStep(model, "simplify", Json{{"triangles", 500.0}});
  std::vector<glm::vec3> now, was;
  std::vector<uint32_t> corners;
  for (const auto& p : model.meshes[0]->primitives) {
    for (const uint32_t i : p.indices) corners.push_back(static_cast<uint32_t>(now.size()) + i);
    now.insert(now.end(), p.positions.begin(), p.positions.end());
  }
  for (const auto& p : before.meshes[0]->primitives)
    was.insert(was.end(), p.positions.begin(), p.positions.end());
  const double off_mm = geometry::distancesFrom({now, corners}, was).largest * 0.5 * 1000;
  const double said = std::stod(out.did.substr(out.did.find("at most ") + 8));
  EXPECT_NEAR(said, off_mm, off_mm * 0.02 + 0.01) << out.did;
}

// A flat sheet of n x n squares, a metre wide; each morph target lifts a round hill of it by 10 cm.
scene::Model hills(uint32_t n, uint32_t count) {
  scene::Primitive p;
  for (uint32_t y = 0; y <= n; ++y)
    for (uint32_t x = 0; x <= n; ++x)
      p.positions.emplace_back(static_cast<float>(x) / static_cast<float>(n),
                               static_cast<float>(y) / static_cast<float>(n), 0);
  for (uint32_t y = 0; y < n; ++y)
    for (uint32_t x = 0; x < n; ++x) {
      const uint32_t a = y * (n + 1) + x;
      p.indices.insert(p.indices.end(), {a, a + 1, a + n + 2, a, a + n + 2, a + n + 1});
    }
  for (uint32_t m = 0; m < count; ++m) {
    const glm::vec3 top(0.3F + 0.4F * static_cast<float>(m % 2), 0.3F + 0.4F * static_cast<float>(m / 2 % 2),
                        0);
    scene::MorphTarget& morph = p.morphs.emplace_back();
    for (const glm::vec3& at : p.positions) {
      const float away = glm::distance(at, top) * (6 + static_cast<float>(m % 3));
      morph.positions.emplace_back(0, 0, away < 1 ? 0.1F * (1 - away * away) * (1 - away * away) : 0);
    }
  }
  return modelOf({std::move(p)});
}

TEST(SimplifyStep, MorphTargetsKeepTheirShapesThoughTheRestIsFlat) {
  for (const uint32_t count : {1U, 3U, 24U}) {
    scene::Model model = hills(60, count);
    const scene::Primitive before = model.mesh(scene::MeshIndex(0)).primitives[0];
    const StepOutcome out = applyStep(model, "simplify", Json{{"triangles", 900.0}});
    const scene::Primitive& after = model.mesh(scene::MeshIndex(0)).primitives[0];
    ASSERT_LE(after.indices.size() / 3, 900U);
    ASSERT_EQ(after.morphs.size(), count);
    double largest = 0;
    for (uint32_t m = 0; m < count; ++m) {
      std::vector<glm::vec3> was = before.positions, is = after.positions;
      for (size_t v = 0; v < was.size(); ++v) was[v] += before.morphs[m].positions[v];
      for (size_t v = 0; v < is.size(); ++v) is[v] += after.morphs[m].positions[v];
      largest = std::max(largest, geometry::distancesFrom(geometry::Surface(is, after.indices), was).largest);
    }
    EXPECT_LT(largest, count > 3 ? 0.025 : 0.012)
        << count << " hills of a decimetre; flat, they would be off by one";
    const double said = std::stod(out.did.substr(out.did.find("at most ") + 8)) / 1000;
    EXPECT_GE(said, largest - 1e-5) << out.did;
    EXPECT_LT(said, largest * 2 + 1e-5) << out.did;
  }
}

TEST(DissolveStep, AVertexThatOnlyAMorphTargetMovesStays) {
  for (const std::string where : {"same_picture", "everywhere"}) {
    scene::Model model = hills(12, 1);
    applyStep(model, "dissolve", Json{{"where", where}});
    const scene::Primitive& after = model.mesh(scene::MeshIndex(0)).primitives[0];
    float highest = 0;
    for (const glm::vec3& delta : after.morphs[0].positions) highest = std::max(highest, delta.z);
    EXPECT_GT(highest, 0.07F);
    EXPECT_LT(after.positions.size(), 80U) << "of 169: outside the hill nothing is held";
  }
}

TEST(SimplifyStep, ADistanceHoldsItBackAndItSaysSo) {
  scene::Model model = tube(64);
  const StepOutcome out = applyStep(model, "simplify", Json{{"triangles", 10.0}, {"most_mm", 1.0}});
  EXPECT_EQ(out.state, StepState::partly);
  ASSERT_EQ(out.misses.size(), 1U);
  EXPECT_GT(scene::countsOf(model).triangles, 10U);
  EXPECT_EQ(applyStep(model, "simplify", Json{{"triangles", 1e6}}).state, StepState::good);
  EXPECT_EQ(applyStep(model, "simplify", Json{{"triangles", 0}}).state, StepState::wrong);
  EXPECT_EQ(applyStep(model, "simplify", Json{{"normals", "sideways"}}).state, StepState::wrong);
}

TEST(SimplifyStep, FlatShadedMeshesAreNoObstacle) {
  // Every triangle has vertices of its own, as STL files have.
  scene::Primitive p = cutCube(10), loose;
  for (const uint32_t i : p.indices) {
    loose.indices.push_back(static_cast<uint32_t>(loose.positions.size()));
    loose.positions.push_back(p.positions[i]);
    loose.normals.push_back(p.normals[i]);
  }
  scene::Model model = modelOf(loose);
  const StepOutcome out = applyStep(model, "simplify", Json{{"triangles", 12.0}});
  EXPECT_EQ(out.state, StepState::good) << out.did;
  EXPECT_EQ(scene::countsOf(model).triangles, 12U);
  EXPECT_EQ(scene::countsOf(model).vertices, 24U) << "hard edges are hard again";
  EXPECT_NEAR(*scene::structureOf(model).value()[0].volume_m3, 1, 1e-5);
}

TEST(DissolveStep, ACutCubeIsACubeAgain) {
  for (const char* where : {"same_picture", "everywhere"}) {
    scene::Model model = modelOf(cutCube(6));
    ASSERT_GT(faultCount(model, FaultCode::shapeless_vertices), 0U);
    const StepOutcome out = applyStep(model, "dissolve", Json{{"where", where}});
    EXPECT_EQ(out.state, StepState::good) << out.did;
    EXPECT_EQ(out.did, "210 vertices") << "6 x 25 inside, 12 x 5 on edges";
    EXPECT_EQ(faultCount(model, FaultCode::shapeless_vertices), 0U);
    EXPECT_EQ(scene::countsOf(model).triangles, 12U);
    EXPECT_EQ(scene::countsOf(model).vertices, 24U);
    const auto s = scene::structureOf(model).value()[0];
    EXPECT_TRUE(s.closed);
    EXPECT_NEAR(*s.volume_m3, 1, 1e-6);
    EXPECT_EQ(s.fault(FaultCode::normals_bad).count, 0U);
    EXPECT_EQ(applyStep(model, "dissolve").did, "none left");
  }
}

TEST(DissolveStep, AVertexThatHoldsThePictureStaysUnlessTold) {
  scene::Primitive p = cutCube(2);
  p.uvs[0][4] += glm::vec2(0.2F, 0);  // the middle of the first side
  scene::Model model = modelOf(p), other = model;
  const StepOutcome out = applyStep(model, "dissolve");
  EXPECT_EQ(out.state, StepState::partly);
  EXPECT_EQ(faultCount(model, FaultCode::shapeless_vertices), 1U);
  applyStep(other, "dissolve", Json{{"where", "everywhere"}});
  EXPECT_EQ(faultCount(other, FaultCode::shapeless_vertices), 0U);
}

TEST(SpecksStep, SmallPiecesGoBySizeInTheGame) {
  scene::Primitive p = cutCube(1);
  const scene::Primitive crumb = test::block(glm::vec3(2), glm::vec3(2.004F));
  for (const uint32_t i : crumb.indices) p.indices.push_back(static_cast<uint32_t>(p.positions.size()) + i);
  p.positions.insert(p.positions.end(), crumb.positions.begin(), crumb.positions.end());
  p.normals.insert(p.normals.end(), crumb.normals.begin(), crumb.normals.end());
  p.uvs[0].resize(p.positions.size(), {0.5F, 0.5F});
  scene::Model model = modelOf(p);
  EXPECT_EQ(applyStep(model, "remove_specks", Json{{"size_mm", 6.0}}).did, "none left");
  EXPECT_EQ(applyStep(model, "remove_specks", Json{{"size_mm", 7.0}}).did, "1 piece");
  EXPECT_EQ(scene::countsOf(model).vertices, 24U);
  EXPECT_EQ(applyStep(model, "remove_specks", Json{{"size_mm", 0.0}}).state, StepState::wrong);
}

TEST(HiddenStep, WhatLiesInsideGoes) {
  scene::Primitive p = cutCube(1);
  const scene::Primitive core = test::block(glm::vec3(-0.2F), glm::vec3(0.2F));
  for (const uint32_t i : core.indices) p.indices.push_back(static_cast<uint32_t>(p.positions.size()) + i);
  p.positions.insert(p.positions.end(), core.positions.begin(), core.positions.end());
  p.normals.insert(p.normals.end(), core.normals.begin(), core.normals.end());
  p.uvs[0].resize(p.positions.size(), {0.5F, 0.5F});
  scene::Model model = modelOf(p);
  EXPECT_EQ(applyStep(model, "remove_hidden").did, "12 triangles");
  EXPECT_EQ(faultCount(model, FaultCode::hidden_triangles), 0U);
  EXPECT_EQ(scene::countsOf(model).triangles, 12U);
  EXPECT_EQ(applyStep(model, "remove_hidden").did, "none left");
}

TEST(TangentsStep, SplitsWhereThePictureIsMirrored) {
  scene::Primitive p;
  for (const auto& [x, u] : {std::pair(-1.0F, 0.0F), {0.0F, 1.0F}, {1.0F, 0.0F}})
    for (const float y : {0.0F, 1.0F}) {
      p.positions.emplace_back(x, y, 0);
      p.normals.emplace_back(0, 0, 1);
      p.uvs[0].emplace_back(u, 1 - y);
    }
  p.indices = {0, 2, 3, 0, 3, 1, 2, 4, 5, 2, 5, 3};
  scene::Model model = modelOf(p);
  EXPECT_EQ(applyStep(model, "make_tangents").state, StepState::good);
  const scene::Primitive& out = model.meshes[0]->primitives[0];
  EXPECT_EQ(out.positions.size(), 8U);
  EXPECT_EQ(out.tangents.size(), 8U);
  EXPECT_EQ(out.uvs[0].size(), 8U);
  EXPECT_EQ(faultCount(model, FaultCode::open_edges), 6U) << "the surface is whole";
  // Nothing to go by: it says so.
  p.uvs[0].clear();
  scene::Model bare = modelOf(p);
  EXPECT_EQ(applyStep(bare, "make_tangents").state, StepState::partly);
}

// Shapes with faults planted by chance: each mend takes its own away (or as many as it can), does nothing the
// second time, and makes no other fault worse.
TEST(LighterSteps, MendTheirOwnFaultAndWorsenNoOther) {
  struct Mend {
    const char* step;
    FaultCode fault;
    Json values;
  };
  const Mend mends[] = {{"dissolve", FaultCode::shapeless_vertices, Json{{"where", "everywhere"}}},
                        {"remove_needles", FaultCode::needle_triangles, Json::object()},
                        {"remove_hidden", FaultCode::hidden_triangles, Json::object()},
                        {"remove_specks", FaultCode::specks, Json{{"size_mm", 12.0}}}};
  for (uint32_t seed = 0; seed < 12; ++seed) {
    std::mt19937 random(seed);
    const auto real = [&] { return static_cast<float>(random() >> 8) / 16777216.0F; };
    scene::Primitive p = cutCube(3 + static_cast<int>(random() % 4));
    const auto add = [&](const scene::Primitive& more) {
      for (const uint32_t i : more.indices)
        p.indices.push_back(static_cast<uint32_t>(p.positions.size()) + i);
      p.positions.insert(p.positions.end(), more.positions.begin(), more.positions.end());
      p.normals.insert(p.normals.end(), more.normals.begin(), more.normals.end());
      p.uvs[0].resize(p.positions.size(), {real(), real()});
    };
    // Vertices inside a side, moved against a neighbour: needles, but still flat.
    for (int i = 0; i < 3; ++i) {
      const uint32_t t = random() % static_cast<uint32_t>(p.indices.size() / 3);
      const uint32_t a = p.indices[t * 3], b = p.indices[t * 3 + 1];
      const auto inside = [&](uint32_t v) {
        int on = 0;
        for (int k = 0; k < 3; ++k) on += std::abs(p.positions[v][k]) > 0.499F ? 1 : 0;
        return on == 1;
      };
      if (inside(a) && inside(b)) p.positions[a] = glm::mix(p.positions[a], p.positions[b], 0.9999F);
    }
    if (random() % 2 != 0) add(test::block(glm::vec3(-0.2F), glm::vec3(0.1F) + 0.1F * real()));
    if (random() % 2 != 0) add(test::block(glm::vec3(0.7F), glm::vec3(0.704F)));
    const scene::Model start = modelOf(p);
    for (const Mend& mend : mends) {
      scene::Model model = start;
      const auto before = scene::structureOf(model).value()[0];
      applyStep(model, mend.step, mend.values);
      const auto after = scene::structureOf(model).value()[0];
      EXPECT_EQ(after.fault(mend.fault).count, 0U) << mend.step << ", seed " << seed;
      for (size_t code = 0; code < scene::kFaultCodes; ++code)
        EXPECT_LE(after.faults[code].count, before.faults[code].count)
            << mend.step << " and " << scene::faultName(static_cast<FaultCode>(code)) << ", seed " << seed;
      EXPECT_NEAR(after.box.size().x, before.box.size().x, mend.fault == FaultCode::specks ? 0.3F : 1e-5F);
      const auto once = model.meshes[0];
      applyStep(model, mend.step, mend.values);
      EXPECT_EQ(model.meshes[0], once) << mend.step << " did something twice, seed " << seed;
    }
  }
}

}  // namespace
}  // namespace rakugo::prepare
