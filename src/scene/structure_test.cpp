// Shapes whose faults can be counted on paper.
#include "scene/structure.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>
#include <map>
#include <random>

#include "scene/attribute_faults.h"

namespace rakugo::scene {
namespace {

struct Shape {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> indices;

  void add(const Shape& other) {
    const auto first = static_cast<uint32_t>(positions.size());
    positions.insert(positions.end(), other.positions.begin(), other.positions.end());
    for (const uint32_t i : other.indices) indices.push_back(first + i);
  }
  void flip() {
    for (size_t i = 0; i < indices.size(); i += 3) std::swap(indices[i + 1], indices[i + 2]);
  }
};

// A box from corner to corner, its faces outward, each side cut into n x n squares with vertices of its own.
Shape box(glm::vec3 low, glm::vec3 high, int n = 1) {
  Shape out;
  for (int axis = 0; axis < 3; ++axis)
    for (int end = 0; end < 2; ++end) {
      const int u = (axis + 1) % 3, v = (axis + 2) % 3;
      const auto first = static_cast<uint32_t>(out.positions.size());
      for (int y = 0; y <= n; ++y)
        for (int x = 0; x <= n; ++x) {
          glm::vec3 p;
          p[axis] = end == 0 ? low[axis] : high[axis];
          p[u] = low[u] + (high[u] - low[u]) * static_cast<float>(x) / static_cast<float>(n);
          p[v] = low[v] + (high[v] - low[v]) * static_cast<float>(y) / static_cast<float>(n);
          out.positions.push_back(p);
        }
      for (int y = 0; y < n; ++y)
        for (int x = 0; x < n; ++x) {
          const uint32_t a = first + static_cast<uint32_t>(y * (n + 1) + x), b = a + 1,
                         d = a + static_cast<uint32_t>(n) + 1, c = d + 1;
          if (end == 1)
            out.indices.insert(out.indices.end(), {a, b, c, a, c, d});
          else
            out.indices.insert(out.indices.end(), {a, c, b, a, d, c});
        }
    }
  return out;
}

Model modelOf(const Shape& shape) {
  Model model;
  Mesh mesh;
  mesh.primitives.emplace_back();
  mesh.primitives[0].positions = shape.positions;
  mesh.primitives[0].indices = shape.indices;
  model.meshes.push_back(std::make_shared<const Mesh>(std::move(mesh)));
  model.nodes.emplace_back();
  model.nodes[0].name = "it";
  model.nodes[0].mesh = MeshIndex(0);
  model.roots = {NodeIndex(0)};
  assignKeys(model);
  return model;
}

PartStructure of(const Model& model) { return structureOf(model).value().at(0); }
PartStructure of(const Shape& shape) { return of(modelOf(shape)); }

// The counts of all faults but those of normals and UVs, which the shapes above do not have; without them the
// corners of a box are alike, too.
std::map<std::string, uint64_t> counts(const PartStructure& s) {
  std::map<std::string, uint64_t> out;
  for (size_t i = 0; i < kFaultCodes; ++i) {
    const auto code = static_cast<FaultCode>(i);
    if (code == FaultCode::normals_missing || code == FaultCode::uvs_missing ||
        code == FaultCode::coincident_vertices)
      continue;
    if (s.fault(code).count > 0) out[faultName(code)] = s.fault(code).count;
  }
  return out;
}
using Counts = std::map<std::string, uint64_t>;

TEST(Structure, ABoxIsClosedAndFaultless) {
  const PartStructure s = of(box({0, 0, 0}, {1, 2, 3}));
  EXPECT_EQ(counts(s), Counts());
  EXPECT_TRUE(s.closed);
  EXPECT_EQ(s.shells, 1U);
  EXPECT_EQ(s.euler, 2);
  EXPECT_EQ(s.vertices, 24U);
  EXPECT_EQ(s.triangles, 12U);
  EXPECT_DOUBLE_EQ(s.area_m2, 2 * (1 * 2 + 2 * 3 + 3 * 1));
  ASSERT_TRUE(s.volume_m3);
  EXPECT_NEAR(*s.volume_m3, 6, 1e-9);
  EXPECT_EQ(s.box.size(), glm::vec3(1, 2, 3));
}

TEST(Structure, AMissingSideIsOneLoopOfFourEdges) {
  Shape open = box({0, 0, 0}, {1, 2, 3});
  open.indices.resize(30);  // the last side: z = 3
  const PartStructure s = of(open);
  EXPECT_FALSE(s.closed);
  EXPECT_FALSE(s.volume_m3);
  ASSERT_EQ(s.open_loops.size(), 1U);
  EXPECT_EQ(s.open_loops[0].edges, 4U);
  EXPECT_NEAR(s.open_loops[0].length_m, 6, 1e-6);
  EXPECT_EQ(counts(s), (Counts{{"open_edges", 4}, {"unused_vertices", 4}}));
  EXPECT_EQ(s.euler, 1);
}

TEST(Structure, TwoHolesThatTouchInACornerAreTwoLoops) {
  // A sheet of 2 x 2 squares without two that meet in the middle.
  Shape sheet;
  for (int y = 0; y <= 2; ++y)
    for (int x = 0; x <= 2; ++x) sheet.positions.emplace_back(x, y, 0);
  sheet.indices = {1, 2, 5, 1, 5, 4, 3, 4, 7, 3, 7, 6};
  const PartStructure s = of(sheet);
  ASSERT_EQ(s.open_loops.size(), 2U);
  EXPECT_EQ(s.open_loops[0].edges, 4U);
  EXPECT_EQ(s.open_loops[1].edges, 4U);
  EXPECT_EQ(s.fault(FaultCode::nonmanifold_vertices).count, 1U);
  EXPECT_EQ(s.shells, 2U);
}

TEST(Structure, ARingHasAnEulerNumberOfNothing) {
  Shape ring;
  const int n = 12, m = 8;
  for (int i = 0; i < n; ++i)
    for (int k = 0; k < m; ++k) {
      const float a = 6.2831853F * static_cast<float>(i) / n, b = 6.2831853F * static_cast<float>(k) / m;
      ring.positions.emplace_back((2 + std::cos(b)) * std::cos(a), (2 + std::cos(b)) * std::sin(a),
                                  std::sin(b));
    }
  for (int i = 0; i < n; ++i)
    for (int k = 0; k < m; ++k) {
      const auto at = [&](int x, int y) { return static_cast<uint32_t>(x % n * m + y % m); };
      const uint32_t p = at(i, k), q = at(i + 1, k), r = at(i + 1, k + 1), t = at(i, k + 1);
      ring.indices.insert(ring.indices.end(), {p, q, r, p, r, t});
    }
  const PartStructure s = of(ring);
  EXPECT_EQ(s.euler, 0);
  EXPECT_TRUE(s.closed);
  EXPECT_EQ(counts(s).count("inside_out_shells"), 0U);
  // Pappus: 2 pi^2 R r^2 for the round one; the faceted one holds less.
  EXPECT_GT(*s.volume_m3, 0.8 * 2 * 9.8696 * 2);
  EXPECT_LT(*s.volume_m3, 2 * 9.8696 * 2);
}

TEST(Structure, WindingIsToldByTheMajority) {
  Shape some = box({0, 0, 0}, {1, 1, 1});
  std::swap(some.indices[1], some.indices[2]);
  std::swap(some.indices[13], some.indices[14]);
  PartStructure s = of(some);
  EXPECT_EQ(counts(s), (Counts{{"flipped_triangles", 2}}));
  EXPECT_NEAR(*s.volume_m3, 1, 1e-9);
  Shape all = box({0, 0, 0}, {1, 1, 1});
  all.flip();
  EXPECT_EQ(counts(of(all)), (Counts{{"inside_out_shells", 1}}));
}

TEST(Structure, AHollowIsWoundInwardsAndTakenOff) {
  Shape hollow = box({0, 0, 0}, {4, 4, 4}), inner = box({1, 1, 1}, {2, 2, 2});
  inner.flip();
  hollow.add(inner);
  PartStructure s = of(hollow);
  EXPECT_NEAR(*s.volume_m3, 63, 1e-6);
  EXPECT_EQ(counts(s), (Counts{{"hidden_triangles", 12}}));
  // Wound outward it is a body within the body.
  Shape body = box({0, 0, 0}, {4, 4, 4});
  body.add(box({1, 1, 1}, {2, 2, 2}));
  s = of(body);
  EXPECT_EQ(counts(s), (Counts{{"hidden_triangles", 12}}));
  EXPECT_NEAR(*s.volume_m3, 65, 1e-6);
}

TEST(Structure, ThreeTrianglesAtAnEdge) {
  Shape fin = box({0, 0, 0}, {1, 1, 1});
  const auto first = static_cast<uint32_t>(fin.positions.size());
  fin.positions.insert(fin.positions.end(), {{0, 0, 1}, {1, 0, 1}, {0.5F, -1, 2}});
  fin.indices.insert(fin.indices.end(), {first, first + 1, first + 2});
  const PartStructure s = of(fin);
  EXPECT_FALSE(s.closed);
  EXPECT_EQ(s.fault(FaultCode::nonmanifold_edges).count, 1U);
  EXPECT_EQ(s.fault(FaultCode::open_edges).count, 2U);
  ASSERT_EQ(s.open_loops.size(), 1U);
  EXPECT_EQ(s.open_loops[0].edges, 2U);
  EXPECT_EQ(s.shells, 1U);
}

TEST(Structure, TwoConesAtOneTip) {
  Shape cones;
  cones.positions = {{0, 0, 0}, {1, 0, 1}, {-1, 1, 1}, {-1, -1, 1}, {1, 0, -1}, {-1, 1, -1}, {-1, -1, -1}};
  cones.indices = {0, 2, 1, 0, 3, 2, 0, 1, 3, 0, 4, 5, 0, 5, 6, 0, 6, 4};
  EXPECT_EQ(of(cones).fault(FaultCode::nonmanifold_vertices).count, 1U);
}

TEST(Structure, ThinEmptyAndDoubleTriangles) {
  Shape odd = box({0, 0, 0}, {1, 1, 1});
  odd.indices.insert(odd.indices.end(), {odd.indices[1], odd.indices[2], odd.indices[0]});  // again
  odd.indices.insert(odd.indices.end(), {0, 0, 1});                                         // collapsed
  const auto first = static_cast<uint32_t>(odd.positions.size());
  odd.positions.insert(odd.positions.end(),
                       {{5, 0, 0}, {6, 0, 0}, {5.5F, 1e-5F, 0}, {5, 1, 0}, {6, 1, 0}, {5.5F, 1, 0}});
  odd.indices.insert(odd.indices.end(), {first, first + 1, first + 2, first + 3, first + 4, first + 5});
  const PartStructure s = of(odd);
  EXPECT_EQ(s.fault(FaultCode::duplicate_triangles).count, 1U);
  EXPECT_EQ(s.fault(FaultCode::degenerate_triangles).count, 2U);
  EXPECT_EQ(s.fault(FaultCode::needle_triangles).count, 1U);
}

TEST(Structure, BoxesThatPassThroughEachOther) {
  Shape two = box({0, 0, 0}, {2, 2, 2});
  two.add(box({1, 1, 1}, {3, 3, 3}));
  const PartStructure s = of(two);
  EXPECT_GT(s.fault(FaultCode::self_intersections).count, 5U);
  Shape beside = box({0, 0, 0}, {2, 2, 2});
  beside.add(box({2, 0.5F, 0.5F}, {3, 1.5F, 1.5F}));  // stands against it
  EXPECT_EQ(counts(of(beside)), (Counts{{"self_intersections", 2}})) << "where their faces cover each other";
  Shape apart = box({0, 0, 0}, {2, 2, 2});
  apart.add(box({2.001F, 0, 0}, {3, 1, 1}));
  EXPECT_EQ(counts(of(apart)), Counts());
}

TEST(Structure, VerticesThatCarryNoShape) {
  // Of a side cut into n x n: (n-1)^2 inside, and n-1 along each of the twelve edges.
  for (const int n : {2, 3, 5}) {
    const PartStructure s = of(box({0, 0, 0}, {1, 1, 1}, n));
    EXPECT_EQ(s.fault(FaultCode::shapeless_vertices).count,
              static_cast<uint64_t>(6 * (n - 1) * (n - 1) + 12 * (n - 1)));
    EXPECT_EQ(s.fault(FaultCode::unaligned_edges).count, 0U);
    EXPECT_TRUE(s.closed);
  }
  Model turned = modelOf(box({0, 0, 0}, {1, 1, 1}));
  turned.nodes[0].local.turn = glm::angleAxis(0.3F, glm::vec3(0, 0, 1));
  EXPECT_EQ(of(turned).fault(FaultCode::unaligned_edges).count, 8U);
  EXPECT_EQ(of(turned).fault(FaultCode::shapeless_vertices).count, 0U);
}

TEST(Structure, SpecksAreSmallBesideTheModel) {
  Shape shape = box({0, 0, 0}, {1, 1, 1});
  shape.add(box({2, 0, 0}, {2.001F, 0.001F, 0.001F}));
  EXPECT_EQ(counts(of(shape)), (Counts{{"specks", 1}}));
}

TEST(Structure, AMirroringPlacementTurnsTrianglesRound) {
  Model model = modelOf(box({0, 0, 0}, {1, 1, 1}));
  model.nodes[0].local.scale = {-2, 1, 1};
  const PartStructure s = of(model);
  EXPECT_EQ(counts(s), Counts());
  EXPECT_NEAR(*s.volume_m3, 2, 1e-6);
}

TEST(Structure, NumbersThatAreNoneDoNoHarm) {
  Shape shape = box({0, 0, 0}, {1, 1, 1});
  shape.positions[3].x = std::numeric_limits<float>::quiet_NaN();
  shape.positions[7].y = std::numeric_limits<float>::infinity();
  const PartStructure s = of(shape);
  EXPECT_FALSE(s.closed);
  EXPECT_TRUE(std::isfinite(s.area_m2));
  EXPECT_EQ(of(Shape{}).triangles, 0U);
  EXPECT_FALSE(of(Shape{}).closed);
}

TEST(Structure, WhateverTheOrderTheCountsAreTheSame) {
  std::mt19937 random(3);
  Shape shape = box({0, 0, 0}, {2, 2, 2}, 3);
  shape.add(box({1, 1, 1}, {3, 3, 3}, 2));
  shape.indices.resize(shape.indices.size() - 9);
  const PartStructure before = of(shape);
  for (int round = 0; round < 5; ++round) {
    std::vector<std::array<uint32_t, 3>> triangles;
    for (size_t i = 0; i < shape.indices.size(); i += 3)
      triangles.push_back({shape.indices[i], shape.indices[i + 1], shape.indices[i + 2]});
    std::shuffle(triangles.begin(), triangles.end(), random);
    shape.indices.clear();
    for (auto& t : triangles) {
      std::rotate(t.begin(), t.begin() + random() % 3, t.end());
      shape.indices.insert(shape.indices.end(), t.begin(), t.end());
    }
    const PartStructure after = of(shape);
    EXPECT_EQ(counts(after), counts(before));
    EXPECT_EQ(after.euler, before.euler);
    EXPECT_EQ(after.open_loops.size(), before.open_loops.size());
  }
}

TEST(Structure, PlantedFaultsOfAMillionTrianglesAreFoundAndNoneInvented) {
  constexpr int kSide = 288;
  Shape shape = box({0, 0, 0}, {1, 2, 4}, kSide);
  const size_t all = shape.indices.size() / 3;
  ASSERT_GT(all, 990'000U);
  // Far from each other: triangles that are turned, and others that are missing.
  std::vector<uint32_t> kept;
  uint64_t turned = 0, missing = 0;
  double area = 2 * (1.0 * 2 + 2 * 4 + 4 * 1);
  for (size_t t = 0; t < all; ++t) {
    uint32_t* c = shape.indices.data() + t * 3;
    if (t % 4001 == 1000) {
      std::swap(c[1], c[2]);
      ++turned;
    } else if (t % 4001 == 3000) {
      ++missing;
      const glm::dvec3 a(shape.positions[c[0]]), b(shape.positions[c[1]]), d(shape.positions[c[2]]);
      area -= glm::length(glm::cross(b - a, d - a)) / 2;
      continue;
    }
    kept.insert(kept.end(), c, c + 3);
  }
  shape.indices = std::move(kept);
  for (int i = 0; i < 77; ++i) shape.positions.emplace_back(0.5F, 0.5F, 0.1F);  // no triangle names these
  const PartStructure found = of(shape);
  EXPECT_EQ(found.triangles, all - missing);
  EXPECT_EQ(found.fault(FaultCode::flipped_triangles).count, turned);
  EXPECT_EQ(found.fault(FaultCode::open_edges).count, missing * 3);
  EXPECT_EQ(found.fault(FaultCode::unused_vertices).count, 77U);
  EXPECT_EQ(found.open_loops.size(), missing);
  for (const OpenLoop& loop : found.open_loops) ASSERT_EQ(loop.edges, 3U);
  EXPECT_EQ(found.fault(FaultCode::unaligned_edges).count, missing) << "a square's diagonal, now a border";
  EXPECT_EQ(found.shells, 1U);
  EXPECT_EQ(found.euler, 2 - static_cast<int64_t>(missing));
  EXPECT_NEAR(found.area_m2, area, 1e-4);
  EXPECT_FALSE(found.volume_m3.has_value());
  EXPECT_EQ(found.index_bits, 32U);
  for (const FaultCode none :
       {FaultCode::degenerate_triangles, FaultCode::needle_triangles, FaultCode::duplicate_triangles,
        FaultCode::nonmanifold_edges, FaultCode::nonmanifold_vertices, FaultCode::inside_out_shells,
        FaultCode::self_intersections, FaultCode::hidden_triangles, FaultCode::specks})
    EXPECT_EQ(found.fault(none).count, 0U) << faultName(none);
}

TEST(AttributeFaults, PicturesThatAreDrawnOutOrMissOneWay) {
  // A triangle of 2 by 1 m; on its picture the long side is `wide`, the short one `high`.
  const auto of = [](float wide, float high, float lean = 0, float metres = 2) {
    Primitive p;
    p.positions = {{1, 1, 1}, {1 + metres, 1, 1}, {1, 2, 1}};
    p.indices = {0, 1, 2};
    p.uvs[0] = {{0.1F, 0.8F}, {0.1F + wide, 0.8F}, {0.1F + lean, 0.8F - high}};
    return pictureFaults(p, p.indices);
  };
  for (const auto& [wide, high] : {std::pair(0.2F, 0.1F), {0.2F, 0.013F}, {0.2F, 0.7F}}) {
    EXPECT_TRUE(of(wide, high).stretched.empty()) << high;
    EXPECT_TRUE(of(wide, high).collapsed.empty()) << high;
  }
  // A metre takes 0.1 of the picture one way; across, 0.012 of it is more than eight times as much of it, and
  // 0.85 as much less.
  for (const auto& [wide, high] : {std::pair(0.2F, 0.012F), {0.2F, 0.85F}, {0.002F, 0.01F}}) {
    EXPECT_EQ(of(wide, high).stretched.size(), 1U) << high;
    EXPECT_TRUE(of(wide, high).collapsed.empty()) << high;
  }
  EXPECT_EQ(of(0.1F, 0.1F, 1).stretched.size(), 1U) << "a picture that leans is drawn out as well";
  for (const auto& [wide, high] : {std::pair(0.2F, 0.0F), {0.0F, 0.0F}, {0.0F, 0.3F}, {0.2F, 5e-5F}}) {
    EXPECT_EQ(of(wide, high).collapsed.size(), 1U) << wide << " " << high;
    EXPECT_TRUE(of(wide, high).stretched.empty()) << wide << " " << high;
  }
  EXPECT_TRUE(of(0.2F, 0.0F, 0, 1e-4F).collapsed.empty()) << "what has no surface shows no picture";
  const float nan = std::numeric_limits<float>::quiet_NaN();
  EXPECT_TRUE(of(nan, 0.1F).collapsed.empty());
  EXPECT_TRUE(of(0.1F, 0.1F, 0, nan).stretched.empty());
}

TEST(AttributeFaults, NormalsAndCoordinates) {
  Primitive p;
  p.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 0}, {1, 0, 0}, {1, 1, 0}};
  p.indices = {0, 1, 2, 3, 4, 5};
  p.normals = {{0, 0, 1}, {0, 0, 2}, {0, 0, -1}, {0, 0, 1}, {0, 0, 1}, {0, 0, 1}};
  p.uvs[0] = {{0, 1}, {1, 1}, {0, 0}, {0, 1}, {-0.5F, 1}, {1, 0}};
  EXPECT_EQ(badNormals(p, p.indices), (std::vector<uint32_t>{1, 2}));
  EXPECT_EQ(uvsOutside(p), (std::vector<uint32_t>{4}));
  // The first shows its picture rightly; the second's second corner lies to the left of its first.
  EXPECT_EQ(pictureFaults(p, p.indices).mirrored, (std::vector<uint32_t>{1}));
  // 0 and 3 are alike in everything; 1 and 4 are not.
  const std::vector<uint32_t> all = {0, 1, 2, 3, 4, 5};
  EXPECT_TRUE(coincidentTwins(p, p.positions, std::span(all).first(3), 1e-6F).empty());
  for (const float tolerance : {1e-6F, 0.0F}) {
    const auto twins = coincidentTwins(p, p.positions, all, tolerance);
    ASSERT_EQ(twins.size(), 1U);
    EXPECT_EQ(twins[0].vertex, 3U);
    EXPECT_EQ(twins[0].earlier, 0U);
  }
}

}  // namespace
}  // namespace rakugo::scene
