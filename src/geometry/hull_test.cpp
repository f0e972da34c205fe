// Convex hulls against their definition: every point inside, closed, convex; and shapes known on paper.
#include "geometry/hull.h"

#include <gtest/gtest.h>

#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <limits>
#include <map>
#include <random>

#include "geometry/fitted_shapes.h"
#include "geometry/mass.h"

namespace rakugo::geometry {
namespace {

// How far a point lies outside of the hull; and whether the hull is closed, convex and seen from outside.
double farthestOutside(const Hull& hull, std::span<const glm::vec3> points) {
  double out = 0;
  for (size_t t = 0; t + 2 < hull.triangles.size(); t += 3) {
    const glm::dvec3 a(hull.corners[hull.triangles[t]]), b(hull.corners[hull.triangles[t + 1]]),
        c(hull.corners[hull.triangles[t + 2]]);
    const glm::dvec3 n = glm::normalize(glm::cross(b - a, c - a));
    for (const glm::vec3& p : points) out = std::max(out, glm::dot(n, glm::dvec3(p) - a));
  }
  return out;
}

void expectClosed(const Hull& hull) {
  std::map<std::pair<uint32_t, uint32_t>, int> edges;
  for (size_t t = 0; t + 2 < hull.triangles.size(); t += 3)
    for (size_t i = 0; i < 3; ++i) ++edges[{hull.triangles[t + i], hull.triangles[t + (i + 1) % 3]}];
  for (const auto& [edge, count] : edges) {
    EXPECT_EQ(count, 1);
    EXPECT_EQ((edges.count({edge.second, edge.first})), 1U) << "each edge goes both ways";
  }
  // Euler: V - E + F = 2.
  EXPECT_EQ(static_cast<int64_t>(hull.corners.size()) - static_cast<int64_t>(edges.size() / 2) +
                static_cast<int64_t>(hull.triangles.size() / 3),
            2);
}

std::vector<glm::vec3> randomPoints(size_t count, unsigned seed, bool in_ball) {
  std::mt19937 random(seed);
  std::normal_distribution<float> any;
  std::uniform_real_distribution<float> share(0, 1);
  std::vector<glm::vec3> out;
  for (size_t i = 0; i < count; ++i) {
    const glm::vec3 p = glm::normalize(glm::vec3(any(random), any(random), any(random)));
    out.push_back(in_ball ? p * std::cbrt(share(random)) : p);
  }
  return out;
}

std::vector<glm::vec3> box(glm::vec3 half, const glm::mat3& turn = glm::mat3(1), glm::vec3 at = {}) {
  std::vector<glm::vec3> out;
  for (int i = 0; i < 8; ++i)
    out.push_back(at + turn * glm::vec3((i & 1) != 0 ? half.x : -half.x, (i & 2) != 0 ? half.y : -half.y,
                                        (i & 4) != 0 ? half.z : -half.z));
  return out;
}

TEST(ConvexHull, HoldsEveryPointIsClosedAndConvex) {
  for (unsigned seed = 0; seed < 60; ++seed) {
    const std::vector<glm::vec3> points = randomPoints(4 + seed * 17, seed, seed % 2 == 0);
    const Hull hull = convexHull(points);
    ASSERT_FALSE(hull.empty()) << seed;
    expectClosed(hull);
    EXPECT_LT(farthestOutside(hull, points), 4e-6) << seed;
    EXPECT_LT(farthestOutside(hull, hull.corners), 4e-6) << "convex";
    EXPECT_GT(massOf(hull.corners, hull.triangles).volume, 0) << "wound outward";
  }
}

TEST(ConvexHull, OfAGridOnABoxHasEightCorners) {
  std::vector<glm::vec3> points;
  for (int x = 0; x <= 10; ++x)
    for (int y = 0; y <= 10; ++y)
      for (int z = 0; z <= 10; ++z) points.emplace_back(x, y * 2, z * 3);
  const Hull hull = convexHull(points);
  EXPECT_EQ(hull.corners.size(), 8U);
  EXPECT_EQ(hull.triangles.size(), 36U);
  EXPECT_NEAR(massOf(hull.corners, hull.triangles).volume, 10 * 20 * 30, 1e-9);
  // Turned, corners lie off their planes by rounding; they are no corners for that.
  const glm::mat3 turn(glm::rotate(glm::mat4(1), 0.7F, glm::normalize(glm::vec3(1, 2, 3))));
  for (glm::vec3& p : points) p = turn * p;
  const Hull turned = convexHull(points);
  expectClosed(turned);
  EXPECT_LE(turned.corners.size(), 40U);
  EXPECT_NEAR(massOf(turned.corners, turned.triangles).volume, 6000, 0.2);
}

TEST(ConvexHull, WithFewCornersIsInsideTheWholeAndSaysByHowMuch) {
  const std::vector<glm::vec3> points = randomPoints(3000, 4, false);
  double before = 1e9;
  for (const size_t most : {4U, 8U, 16U, 64U, 256U}) {
    HullOptions options;
    options.most_corners = most;
    const Hull hull = convexHull(points, options);
    expectClosed(hull);
    EXPECT_LE(hull.corners.size(), most);
    EXPECT_NEAR(hull.beyond, farthestOutside(hull, points), 1e-5);
    EXPECT_LT(hull.beyond, before) << "closer with more corners";
    before = hull.beyond;
  }
  EXPECT_LT(before, 0.03);
}

TEST(ConvexHull, OfFlatFewOrNoPointsIsEmptyAndOddOnesAreLeftOut) {
  EXPECT_TRUE(convexHull({}).empty());
  const std::vector<glm::vec3> flat = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 1, 0}, {0.5F, 0.5F, 0}};
  EXPECT_TRUE(convexHull(flat).empty());
  EXPECT_TRUE(convexHull(std::vector<glm::vec3>(50, glm::vec3(3, 3, 3))).empty());
  std::vector<glm::vec3> odd = box(glm::vec3(1));
  odd.insert(odd.begin(), glm::vec3(std::numeric_limits<float>::quiet_NaN()));
  odd.emplace_back(std::numeric_limits<float>::infinity(), 0, 0);
  EXPECT_EQ(convexHull(odd).corners.size(), 8U);
}

