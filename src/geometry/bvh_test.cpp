#include "geometry/bvh.h"

#include <gtest/gtest.h>

#include <random>
#include <set>

#include "geometry/crossings.h"

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

}  // namespace
}  // namespace rakugo::geometry
