#include "geometry/simplify.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>
#include <set>

#include "geometry/nearest.h"
#include "geometry/needles.h"
#include "geometry/shells.h"
#include "geometry/topology.h"
#include "geometry/triangles.h"
#include "geometry/welding.h"

namespace rakugo::geometry {
namespace {

struct Shape {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> indices;
};

// A flat sheet of n x n squares over the unit square.
Shape sheet(uint32_t n) {
  Shape s;
  for (uint32_t y = 0; y <= n; ++y)
    for (uint32_t x = 0; x <= n; ++x)
      s.positions.emplace_back(static_cast<float>(x) / static_cast<float>(n),
                               static_cast<float>(y) / static_cast<float>(n), 0);
  for (uint32_t y = 0; y < n; ++y)
    for (uint32_t x = 0; x < n; ++x) {
      const uint32_t a = y * (n + 1) + x;
      s.indices.insert(s.indices.end(), {a, a + 1, a + n + 2, a, a + n + 2, a + n + 1});
    }
  return s;
}

// A ring (torus) of radii 3 and 1, with a seam both ways when `seams`: a column and a row of vertices twice.
Shape ring(uint32_t n, bool seams) {
  Shape s;
  const uint32_t row = seams ? n + 1 : n;
  for (uint32_t y = 0; y < row; ++y)
    for (uint32_t x = 0; x < row; ++x) {
      const float a = 6.2831853F * static_cast<float>(x % n) / static_cast<float>(n),
                  b = 6.2831853F * static_cast<float>(y % n) / static_cast<float>(n);
      s.positions.emplace_back((3 + std::cos(b)) * std::cos(a), (3 + std::cos(b)) * std::sin(a), std::sin(b));
    }
  const auto at = [&](uint32_t x, uint32_t y) { return seams ? y * row + x : y % n * row + x % n; };
  for (uint32_t y = 0; y < n; ++y)
    for (uint32_t x = 0; x < n; ++x)
      for (const uint32_t v :
           {at(x, y), at(x + 1, y), at(x + 1, y + 1), at(x, y), at(x + 1, y + 1), at(x, y + 1)})
        s.indices.push_back(v);
  return s;
}

Topology topologyByPlace(const Shape& s, const std::vector<uint32_t>& indices) {
  const Welding welding = weldEqual(s.positions);
  std::vector<uint32_t> corners(indices.size());
  for (size_t i = 0; i < corners.size(); ++i) corners[i] = welding.of[indices[i]];
  return topologyOf(std::move(corners), static_cast<uint32_t>(welding.places()));
}

Simplified simplified(const Shape& s, size_t triangles, float max_error = 1e30F) {
  SimplifyOptions options;
  options.triangles = triangles;
  options.max_error = max_error;
  return simplify({s.positions, s.indices, {}, 0}, options).value();
}

TEST(Simplify, AFlatSheetNeedsTwoTriangles) {
  const Shape s = sheet(20);
  const Simplified out = simplified(s, 2, 1e-4F);
  EXPECT_EQ(out.triangles.size(), 2U);
  EXPECT_NEAR(areaOf(s.positions, out.indices), 1, 1e-5);
  EXPECT_LT(out.error, 1e-4F);
}

TEST(Simplify, StopsAtTheErrorThatIsAllowed) {
  const Shape s = ring(40, false);
  const Simplified fine = simplified(s, 1, 0.005F), coarse = simplified(s, 1, 0.05F);
  EXPECT_LE(fine.error, 0.005F);
  EXPECT_LE(coarse.error, 0.05F);
  EXPECT_GT(fine.triangles.size(), coarse.triangles.size());
  EXPECT_GT(coarse.triangles.size(), 8U);
  const Distances off = distancesFrom({s.positions, coarse.indices}, s.positions);
  EXPECT_LT(off.largest, 0.15) << "a quadric error is no bound, but near one";
}

TEST(Simplify, ARingStaysARingAndNothingTurnsOver) {
  for (const bool seams : {false, true}) {
    const Shape s = ring(48, seams);
    const Simplified out = simplified(s, 400);
    EXPECT_LE(out.triangles.size(), 400U);
    const Topology t = topologyByPlace(s, out.indices);
    std::set<uint32_t> places(t.corners.begin(), t.corners.end());
    EXPECT_EQ(static_cast<int64_t>(places.size()) - static_cast<int64_t>(t.edges) +
                  static_cast<int64_t>(t.triangles()),
              0)
        << "seams " << seams;
    ASSERT_TRUE(t.closed()) << "a crack or a fold; seams " << seams;
    const auto flipped = shellsOf(t).flipped;
    EXPECT_EQ(std::count(flipped.begin(), flipped.end(), true), 0);
    // Each triangle looks away from the middle of the ring's tube.
    for (size_t i = 0; i < out.indices.size(); i += 3) {
      const glm::vec3 a = s.positions[out.indices[i]], b = s.positions[out.indices[i + 1]],
                      c = s.positions[out.indices[i + 2]];
      const glm::vec3 m = (a + b + c) / 3.0F;
      const glm::vec3 core = glm::normalize(glm::vec3(m.x, m.y, 0)) * 3.0F;
      EXPECT_GT(glm::dot(glm::cross(b - a, c - a), m - core), 0);
    }
  }
}

TEST(Simplify, SeamsStayWhereTheyAre) {
  const Shape s = ring(32, true);
  const Simplified out = simplified(s, 300);
  // Each side of the seams names vertices of its own side: columns 0 and 32 both still meet at x = 0.
  const uint32_t row = 33;
  std::set<uint32_t> first, last;
  for (const uint32_t v : out.indices) {
    if (v % row == 0) first.insert(v / row);
    if (v % row == 32) last.insert(v / row);
  }
  EXPECT_GE(first.size(), 4U);
  EXPECT_EQ(first, last) << "what goes on one side of a seam goes on the other";
}

TEST(Simplify, OnlyGoesWhatMayGo) {
  const Shape s = sheet(10);
  std::vector<uint8_t> may(s.positions.size(), 0);
  may[60] = 1;  // the middle
  SimplifyOptions options;
  options.may_go = may;
  const Simplified out = simplify({s.positions, s.indices, {}, 0}, options).value();
  EXPECT_EQ(out.triangles.size(), 198U);
  EXPECT_EQ(std::count(out.indices.begin(), out.indices.end(), 60U), 0);
}

TEST(Simplify, AttributesHoldWhatTheSurfaceWouldGiveAway) {
  // One vertex of a flat sheet has coordinates that its neighbours do not foretell.
  const Shape s = sheet(4);
  std::vector<float> attributes;
  for (const glm::vec3& p : s.positions) attributes.insert(attributes.end(), {p.x, p.y});
  attributes[12 * 2] += 0.2F;
  SimplifyOptions options;
  options.max_attribute_error = 0.01F;
  options.max_error = 1e-3F;
  options.every_way = true;
  const Simplified out = simplify({s.positions, s.indices, attributes, 2}, options).value();
  EXPECT_GT(std::count(out.indices.begin(), out.indices.end(), 12U), 0);
  EXPECT_LT(out.triangles.size(), 16U) << "the others go";
}

TEST(Simplify, CopesWithRubbish) {
  Shape s = sheet(6);
  s.positions[24].x = std::nanf("");
  s.indices.insert(s.indices.end(), {0, 0, 1, 3, 3, 3, 0, 1, 8, 0, 1, 8, 5, 40, 9});
  const Simplified out = simplified(s, 1);
  EXPECT_LT(out.triangles.size(), s.indices.size() / 3);
  for (const uint32_t v : out.indices) EXPECT_LT(v, s.positions.size());
  EXPECT_TRUE(simplify({{}, {}, {}, 0}, {}).value().indices.empty());
}

TEST(Simplify, CanBeCancelled) {
  const Shape s = sheet(20);
  base::Progress progress;
  progress.cancel();
  const auto out = simplify({s.positions, s.indices, {}, 0}, {}, &progress);
  ASSERT_FALSE(out);
  EXPECT_EQ(out.error().code, "job.cancelled");
}

TEST(Simplify, IsTheSameEachTime) {
  const Shape s = ring(150, true);  // enough for several cores
  EXPECT_EQ(simplified(s, 2000).indices, simplified(s, 2000).indices);
}

TEST(Simplify, AMillionTriangles) {
  const Shape s = ring(708, true);
  const Simplified out = simplified(s, 10'000);
  EXPECT_LE(out.triangles.size(), 10'000U);
  const Topology t = topologyByPlace(s, out.indices);
  EXPECT_TRUE(t.closed());
  EXPECT_LT(distancesFrom({s.positions, out.indices}, s.positions).largest, 0.05);
}

TEST(Needles, AThinTriangleGivesItsCornerToTheNeighbour) {
  // Vertex 4 lies on the edge between 0 and 1, a hair above it; below is a second triangle.
  Shape s;
  s.positions = {{0, 0, 0}, {1, 0, 0}, {0.5F, 1, 0}, {0.5F, -1, 0}, {0.5F, 1e-5F, 0}};
  s.indices = {0, 1, 4, 0, 4, 2, 4, 1, 2, 1, 0, 3};
  ASSERT_EQ(needleTriangles(s.positions, s.indices, 1e-3F).size(), 1U);
  const auto out = withoutNeedles(s.positions, s.indices, 1e-3F);
  EXPECT_EQ(out.size(), 12U);
  EXPECT_TRUE(needleTriangles(s.positions, out, 1e-3F).empty());
  EXPECT_NEAR(areaOf(s.positions, out), 1, 1e-4);
}

TEST(Needles, AShortSideIsClosed) {
  Shape s = sheet(4);
  // A vertex beside another: two of the triangles round it are thin.
  s.positions[12] = s.positions[13] + glm::vec3(-1e-5F, 0, 0);
  const size_t before = needleTriangles(s.positions, s.indices, 1e-3F).size();
  ASSERT_GT(before, 0U);
  const auto out = withoutNeedles(s.positions, s.indices, 1e-3F);
  EXPECT_TRUE(needleTriangles(s.positions, out, 1e-3F).empty());
  EXPECT_NEAR(areaOf(s.positions, out), 1, 1e-3);
  EXPECT_EQ(withoutNeedles(s.positions, out, 1e-3F), out);
}

TEST(Bvh, ARayThatRunsInTheSidesOfBoxesFindsThem) {
  const Shape s = sheet(2);
  const Bvh tree(triangleBoxes(s.positions, s.indices));
  // Straight down onto the middle vertex, with zeros of both signs.
  for (const float zero : {0.0F, -0.0F}) {
    size_t found = 0;
    tree.along({0.5F, 0.5F, 1}, {zero, zero, -1}, [&](uint32_t) {
      ++found;
      return true;
    });
    EXPECT_EQ(found, 8U) << "the boxes of all eight triangles touch it";
  }
}

TEST(Nearest, AgreesWithLookingAtAll) {
  std::mt19937 random(4);
  const auto real = [&] { return static_cast<float>(random() >> 8) / 8388608.0F - 1; };
  Shape s;
  for (int i = 0; i < 300; ++i) s.positions.emplace_back(real(), real(), real());
  for (uint32_t i = 0; i < 300; ++i) s.indices.push_back(static_cast<uint32_t>(random()) % 300);
  const Surface surface(s.positions, s.indices);
  for (int i = 0; i < 200; ++i) {
    const glm::vec3 p(real() * 2, real() * 2, real() * 2);
    double best = 1e9;
    for (size_t t = 0; t < s.indices.size(); t += 3) {
      const glm::vec3 a = s.positions[s.indices[t]], b = s.positions[s.indices[t + 1]],
                      c = s.positions[s.indices[t + 2]];
      // By sampling: no closer than the truth, and not much farther.
      for (int u = 0; u <= 20; ++u)
        for (int v = 0; u + v <= 20; ++v)
          best = std::min(best, double{glm::distance(p, a + (b - a) * (static_cast<float>(u) / 20) +
                                                            (c - a) * (static_cast<float>(v) / 20))});
    }
    const auto near = surface.nearest(p);
    ASSERT_TRUE(near);
    EXPECT_LE(near->distance, best + 1e-5);
    EXPECT_GE(near->distance, best - 0.12);
    EXPECT_NEAR(glm::distance(near->at, p), near->distance, 1e-5);
    EXPECT_NEAR(near->share.x + near->share.y + near->share.z, 1, 1e-5);
  }
  EXPECT_FALSE(surface.nearest({100, 0, 0}, 1));
  EXPECT_FALSE(surface.nearest({std::nanf(""), 0, 0}));
}

}  // namespace
}  // namespace rakugo::geometry
