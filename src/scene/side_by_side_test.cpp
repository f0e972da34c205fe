// Models beside each other: variants, seams, comparisons.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "scene/comparison.h"
#include "scene/gap.h"
#include "scene/seams.h"
#include "scene/variants.h"

namespace rakugo::scene {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

Model modelOf(std::vector<std::pair<std::string, Primitive>> parts) {
  Model model;
  for (auto& [name, primitive] : parts) {
    Mesh mesh;
    mesh.primitives.push_back(std::move(primitive));
    Node node;
    node.name = name;
    node.mesh = MeshIndex(model.meshes.size());
    model.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
    model.roots.emplace_back(model.nodes.size());
    model.nodes.push_back(std::move(node));
  }
  assignKeys(model);
  return model;
}

// An open tube along Z of `around` sides and `rings` rows, with a coordinate of its own for each vertex.
Primitive tube(int around, int rings, float radius, float z, bool uvs = true) {
  Primitive p;
  for (int r = 0; r <= rings; ++r)
    for (int a = 0; a < around; ++a) {
      const float turn = 6.2831853F * static_cast<float>(a) / static_cast<float>(around);
      p.positions.emplace_back(radius * std::cos(turn), radius * std::sin(turn),
                               z + 0.1F * static_cast<float>(r));
      if (uvs)
        p.uvs[0].emplace_back(static_cast<float>(a) / static_cast<float>(around),
                              static_cast<float>(r) / static_cast<float>(rings));
    }
  for (int r = 0; r < rings; ++r)
    for (int a = 0; a < around; ++a) {
      const auto at = [&](int x, int y) { return static_cast<uint32_t>(y * around + x % around); };
      p.indices.insert(p.indices.end(),
                       {at(a, r), at(a + 1, r), at(a + 1, r + 1), at(a, r), at(a + 1, r + 1), at(a, r + 1)});
    }
  return p;
}

// The same shape with its vertices and triangles in another order.
Primitive shuffled(const Primitive& p, uint32_t seed) {
  std::mt19937 random(seed);
  std::vector<uint32_t> place(p.positions.size());
  for (uint32_t i = 0; i < place.size(); ++i) place[i] = i;
  std::shuffle(place.begin(), place.end(), random);
  Primitive out = p;
  for (size_t i = 0; i < place.size(); ++i) {
    out.positions[place[i]] = p.positions[i];
    if (!p.uvs[0].empty()) out.uvs[0][place[i]] = p.uvs[0][i];
  }
  std::vector<std::array<uint32_t, 3>> triangles;
  for (size_t i = 0; i < p.indices.size(); i += 3)
    triangles.push_back({place[p.indices[i]], place[p.indices[i + 1]], place[p.indices[i + 2]]});
  std::shuffle(triangles.begin(), triangles.end(), random);
  out.indices.clear();
  for (const auto& t : triangles) out.indices.insert(out.indices.end(), t.begin(), t.end());
  return out;
}

TEST(Variants, SlimAndBroadOfOneOrderAreTheSame) {
  const Model slim = modelOf({{"coat", tube(8, 3, 0.4F, 0)}}),
              broad = modelOf({{"coat", tube(8, 3, 0.6F, 0)}});
  const VariantReport r = compareVariants(slim, broad);
  EXPECT_TRUE(r.same);
  EXPECT_FALSE(r.first);
  EXPECT_EQ(r.vertices[0], 32U);
}

TEST(Variants, CountsAreNamedFirst) {
  const VariantReport r =
      compareVariants(modelOf({{"coat", tube(8, 3, 1, 0)}}), modelOf({{"coat", tube(8, 4, 1, 0)}}));
  EXPECT_FALSE(r.same);
  EXPECT_FALSE(r.only_order);
  ASSERT_TRUE(r.first);
  EXPECT_EQ(r.first->what, VariantDifference::What::vertices);
  EXPECT_EQ(r.first->part, "coat");
  EXPECT_EQ(r.first->a, 32U);
  EXPECT_EQ(r.first->b, 40U);
  EXPECT_EQ(compareVariants(modelOf({}), modelOf({{"coat", tube(8, 3, 1, 0)}})).first->what,
            VariantDifference::What::parts);
}

TEST(Variants, AnotherOrderIsPutRightByCoordinatesOrByShape) {
  for (const bool uvs : {true, false}) {
    const Primitive slim = tube(9, 4, 0.4F, 0, uvs), broad = tube(9, 4, 0.6F, 0, uvs);
    for (uint32_t seed = 1; seed < 6; ++seed) {
      const Primitive other = shuffled(broad, seed);
      const VariantReport r = compareVariants(modelOf({{"coat", slim}}), modelOf({{"coat", other}}));
      ASSERT_FALSE(r.same);
      EXPECT_EQ(r.first->what, VariantDifference::What::corner);
      ASSERT_TRUE(r.only_order) << uvs << seed;
      for (size_t i = 0; i < slim.positions.size(); ++i)
        EXPECT_EQ(other.positions[r.proposal[0].order[i]], broad.positions[i]);
    }
  }
}

TEST(Variants, TheOrderThatIsProposedMakesThemTheSame) {
  const Model slim = modelOf({{"coat", tube(8, 3, 0.4F, 0)}});
  Model broad = modelOf({{"coat", shuffled(tube(8, 3, 0.5F, 0), 7)}});
  const VariantReport report = compareVariants(slim, broad);
  ASSERT_TRUE(report.only_order);
  orderLike(broad, slim, report);
  EXPECT_TRUE(compareVariants(slim, broad).same);
  const auto &a = slim.mesh(slim.node(NodeIndex(0)).mesh).primitives[0],
             &b = broad.mesh(broad.node(NodeIndex(0)).mesh).primitives[0];
  for (size_t v = 0; v < a.positions.size(); ++v) {
    EXPECT_NEAR(b.positions[v].x, a.positions[v].x * 1.25F, 1e-6);
    EXPECT_NEAR(b.positions[v].z, a.positions[v].z, 1e-6);
  }
  // Half way between them is half way between their vertices, wherever the second stands.
  broad.node(NodeIndex(0)).local.position = {1, 0, 0};
  const Model half = blendedVariants(slim, broad, 0.5F);
  const auto& c = half.mesh(half.node(NodeIndex(0)).mesh).primitives[0];
  for (size_t v = 0; v < a.positions.size(); ++v)
    EXPECT_NEAR(glm::distance(c.positions[v], (a.positions[v] + b.positions[v] + glm::vec3(1, 0, 0)) * 0.5F),
                0, 1e-6);
  EXPECT_EQ(blendedVariants(slim, broad, 0).mesh(MeshIndex(1)).primitives[0].positions, a.positions);
}

TEST(Gap, IsTheLeastDistanceBetweenTwoSurfaces) {
  Model model = modelOf({{"a", tube(16, 4, 0.4F, 0)}, {"b", tube(16, 4, 0.1F, 0)}, {"c", Primitive()}});
  const auto inside = gapBetween(model, NodeIndex(0), NodeIndex(1));
  ASSERT_TRUE(inside);
  EXPECT_NEAR(inside->distance_m, 0.3 * std::cos(3.14159265 / 16), 0.002);
  model.node(NodeIndex(1)).local.position = {2, 0, 0};
  const auto beside = gapBetween(model, NodeIndex(0), NodeIndex(1));
  EXPECT_NEAR(beside->distance_m, 1.5, 1e-5);
  EXPECT_NEAR(beside->to_m.x + beside->from_m.x, 1.9F + 0.4F, 1e-4);
  EXPECT_FALSE(gapBetween(model, NodeIndex(0), NodeIndex(2)));
  EXPECT_FALSE(gapBetween(model, NodeIndex(0), NodeIndex()));
}

TEST(Variants, AnotherTopologyIsNoMatterOfOrder) {
  Primitive other = tube(9, 4, 0.6F, 0);
  // One square is cut along its other diagonal.
  other.indices[2] = other.indices[5];
  other.indices[3] = other.indices[1];
  const VariantReport r =
      compareVariants(modelOf({{"coat", tube(9, 4, 0.4F, 0)}}), modelOf({{"coat", other}}));
  EXPECT_FALSE(r.same);
  EXPECT_FALSE(r.only_order);
}

TEST(Seams, GapsAreMeasuredInPlace) {
  // A body with a neck at 0.3 m and a waist at 0; a collar 4 mm above the neck, one vertex 10 mm off.
  const Model body = modelOf({{"body", tube(12, 3, 0.1F, 0)}});
  Primitive collar = tube(12, 2, 0.1F, 0.304F);
  collar.positions[5].z += 0.006F;
  const Seams s = pairBorders(bordersOf(modelOf({{"collar", collar}})), bordersOf(body));
  ASSERT_EQ(s.pairs.size(), 1U);
  EXPECT_NEAR(s.pairs[0].largest_m, 0.010, 1e-5);
  EXPECT_NEAR(s.pairs[0].mean_m, (11 * 0.004 + 0.010) / 12, 1e-5);
  EXPECT_EQ(s.pairs[0].largest_at_m, collar.positions[5]);
  EXPECT_EQ(s.loose_outfit.size(), 1U);  // its upper end
  EXPECT_EQ(s.loose_body.size(), 1U);    // the waist
}

TEST(Seams, AVertexMoreOnTheBodysSideIsACrack) {
  const Seams s = pairBorders(bordersOf(modelOf({{"collar", tube(6, 1, 0.1F, 0.3F)}})),
                              bordersOf(modelOf({{"body", tube(12, 3, 0.1F, 0)}})));
  ASSERT_EQ(s.pairs.size(), 1U);
  EXPECT_NEAR(s.pairs[0].largest_m, 0, 1e-6);
  EXPECT_NEAR(s.pairs[0].largest_back_m, 2 * 0.1 * std::sin(3.14159265 / 12), 1e-5);
}

TEST(Seams, LengthsAreReadInTheUnitOfTheFile) {
  const auto borders = bordersOf(modelOf({{"body", tube(12, 3, 10, 0)}}), 0.01);
  ASSERT_EQ(borders.size(), 2U);
  EXPECT_NEAR(glm::length(glm::vec2(borders[0].places_m[0])), 0.1, 1e-6);
}

TEST(EmptiesOf, AreWhatHoldsNothing) {
  Model m = modelOf({{"hull", tube(8, 2, 1, 0)}});
  const auto add = [&](const char* name, NodeIndex parent) {
    Node node;
    node.name = name;
    node.parent = parent;
    node.local.position = {1, 2, 3};
    const NodeIndex at(m.nodes.size());
    (parent.valid() ? m.node(parent).children : m.roots).push_back(at);
    m.nodes.push_back(node);
    return at;
  };
  const NodeIndex group = add("group", {});
  add("grip", group);
  const NodeIndex bone = add("bone", {}), eye = add("eye", {});
  m.skins.emplace_back().joints = {bone};
  m.cameras.emplace_back();
  m.node(eye).camera = CameraIndex(0);
  m.node(group).local.turn = glm::angleAxis(1.0F, glm::vec3(0, 0, 1));
  const auto found = emptiesOf(m);
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(found[0].name, "grip");
  EXPECT_LT(
      glm::distance(found[0].position, glm::vec3(1, 2, 3) + m.node(group).local.turn * glm::vec3(1, 2, 3)),
      1e-5F);
  EXPECT_NEAR(std::abs(glm::dot(found[0].turn, m.node(group).local.turn)), 1, 1e-5);
}

TEST(CompareModels, NamesSizesAndCountsDifferencesFirst) {
  Model a = modelOf({{"hull", tube(8, 2, 1, 0)}, {"mast", tube(4, 2, 0.1F, 0)}}),
        b = modelOf({{"hull", tube(8, 2, 2, 0)}, {"keel", tube(4, 2, 0.1F, 0)}});
  a.nodes[0].region = "torso";
  const ModelComparison c = compareModels({a}, {b});
  EXPECT_THAT(c.parts.only_a, ElementsAre("mast"));
  EXPECT_THAT(c.parts.only_b, ElementsAre("keel"));
  EXPECT_THAT(c.parts.both, ElementsAre("hull"));
  ASSERT_EQ(c.pairs.size(), 1U);
  EXPECT_NEAR(c.pairs[0].extents_b_m.x, 4, 1e-5);
  EXPECT_THAT(c.differences,
              ElementsAre("Only the first has the region torso.", "Only the first has the part mast.",
                          "Only the second has the part keel.", testing::HasSubstr("Along x"),
                          testing::HasSubstr("Along y")));
  EXPECT_THAT(compareModels({a}, {a}).differences, IsEmpty());
  // Attachment points, in the unit of each: at the same place, elsewhere, and only in one.
  const std::vector<NamedPlace> of_a = {{"lamp", {1, 0, 2}}, {"bell", {0, 0, 1}}},
                                of_b = {
                                    {"lamp", {100, 0, 200.05F}}, {"bell", {0, 30, 100}}, {"flag", {0, 0, 0}}};
  const ModelComparison points = compareModels({a, 1, of_a}, {a, 0.01, of_b});
  EXPECT_THAT(points.points.only_b, ElementsAre("flag"));
  ASSERT_EQ(points.point_pairs.size(), 2U);
  EXPECT_EQ(points.point_pairs[0].name, "bell");
  EXPECT_NEAR(points.point_pairs[0].b_m.y, 0.3, 1e-6);
  EXPECT_THAT(points.differences, testing::Contains("Only the second has the attachment point flag."));
  EXPECT_THAT(
      points.differences,
      testing::Contains("The attachment point bell of the first lies 30 cm from that of the second."));
  EXPECT_THAT(points.differences, testing::Not(testing::Contains(testing::HasSubstr("lamp"))));
  EXPECT_THAT(compareModels({a, 1}, {a, 1}).differences, IsEmpty());
  EXPECT_THAT(compareModels({a, 1}, {a, 0.01}).differences, testing::SizeIs(3));
}

}  // namespace
}  // namespace rakugo::scene
