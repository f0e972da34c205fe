#include "scene/rest_pose.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <glm/gtc/matrix_transform.hpp>

#include "scene/keys.h"

namespace rakugo::scene {
namespace {

// Two bones; the mesh's two points follow one each, with weights that do not sum to one.
Model bent(glm::mat4 bind) {
  Model m;
  m.nodes.resize(3);
  m.nodes[1].local.position = {0, 0, 5};
  m.nodes[2].mesh = MeshIndex(0);
  m.nodes[2].skin = SkinIndex(0);
  m.nodes[2].local.position = {100, 0, 0};
  m.roots = {NodeIndex(0), NodeIndex(1), NodeIndex(2)};
  Primitive p;
  p.positions = {{1, 0, 0}, {2, 0, 0}, {3, 0, 0}};
  p.normals.assign(3, {1, 0, 0});
  p.joints = {{0, 0, 0, 0}, {1, 0, 0, 0}, {0, 0, 0, 0}};
  p.weights = {{0.5F, 0, 0, 0}, {0.25F, 0, 0, 0}, {0, 0, 0, 0}};
  p.indices = {0, 1, 2};
  Mesh mesh;
  mesh.primitives.push_back(std::move(p));
  m.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
  Skin skin;
  skin.joints = {NodeIndex(0), NodeIndex(1)};
  skin.inverse_bind = {bind, glm::mat4(1)};
  m.skins.push_back(skin);
  return m;
}

TEST(RestPose, PointsStandWhereTheirBonesPutThemWhateverTheNodeSays) {
  const Model m = bent(glm::scale(glm::mat4(1), glm::vec3(2)));
  const auto mesh = restMesh(m, NodeIndex(2), worldMatrices(m));
  EXPECT_EQ(mesh->primitives[0].positions, (std::vector<glm::vec3>{{2, 0, 0}, {2, 0, 5}, {3, 0, 0}}));
  EXPECT_EQ(mesh->primitives[0].normals[0], glm::vec3(1, 0, 0)) << "unit length stays";
  EXPECT_EQ(boundsOf(m).max, glm::vec3(3, 0, 5));
  EXPECT_EQ(unbentBounds(m).max, glm::vec3(103, 0, 0));
}

TEST(RestPose, BonesThatChangeNothingCostNothing) {
  Model m = bent(glm::mat4(1));
  m.nodes[1].local.position = {0, 0, 0};
  EXPECT_EQ(restMesh(m, NodeIndex(2), worldMatrices(m)), m.meshes[0]);
}

TEST(Keys, StepLinearTurnAndCubic) {
  Channel c;
  c.times_s = {1, 3};
  c.values = {0, 0, 0, 4, 8, 12};
  float v[4] = {};
  valueAt(c, 2, v);
  EXPECT_EQ(v[1], 4);
  valueAt(c, 0, v);
  EXPECT_EQ(v[1], 0);
  c.interpolation = Interpolation::step;
  valueAt(c, 2.9F, v);
  EXPECT_EQ(v[1], 0);
  valueAt(c, 9, v);
  EXPECT_EQ(v[1], 8);
  c.path = AnimatedPath::turn;
  c.interpolation = Interpolation::linear;
  c.values = {0, 0, 0, 1, 0, 0, -1, 0};  // half a turn about -Z
  valueAt(c, 2, v);
  EXPECT_NEAR(std::abs(v[2]), std::sqrt(0.5F), 1e-6);
  // Hermite's polynomial with level ends.
  c.path = AnimatedPath::position;
  c.interpolation = Interpolation::cubic;
  c.values.assign(18, 0);
  c.values[12] = 1;
  valueAt(c, 1.5F, v);
  EXPECT_NEAR(v[0], 0.15625F, 1e-6);
}

// What a morph target adds turns with its vertex: worn before or after the bones, the skin is the same.
TEST(RestPose, MorphTargetsTurnWithTheirVertices) {
  const glm::mat4 turn = glm::rotate(glm::mat4(1), 1.5707963F, glm::vec3(0, 0, 1));
  Model m = bent(turn);
  m.nodes[0].local.scale = {1, 3, 1};
  Primitive& p = m.editMesh(MeshIndex(0)).primitives[0];
  MorphTarget morph;
  morph.positions = {{1, 0, 0}, {0, 2, 0}, {0, 0, 3}};
  p.morphs = {morph};
  const auto world = worldMatrices(m);
  const auto bent_first = restMesh(m, NodeIndex(2), world);
  Model worn = m;
  Primitive& q = worn.editMesh(MeshIndex(0)).primitives[0];
  for (size_t v = 0; v < 3; ++v) q.positions[v] += morph.positions[v];
  const auto morphed_first = restMesh(worn, NodeIndex(2), world);
  for (size_t v = 0; v < 3; ++v) {
    const Primitive& a = bent_first->primitives[0];
    EXPECT_LT(
        glm::distance(a.positions[v] + a.morphs[0].positions[v], morphed_first->primitives[0].positions[v]),
        1e-5F)
        << v;
  }
  EXPECT_NE(bent_first->primitives[0].morphs[0].positions[0], morph.positions[0]);
  EXPECT_EQ(bent_first->primitives[0].morphs[0].positions[2], morph.positions[2]) << "it follows no bone";
}

}  // namespace
}  // namespace rakugo::scene
