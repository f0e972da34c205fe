#include "geometry/welding.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <limits>
#include <random>

#include "geometry/curve_order.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

TEST(WeldEqual, PlacesAreNumberedByTheirFirstVertex) {
  const float nan = std::numeric_limits<float>::quiet_NaN();
  const std::vector<glm::vec3> p = {{1, 0, 0},         {0, 0, 0},   {1, 0, 0},
                                    {-0.0F, 0, -0.0F}, {nan, 0, 0}, {nan, 0, 0}};
  const Welding w = weldEqual(p);
  EXPECT_EQ(w.of, (std::vector<uint32_t>{0, 1, 0, 1, 2, 3}));
  EXPECT_EQ(w.first, (std::vector<uint32_t>{0, 1, 4, 5}));
  EXPECT_EQ(weldEqual({}).places(), 0U);
}

TEST(CurveOrder, PutsTheSameVerticesTogetherAndNeighboursSideBySide) {
  const float nan = std::numeric_limits<float>::quiet_NaN(), endless = std::numeric_limits<float>::infinity();
  for (const float stray : {1.0F, 1e7F, 3e38F}) {
    std::mt19937 random(11);
    std::vector<glm::vec3> p = {{nan, 0, 0}, {0, endless, 0}, {stray, 0, 0}, {-0.0F, 0, 0}, {0, 0, 0}};
    for (int i = 0; i < 5000; ++i) {
      const auto real = [&] { return static_cast<float>(random() % 20'001) / 20'000; };
      p.emplace_back(real(), real(), real());
      if (i % 4 == 0) p.push_back(p[random() % p.size()]);  // twice, often in another corner of the list
    }
    p.insert(p.end(), 300, glm::vec3(0.25F));
    p.emplace_back(nan, 0, 0);
    const Welding plain = weldEqual(p), curve = CurveOrder(p, boundsOf(p)).weld();
    ASSERT_EQ(curve.places(), plain.places()) << stray;
    double apart = 0, apart_plain = 0;
    for (uint32_t place = 0; place < curve.places(); ++place) {
      const uint32_t v = curve.first[place];
      EXPECT_EQ(curve.of[v], place);
      EXPECT_EQ(plain.first[plain.of[v]], v) << "the first vertex of the place";
      if (place == 0 || stray != 1.0F) continue;
      const auto step = [&](const Welding& w) {
        const float far = glm::distance(p[w.first[place]], p[w.first[place - 1]]);
        return far < 10 ? static_cast<double>(far) : 0;
      };
      apart += step(curve);
      apart_plain += step(plain);
    }
    EXPECT_LE(apart, apart_plain / 5);
    for (uint32_t v = 0; v < p.size(); ++v) EXPECT_EQ(plain.first[plain.of[v]], curve.first[curve.of[v]]);
    // What stands nowhere comes last, each by itself.
    const auto nowhere = std::count_if(p.begin(), p.end(), [](const glm::vec3& at) { return !finite(at); });
    for (uint32_t v = 0; v < p.size(); ++v)
      EXPECT_EQ(finite(p[v]), curve.of[v] < curve.places() - static_cast<size_t>(nowhere));
  }
  EXPECT_EQ(CurveOrder({}, {}).weld().places(), 0U);
}

TEST(CurveOrder, NamesAllThatHaveAnotherCloseByAndFewThatHaveNot) {
  const float nan = std::numeric_limits<float>::quiet_NaN();
  for (const float stray : {0.0F, 1e4F, 3e38F})
    for (const float tolerance : {0.0F, 1e-5F, 2e-4F, 0.01F}) {
      std::mt19937 random(5);
      const auto real = [&] { return static_cast<float>(random() % 1'000'001) / 1'000'000; };
      std::vector<glm::vec3> p = {{nan, 0, 0}, {stray, 0, 0}};
      for (int i = 0; i < 2000; ++i) {
        p.emplace_back(real(), real(), i % 2 == 0 ? 0.5F : real());
        // One at the distance or nearer, in whatever direction, many of them over the side of a cell.
        if (i % 5 == 0) p.push_back(p.back() + tolerance * 0.57F * glm::vec3(real(), real(), -real()));
      }
      const std::vector<uint32_t> named = CurveOrder(p, boundsOf(p)).withNeighbour(tolerance);
      EXPECT_TRUE(std::is_sorted(named.begin(), named.end()));
      size_t wanted = 0;
      for (uint32_t v = 0; v < p.size(); ++v) {
        bool has = false;
        for (uint32_t o = 0; o < p.size() && !has; ++o)
          has = o != v && glm::distance(p[o], p[v]) <= tolerance;
        wanted += has ? 1 : 0;
        EXPECT_TRUE(!has || std::binary_search(named.begin(), named.end(), v)) << v;
      }
      if (stray == 0 && tolerance < 1e-3F) {
        EXPECT_LE(named.size(), wanted + wanted / 50);
      }
    }
  EXPECT_TRUE(CurveOrder({}, {}).withNeighbour(1).empty());
}

// The rule as it stands in the header, tried against every place.
std::vector<uint32_t> slowly(const std::vector<glm::vec3>& p, float tolerance) {
  std::vector<uint32_t> out, first;
  for (uint32_t v = 0; v < p.size(); ++v) {
    uint32_t best = UINT32_MAX;
    float nearest = tolerance;
    for (uint32_t k = 0; k < first.size(); ++k)
      if (const float apart = glm::distance(p[first[k]], p[v]);
          apart < nearest || (apart == nearest && k < best))
        nearest = apart, best = k;
    if (best == UINT32_MAX) {
      best = static_cast<uint32_t>(first.size());
      first.push_back(v);
    }
    out.push_back(best);
  }
  return out;
}

TEST(WeldNear, GivesWhatTryingEveryPlaceGives) {
  std::mt19937 random(7);
  for (const float tolerance : {0.001F, 0.05F, 0.4F}) {
    std::vector<glm::vec3> p;
    for (int i = 0; i < 600; ++i) {
      const auto real = [&] { return static_cast<float>(random() % 20'001) / 10'000 - 1; };
      p.emplace_back(real(), real(), real());
      // One close by, now and then just at the distance.
      if (i % 3 == 0) p.push_back(p.back() + glm::vec3(tolerance * (i % 2 == 0 ? 0.5F : 1.0F), 0, 0));
    }
    EXPECT_EQ(weldNear(p, tolerance).of, slowly(p, tolerance)) << tolerance;
  }
}

TEST(WeldNear, FarAwayAndEndlessPositionsStandAlone) {
  const float big = 1e30F, endless = std::numeric_limits<float>::infinity();
  const std::vector<glm::vec3> p = {{big, 0, 0}, {big, 0, 0}, {endless, 0, 0}, {0, 0, 0}, {1e-6F, 0, 0}};
  EXPECT_EQ(weldNear(p, 1e-5F).of, (std::vector<uint32_t>{0, 1, 2, 3, 3}));
}

}  // namespace
}  // namespace rakugo::geometry
