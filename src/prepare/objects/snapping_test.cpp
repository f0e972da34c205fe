#include "prepare/objects/snapping.h"

#include <gmock/gmock.h>

#include <cmath>
#include <limits>

#include "prepare/objects/point_edits.h"

namespace rakugo::prepare {
namespace {

const SnapTarget* named(const std::vector<SnapTarget>& targets, const std::string& what, size_t nth = 0) {
  for (const SnapTarget& one : targets)
    if (one.what == what && nth-- == 0) return &one;
  return nullptr;
}

TEST(Snapping, WhatIsNearDrawsBeforeTheGridDoes) {
  const std::vector<SnapTarget> targets = {{1.0, "a"}, {1.03, "b"}, {2.0, "c"}};
  EXPECT_EQ(snapped(1.02, targets, {0.5, 0.05}).to, "b") << "the nearer of two";
  EXPECT_EQ(snapped(1.02, targets, {0.5, 0.05}).at_m, 1.03);
  EXPECT_EQ(snapped(1.4, targets, {0.5, 0.05}).at_m, 1.5);
  EXPECT_EQ(snapped(1.4, targets, {0.5, 0.05}).to, "");
  EXPECT_EQ(snapped(1.4, targets, {}).at_m, 1.4) << "free";
  EXPECT_FALSE(std::signbit(snapped(-0.1, {}, {0.5, 0}).at_m)) << "no zero with a sign";
  EXPECT_TRUE(std::isnan(snapped(std::numeric_limits<double>::quiet_NaN(), targets, {0.5, 0.05}).at_m));
}

TEST(Snapping, APieceIsLevelWithOthersAndNotWithWhatGoesAlong) {
  scene::Model crate;
  auto mesh = std::make_shared<scene::Mesh>();
  mesh->primitives.emplace_back().positions = {{0, 0, 0}, {2, 0, 0}, {0, 1, 4}};
  mesh->primitives[0].indices = {0, 1, 2};
  crate.meshes.push_back(mesh);
  scene::Node& node = crate.nodes.emplace_back();
  node.name = node.key = "crate";
  node.mesh = scene::MeshIndex(0);
  crate.roots.push_back(scene::NodeIndex(0));
  const ModelOf models = [&](const std::string& name) { return name == "crate" ? &crate : nullptr; };
  mod::ObjectDoc object;
  object.pieces.push_back({"hull", "crate", {10, 0, 0}});
  object.pieces.push_back({"port", "crate", {3, 1, 0}, {0, 0, 0, 1}, "", "starboard"});
  object.pieces.push_back({"starboard", "crate", {3, -1, 0}, {0, 0, 0, 1}, "", "port"});
  object.pieces.push_back({"lamp", "", {0, 0, 1}});
  object.pieces.back().sort = "lamp";
  object.pieces.back().parent = "port";
  const auto levels = levelsOf(object, "port", {1, 0, 0}, models);
  ASSERT_NE(named(levels, "hull"), nullptr);
  EXPECT_EQ(named(levels, "hull")->at_m, 10);
  EXPECT_EQ(named(levels, "the middle of hull")->at_m, 11);
  EXPECT_EQ(named(levels, "the end of hull", 0)->at_m, 10);
  EXPECT_EQ(named(levels, "the end of hull", 1)->at_m, 12);
  EXPECT_EQ(named(levels, "starboard"), nullptr) << "its pair moves with it";
  EXPECT_EQ(named(levels, "lamp"), nullptr) << "it carries that";
  EXPECT_NE(named(levelsOf(object, "hull", {0, 0, 1}, models), "lamp"), nullptr);
}

TEST(Snapping, APointIsLevelWithTheModelAndWithOtherPoints) {
  mod::ModelDoc doc;
  placePoint(doc, "helm", {{1, 0, 2}}, {0, 1, 0});
  placePoint(doc, "mast", {{0, 0, 5}}, {0, 1, 0});
  geometry::Bounds box;
  box.add(glm::vec3(-1, -1, 0));
  box.add(glm::vec3(3, 1, 6));
  const auto levels = levelsOf(doc, "helm", {0, 0, 1}, box, nullptr);
  EXPECT_EQ(named(levels, "helm"), nullptr);
  EXPECT_EQ(named(levels, "mast")->at_m, 5);
  EXPECT_EQ(named(levels, "the middle of the model")->at_m, 3);
  EXPECT_EQ(named(levels, "the origin")->at_m, 0);
}

}  // namespace
}  // namespace rakugo::prepare