TEST(ConvexOutline, TurnsLeftAndHasNoCornerOnAnEdge) {
  const auto ring = convexOutline({{0, 0}, {1, 0}, {2, 0}, {2, 2}, {1, 1}, {0, 2}, {1, 2}});
  EXPECT_EQ(ring.size(), 4U);
}

TEST(Mass, IsThatOfShapesKnownOnPaper) {
  // A box a x b x c: inertia about its centre m (b^2 + c^2) / 12.
  const glm::vec3 half(1, 0.75F, 0.25F), at(5, -3, 2);
  const Hull of_box = convexHull(box(half, glm::mat3(1), at));
  const MassProperties mass = massOf(of_box.corners, of_box.triangles);
  const double a = 2, b = 1.5, c = 0.5, m = a * b * c;
  EXPECT_NEAR(mass.volume / m, 1, 1e-12);
  EXPECT_LT(glm::distance(mass.center, glm::dvec3(at)), 1e-12);
  EXPECT_NEAR(mass.inertia[0][0] / (m * (b * b + c * c) / 12), 1, 1e-10);
  EXPECT_NEAR(mass.inertia[1][1] / (m * (a * a + c * c) / 12), 1, 1e-10);
  EXPECT_NEAR(mass.inertia[2][2] / (m * (a * a + b * b) / 12), 1, 1e-10);
  EXPECT_NEAR(mass.inertia[0][1], 0, 1e-12);
  // A tetrahedron with corners on the axes: volume 1/6, centre a quarter along each.
  const std::vector<glm::vec3> corners = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  const std::vector<uint32_t> sides = {0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3};
  const MassProperties of_corner = massOf(corners, sides);
  EXPECT_NEAR(of_corner.volume, 1.0 / 6, 1e-15);
  EXPECT_LT(glm::distance(of_corner.center, glm::dvec3(0.25)), 1e-15);
  // About its centre: products of inertia 1/120 - V/16, moments 2/60 - V/8 (V = 1/6).
  EXPECT_NEAR(of_corner.inertia[0][0], 1.0 / 30 - 1.0 / 48, 1e-15);
  EXPECT_NEAR(of_corner.inertia[0][1], -(1.0 / 120 - 1.0 / 96), 1e-15);
  EXPECT_LT(massOf(corners, std::vector<uint32_t>{0, 1, 2, 0, 3, 1, 0, 2, 3, 1, 3, 2}).volume, 0) << "inward";
}

