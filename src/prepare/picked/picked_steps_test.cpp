// Corrections of what was picked, and regions: they find their place again on a newer source, and say so when
// they cannot.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <random>

#include "prepare/picked/selection.h"
#include "support/applied_steps.h"

namespace rakugo::prepare {
namespace {

using base::Json;
using scene::FaultCode;
using scene::NodeIndex;
using test::applyStep;
using test::cutCube;
using test::faultCount;
using test::modelOf;

// A square outline of that half width round the z axis at height 3, looked at from above.
Selection square(float half, bool front_only = false) {
  Selection s;
  s.part = "block";
  s.outline = {{-half, -half, 3}, {half, -half, 3}, {half, half, 3}, {-half, half, 3}};
  s.toward = glm::vec3(0, 0, -1);
  s.front_only = front_only;
  return s;
}

Json pickJson(const Selection& s) { return Json{{"pick", toJson(s)}}; }

Json with(Json values, const Json& more) {
  values.update(more);
  return values;
}

uint64_t places(const scene::Model& model, const Selection& s) {
  std::string why;
  const auto picked = pick(model, s, why);
  return picked ? picked->places : 0;
}

// A beam along x of length 2, 0.2 thick, cut into 20 pieces; its middle line is the x axis.
scene::Model beam() {
  scene::Primitive p;
  for (int i = 0; i <= 20; ++i)
    for (const auto& [y, z] : {std::pair(-0.1F, -0.1F), {0.1F, -0.1F}, {0.1F, 0.1F}, {-0.1F, 0.1F}}) {
      p.positions.emplace_back(0.1F * static_cast<float>(i), y, z);
      p.normals.push_back(glm::normalize(glm::vec3(0, y, z)));
    }
  for (uint32_t i = 0; i < 20; ++i)
    for (uint32_t k = 0; k < 4; ++k) {
      const uint32_t a = i * 4 + k, b = i * 4 + (k + 1) % 4;
      p.indices.insert(p.indices.end(), {a, a + 4, b, b, a + 4, b + 4});
    }
  return modelOf(p);
}

TEST(Pick, ThroughTheBodyOrWhatIsSeenOnly) {
  const scene::Model model = modelOf(cutCube(4));
  EXPECT_EQ(places(model, square(0.3F)), 18U) << "nine above and nine below";
  EXPECT_EQ(places(model, square(0.3F, true)), 9U);
  EXPECT_EQ(places(model, square(0.6F)), 98U) << "all";
}

TEST(Pick, FromAnEyeTheOutlineIsACone) {
  Selection s = square(0.6F, true);
  s.toward.reset();
  s.eye = glm::vec3(0, 0, 3.5F);  // the outline is half a metre away, the top side three
  const scene::Model model = modelOf(cutCube(4));
  EXPECT_EQ(places(model, s), 25U) << "the whole top side";
  s.outline = {{-0.05F, -0.05F, 3}, {0.05F, -0.05F, 3}, {0.05F, 0.05F, 3}, {-0.05F, 0.05F, 3}};
  EXPECT_EQ(places(model, s), 9U) << "0.3 m wide where the top side is";
  s.eye = glm::vec3(0, 0, 2.5F);  // looking away from the cube
  EXPECT_EQ(places(model, s), 0U);
}

TEST(Pick, ByLoosePieceAndByMaterial) {
  scene::Primitive a = cutCube(1), b = test::block({2, 0, 0}, {3, 1, 1}, scene::MaterialIndex(1));
  a.material = scene::MaterialIndex(0);
  scene::Model model = modelOf({a, b});
  model.materials.resize(2);
  model.materials[0].name = "stone";
  model.materials[1].name = "brass";
  scene::assignKeys(model);
  Selection s;
  s.part = "block";
  EXPECT_EQ(places(model, s), 16U);
  s.piece_at = glm::vec3(2.9F, 0.9F, 0.9F);
  EXPECT_EQ(places(model, s), 8U);
  s.material = "stone";
  EXPECT_EQ(places(model, s), 0U) << "the piece there is of brass";
  s.piece_at.reset();
  EXPECT_EQ(places(model, s), 8U);
}

TEST(Pick, IsCarriedAlongWithAPartThatWasScaledAndMoved) {
  const scene::Model model = modelOf(cutCube(4));
  Selection s = square(0.3F);
  s.seen = scene::boundsOf(model);
  scene::Model other = model;
  other.nodes[0].local.scale = glm::vec3(2);
  other.nodes[0].local.position = {5, 0, 1};
  EXPECT_EQ(places(other, s), 18U);
  // A longer one is another shape: the selection stays where it was drawn.
  other.nodes[0].local = {};
  other.nodes[0].local.scale = {2, 1, 1};
  EXPECT_EQ(places(other, s), 6U) << "its vertices are twice as far apart that way";
  s.seen = {};
  EXPECT_EQ(places(model, shifted(s, {0.25F, 0, 0})), 27U)
      << "a selection that was moved itself: nine above, nine below, and nine of the side between";
}

TEST(Pick, ANewerSourceIsPickedWhereItIs) {
  EXPECT_EQ(places(modelOf(cutCube(8)), square(0.3F)), 50U) << "finer: more vertices at the same place";
  scene::Model gone = modelOf(cutCube(4));
  gone.nodes[0].local.position = {9, 0, 0};
  std::string why;
  EXPECT_FALSE(pick(gone, square(0.3F), why));
  EXPECT_THAT(why, testing::HasSubstr("Nothing of \"block\" lies in what was picked"));
  const StepOutcome out = applyStep(gone, "move_picked", pickJson(square(0.3F)));
  EXPECT_EQ(out.state, StepState::missed);
}

TEST(Pick, ReadsWhatItWritesAndRefusesRubbish) {
  Selection s = square(0.3F, true);
  s.material = "oak";
  s.piece_at = glm::vec3(1, 2, 3);
  s.seen = {{0, 0, 0}, {1, 1, 1}};
  std::string why;
  const auto back = selectionFrom(toJson(s), why);
  ASSERT_TRUE(back);
  EXPECT_EQ(toJson(*back), toJson(s));
  Json bad[] = {
      Json::array(),
      Json{{"part", ""}},
      Json{{"part", "block"}, {"outline", 3}},
      Json{{"part", "block"}, {"outline", {{0, 0, 0}, {1, 0, 0}}}},
      Json{{"part", "block"}, {"outline", {{0, 0, 0}, {1, 0, 0}, {1, "a", 0}}}},
      Json{{"part", "block"}, {"outline", {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}}}},
      Json{{"part", "block"}, {"outline", {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}}}, {"toward", {0, 0, 0}}}};
  for (const Json& one : bad) {
    scene::Model model = modelOf(cutCube(2));
    EXPECT_EQ(applyStep(model, "move_picked", Json{{"pick", one}}).state, StepState::wrong) << one.dump();
  }
}

