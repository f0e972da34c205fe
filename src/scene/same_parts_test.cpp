#include "scene/same_parts.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <glm/gtc/matrix_transform.hpp>

namespace rakugo::scene {
namespace {

Primitive propeller() {
  Primitive p;
  p.positions = {{0, 0, 0}, {1, 0.2F, 0}, {0.8F, -0.1F, 0.3F}, {-0.5F, 0.9F, 0.1F}, {0, -0.7F, -0.6F}};
  p.indices = {0, 1, 2, 0, 2, 3, 0, 3, 4};
  return p;
}

NodeIndex add(Model& model, const std::string& name, Primitive primitive, const Placement& local = {}) {
  Mesh mesh;
  mesh.primitives.push_back(std::move(primitive));
  Node node;
  node.name = name;
  node.local = local;
  node.mesh = MeshIndex(model.meshes.size());
  model.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
  const NodeIndex at(model.nodes.size());
  model.nodes.push_back(node);
  model.roots.push_back(at);
  return at;
}

Primitive moved(Primitive p, const glm::mat4& m) {
  for (glm::vec3& v : p.positions) v = glm::vec3(m * glm::vec4(v, 1));
  return p;
}

TEST(SameParts, CopiesAreFoundWhereverTheyStandBakedOrNot) {
  Model model;
  Placement placed;
  placed.position = {3, -1, 2};
  placed.turn = glm::angleAxis(2.1F, glm::normalize(glm::vec3(1, 2, -0.5F)));
  const glm::mat4 baked =
      Placement{{-4, 0, 1}, glm::angleAxis(-0.8F, glm::vec3(0, 1, 0)), glm::vec3(1)}.matrix();
  add(model, "one", propeller());
  add(model, "hull", moved(propeller(), glm::scale(glm::mat4(1), glm::vec3(1, 2, 1))));
  add(model, "two", propeller(), placed);
  add(model, "three", moved(propeller(), baked));
  assignKeys(model);
  const auto found = sameParts(model);
  ASSERT_EQ(found.size(), 1U);
  EXPECT_THAT(found[0].parts, testing::ElementsAre(NodeIndex(0), NodeIndex(2), NodeIndex(3)));
  for (int c = 0; c < 4; ++c) {
    EXPECT_LT(glm::distance(found[0].places[1][c], placed.matrix()[c]), 1e-5F);
    EXPECT_LT(glm::distance(found[0].places[2][c], baked[c]), 1e-5F);
  }
}

TEST(SameParts, MirrorImagesOtherSizesAndOtherMaterialsAreNone) {
  Model model;
  model.materials.resize(2);
  add(model, "one", propeller());
  add(model, "mirrored", moved(propeller(), glm::scale(glm::mat4(1), glm::vec3(-1, 1, 1))));
  add(model, "larger", moved(propeller(), glm::scale(glm::mat4(1), glm::vec3(1.1F))));
  Primitive painted = propeller();
  painted.material = MaterialIndex(1);
  add(model, "painted", painted);
  EXPECT_TRUE(sameParts(model).empty());
  EXPECT_TRUE(sameParts(Model{}).empty());
}

TEST(SameParts, WhatHasNoExtentIsLeftAlone) {
  Model model;
  Primitive line;
  line.positions = {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}};
  line.indices = {0, 1, 2};
  add(model, "a", line);
  add(model, "b", line);
  EXPECT_TRUE(sameParts(model).empty());
}

}  // namespace
}  // namespace rakugo::scene
