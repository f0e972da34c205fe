#include "geometry/convex_parts.h"

#include <gtest/gtest.h>

#include <limits>
#include <random>

#include "geometry/mass.h"

namespace rakugo::geometry {
namespace {

struct Solid {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> corners;
  void box(glm::vec3 low, glm::vec3 high) {
    const auto first = static_cast<uint32_t>(positions.size());
    for (int i = 0; i < 8; ++i)
      positions.emplace_back((i & 1) != 0 ? high.x : low.x, (i & 2) != 0 ? high.y : low.y,
                             (i & 4) != 0 ? high.z : low.z);
    for (const uint32_t v : {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4,
                             2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5})
      corners.push_back(first + v);
  }
  // A prism over an outline in the XY plane (counter-clockwise), fanned from its first corner.
  void prism(const std::vector<glm::vec2>& outline, const std::vector<uint32_t>& cap, float height) {
    const auto n = static_cast<uint32_t>(outline.size());
    for (const float z : {0.0F, height})
      for (const glm::vec2& p : outline) positions.emplace_back(p, z);
    for (size_t t = 0; t < cap.size(); t += 3) {
      corners.insert(corners.end(), {cap[t], cap[t + 2], cap[t + 1]});
      corners.insert(corners.end(), {n + cap[t], n + cap[t + 1], n + cap[t + 2]});
    }
    for (uint32_t i = 0; i < n; ++i) {
      const uint32_t j = (i + 1) % n;
      corners.insert(corners.end(), {i, j, n + j, i, n + j, n + i});
    }
  }
};

double total(const std::vector<Hull>& parts) {
  double out = 0;
  for (const Hull& part : parts) out += volumeOf(part);
  return out;
}

// How far a point lies outside a hull; negative: inside.
double outside(const Hull& hull, const glm::dvec3& p) {
  double out = -std::numeric_limits<double>::infinity();
  for (size_t t = 0; t < hull.triangles.size(); t += 3) {
    const glm::dvec3 a(hull.corners[hull.triangles[t]]), b(hull.corners[hull.triangles[t + 1]]),
        c(hull.corners[hull.triangles[t + 2]]);
    out = std::max(out, glm::dot(glm::normalize(glm::cross(b - a, c - a)), p - a));
  }
  return out;
}

Solid angle() {
  Solid out;
  out.prism({{0, 0}, {3, 0}, {3, 1}, {1, 1}, {1, 4}, {0, 4}}, {0, 1, 2, 0, 2, 3, 0, 3, 4, 0, 4, 5}, 1);
  return out;
}

TEST(ConvexParts, AnAngleIsTwoBoxesExactly) {
  const Solid solid = angle();
  ConvexPartsOptions options;
  options.most_parts = 16;
  const auto parts = convexParts(solid.positions, solid.corners, options);
  ASSERT_EQ(parts.size(), 2U) << "cut where the edge bends inward; nothing is gained by more";
  EXPECT_NEAR(total(parts), 6, 1e-5);
  options.most_parts = 1;
  EXPECT_NEAR(total(convexParts(solid.positions, solid.corners, options)), 9, 1e-5)
      << "one hull: 12 less half of 2 times 3";
}

TEST(ConvexParts, AFrameIsFourBeams) {
  Solid frame;
  for (const auto& [low, high] : std::vector<std::pair<glm::vec3, glm::vec3>>{
           {{0, 0, 0}, {4, 1, 1}}, {{0, 3, 0}, {4, 4, 1}}, {{0, 1, 0}, {1, 3, 1}}, {{3, 1, 0}, {4, 3, 1}}})
    frame.box(low, high);
  const auto parts = convexParts(frame.positions, frame.corners, {});
  EXPECT_EQ(parts.size(), 4U) << "no first cut gains anything; the one after it does";
  EXPECT_NEAR(total(parts), 12, 0.05);
}

TEST(ConvexParts, WhatIsConvexStaysWhole) {
  Solid box;
  box.box({-1, -2, -3}, {1, 2, 3});
  const auto parts = convexParts(box.positions, box.corners, {});
  ASSERT_EQ(parts.size(), 1U);
  EXPECT_NEAR(total(parts), 48, 1e-4);
}

TEST(ConvexParts, PartsHoldAllAndDoNotOverlap) {
  std::mt19937 random(11);
  std::uniform_real_distribution<float> any(-1, 1), size(0.05F, 0.6F);
  for (int round = 0; round < 12; ++round) {
    Solid solid;
    for (int i = 0; i < 6; ++i) {
      const glm::vec3 at(any(random), any(random), any(random)),
          half(size(random), size(random), size(random));
      solid.box(at - half, at + half);
    }
    ConvexPartsOptions options;
    options.most_parts = 10;
    const auto parts = convexParts(solid.positions, solid.corners, options);
    ASSERT_FALSE(parts.empty());
    EXPECT_LE(parts.size(), 10U);
    ConvexPartsOptions one;
    one.most_parts = 1;
    EXPECT_LE(total(parts), total(convexParts(solid.positions, solid.corners, one)) * (1 + 1e-6));
    // Places on the surface lie in a part; places anywhere in at most one.
    for (int i = 0; i < 300; ++i) {
      const size_t t = random() % (solid.corners.size() / 3) * 3;
      float u = (any(random) + 1) / 2, v = (any(random) + 1) / 2;
      if (u + v > 1) u = 1 - u, v = 1 - v;
      const glm::vec3 &a = solid.positions[solid.corners[t]], &b = solid.positions[solid.corners[t + 1]],
                      &c = solid.positions[solid.corners[t + 2]];
      const glm::dvec3 p(a + (b - a) * u + (c - a) * v);
      double nearest = 1e9;
      for (const Hull& part : parts) nearest = std::min(nearest, outside(part, p));
      EXPECT_LT(nearest, 1e-5) << round;
      const glm::dvec3 q(any(random) * 1.5F, any(random) * 1.5F, any(random) * 1.5F);
      int within = 0;
      for (const Hull& part : parts) within += outside(part, q) < -1e-5 ? 1 : 0;
      EXPECT_LE(within, 1) << round;
    }
    const auto again = convexParts(solid.positions, solid.corners, options);
    ASSERT_EQ(again.size(), parts.size());
    for (size_t i = 0; i < parts.size(); ++i) EXPECT_EQ(again[i].corners, parts[i].corners);
  }
}

TEST(ConvexParts, CornersAreLimitedAndWhatHasNoBodyIsLeftOut) {
  Solid round;
  std::vector<glm::vec2> outline;
  std::vector<uint32_t> cap;
  for (uint32_t i = 0; i < 64; ++i) {
    const float turn = 6.2831853F * static_cast<float>(i) / 64;
    outline.emplace_back(std::cos(turn), std::sin(turn));
    if (i > 1) cap.insert(cap.end(), {0, i - 1, i});
  }
  round.prism(outline, cap, 1);
  ConvexPartsOptions options;
  options.most_corners = 16;
  for (const Hull& part : convexParts(round.positions, round.corners, options)) {
    EXPECT_LE(part.corners.size(), 16U);
    EXPECT_GT(part.beyond, 0);
  }
  const std::vector<glm::vec3> flat = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 1, 0}};
  const std::vector<uint32_t> corners = {0, 1, 2, 2, 1, 3};
  EXPECT_TRUE(convexParts(flat, corners).empty());
  EXPECT_TRUE(convexParts({}, {}).empty());
  std::vector<glm::vec3> broken = round.positions;
  broken[3].x = std::numeric_limits<float>::quiet_NaN();
  std::vector<uint32_t> odd = round.corners;
  odd.push_back(100'000);
  odd.push_back(0);
  odd.push_back(1);
  EXPECT_FALSE(convexParts(broken, odd).empty());
}

TEST(ConvexParts, EndsWhenItIsAskedTo) {
  const Solid solid = angle();
  ConvexPartsOptions options;
  options.stop = [] { return true; };
  EXPECT_EQ(convexParts(solid.positions, solid.corners, options).size(), 1U);
}

}  // namespace
}  // namespace rakugo::geometry