TEST(CorrectionSteps, MoveOnlyWhatWasPickedAndTearNoSeam) {
  scene::Model model = modelOf(cutCube(4));
  const auto before = model.meshes[0];
  const StepOutcome out =
      applyStep(model, "move_picked", with(pickJson(square(0.6F, true)), Json{{"by", {0.0, 0.0, 0.5}}}));
  EXPECT_EQ(out.did, "25 places");
  const auto s = scene::structureOf(model).value()[0];
  EXPECT_TRUE(s.closed) << "vertices that stand at one place go together";
  EXPECT_NEAR(*s.volume_m3, 1.5, 1e-5) << "half a cube more";
  EXPECT_NEAR(s.box.size().z, 1.5F, 1e-5);
  EXPECT_EQ(s.fault(FaultCode::normals_bad).count, 0U);
  const auto& was = before->primitives[0];
  const auto& is = model.meshes[model.nodes[0].mesh.value()]->primitives[0];
  for (size_t v = 0; v < was.positions.size(); ++v)
    if (was.positions[v].z < 0.49F) {
      EXPECT_EQ(is.positions[v], was.positions[v]);
    }
}

TEST(CorrectionSteps, ASoftEdgeFollowsLessAndLess) {
  scene::Model model = modelOf(cutCube(10));
  applyStep(model, "move_picked",
            with(pickJson(square(0.05F, true)), Json{{"by", {0.0, 0.0, 0.1}}, {"soft_mm", 300.0}}));
  const auto& p = model.meshes[model.nodes[0].mesh.value()]->primitives[0];
  for (const glm::vec3& at : p.positions) {
    if (at.z < 0.49F) continue;
    const float away = glm::length(glm::vec2(at.x, at.y));
    const float t = std::max(0.0F, 1 - away / 0.3F);
    EXPECT_NEAR(at.z, 0.5F + 0.1F * t * t * (3 - 2 * t), 1e-5);
  }
}

