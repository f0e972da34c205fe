// A model in other coordinates is the same model: every place, normal and bone where the change takes it.
#include "scene/changed_space.h"

#include <gtest/gtest.h>

#include <random>

namespace rakugo::scene {
namespace {

using geometry::Axis;

// A tree of turned and stretched parts, the last of which follows two bones.
Model anyModel(std::mt19937& random) {
  std::uniform_real_distribution<float> any(-1, 1);
  const auto direction = [&] {
    return glm::normalize(glm::vec3(any(random), any(random), any(random) + 1.5F));
  };
  Model model;
  for (int i = 0; i < 5; ++i) {
    Node node;
    node.name = node.key = "n" + std::to_string(i);
    node.local.position = {any(random), any(random), any(random)};
    node.local.turn = glm::normalize(glm::quat(any(random), any(random), any(random), any(random)));
    node.local.scale = {0.5F + std::abs(any(random)), 0.5F + std::abs(any(random)),
                        0.5F + std::abs(any(random))};
    if (i > 0) {
      node.parent = NodeIndex(static_cast<size_t>(i) / 2);
      model.node(node.parent).children.emplace_back(static_cast<size_t>(i));
    } else {
      model.roots.emplace_back(0U);
    }
    model.nodes.push_back(node);
  }
  for (const size_t of : {1U, 3U, 4U}) {
    auto mesh = std::make_shared<Mesh>();
    Primitive& p = mesh->primitives.emplace_back();
    for (int v = 0; v < 9; ++v) {
      p.positions.emplace_back(any(random), any(random), any(random));
      p.normals.push_back(direction());
      p.tangents.emplace_back(direction(), v % 2 == 0 ? 1 : -1);
    }
    p.indices = {0, 1, 2, 3, 4, 5, 6, 7, 8};
    MorphTarget& morph = p.morphs.emplace_back();
    for (int v = 0; v < 9; ++v) morph.positions.emplace_back(any(random), any(random), any(random));
    mesh->morph_names = {"wide"};
    mesh->morph_weights = {0.5F};
    model.meshes.push_back(mesh);
    model.nodes[of].mesh = MeshIndex(model.meshes.size() - 1);
  }
  Primitive& worn = model.editMesh(MeshIndex(2)).primitives[0];
  Skin skin;
  skin.joints = {NodeIndex(1), NodeIndex(2)};
  for (int j = 0; j < 2; ++j) {
    Placement bind;
    bind.position = {any(random), any(random), any(random)};
    bind.turn = glm::normalize(glm::quat(any(random), any(random), any(random), any(random)));
    skin.inverse_bind.push_back(bind.matrix());
  }
  for (int v = 0; v < 9; ++v) {
    worn.joints.emplace_back(0, 1, 0, 0);
    worn.weights.emplace_back(0.25F, 0.75F, 0, 0);
  }
  model.skins.push_back(skin);
  model.nodes[4].skin = SkinIndex(0);
  Animation& animation = model.animations.emplace_back();
  for (const AnimatedPath path : {AnimatedPath::position, AnimatedPath::turn, AnimatedPath::scale}) {
    Channel channel;
    channel.node = NodeIndex(2);
    channel.path = path;
    channel.times_s = {0, 1};
    for (size_t i = 0; i < (path == AnimatedPath::turn ? 8U : 6U); ++i) channel.values.push_back(any(random));
    animation.channels.push_back(channel);
  }
  return model;
}

SpaceChange anyChange(std::mt19937& random) {
  const auto axis = [&] { return geometry::kAxes[random() % geometry::kAxes.size()]; };
  for (;;) {
    const Axis up = axis(), forward = axis(), to_up = axis(), to_forward = axis();
    if (geometry::parallel(up, forward) || geometry::parallel(to_up, to_forward)) continue;
    constexpr double kUnits[] = {1, 0.01, 0.0254, 100};
    return spaceChange(up, forward, to_up, to_forward, random() % 2 == 0, kUnits[random() % 4]);
  }
}

void expectNear(const glm::vec3& a, const glm::vec3& b, float scale) {
  EXPECT_LT(glm::distance(a, b), 2e-5F * (scale + glm::length(b)));
}

TEST(ChangedSpace, TakesUpForwardAndLeftToTheirOwn) {
  // Z up and X forward, metres, to Y up and Z forward, centimetres.
  const SpaceChange right = spaceChange(Axis::plus_z, Axis::plus_x, Axis::plus_y, Axis::plus_z, true, 0.01);
  expectNear(right.position({1, 0, 0}), {0, 0, 100}, 100);
  expectNear(right.position({0, 0, 1}), {0, 100, 0}, 100);
  expectNear(right.position({0, 1, 0}), {100, 0, 0}, 100);
  EXPECT_FALSE(right.mirrors());
  // The same in a left-handed space: what is left has the opposite sign.
  const SpaceChange left = spaceChange(Axis::plus_z, Axis::plus_x, Axis::plus_y, Axis::plus_z, false, 0.01);
  expectNear(left.position({1, 0, 0}), {0, 0, 100}, 100);
  expectNear(left.position({0, 1, 0}), {-100, 0, 0}, 100);
  EXPECT_TRUE(left.mirrors());
}

TEST(ChangedSpace, EveryPlaceNormalAndBoneGoesWhereTheChangeTakesIt) {
  std::mt19937 random(21);
  size_t mirrored = 0;
  for (int round = 0; round < 300; ++round) {
    const Model model = anyModel(random);
    const SpaceChange change = anyChange(random);
    const Model moved = inSpace(model, change);
    mirrored += change.mirrors() ? 1 : 0;
    const auto before = worldMatrices(model), after = worldMatrices(moved);
    for (size_t n = 0; n < model.nodes.size(); ++n) {
      for (int i = 0; i < 4; ++i)
        for (int k = 0; k < 4; ++k)
          EXPECT_NEAR(after[n][i][k], change.matrix(before[n])[i][k], 1e-4F * (1 + change.scale));
      if (!model.nodes[n].mesh.valid()) continue;
      const Primitive &p = model.mesh(model.nodes[n].mesh).primitives[0],
                      &q = moved.mesh(moved.nodes[n].mesh).primitives[0];
      for (size_t v = 0; v < p.positions.size(); ++v) {
        expectNear(glm::vec3(after[n] * glm::vec4(q.positions[v], 1)),
                   change.position(glm::vec3(before[n] * glm::vec4(p.positions[v], 1))), change.scale);
        // The third direction of a vertex follows from the other two.
        const auto third = [](const glm::vec3& normal, const glm::vec4& t) {
          return glm::cross(normal, glm::vec3(t)) * t.w;
        };
        expectNear(third(q.normals[v], q.tangents[v]), change.direction(third(p.normals[v], p.tangents[v])),
                   1);
        expectNear(q.morphs[0].positions[v], change.position(p.morphs[0].positions[v]), change.scale);
      }
      for (size_t t = 0; t + 2 < p.indices.size(); t += 3) {
        const auto normal = [](const Primitive& of, size_t at) {
          const glm::vec3 a = of.positions[of.indices[at]];
          return glm::normalize(
              glm::cross(of.positions[of.indices[at + 1]] - a, of.positions[of.indices[at + 2]] - a));
        };
        EXPECT_LT(glm::distance(normal(q, t), change.direction(normal(p, t))), 1e-3F)
            << "it still faces outward";
      }
    }
    // Bones at rest put the vertices that follow them where the change takes those.
    const auto bone = [](const Model& of, const std::vector<glm::mat4>& world, size_t j) {
      return world[of.skins[0].joints[j].value()] * of.skins[0].inverse_bind[j];
    };
    for (size_t j = 0; j < 2; ++j) {
      const glm::vec3 any(0.3F, -0.2F, 0.9F);
      expectNear(glm::vec3(bone(moved, after, j) * glm::vec4(change.position(any), 1)),
                 change.position(glm::vec3(bone(model, before, j) * glm::vec4(any, 1))), change.scale);
    }
  }
  EXPECT_GT(mirrored, 80U);
}

TEST(ChangedSpace, IsTakenBack) {
  std::mt19937 random(7);
  for (int round = 0; round < 100; ++round) {
    const Model model = anyModel(random);
    const SpaceChange change = anyChange(random);
    const Model back = inSpace(inSpace(model, change), change.reversed());
    for (size_t n = 0; n < model.nodes.size(); ++n) {
      expectNear(back.nodes[n].local.position, model.nodes[n].local.position, 1);
      expectNear(back.nodes[n].local.scale, model.nodes[n].local.scale, 1);
      EXPECT_GT(std::abs(glm::dot(back.nodes[n].local.turn, model.nodes[n].local.turn)), 0.9999F);
    }
    EXPECT_EQ(back.meshes[0]->primitives[0].indices, model.meshes[0]->primitives[0].indices);
    for (size_t c = 0; c < 3; ++c)
      for (size_t i = 0; i < model.animations[0].channels[c].values.size(); ++i)
        EXPECT_NEAR(back.animations[0].channels[c].values[i], model.animations[0].channels[c].values[i],
                    1e-5);
  }
}

}  // namespace
}  // namespace rakugo::scene
