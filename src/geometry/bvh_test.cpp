#include "geometry/bvh.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>
#include <set>

#include "geometry/crossings.h"
#include "geometry/ray.h"

namespace rakugo::geometry {
namespace {

using Pair = std::pair<uint32_t, uint32_t>;

std::vector<Bounds> boxes(size_t count, float size, unsigned seed) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> place(-1, 1), wide(0, size);
  std::vector<Bounds> out(count);
  for (size_t i = 0; i < count; ++i) {
    if (i % 17 == 3) continue;  // some are empty
    const glm::vec3 at(place(random), place(random), place(random));
    out[i].add(at);
    out[i].add(at + glm::vec3(wide(random), wide(random), i % 5 == 0 ? 0 : wide(random)));
  }
  return out;
}

bool meet(const Bounds& a, const Bounds& b) {
  return !a.empty() && !b.empty() && glm::all(glm::lessThanEqual(a.min, b.max)) &&
         glm::all(glm::lessThanEqual(b.min, a.max));
}

TEST(Bvh, NamesEachPairThatMeetsOnce) {
  for (const size_t count : {0, 1, 2, 7, 8, 9, 15, 16, 17, 100, 1000, 9000}) {
    const auto list = boxes(count, count > 1000 ? 0.05F : 0.3F, static_cast<unsigned>(count));
    std::set<Pair> wanted;
    for (uint32_t i = 0; i < count; ++i)
      for (uint32_t k = i + 1; k < count; ++k)
        if (meet(list[i], list[k])) wanted.emplace(i, k);
    const Bvh tree(list);
    std::set<Pair> found;
    // In blocks of odd sizes, as threads take them.
    for (size_t begin = 0; begin < tree.items(); begin += 13)
      tree.pairs(begin, std::min(tree.items(), begin + 13), [&](uint32_t one, uint32_t other) {
        EXPECT_TRUE(found.insert(std::minmax(one, other)).second) << one << " and " << other << " twice";
        return true;
      });
    EXPECT_EQ(found, wanted) << count;
  }
}

TEST(Bvh, HearsNoMoreOfOneThatHasEnough) {
  const std::vector<Bounds> piled(500, boxes(1, 1, 1).front());
  const Bvh tree(piled);
  std::vector<int> heard(piled.size(), 0);
  tree.pairs(0, tree.items(), [&](uint32_t one, uint32_t) { return ++heard[one] < 3; });
  for (const int count : heard) EXPECT_LE(count, 3);
  EXPECT_EQ(std::count(heard.begin(), heard.end(), 3), 497);
}

TEST(Bvh, FindsWhatMeetsABoxAndWhatIsNearest) {
  const auto list = boxes(2000, 0.1F, 5);
  const Bvh tree(list);
  std::mt19937 random(6);
  std::uniform_real_distribution<float> place(-1.2F, 1.2F);
  for (int round = 0; round < 50; ++round) {
    const glm::vec3 at(place(random), place(random), place(random));
    Bounds asked;
    asked.add(at);
    asked.add(at + glm::vec3(0.2F));
    std::set<uint32_t> wanted, found;
    float nearest = 1e9F;
    for (uint32_t i = 0; i < list.size(); ++i) {
      if (meet(list[i], asked)) wanted.insert(i);
      if (!list[i].empty()) nearest = std::min(nearest, glm::distance(list[i].center(), at));
    }
    tree.within(asked, [&](uint32_t i) { return found.insert(i), true; });
    EXPECT_EQ(found, wanted);
    float measured = 1e9F;
    tree.nearest(at, 1e9F, [&](uint32_t i) {
      measured = std::min(measured, glm::distance(list[i].center(), at));
      return measured * measured;
    });
    EXPECT_FLOAT_EQ(measured, nearest);
  }
}

// Every crossing pair of a heap of random triangles, by trying all of them.
TEST(Crossings, AreThoseThatTryingAllPairsFinds) {
  std::mt19937 random(7);
  std::uniform_real_distribution<float> place(-1, 1), near(-0.15F, 0.15F);
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> corners;
  for (uint32_t t = 0; t < 600; ++t) {
    const glm::vec3 at(place(random), place(random), place(random));
    for (uint32_t k = 0; k < 3; ++k) {
      positions.push_back(at + glm::vec3(near(random), near(random), t % 7 == 0 ? 0 : near(random)));
      corners.push_back(t * 3 + k);
    }
  }
  std::vector<Pair> wanted;
  for (uint32_t a = 0; a < 600; ++a)
    for (uint32_t b = a + 1; b < 600; ++b)
      if (trianglesCross({positions[a * 3], positions[a * 3 + 1], positions[a * 3 + 2]},
                         {positions[b * 3], positions[b * 3 + 1], positions[b * 3 + 2]}))
        wanted.emplace_back(a, b);
  EXPECT_GT(wanted.size(), 20u);
  EXPECT_EQ(crossingTriangles(positions, corners), wanted);
}

TEST(OverlappingUvs, AreFoundWhereAllCrowdInOnePlaceToo) {
  // A thousand squares on one spot of the picture, and a row of them side by side that only touch.
  std::vector<glm::vec2> uvs;
  std::vector<uint32_t> indices;
  const auto square = [&](glm::vec2 at, float size) {
    const auto first = static_cast<uint32_t>(uvs.size());
    for (const glm::vec2 c : {glm::vec2(0, 0), glm::vec2(1, 0), glm::vec2(1, 1), glm::vec2(0, 1)})
      uvs.push_back(at + c * size);
    for (const uint32_t i : {0U, 1U, 2U, 0U, 2U, 3U}) indices.push_back(first + i);
  };
  for (int i = 0; i < 1000; ++i) square({0.1F, 0.1F}, 0.05F);
  for (int i = 0; i < 64; ++i) square({static_cast<float>(i) / 64, 0.5F}, 1.0F / 64);
  // One of the row lies under another one, wound the other way.
  uvs.insert(uvs.end(), {{0.25F, 0.5F}, {0.25F, 0.505F}, {0.255F, 0.5F}});
  for (uint32_t k = 3; k-- > 0;) indices.push_back(static_cast<uint32_t>(uvs.size()) - 1 - k);
  const auto covered = overlappingUvs(uvs, indices);
  ASSERT_EQ(covered.size(), 2000u + 3u);
  for (uint32_t t = 0; t < 2000; ++t) ASSERT_EQ(covered[t], t);
  EXPECT_EQ(covered[2000], 2000u + 16 * 2) << "both halves of the square that it lies on";
  EXPECT_EQ(covered[2001], 2000u + 16 * 2 + 1);
  EXPECT_EQ(covered[2002], 2000u + 64 * 2);
}

TEST(RayMeets, ATriangleInFrontFromEitherSideWithItsShares) {
  const glm::vec3 a(0, 0, 0), b(2, 0, 0), c(0, 2, 0);
  const auto above = rayMeets({0.5F, 0.25F, 3}, {0, 0, -1}, a, b, c);
  ASSERT_TRUE(above);
  EXPECT_DOUBLE_EQ(above->distance, 3);
  EXPECT_DOUBLE_EQ(above->u, 0.25);
  EXPECT_DOUBLE_EQ(above->v, 0.125);
  EXPECT_TRUE(rayMeets({0.5F, 0.25F, -3}, {0, 0, 1}, a, b, c)) << "from behind";
  EXPECT_DOUBLE_EQ(rayMeets({0.5F, 0.25F, 3}, {0, 0, -2}, a, b, c)->distance, 1.5)
      << "in lengths of the direction";
  EXPECT_TRUE(rayMeets({1, 0, 3}, {0, 0, -1}, a, b, c)) << "an edge counts";
  EXPECT_FALSE(rayMeets({0.5F, 0.25F, -3}, {0, 0, -1}, a, b, c)) << "it lies behind";
  EXPECT_FALSE(rayMeets({1.5F, 1.5F, 3}, {0, 0, -1}, a, b, c)) << "beside it";
  EXPECT_FALSE(rayMeets({-1, 0.5F, 0}, {1, 0, 0}, a, b, c)) << "in its plane";
  EXPECT_FALSE(rayMeets({0, 0, 3}, {0, 0, -1}, a, a, c)) << "no surface";
  EXPECT_FALSE(rayMeets({0.5F, 0.25F, 3}, {0, 0, -1}, {NAN, 0, 0}, b, c));
}

TEST(NearestHit, IsWhatLookingAtAllFinds) {
  std::mt19937 random(11);
  std::uniform_real_distribution<float> in(-1, 1);
  const auto point = [&](float scale) { return glm::vec3(in(random), in(random), in(random)) * scale; };
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> indices;
  for (uint32_t t = 0; t < 900; ++t) {
    const glm::vec3 middle = point(5);
    for (uint32_t k = 0; k < 3; ++k) {
      indices.push_back(static_cast<uint32_t>(positions.size()));
      positions.push_back(middle + point(0.8F));
    }
  }
  positions[30].x = NAN;  // its triangle is in no leaf
  const Bvh tree(triangleBoxes(positions, indices));
  size_t met = 0;
  for (int round = 0; round < 2000; ++round) {
    const glm::vec3 origin = point(9), direction = point(1) + glm::vec3(0, 0, round % 7 == 0 ? 0 : 1e-3F);
    double nearest = 40;
    std::optional<uint32_t> wanted;
    for (uint32_t t = 0; t < indices.size() / 3; ++t) {
      const auto hit =
          rayMeets(origin, direction, positions[t * 3], positions[t * 3 + 1], positions[t * 3 + 2]);
      if (hit && hit->distance < nearest) nearest = hit->distance, wanted = t;
    }
    const auto found = nearestHit(tree, positions, indices, origin, direction, 40);
    ASSERT_EQ(found.has_value(), wanted.has_value()) << round;
    if (!found) continue;
    ++met;
    EXPECT_EQ(found->triangle, *wanted) << round;
    EXPECT_DOUBLE_EQ(found->distance, nearest) << round;
    EXPECT_FALSE(nearestHit(tree, positions, indices, origin, direction, nearest)) << "none is nearer";
  }
  EXPECT_GT(met, 200U);
}

TEST(Bvh, SaysWhereARayEntersItsBox) {
  const std::vector<glm::vec3> places = {{1, -1, -1}, {3, 1, -1}, {2, 0, 1}};
  const Bvh tree(triangleBoxes(places, std::vector<uint32_t>{0, 1, 2}));
  EXPECT_FLOAT_EQ(tree.entersAt({-4, 0, 0}, {1, 0, 0}), 5);
  EXPECT_FLOAT_EQ(tree.entersAt({-4, 0, 0}, {2, 0, 0}), 2.5F) << "in lengths of the direction";
  EXPECT_FLOAT_EQ(tree.entersAt({2, 0, 0}, {0, 0, 1}), 0) << "from inside";
  EXPECT_TRUE(std::isinf(tree.entersAt({-4, 0, 0}, {-1, 0, 0})));
  EXPECT_TRUE(std::isinf(tree.entersAt({-4, 5, 0}, {1, 0, 0})));
  EXPECT_TRUE(std::isinf(Bvh().entersAt({0, 0, 0}, {1, 0, 0})));
}

}  // namespace
}  // namespace rakugo::geometry