TEST(CorrectionSteps, ABeamBentByAQuarterIsAnArcOfTheSameLength) {
  scene::Model model = beam();
  Selection s;
  s.part = "block";
  const StepOutcome out = applyStep(
      model, "bend_picked", with(pickJson(s), Json{{"along", "x"}, {"toward", "z"}, {"degrees", 90.0}}));
  EXPECT_EQ(out.did, "84 places");
  const auto& p = model.meshes[model.nodes[0].mesh.value()]->primitives[0].positions;
  const float radius = 2 / (3.14159265F / 2);
  for (size_t i = 0; i < p.size(); i += 4) {
    const glm::vec3 middle = (p[i] + p[i + 1] + p[i + 2] + p[i + 3]) * 0.25F;
    EXPECT_NEAR(glm::distance(middle, glm::vec3(0, 0, radius)), radius, 1e-4);
  }
  const glm::vec3 end = (p[80] + p[81] + p[82] + p[83]) * 0.25F;
  EXPECT_NEAR(end.x, radius, 1e-4);
  EXPECT_NEAR(end.z, radius, 1e-4);
  // The end looks up: its four vertices lie on a level.
  for (size_t v = 81; v < 84; ++v) EXPECT_NEAR(p[v].z, p[80].z, 1e-4);
  // And back again it is straight.
  scene::Model high = beam();
  applyStep(high, "bend_picked",
            with(pickJson(s), Json{{"along", "x"}, {"toward", "z"}, {"degrees", 60.0}, {"fixed", "high"}}));
  const auto& q = high.meshes[high.nodes[0].mesh.value()]->primitives[0].positions;
  EXPECT_NEAR(q[80].x, 2, 1e-5) << "the high end stays";
  EXPECT_LT(q[0].x, 2);
  EXPECT_GT(q[0].z, 0.3F);
}

TEST(CorrectionSteps, TurnScaleFlattenAndSnap) {
  Selection s;
  s.part = "block";
  scene::Model turned = beam();
  applyStep(turned, "turn_picked", with(pickJson(s), Json{{"axis", "z"}, {"degrees", 90.0}}));
  EXPECT_NEAR(scene::boundsOf(turned).size().y, 2, 1e-5);
  EXPECT_NEAR(scene::boundsOf(turned).center().x, 1, 1e-5) << "about its own middle";
  scene::Model scaled = beam();
  applyStep(scaled, "scale_picked", with(pickJson(s), Json{{"factors", {0.5, 1.0, 3.0}}}));
  EXPECT_NEAR(scene::boundsOf(scaled).size().x, 1, 1e-5);
  EXPECT_NEAR(scene::boundsOf(scaled).size().z, 0.6F, 1e-5);
  scene::Model flat = beam();
  applyStep(flat, "flatten_picked", with(pickJson(s), Json{{"axis", "z"}}));
  EXPECT_NEAR(scene::boundsOf(flat).size().z, 0, 1e-6);
  scene::Model snapped = beam();
  applyStep(snapped, "snap_picked", with(pickJson(s), Json{{"grid_mm", 250.0}}));
  for (const glm::vec3& p : snapped.meshes[snapped.nodes[0].mesh.value()]->primitives[0].positions)
    EXPECT_NEAR(p.x * 4, std::round(p.x * 4), 1e-5);
  EXPECT_EQ(applyStep(snapped, "snap_picked", with(pickJson(s), Json{{"grid_mm", 0.0}})).state,
            StepState::wrong);
  EXPECT_EQ(applyStep(snapped, "turn_picked", with(pickJson(s), Json{{"axis", "w"}})).state,
            StepState::wrong);
  EXPECT_EQ(applyStep(snapped, "bend_picked", with(pickJson(s), Json{{"along", "x"}, {"toward", "x"}})).state,
            StepState::wrong);
}

TEST(CorrectionSteps, WorkInTheGamesSpaceWhateverThePartStandsIn) {
  scene::Model model = modelOf(cutCube(2));
  model.nodes[0].local.turn = glm::angleAxis(1.0F, glm::normalize(glm::vec3(1, 2, 3)));
  model.nodes[0].local.scale = {2, 2, 2};
  const geometry::Bounds before = scene::boundsOf(model);
  Selection s;
  s.part = "block";
  applyStep(model, "move_picked", with(pickJson(s), Json{{"by", {0.0, 0.0, 0.25}}}));
  EXPECT_NEAR(scene::boundsOf(model).min.z, before.min.z + 0.25F, 1e-4);
  EXPECT_NEAR(scene::boundsOf(model).min.x, before.min.x, 1e-4);
}

rulebook::Rulebook coatBook() {
  rulebook::Rulebook book;
  rulebook::Kind coat;
  coat.id = "coat";
  coat.title = "Coat";
  coat.regions = {
      {"trunk", "Trunk", "", true}, {"collar", "Collar", "", false}, {"skirts", "Skirts", "", false}};
  book.kinds.push_back(coat);
  return book;
}

