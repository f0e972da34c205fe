// Baking models made at random of everything a scene can hold: nothing that is seen moves.
#include <gtest/gtest.h>

#include "prepare/space/space_ops.h"
#include "scene/rest_pose.h"
#include "support/applied_steps.h"
#include "support/made_model.h"

namespace rakugo::prepare {
namespace {

using scene::NodeIndex;

// Where every vertex of a part is seen, with each of its morph targets worn alone too.
std::vector<glm::vec3> seen(const scene::Model& model, NodeIndex part) {
  std::vector<glm::vec3> out;
  if (!model.node(part).mesh.valid()) return out;
  const auto world = scene::worldMatrices(model);
  const bool skinned = model.node(part).skin.valid();
  const glm::mat4 matrix = skinned ? glm::mat4(1) : world[part.value()];
  const auto rest = scene::restMesh(model, part, world);
  for (const scene::Primitive& p : rest->primitives)
    for (const glm::vec3& at : p.positions) out.push_back(glm::vec3(matrix * glm::vec4(at, 1)));
  if (skinned) return out;
  for (const scene::Primitive& p : model.mesh(model.node(part).mesh).primitives)
    for (const scene::MorphTarget& morph : p.morphs)
      for (size_t v = 0; v < morph.positions.size(); ++v)
        out.push_back(glm::vec3(matrix * glm::vec4(p.positions[v] + morph.positions[v], 1)));
  return out;
}

TEST(BakeAnything, NothingThatIsSeenMoves) {
  int rested = 0, kept = 0, empties = 0;
  for (uint32_t seed = 0; seed < 240; ++seed) {
    test::ModelMaker maker(seed);
    const scene::Model before = maker.make();
    scene::Model after = before;
    const std::vector<std::string> names = bakeAll(after);
    kept += names.empty() ? 0 : 1;
    const std::vector<bool> held = heldInPlace(before), carries = carriesMesh(before);
    const auto world_before = scene::worldMatrices(before), world_after = scene::worldMatrices(after);
    for (const NodeIndex i : scene::reachedNodes(before)) {
      const auto was = seen(before, i), is = seen(after, i);
      ASSERT_EQ(was.size(), is.size()) << "seed " << seed;
      for (size_t v = 0; v < was.size(); ++v)
        ASSERT_LT(glm::distance(was[v], is[v]), 1e-3F * (1 + glm::length(was[v]))) << "seed " << seed;
      // What has no mesh stays where it is, too.
      if (!carries[i.value()]) {
        const glm::vec3 stood(world_before[i.value()][3]), stands(world_after[i.value()][3]);
        EXPECT_LT(glm::distance(stood, stands), 1e-3F * (1 + glm::length(stood))) << "seed " << seed;
        ++empties;
        continue;
      }
      if (held[i.value()]) continue;
      EXPECT_TRUE(after.node(i).local.atRest()) << "seed " << seed << ", " << before.node(i).name;
      ++rested;
    }
    for (const auto& mesh : after.meshes)
      for (const scene::Primitive& p : mesh->primitives)
        for (const glm::vec3& n : p.normals) ASSERT_NEAR(glm::length(n), 1, 1e-3) << "seed " << seed;
  }
  EXPECT_GT(rested, 100);
  EXPECT_GT(kept, 10);
  EXPECT_GT(empties, 30);
}

TEST(ShiftAll, EmptiesGoAlongAndMeshesStayAtRest) {
  scene::Model model = test::modelOf({test::block({0, 0, 0}, {1, 1, 1})});
  const auto add = [&](const char* name, NodeIndex parent, glm::vec3 at) {
    scene::Node node;
    node.name = name;
    node.parent = parent;
    node.local.position = at;
    const NodeIndex index(model.nodes.size());
    (parent.valid() ? model.node(parent).children : model.roots).push_back(index);
    model.nodes.push_back(node);
    return index;
  };
  const NodeIndex loose = add("loose", {}, {1, 2, 3}), below = add("below", loose, {1, 0, 0}),
                  hung = add("hung", model.roots[0], {0, 5, 0});
  shiftAll(model, {10, 0, -1});
  const auto world = scene::worldMatrices(model);
  EXPECT_EQ(glm::vec3(world[loose.value()][3]), glm::vec3(11, 2, 2));
  EXPECT_EQ(glm::vec3(world[below.value()][3]), glm::vec3(12, 2, 2));
  EXPECT_EQ(glm::vec3(world[hung.value()][3]), glm::vec3(10, 5, -1));
  EXPECT_TRUE(model.node(model.roots[0]).local.atRest());
  EXPECT_EQ(scene::boundsOf(model).min, glm::vec3(10, 0, -1));
}

TEST(RotateStep, TurnsEverythingAboutTheOriginByAnyAngle) {
  for (uint32_t seed = 0; seed < 40; ++seed) {
    test::ModelMaker maker(seed);
    scene::Model before = maker.make();
    before.frame.turned = true;
    scene::Model after = before;
    EXPECT_EQ(test::applyStep(after, "rotate", base::Json{{"about", "up"}, {"degrees", 30.0}}).state,
              StepState::good);
    const float c = std::cos(0.5235988F), s = std::sin(0.5235988F);
    for (const NodeIndex i : scene::reachedNodes(before)) {
      if (before.node(i).skin.valid()) continue;
      const auto was = seen(before, i), is = seen(after, i);
      for (size_t v = 0; v < was.size(); ++v) {
        const glm::vec3 p = was[v], wanted(c * p.x - s * p.y, s * p.x + c * p.y, p.z);
        ASSERT_LT(glm::distance(is[v], wanted), 1e-4F * (1 + glm::length(p))) << "seed " << seed;
      }
    }
    test::applyStep(after, "rotate", base::Json{{"about", "up"}, {"degrees", -30.0}});
    for (const NodeIndex root : before.roots)
      EXPECT_LT(glm::distance(after.node(root).local.position, before.node(root).local.position), 1e-4F);
  }
  scene::Model model = test::modelOf(test::cutCube(1));
  EXPECT_EQ(test::applyStep(model, "rotate", base::Json{{"about", "sideways"}}).state, StepState::wrong);
  EXPECT_EQ(test::applyStep(model, "rotate", base::Json{{"degrees", 1e9}}).state, StepState::wrong);
}

}  // namespace
}  // namespace rakugo::prepare