TEST(Mass, OfAFineBallIsThatOfABall) {
  const Hull ball = convexHull(randomPoints(200'000, 1, false), {1e-9, 0});
  const MassProperties mass = massOf(ball.corners, ball.triangles);
  EXPECT_NEAR(mass.volume / (4.0 / 3 * 3.14159265358979), 1, 1e-4);
  EXPECT_NEAR(mass.inertia[1][1] / (0.4 * mass.volume), 1, 2e-4);
}

TEST(PrincipalAxes, OfATurnedBoxAreItsOwn) {
  const glm::mat3 turn(glm::rotate(glm::mat4(1), 1.1F, glm::normalize(glm::vec3(3, -1, 2))));
  const Hull hull = convexHull(box({1, 0.5F, 0.2F}, turn, {7, 7, 7}));
  const MassProperties mass = massOf(hull.corners, hull.triangles);
  const PrincipalAxes principal = principalAxes(mass.inertia);
  EXPECT_LT(principal.moments[0], principal.moments[1]);
  EXPECT_LT(principal.moments[1], principal.moments[2]);
  for (int i = 0; i < 3; ++i) {
    EXPECT_NEAR(std::abs(glm::dot(principal.axes[i], glm::dvec3(turn[i]))), 1, 1e-5) << "longest axis first";
    EXPECT_LT(glm::length(mass.inertia * principal.axes[i] - principal.moments[i] * principal.axes[i]),
              1e-9 * principal.moments[2]);
  }
}

TEST(FittedShapes, HoldWhatTheyAreFittedToAsCloselyAsOneKnows) {
  const glm::mat3 turn(glm::rotate(glm::mat4(1), 0.5F, glm::normalize(glm::vec3(1, -2, 0.5F))));
  const Hull hull = convexHull(box({2, 1, 0.5F}, turn, {1, 2, 3}));
  const FittedBox least = leastBox(hull);
  EXPECT_NEAR(least.volume(), 8, 1e-4) << "turned as the box is";
  EXPECT_LT(glm::distance(least.center, glm::dvec3(1, 2, 3)), 1e-5);
  EXPECT_GT(boxAlongAxes(hull.corners).volume(), 10);
  EXPECT_NEAR(leastBall(hull.corners).radius, std::sqrt(4 + 1 + 0.25), 1e-5);
  // Of a ball's points: all of them as large as the ball.
  const Hull ball = convexHull(randomPoints(2000, 3, false));
  EXPECT_NEAR(leastBall(ball.corners).radius, 1, 5e-3);
  EXPECT_NEAR(leastCapsule(ball).radius, 1, 5e-3);
  EXPECT_NEAR(leastCapsule(ball).height, 0, 1e-2);
  EXPECT_NEAR(leastCylinder(ball).height, 2, 2e-2);
  // Random points: everything lies inside.
  for (unsigned seed = 0; seed < 40; ++seed) {
    std::vector<glm::vec3> points = randomPoints(50, seed, true);
    for (glm::vec3& p : points) p = turn * (p * glm::vec3(3, 1, 0.4F)) + glm::vec3(4, 5, 6);
    const Hull of = convexHull(points);
    const FittedBox b = leastBox(of);
    const FittedBall ball_round = leastBall(of.corners);
    const FittedRound cylinder = leastCylinder(of), capsule = leastCapsule(of);
    EXPECT_LE(b.volume(), boxAlongAxes(of.corners).volume() * (1 + 1e-9));
    EXPECT_NEAR(glm::determinant(b.axes), 1, 1e-9) << "a rotation";
    for (const glm::vec3& v : of.corners) {
      const glm::dvec3 p(v);
      for (int i = 0; i < 3; ++i)
        EXPECT_LE(std::abs(glm::dot(p - b.center, b.axes[i])), b.size[i] / 2 + 1e-5);
      EXPECT_LE(glm::distance(p, ball_round.center), ball_round.radius + 1e-9);
      const auto inside = [&](const FittedRound& round, bool caps) {
        const double h = glm::dot(p - round.center, round.axis);
        const double off = glm::length(p - round.center - round.axis * h);
        const double over = std::max(0.0, std::abs(h) - round.height / 2);
        return caps ? std::hypot(off, over) <= round.radius + 1e-6
                    : off <= round.radius + 1e-6 && over <= 1e-6;
      };
      EXPECT_TRUE(inside(cylinder, false)) << seed;
      EXPECT_TRUE(inside(capsule, true)) << seed;
    }
  }
}

}  // namespace
}  // namespace rakugo::geometry
