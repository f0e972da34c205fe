#include "geometry/welding.h"

#include <gtest/gtest.h>

#include <limits>
#include <random>

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
