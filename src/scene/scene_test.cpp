#include <gtest/gtest.h>

#include <glm/gtc/matrix_transform.hpp>

#include "scene/model.h"

namespace rakugo::scene {
namespace {

TEST(Placement, ComesBackFromItsMatrix) {
  Placement p;
  p.position = {1, 2, 3};
  p.turn = glm::normalize(glm::quat(0.8F, 0.1F, -0.3F, 0.5F));
  p.scale = {2, 0.5F, 3};
  bool exact = false;
  const Placement back = placementOf(p.matrix(), exact);
  EXPECT_TRUE(exact);
  for (int i = 0; i < 3; ++i) EXPECT_NEAR(back.scale[i], p.scale[i], 1e-5);
  EXPECT_NEAR(std::abs(glm::dot(back.turn, p.turn)), 1, 1e-5);
}

TEST(Placement, MirroringStaysAMirroring) {
  bool exact = false;
  const glm::mat4 mirror = glm::scale(glm::mat4(1), {1, -1, 1});
  const Placement p = placementOf(mirror, exact);
  EXPECT_TRUE(exact);
  EXPECT_LT(glm::determinant(glm::mat3(p.matrix())), 0);
}

TEST(Placement, SaysWhenAMatrixShears) {
  glm::mat4 shear(1);
  shear[1][0] = 0.5F;
  bool exact = true;
  (void)placementOf(shear, exact);
  EXPECT_FALSE(exact);
}

TEST(Model, KeysArePathsMadeUnique) {
  Model m;
  m.nodes.resize(4);
  m.nodes[0].name = "a";
  m.nodes[1].name = "b";
  m.nodes[2].name = "b";
  m.nodes[3].name = "";
  m.roots = {NodeIndex(0)};
  for (size_t i = 1; i < 4; ++i) {
    m.nodes[i].parent = NodeIndex(0);
    m.nodes[0].children.push_back(NodeIndex(i));
  }
  assignKeys(m);
  EXPECT_EQ(m.nodes[1].key, "a/b");
  EXPECT_EQ(m.nodes[2].key, "a/b#2");
  EXPECT_EQ(m.nodes[3].key, "a/part 3");
  EXPECT_EQ(findPart(m, "a/b#2"), NodeIndex(2));
  EXPECT_FALSE(findPart(m, "none").valid());
}

TEST(Model, KeysOfManyEqualNamesDoNotTakeForEver) {
  Model m;
  m.nodes.resize(100'000);
  for (size_t i = 0; i < m.nodes.size(); ++i) {
    m.nodes[i].name = "same";
    m.roots.push_back(NodeIndex(i));
  }
  assignKeys(m);
  EXPECT_EQ(m.nodes.back().key, "same#100000");
}

TEST(Model, EditingAMeshLeavesCopiesAlone) {
  Model m;
  m.meshes.push_back(std::make_shared<const Mesh>(Mesh{"x", {}}));
  Model copy = m;
  copy.editMesh(MeshIndex(0)).name = "y";
  EXPECT_EQ(m.meshes[0]->name, "x");
  EXPECT_EQ(copy.meshes[0]->name, "y");
}

}  // namespace
}  // namespace rakugo::scene
