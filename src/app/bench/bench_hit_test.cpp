// What lies under the pointer, with parts hidden and the model cut open; and what a step changed.
#include "app/bench/bench_hit.h"

#include <gtest/gtest.h>

#include "app/bench/bench_views.h"
#include "app/bench/step_scene.h"

namespace rakugo::app {
namespace {

// A square of two metres across X, one triangle pair, at that X.
BenchPart wallAt(float x, const std::string& key) {
  BenchPart part;
  part.key = part.name = key;
  part.mesh.vertex_count = 4;
  part.mesh.stride = 12;
  part.mesh.attributes = {{bundle::Semantic::position, bundle::AttributeFormat::f32x3, 0}};
  base::ByteWriter out;
  for (const glm::vec3 p :
       {glm::vec3(x, -1, -1), glm::vec3(x, 1, -1), glm::vec3(x, 1, 1), glm::vec3(x, -1, 1)})
    for (int c = 0; c < 3; ++c) out.write<float>(p[c]);
  part.mesh.vertices = out.take();
  part.mesh.indices = {0, 1, 2, 0, 2, 3};
  part.mesh.submeshes = {{0, 6, 0}};
  part.materials = {0};
  return part;
}

BenchScene walls(std::initializer_list<std::pair<float, const char*>> places) {
  BenchScene scene;
  scene.materials.resize(1);
  for (const auto& [x, key] : places) {
    scene.parts.push_back(wallAt(x, key));
    scene.bounds_m.add({x, -1, -1});
    scene.bounds_m.add({x, 1, 1});
  }
  addTrees(scene.parts);
  return scene;
}

constexpr glm::vec3 kBefore(10, 0.25F, 0.5F), kBack(-1, 0, 0);

TEST(BenchHit, WhatIsHiddenOrLetThroughIsNotMet) {
  const BenchScene scene = walls({{0, "behind"}, {1, "middle"}, {2, "front"}});
  EXPECT_EQ(hit(scene, kBefore, kBack)->part, 2U);
  HitOptions options;
  const std::vector<render::Presence> presence = {render::Presence::whole, render::Presence::through,
                                                  render::Presence::hidden};
  options.presence = presence;
  const auto met = hit(scene, kBefore, kBack, options);
  ASSERT_TRUE(met);
  EXPECT_EQ(met->part, 0U);
  EXPECT_NEAR(met->position.x, 0, 1e-6);
}

TEST(BenchHit, WhatIsCutAwayIsNotMetFromEitherSide) {
  const BenchScene scene = walls({{0, "behind"}, {1, "middle"}, {2, "front"}});
  HitOptions options;
  // Keeps what lies behind x = 1.5.
  options.cut = glm::vec4(1, 0, 0, -1.5F);
  EXPECT_EQ(hit(scene, kBefore, kBack, options)->part, 1U);
  EXPECT_NEAR(hit(scene, kBefore, kBack, options)->position.x, 1, 1e-6);
  EXPECT_EQ(hit(scene, {-10, 0.25F, 0.5F}, {1, 0, 0}, options)->part, 0U);
  // Keeps what lies before it.
  options.cut = -*options.cut;
  EXPECT_EQ(hit(scene, kBefore, kBack, options)->part, 2U);
  EXPECT_EQ(hit(scene, {-10, 0.25F, 0.5F}, {1, 0, 0}, options)->part, 2U);
  // Along the plane, on the side that is taken away and on the other.
  EXPECT_FALSE(hit(scene, {1, -10, 0.5F}, {0, 1, 0}, options));
}

TEST(Cut, StandsAtItsShareOfTheBoxAlongTheGamesAxis) {
  BenchScene scene = walls({{0, "a"}, {4, "b"}});
  scene.own_forward = {-1, 0, 0};
  Cut cut{Cut::Across::length, 0.25, false};
  EXPECT_NEAR(placeOf(cut, scene), -3, 1e-6) << "along forward, from -4 to 0";
  const glm::vec4 plane = planeOf(cut, scene);
  EXPECT_LT(glm::dot(plane, glm::vec4(4, 0, 0, 1)), 0) << "behind the plane";
  EXPECT_GT(glm::dot(plane, glm::vec4(0, 0, 0, 1)), 0);
  cut.keeps_far = true;
  EXPECT_EQ(planeOf(cut, scene), -plane);
}

TEST(ChangedTriangles, AreThoseThatTheOtherHasNotJustSo) {
  const BenchScene then = walls({{0, "a"}, {1, "b"}});
  BenchScene now = walls({{0, "a"}, {1.5F, "b"}});
  EXPECT_EQ(changedTriangles(now, then, 1e-4F), (std::vector<bool>{false, false, true, true}));
  // Another order of corners, and a hair's breadth, are no change; another material is.
  now = walls({{0, "a"}, {1.00002F, "b"}});
  now.parts[0].mesh.indices = {2, 0, 1, 3, 0, 2};
  EXPECT_EQ(changedTriangles(now, then, 1e-4F), std::vector<bool>(4, false));
  now.materials.resize(2);
  now.materials[1].key = "paint";
  now.parts[1].materials = {1};
  EXPECT_EQ(changedTriangles(now, then, 1e-4F), (std::vector<bool>{false, false, true, true}));
  // Turned over: the corners run the other way round.
  now = walls({{0, "a"}, {1, "b"}});
  now.parts[0].mesh.indices = {0, 2, 1, 0, 2, 3};
  EXPECT_EQ(changedTriangles(now, then, 1e-4F), (std::vector<bool>{true, false, false, false}));
}

TEST(SetApart, PartsOffWhatIsMarkedAndLeavesTheRest) {
  BenchScene scene = walls({{0, "a"}, {1, "b"}, {2, "c"}});
  setApart(scene.parts, {true, false, false, false, true, true});
  ASSERT_EQ(scene.parts.size(), 4U);
  EXPECT_FALSE(scene.parts[0].changed);
  EXPECT_EQ(scene.parts[0].mesh.indices, (std::vector<uint32_t>{0, 2, 3}));
  EXPECT_TRUE(scene.parts[1].changed);
  EXPECT_EQ(scene.parts[1].mesh.indices, (std::vector<uint32_t>{0, 1, 2}));
  EXPECT_FALSE(scene.parts[2].changed);
  EXPECT_TRUE(scene.parts[3].changed);
  EXPECT_EQ(scene.parts[3].key, "c");
}

}  // namespace
}  // namespace rakugo::app