std::vector<std::string> regions(const scene::Model& model) {
  std::vector<std::string> out;
  for (const NodeIndex i : scene::reachedNodes(model))
    if (model.node(i).mesh.valid()) out.push_back(model.node(i).name + ":" + model.node(i).region);
  return out;
}

TEST(RegionSteps, WhatWasPickedBecomesAPartOfThatRegionAndMoreOfItJoins) {
  scene::Model model = modelOf(cutCube(4));
  const uint64_t all = scene::countsOf(model).triangles;
  EXPECT_EQ(applyStep(model, "region_picked", with(pickJson(square(0.6F, true)), Json{{"region", "collar"}}),
                      coatBook())
                .did,
            "32 triangles");
  EXPECT_THAT(regions(model), testing::ElementsAre("block:", "collar:collar"));
  Selection below = square(0.6F, true);
  below.toward = glm::vec3(0, 0, 1);
  applyStep(model, "region_picked", with(pickJson(below), Json{{"region", "collar"}}), coatBook());
  EXPECT_THAT(regions(model), testing::ElementsAre("block:", "collar:collar"));
  EXPECT_EQ(scene::countsOf(model).triangles, all);
  EXPECT_EQ(model.mesh(model.node(NodeIndex(1)).mesh).primitives.size(), 1U);
  EXPECT_EQ(
      applyStep(model, "region_picked", with(pickJson(below), Json{{"region", "beard"}}), coatBook()).state,
      StepState::wrong);
  Selection rest;
  rest.part = "block";
  applyStep(model, "region_picked", with(pickJson(rest), Json{{"region", "trunk"}}), coatBook());
  EXPECT_THAT(regions(model), testing::ElementsAre("block:trunk", "collar:collar"));
}

TEST(RegionSteps, ByMaterialHandedOverAndPutInOrder) {
  scene::Primitive a = cutCube(1), b = test::block({2, 0, 0}, {3, 1, 1}, scene::MaterialIndex(1));
  a.material = scene::MaterialIndex(0);
  scene::Model model = modelOf({a, b});
  model.materials.resize(2);
  model.materials[0].name = "cloth";
  model.materials[1].name = "fur";
  scene::assignKeys(model);
  EXPECT_EQ(
      applyStep(model, "region_material", Json{{"material", "fur"}, {"region", "trunk"}}, coatBook()).did,
      "12 triangles");
  applyStep(model, "region_material", Json{{"material", "cloth"}, {"region", "skirts"}}, coatBook());
  EXPECT_THAT(regions(model), testing::ElementsAre("block:skirts", "trunk:trunk"));
  EXPECT_EQ(
      applyStep(model, "region_material", Json{{"material", "silk"}, {"region", "trunk"}}, coatBook()).state,
      StepState::missed);
  // A part and those below it cannot change places, but their order within one parent can.
  scene::Model two = modelOf(cutCube(1));
  two.nodes.push_back(two.nodes[0]);
  two.nodes[1].name = "fringe";
  two.roots.push_back(NodeIndex(1));
  scene::assignKeys(two);
  two.nodes[0].region = "skirts";
  two.nodes[1].region = "belly";  // none of the game's
  EXPECT_EQ(applyStep(two, "hand_over", Json{{"from", "belly"}, {"to", "trunk"}}, coatBook()).did, "1 part");
  EXPECT_EQ(applyStep(two, "hand_over", Json{{"from", "belly"}, {"to", "trunk"}}, coatBook()).state,
            StepState::missed);
  EXPECT_EQ(applyStep(two, "order_regions", Json{{"kind", "coat"}}, coatBook()).did, "2 parts");
  EXPECT_THAT(regions(two), testing::ElementsAre("fringe:trunk", "block:skirts"));
  EXPECT_EQ(applyStep(two, "order_regions", Json{{"kind", "coat"}}, coatBook()).did, "in order");
}

TEST(SplitPickedStep, PartsOffWhatWasPicked) {
  scene::Model model = modelOf(cutCube(4));
  EXPECT_EQ(applyStep(model, "split_picked", with(pickJson(square(0.6F, true)), Json{{"name", "lid"}})).did,
            "32 triangles");
  EXPECT_THAT(regions(model), testing::ElementsAre("block:", "lid:"));
  EXPECT_EQ(applyStep(model, "split_picked", pickJson(square(0.6F))).state, StepState::wrong) << "no name";
  Selection all;
  all.part = "block";
  EXPECT_EQ(applyStep(model, "split_picked", with(pickJson(all), Json{{"name", "x"}})).state,
            StepState::missed);
}

}  // namespace
}  // namespace rakugo::prepare
