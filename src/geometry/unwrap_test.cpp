#include "geometry/unwrap.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <random>

#include "geometry/crossings.h"

namespace rakugo::geometry {
namespace {

struct Sheet {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> corners;
};

// A grid over (u, v), wrapped or not; `at` gives the place.
template <class At>
Sheet gridOf(uint32_t across, uint32_t up, bool wrap_u, bool wrap_v, At at) {
  Sheet out;
  const uint32_t columns = wrap_u ? across : across + 1, rows = wrap_v ? up : up + 1;
  for (uint32_t y = 0; y < rows; ++y)
    for (uint32_t x = 0; x < columns; ++x)
      out.positions.push_back(at(static_cast<float>(x) / static_cast<float>(across),
                                 static_cast<float>(y) / static_cast<float>(up)));
  for (uint32_t y = 0; y < up; ++y)
    for (uint32_t x = 0; x < across; ++x) {
      const auto id = [&](uint32_t i, uint32_t k) { return (k % rows) * columns + i % columns; };
      const uint32_t a = id(x, y), b = id(x + 1, y), c = id(x + 1, y + 1), d = id(x, y + 1);
      out.corners.insert(out.corners.end(), {a, b, c, a, c, d});
    }
  return out;
}

constexpr float kTwoPi = 6.2831853F;
Sheet torus(uint32_t n) {
  return gridOf(n, n / 2, true, true, [](float u, float v) {
    const float r = 1 + 0.4F * std::cos(v * kTwoPi);
    return glm::vec3(r * std::cos(u * kTwoPi), r * std::sin(u * kTwoPi), 0.4F * std::sin(v * kTwoPi));
  });
}
Sheet sphere(uint32_t n) {
  return gridOf(n, n / 2, true, false, [](float u, float v) {
    const float polar = 0.02F + v * (kTwoPi / 2 - 0.04F);
    return glm::vec3(std::sin(polar) * std::cos(u * kTwoPi), std::sin(polar) * std::sin(u * kTwoPi),
                     std::cos(polar));
  });
}
Sheet sheet(uint32_t n, float bend) {
  return gridOf(n, n, false, false, [bend](float u, float v) {
    return glm::vec3(u * 3, v, bend * std::sin(u * 9) * std::cos(v * 4));
  });
}
Sheet tube(uint32_t n) {
  return gridOf(n, n, true, false, [](float u, float v) {
    return glm::vec3(0.3F * std::cos(u * kTwoPi), 0.3F * std::sin(u * kTwoPi), v * 4);
  });
}
Sheet box() {
  Sheet out;
  for (uint32_t i = 0; i < 8; ++i) out.positions.emplace_back(i & 1, (i >> 1) & 1, (i >> 2) & 1);
  out.corners = {0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4,
                 2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5};
  return out;
}

double areaOf(const Sheet& s, size_t t) {
  const glm::dvec3 a(s.positions[s.corners[3 * t]]), b(s.positions[s.corners[3 * t + 1]]),
      c(s.positions[s.corners[3 * t + 2]]);
  return glm::length(glm::cross(b - a, c - a)) / 2;
}

// The promises: nothing overlaps within a chart, nothing is turned over, areas are kept, corners of one place
// in one chart lie together.
Unwrapped checked(const Sheet& s, const UnwrapOptions& options = {}) {
  const Unwrapped u =
      unwrap(s.positions, topologyOf(s.corners, static_cast<uint32_t>(s.positions.size())), options);
  EXPECT_EQ(u.chart.size(), s.corners.size() / 3);
  EXPECT_EQ(u.uv.size(), s.corners.size());
  std::map<uint32_t, std::pair<std::vector<glm::vec2>, std::vector<uint32_t>>> charts;
  std::map<std::pair<uint32_t, uint32_t>, glm::vec2> places;
  std::map<uint32_t, std::pair<double, double>> areas;
  for (size_t t = 0; t < u.chart.size(); ++t) {
    EXPECT_LT(u.chart[t], u.charts);
    auto& [uvs, indices] = charts[u.chart[t]];
    for (size_t k = 0; k < 3; ++k) {
      indices.push_back(static_cast<uint32_t>(uvs.size()));
      uvs.push_back(u.uv[3 * t + k]);
      const auto [at, fresh] = places.emplace(std::pair(u.chart[t], s.corners[3 * t + k]), u.uv[3 * t + k]);
      EXPECT_EQ(at->second, u.uv[3 * t + k]);
    }
    const glm::dvec2 a(u.uv[3 * t]), b(u.uv[3 * t + 1]), c(u.uv[3 * t + 2]);
    const double flat = ((b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x)) / 2;
    EXPECT_TRUE(areaOf(s, t) <= 1e-9 || flat > 0) << "triangle " << t;
    areas[u.chart[t]].first += flat;
    areas[u.chart[t]].second += areaOf(s, t);
  }
  for (const auto& [chart, lists] : charts)
    EXPECT_TRUE(overlappingUvs(lists.first, lists.second).empty()) << "chart " << chart;
  for (const auto& [chart, pair] : areas)
    EXPECT_NEAR(pair.first, pair.second, 1e-3 * std::max(pair.second, 1e-3)) << "chart " << chart;
  EXPECT_LE(u.stretch_95, options.most_stretch + 1e-9);
  return u;
}

TEST(Unwrap, APlaneIsOneChartAsItIs) {
  const Unwrapped u = checked(sheet(12, 0));
  EXPECT_EQ(u.charts, 1U);
  EXPECT_NEAR(u.stretch_95, 1, 1e-3);
  // Its box is the plane's own, 3 by 1, either way.
  glm::vec2 most(0);
  for (const glm::vec2 uv : u.uv) most = glm::max(most, uv);
  EXPECT_NEAR(std::max(most.x, most.y), 3, 1e-2);
  EXPECT_NEAR(std::min(most.x, most.y), 1, 1e-2);
}

TEST(Unwrap, ABoxIsSixSquares) {
  const Unwrapped u = checked(box());
  EXPECT_EQ(u.charts, 6U);
  for (const glm::vec2 uv : u.uv) {
    EXPECT_NEAR(uv.x, std::round(uv.x), 1e-3);
    EXPECT_NEAR(uv.y, std::round(uv.y), 1e-3);
  }
}

TEST(Unwrap, ClosedShellsTorusSheetsAndTubesDoNotOverlap) {
  checked(sphere(32));
  checked(torus(36));
  checked(sheet(30, 0.3F));
  checked(tube(24));
}

TEST(Unwrap, RandomSurfacesKeepThePromises) {
  for (unsigned seed = 1; seed <= 8; ++seed) {
    std::mt19937 random(seed);
    Sheet s = seed % 2 == 0 ? sphere(16) : sheet(12, 0.2F);
    for (glm::vec3& p : s.positions)
      p += glm::vec3(random() % 100, random() % 100, random() % 100) * (0.0006F * static_cast<float>(seed));
    checked(s);
  }
}

TEST(Unwrap, IsTheSameEachTime) {
  const Sheet s = torus(24);
  const Topology t = topologyOf(s.corners, static_cast<uint32_t>(s.positions.size()));
  EXPECT_EQ(unwrap(s.positions, t).uv, unwrap(s.positions, t).uv);
}

TEST(Unwrap, TakesTrianglesWithoutAreaAndNothingAtAll) {
  Sheet s = box();
  s.positions.emplace_back(0.5F, 0, 0);  // on an edge
  s.corners.insert(s.corners.end(), {0, 1, 8, 8, 8, 8});
  const Unwrapped u = unwrap(s.positions, topologyOf(s.corners, 9));
  EXPECT_EQ(u.chart.size(), 14U);
  for (const glm::vec2 uv : u.uv) EXPECT_TRUE(std::isfinite(uv.x) && std::isfinite(uv.y));
  EXPECT_EQ(unwrap({}, topologyOf({}, 0)).charts, 0U);
  base::Progress progress;
  progress.cancel();
  EXPECT_EQ(unwrap(s.positions, topologyOf(s.corners, 9), {}, &progress).uv.size(), s.corners.size());
}

}  // namespace
}  // namespace rakugo::geometry
