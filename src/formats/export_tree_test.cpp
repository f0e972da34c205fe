// glTF and COLLADA read back what was written, for whole models: trees, skins, morph targets, motions.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "base/json.h"
#include "formats/export.h"
#include "formats/gltf/gltf.h"
#include "scene/keys.h"
#include "scene/written_model.h"
#include "support/made_model.h"

namespace rakugo::formats {
namespace {

base::Result<ReadModel> again(const Exported& exported, const std::string& name) {
  return readModel(exported.files.at(name), name, [&](const std::string& file) -> base::Result<base::Bytes> {
    const auto found = exported.files.find(file);
    if (found == exported.files.end()) return base::Error{"file.missing", "none " + file, {}, ""};
    return found->second;
  });
}

::testing::AssertionResult near(const glm::vec3& a, const glm::vec3& b, float e = 2e-5F) {
  if (glm::length(a - b) <= e * (1 + glm::length(b))) return ::testing::AssertionSuccess();
  return ::testing::AssertionFailure()
         << a.x << " " << a.y << " " << a.z << " is not " << b.x << " " << b.y << " " << b.z;
}

void expectNear(const std::vector<glm::vec3>& a, const std::vector<glm::vec3>& b) {
  ASSERT_EQ(a.size(), b.size());
  for (size_t i = 0; i < a.size(); ++i) ASSERT_TRUE(near(a[i], b[i])) << i;
}

// What every primitive wears.
void expectMaterials(const scene::Model& is, const scene::Model& was) {
  for (size_t m = 0; m < was.meshes.size(); ++m)
    for (size_t k = 0; k < was.meshes[m]->primitives.size(); ++k) {
      const scene::MaterialIndex a = is.meshes[m]->primitives[k].material,
                                 b = was.meshes[m]->primitives[k].material;
      ASSERT_EQ(a.valid(), b.valid());
      if (!b.valid()) continue;
      const scene::Material &has = is.materials[a.value()], &had = was.materials[b.value()];
      EXPECT_EQ(has.name, had.name);
      EXPECT_EQ(has.base_color, had.base_color);
      EXPECT_EQ(has.metallic, had.metallic);
      EXPECT_EQ(has.roughness, had.roughness);
      EXPECT_EQ(has.emissive, had.emissive);
      EXPECT_EQ(has.alpha, had.alpha);
      EXPECT_EQ(has.alpha_cutoff, had.alpha_cutoff);
      EXPECT_EQ(has.double_sided, had.double_sided);
      for (const scene::TextureSlot& slot : scene::kTextureSlots) {
        const scene::TextureUse &use = has.*slot.use, &used = had.*slot.use;
        ASSERT_EQ(use.image.valid(), used.image.valid()) << slot.name;
        if (!used.image.valid()) continue;
        EXPECT_EQ(*is.images[use.image.value()].bytes, *was.images[used.image.value()].bytes);
        EXPECT_EQ(use.filter, used.filter);
        EXPECT_EQ(use.wrap_u, used.wrap_u);
        EXPECT_EQ(use.wrap_v, used.wrap_v);
        EXPECT_EQ(use.uv_set, used.uv_set);
      }
    }
}

void expectMeshes(const scene::Model& is, const scene::Model& was) {
  ASSERT_EQ(is.meshes.size(), was.meshes.size());
  for (size_t m = 0; m < was.meshes.size(); ++m) {
    const scene::Mesh &a = *is.meshes[m], &b = *was.meshes[m];
    EXPECT_EQ(a.name, b.name);
    EXPECT_EQ(a.morph_names, b.morph_names);
    EXPECT_EQ(a.morph_weights, b.morph_weights);
    ASSERT_EQ(a.primitives.size(), b.primitives.size());
    for (size_t k = 0; k < b.primitives.size(); ++k) {
      const scene::Primitive &p = a.primitives[k], &q = b.primitives[k];
      ASSERT_EQ(p.positions, q.positions);
      ASSERT_EQ(p.normals, q.normals);
      ASSERT_EQ(p.colors, q.colors);
      ASSERT_EQ(p.indices, q.indices);
      ASSERT_EQ(p.weights, q.weights);
      ASSERT_EQ(p.more_weights, q.more_weights);
      ASSERT_EQ(p.tangents, q.tangents);
      for (size_t v = 0; v < q.weights.size(); ++v)
        for (int i = 0; i < 4; ++i) {
          if (q.weights[v][i] > 0) {
            ASSERT_EQ(p.joints[v][i], q.joints[v][i]);
          }
        }
      for (size_t s = 0; s < 2; ++s) {
        ASSERT_EQ(p.uvs[s].size(), q.uvs[s].size());
        for (size_t v = 0; v < q.uvs[s].size(); ++v)
          ASSERT_TRUE(near(glm::vec3(p.uvs[s][v], 0), glm::vec3(q.uvs[s][v], 0), 1e-6F));
      }
      ASSERT_EQ(p.morphs.size(), q.morphs.size());
      for (size_t t = 0; t < q.morphs.size(); ++t) expectNear(p.morphs[t].positions, q.morphs[t].positions);
    }
  }
}

void expectNodes(const scene::Model& is, const scene::Model& was) {
  ASSERT_EQ(is.nodes.size(), was.nodes.size());
  for (size_t i = 0; i < was.nodes.size(); ++i) {
    const scene::Node &a = is.nodes[i], &b = was.nodes[i];
    EXPECT_EQ(a.name, b.name);
    EXPECT_EQ(a.key, b.key);
    EXPECT_TRUE(near(a.local.position, b.local.position));
    EXPECT_TRUE(near(a.local.scale, b.local.scale));
    EXPECT_NEAR(std::abs(glm::dot(a.local.turn, b.local.turn)), 1, 1e-5);
    EXPECT_EQ(a.mesh, b.mesh);
    EXPECT_EQ(a.skin.valid(), b.skin.valid());
    EXPECT_EQ(a.camera.valid(), b.camera.valid());
    EXPECT_EQ(a.light.valid(), b.light.valid());
    if (!b.skin.valid() || !a.skin.valid()) continue;
    const scene::Skin &s = is.skins[a.skin.value()], &t = was.skins[b.skin.value()];
    EXPECT_EQ(s.name, t.name);
    EXPECT_EQ(s.joints, t.joints);
    EXPECT_EQ(s.inverse_bind, t.inverse_bind);
  }
}

// What every node does at a number of moments.
void expectMotions(const scene::Model& is, const scene::Model& was) {
  ASSERT_EQ(is.animations.size(), was.animations.size());
  const auto placed = [](const scene::Model& model, const scene::Animation& animation, scene::NodeIndex node,
                         float t) {
    scene::Placement now = model.node(node).local;
    for (const scene::Channel& c : animation.channels) {
      if (c.node != node || c.path == scene::AnimatedPath::weights) continue;
      float v[4] = {0, 0, 0, 1};
      scene::valueAt(c, t, v);
      if (c.path == scene::AnimatedPath::position) now.position = {v[0], v[1], v[2]};
      if (c.path == scene::AnimatedPath::scale) now.scale = {v[0], v[1], v[2]};
      if (c.path == scene::AnimatedPath::turn) now.turn = glm::quat(v[3], v[0], v[1], v[2]);
    }
    return now;
  };
  for (size_t a = 0; a < was.animations.size(); ++a) {
    EXPECT_EQ(is.animations[a].name, was.animations[a].name);
    for (size_t n = 0; n < was.nodes.size(); ++n)
      for (const float t : {0.0F, 0.2F, 0.5F, 0.7F, 1.4F, 1.5F}) {
        const scene::Placement p = placed(is, is.animations[a], scene::NodeIndex(n), t),
                               q = placed(was, was.animations[a], scene::NodeIndex(n), t);
        ASSERT_TRUE(near(p.position, q.position, 1e-4F)) << a << " at " << t;
        ASSERT_TRUE(near(p.scale, q.scale, 1e-4F)) << a << " at " << t;
        ASSERT_NEAR(std::abs(glm::dot(p.turn, q.turn)), 1, 1e-4) << a << " at " << t;
      }
  }
}

TEST(ExportTree, GltfReadsBackWhole) {
  for (uint32_t seed = 0; seed < 120; ++seed) {
    const scene::Model made = test::ModelMaker(seed).make(true);
    // What any reader takes: the same model, but for what the standard does not let stand
    // (scene/written_model.h).
    scene::Model model = scene::writtenModel(made);
    scene::assignKeys(model);
    for (const char* name : {"x.glb", "x.gltf"}) {
      const auto exported = exportModel(made, name);
      ASSERT_TRUE(exported);
      EXPECT_THAT(exported->lost, testing::IsEmpty());
      const auto read = again(*exported, name);
      ASSERT_TRUE(read) << read.error().text();
      for (const base::Note& n : read->notes) ADD_FAILURE() << seed << name << n.message;
      SCOPED_TRACE(name + std::to_string(seed));
      expectNodes(read->model, model);
      expectMeshes(read->model, model);
      expectMaterials(read->model, model);
      expectMotions(read->model, model);
      EXPECT_EQ(read->model.cameras, model.cameras);
      EXPECT_EQ(read->model.lights.size(), model.lights.size());
    }
  }
}

TEST(ExportTree, ColladaReadsBackWhatItCanCarry) {
  for (uint32_t seed = 0; seed < 120; ++seed) {
    const scene::Model model = test::ModelMaker(seed).make();
    const auto exported = exportModel(model, "x.dae");
    ASSERT_TRUE(exported);
    EXPECT_EQ(exported->files, exportModel(model, "x.dae")->files);
    const auto read = again(*exported, "x.dae");
    ASSERT_TRUE(read) << read.error().text();
    for (const base::Note& n : read->notes) ADD_FAILURE() << seed << n.message << n.place.text();
    SCOPED_TRACE(seed);
    EXPECT_EQ(read->unit_m, 1);
    expectNodes(read->model, model);
    expectMeshes(read->model, model);
    expectMaterials(read->model, model);
    expectMotions(read->model, model);
    EXPECT_EQ(read->model.cameras.size(), model.cameras.size());
  }
}

TEST(ExportTree, ColladaSamplesCurvesAndSaysSo) {
  scene::Model model = test::ModelMaker(3).make();
  model.animations.clear();
  scene::Channel c;
  c.node = scene::NodeIndex(0);
  c.interpolation = scene::Interpolation::cubic;
  c.times_s = {0, 1};
  // From 0 to 1 with level ends: at a quarter 0.15625 by Hermite's polynomial.
  c.values = {0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0};
  model.animations.push_back({"slide", {c}, ""});
  const auto exported = exportModel(model, "x.dae");
  EXPECT_THAT(exported->lost, testing::Contains(testing::HasSubstr("curves")));
  const auto read = again(*exported, "x.dae");
  ASSERT_TRUE(read);
  ASSERT_EQ(read->model.animations.size(), 1U);
  float v[3] = {};
  for (const scene::Channel& r : read->model.animations[0].channels)
    if (r.path == scene::AnimatedPath::position) scene::valueAt(r, 0.25F, v);
  EXPECT_NEAR(v[0], 0.15625F, 1e-3);
}

TEST(ExportTree, GltfStandsUprightAndKeepsWhatItDoesNotKnow) {
  scene::Model model = test::ModelMaker(5).make();
  model.frame.up = geometry::Axis::plus_z;
  model.frame.forward = geometry::Axis::plus_x;
  model.nodes[0].kept = R"({"extensions":{"EX_pennant":{"length":3}},"extras":{"knots":[1,2]}})";
  const auto exported = exportModel(model, "x.glb");
  const auto read = again(*exported, "x.glb");
  ASSERT_TRUE(read) << read.error().text();
  const glm::vec3 was = scene::boundsOf(model).size(), is = scene::boundsOf(read->model).size();
  EXPECT_TRUE(near(is, {was.y, was.z, was.x}, 1e-4F));
  const scene::NodeIndex node = read->model.node(read->model.roots[0]).children.at(0);
  EXPECT_EQ(read->model.node(node).kept,
            R"({"extensions":{"EX_pennant":{"length":3}},"extras":{"knots":[1,2]}})");
}

}  // namespace
}  // namespace rakugo::formats
