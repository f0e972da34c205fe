#include <gtest/gtest.h>

#include <algorithm>
#include <limits>
#include <random>
#include <set>

#include "geometry/axes.h"
#include "geometry/bounds.h"
#include "geometry/silhouette.h"
#include "geometry/triangles.h"
#include "geometry/union_find.h"
#include "geometry/vertex_cache.h"

namespace rakugo::geometry {
namespace {

TEST(UnionFind, AreNumberedByTheirLowestAndWhatDoesNotCountIsLeftOut) {
  UnionFind groups(8);
  EXPECT_EQ(groups.join(5, 3), 3U);
  EXPECT_EQ(groups.join(7, 5), 3U);
  EXPECT_EQ(groups.join(1, 6), 1U);
  EXPECT_EQ(groups.join(6, 1), 1U);
  EXPECT_EQ(groups.first(7), 3U);
  uint32_t count = 0;
  const auto numbers = std::move(groups).numbers(count, [](uint32_t i) { return i != 2; });
  EXPECT_EQ(count, 4U);
  EXPECT_EQ(numbers, (std::vector<uint32_t>{0, 1, UnionFind::kNone, 2, 3, 2, 1, 2}));
}

// A grid of n x n squares in the XY plane.
void grid(int n, std::vector<glm::vec3>& positions, std::vector<uint32_t>& indices) {
  for (int y = 0; y <= n; ++y)
    for (int x = 0; x <= n; ++x) positions.emplace_back(x, y, 0);
  for (int y = 0; y < n; ++y)
    for (int x = 0; x < n; ++x) {
      const auto a = static_cast<uint32_t>(y * (n + 1) + x), b = a + 1, c = a + static_cast<uint32_t>(n) + 1,
                 d = c + 1;
      indices.insert(indices.end(), {a, b, d, a, d, c});
    }
}

// Triangles as a set of rotations-normalised triples: what must not change when they are reordered.
std::multiset<std::array<uint32_t, 3>> triangles(const std::vector<uint32_t>& indices) {
  std::multiset<std::array<uint32_t, 3>> out;
  for (size_t i = 0; i < indices.size(); i += 3) {
    std::array<uint32_t, 3> t = {indices[i], indices[i + 1], indices[i + 2]};
    std::rotate(t.begin(), std::min_element(t.begin(), t.end()), t.end());
    out.insert(t);
  }
  return out;
}

TEST(Axes, EveryQuarterTurnIsProperAndDoesWhatItSays) {
  for (const Axis f : kAxes)
    for (const Axis u : kAxes)
      for (const Axis tf : kAxes)
        for (const Axis tu : kAxes) {
          if (parallel(f, u) || parallel(tf, tu)) continue;
          const glm::mat3 turn = quarterTurn(f, u, tf, tu);
          EXPECT_EQ(glm::determinant(turn), 1.0F);
          EXPECT_EQ(turn * axisVector(f), axisVector(tf));
          EXPECT_EQ(turn * axisVector(u), axisVector(tu));
        }
}

TEST(Axes, NamesReadBack) {
  for (const Axis a : kAxes) EXPECT_EQ(axisFromName(axisName(a)), a);
  EXPECT_FALSE(axisFromName("X"));
  EXPECT_EQ(nearestAxis({0.1F, -0.9F, 0.3F}), Axis::minus_y);
}

TEST(Bounds, IgnoreWhatIsNotFinite) {
  const std::vector<glm::vec3> points = {
      {1, 2, 3}, {std::nanf(""), 0, 0}, {-1, 0, std::numeric_limits<float>::infinity()}, {-1, 5, 0}};
  const Bounds box = boundsOf(points);
  EXPECT_EQ(box.min, glm::vec3(-1, 2, 0));
  EXPECT_EQ(box.max, glm::vec3(1, 5, 3));
  EXPECT_TRUE(boundsOf({}).empty());
}

TEST(DegenerateTriangles, FindsRepeatedIndicesAndLines) {
  const std::vector<glm::vec3> p = {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}, {0, 1, 0}, {std::nanf(""), 0, 0}};
  const std::vector<uint32_t> indices = {
      0, 1, 3, /*line*/ 0, 1, 2, /*repeat*/ 0, 0, 3, /*NaN is another fault*/ 0, 1, 4};
  EXPECT_EQ(degenerateTriangles(p, indices), (std::vector<uint32_t>{1, 2}));
}

TEST(VertexCache, ReorderingKeepsTrianglesAndLowersMisses) {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> indices;
  grid(40, positions, indices);
  std::vector<uint32_t> shuffled;
  std::vector<size_t> order(indices.size() / 3);
  for (size_t i = 0; i < order.size(); ++i) order[i] = i;
  std::shuffle(order.begin(), order.end(), std::mt19937(1));
  for (const size_t t : order)
    shuffled.insert(shuffled.end(), {indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]});
  const auto count = static_cast<uint32_t>(positions.size());
  const auto better = orderForVertexCache(shuffled, count);
  EXPECT_EQ(triangles(better), triangles(shuffled));
  EXPECT_GT(averageCacheMissRatio(shuffled, count), 2.5);
  EXPECT_LT(averageCacheMissRatio(better, count), 0.62);
  EXPECT_EQ(orderForVertexCache(shuffled, count), better) << "not deterministic";
}

TEST(VertexCache, CopesWithRepeatedIndicesAndNothing) {
  EXPECT_TRUE(orderForVertexCache({}, 0).empty());
  const std::vector<uint32_t> odd = {0, 0, 0, 1, 1, 2, 2, 1, 0};
  EXPECT_EQ(triangles(orderForVertexCache(odd, 3)), triangles(odd));
  EXPECT_EQ(averageCacheMissRatio({}, 0), 0);
}

TEST(VertexCache, FirstUseNumbersVerticesInOrder) {
  uint32_t used = 0;
  EXPECT_EQ(orderOfFirstUse(std::vector<uint32_t>{4, 2, 4}, 5, used),
            (std::vector<uint32_t>{0xFFFFFFFF, 0xFFFFFFFF, 1, 0xFFFFFFFF, 0}));
  EXPECT_EQ(used, 2u);
}

TEST(Occupancy, IsOneForEqualAndLowForOtherShapes) {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> indices;
  grid(10, positions, indices);
  Occupancy a, b, turned;
  a.add(positions, indices, glm::mat4(1), {5, 5, 0}, 5);
  b.add(positions, indices, glm::mat4(1), {5, 5, 0}, 5);
  turned.add(positions, indices,
             glm::mat4(glm::mat3(quarterTurn(Axis::plus_x, Axis::plus_z, Axis::plus_x, Axis::plus_y))),
             {5, 0, -5}, 5);
  for (Occupancy* o : {&a, &b, &turned}) o->normalize();
  EXPECT_NEAR(Occupancy::likeness(a, b), 1, 1e-4);
  EXPECT_LT(Occupancy::likeness(a, turned), 0.3);
  // Turning the cells is turning the shape.
  const glm::mat3 quarter = quarterTurn(Axis::plus_x, Axis::plus_z, Axis::plus_x, Axis::plus_y);
  EXPECT_NEAR(Occupancy::likeness(a.turned(quarter), turned), 1, 0.02);
}

}  // namespace
}  // namespace rakugo::geometry
