#include "prepare/surface/make_uvs.h"

#include <gtest/gtest.h>

#include <map>
#include <random>

#include "geometry/crossings.h"
#include "scene/structure.h"

namespace rakugo::prepare {
namespace {

// Boxes, each worn by a material of its own or the same, without texture coordinates.
scene::Model boxes(size_t count, size_t materials) {
  scene::Model m;
  std::mt19937 random(static_cast<unsigned>(count));
  m.materials.resize(materials);
  for (size_t i = 0; i < materials; ++i) m.materials[i].name = "m" + std::to_string(i);
  for (size_t i = 0; i < count; ++i) {
    auto mesh = std::make_shared<scene::Mesh>();
    scene::Primitive& p = mesh->primitives.emplace_back();
    const glm::vec3 size(0.2F + static_cast<float>(random() % 10) / 10, 0.5F, 1);
    for (int c = 0; c < 8; ++c) p.positions.push_back(glm::vec3(c & 1, (c >> 1) & 1, (c >> 2) & 1) * size);
    p.indices = {0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4,
                 2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5};
    p.material = scene::MaterialIndex(i % materials);
    scene::Node& node = m.nodes.emplace_back();
    node.name = "box " + std::to_string(i);
    node.mesh = scene::MeshIndex(i);
    node.local.scale = glm::vec3(i % 2 == 0 ? 1.0F : 2.0F);
    m.meshes.push_back(std::move(mesh));
    m.roots.push_back(scene::NodeIndex(i));
  }
  scene::assignKeys(m);
  return m;
}

TEST(MakeUvs, GivesEachMaterialASheetOnWhichNothingOverlaps) {
  scene::Model m = boxes(6, 2);
  const auto report = makeUvs(m, {});
  ASSERT_TRUE(report) << report.error().text();
  EXPECT_EQ(report->islands, 36U);
  EXPECT_GT(report->filled, 0.6);
  EXPECT_GT(report->texels_per_m, 50);
  for (size_t material = 0; material < 2; ++material) {
    std::vector<glm::vec2> uvs;
    std::vector<uint32_t> indices;
    for (const auto& mesh : m.meshes)
      for (const scene::Primitive& p : mesh->primitives) {
        if (p.material.value() != material) continue;
        ASSERT_EQ(p.uvs[0].size(), p.positions.size());
        for (const uint32_t i : p.indices) indices.push_back(static_cast<uint32_t>(uvs.size()) + i);
        uvs.insert(uvs.end(), p.uvs[0].begin(), p.uvs[0].end());
      }
    EXPECT_TRUE(geometry::overlappingUvs(uvs, indices).empty());
    for (const glm::vec2 uv : uvs) {
      EXPECT_GE(std::min(uv.x, uv.y), 0);
      EXPECT_LE(std::max(uv.x, uv.y), 1);
    }
  }
}

TEST(MakeUvs, KeepsTheShapeAndShowsAsManyPixelsToAMetreEverywhere) {
  const scene::Model before = boxes(3, 1);
  scene::Model after = before;
  ASSERT_TRUE(makeUvs(after, {{}, false, 0, 1024, 4, 100}));
  for (size_t i = 0; i < 3; ++i) {
    const scene::Primitive &was = before.meshes[i]->primitives[0], &is = after.meshes[i]->primitives[0];
    ASSERT_EQ(was.indices.size(), is.indices.size());
    const float scale = i % 2 == 0 ? 1.0F : 2.0F;
    for (size_t t = 0; t < was.indices.size(); t += 3) {
      const auto place = [&](size_t k) { return is.positions[is.indices[t + k]]; };
      const auto uv = [&](size_t k) { return is.uvs[0][is.indices[t + k]]; };
      for (size_t k = 0; k < 3; ++k) EXPECT_EQ(place(k), was.positions[was.indices[t + k]]);
      EXPECT_NEAR(glm::distance(uv(0), uv(1)) * 1024, glm::distance(place(0), place(1)) * scale * 100, 0.5);
    }
  }
}

TEST(MakeUvs, LeavesWhatHasSomeWhereOnlyTheMissingAreAskedFor) {
  scene::Model m = boxes(2, 1);
  scene::Primitive& p = m.editMesh(scene::MeshIndex(0)).primitives[0];
  p.uvs[0].assign(8, glm::vec2(0.25F));
  ASSERT_TRUE(makeUvs(m, {{}, true, 0, 256, 2, 0}));
  EXPECT_EQ(m.meshes[0]->primitives[0].uvs[0], std::vector<glm::vec2>(8, glm::vec2(0.25F)));
  EXPECT_FALSE(m.meshes[1]->primitives[0].uvs[0].empty());
  EXPECT_EQ(makeUvs(m, {{}, true, 0, 256, 2, 0}).error().code, "uvs.none");
  // The second set is made beside the first.
  ASSERT_TRUE(makeUvs(m, {scene::MeshIndex(1), false, 1, 256, 2, 0}));
  EXPECT_FALSE(m.meshes[1]->primitives[0].uvs[0].empty());
  EXPECT_EQ(m.meshes[1]->primitives[0].uvs[1].size(), m.meshes[1]->primitives[0].positions.size());
  EXPECT_TRUE(m.meshes[0]->primitives[0].uvs[1].empty());
}

TEST(MakeUvs, SaysWhatDoesNotFit) {
  scene::Model m = boxes(8, 1);
  EXPECT_EQ(makeUvs(m, {{}, false, 0, 64, 2, 5000}).error().code, "uvs.full");
  EXPECT_TRUE(m.meshes[0]->primitives[0].uvs[0].empty()) << "the model is as it was";
  base::Progress progress;
  progress.cancel();
  EXPECT_EQ(makeUvs(m, {}, &progress).error().code, "job.cancelled");
}

}  // namespace
}  // namespace rakugo::prepare
