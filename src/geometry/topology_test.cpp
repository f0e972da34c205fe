#include "geometry/topology.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <map>
#include <random>
#include <set>

#include "geometry/shells.h"

namespace rakugo::geometry {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

// Random triangles over few places: every kind of edge and fan comes up.
std::vector<uint32_t> randomTriangles(size_t count, uint32_t places, unsigned seed) {
  std::mt19937 random(seed);
  std::vector<uint32_t> out(count * 3);
  for (uint32_t& c : out) c = random() % places;
  return out;
}

TEST(Topology, IsWhatAMapOfEdgesSays) {
  for (const auto& [count, places] : std::initializer_list<std::pair<size_t, uint32_t>>{
           {0, 1}, {1, 3}, {40, 8}, {300, 60}, {2000, 7}, {3000, 900}}) {
    const auto corners = randomTriangles(count, places, static_cast<unsigned>(count));
    const Topology t = topologyOf(corners, places);
    std::map<std::pair<uint32_t, uint32_t>, std::vector<uint32_t>> wanted;
    for (uint32_t side = 0; side < corners.size(); ++side) {
      const uint32_t first = side / 3 * 3;
      const std::set<uint32_t> own(corners.begin() + first, corners.begin() + first + 3);
      if (own.size() < 3) {
        EXPECT_TRUE(t.collapsed(side / 3));
        EXPECT_EQ(t.twin[side], Topology::kCollapsed);
        continue;
      }
      wanted[std::minmax(t.from(side), t.to(side))].push_back(side);
    }
    EXPECT_EQ(t.edges, wanted.size());
    bool alike = true;
    size_t e = 0;
    for (const auto& [ends, sides] : wanted) {
      for (size_t i = 0; i < sides.size(); ++i)
        EXPECT_EQ(t.twin[sides[i]], sides.size() == 2   ? sides[1 - i]
                                    : sides.size() == 1 ? Topology::kBorder
                                                        : Topology::kNonManifold);
      if (sides.size() == 2) {
        alike = alike && t.from(sides[0]) == t.to(sides[1]);
        continue;
      }
      ASSERT_LT(e, t.irregular.size());
      const IrregularEdge& edge = t.irregular[e++];
      EXPECT_EQ(std::pair(edge.a, edge.b), ends) << "edges go by their places";
      EXPECT_EQ(std::vector(t.irregular_half_edges.begin() + edge.first,
                            t.irregular_half_edges.begin() + edge.first + edge.count),
                sides);
    }
    EXPECT_EQ(t.irregular.size(), e);
    EXPECT_EQ(t.wound_alike, alike);
    EXPECT_EQ(t.closed(), e == 0 && t.edges > 0);
  }
}

TEST(Topology, IsTheSameInManyPieces) {
  // Enough for several cores; the reference sorts all sides by their edge.
  constexpr uint32_t kTriangles = 600'000, kPlaces = 150'000;
  // Each among some places that lie together, so that edges of every kind come up.
  auto corners = randomTriangles(kTriangles, 9, 21);
  std::mt19937 random(4);
  for (size_t c = 0; c < corners.size(); c += 3) {
    const uint32_t by = random() % (kPlaces - 9);
    for (size_t k = 0; k < 3; ++k) corners[c + k] += by;
  }
  const Topology t = topologyOf(corners, kPlaces);
  std::vector<std::array<uint32_t, 3>> sides;
  for (uint32_t s = 0; s < corners.size(); ++s) {
    const uint32_t a = t.from(s), b = t.to(s);
    if (!t.collapsed(s / 3)) sides.push_back({std::min(a, b), std::max(a, b), s});
  }
  std::sort(sides.begin(), sides.end());
  size_t edges = 0, odd = 0;
  for (size_t i = 0, end = 0; i < sides.size(); i = end, ++edges) {
    for (end = i + 1; end < sides.size() && sides[end][0] == sides[i][0] && sides[end][1] == sides[i][1];)
      ++end;
    if (end - i == 2) {
      ASSERT_EQ(t.twin[sides[i][2]], sides[i + 1][2]);
      ASSERT_EQ(t.twin[sides[i + 1][2]], sides[i][2]);
      continue;
    }
    ASSERT_LT(odd, t.irregular.size());
    const IrregularEdge& edge = t.irregular[odd++];
    ASSERT_EQ((std::array{edge.a, edge.b, edge.count}),
              (std::array{sides[i][0], sides[i][1], static_cast<uint32_t>(end - i)}));
    for (size_t k = i; k < end; ++k) ASSERT_EQ(t.irregular_half_edges[edge.first + k - i], sides[k][2]);
  }
  EXPECT_EQ(t.irregular.size(), odd);
  EXPECT_EQ(t.edges, edges);
}

TEST(Topology, DuplicatesAreThoseWithTheSamePlaces) {
  EXPECT_THAT(duplicateTriangles(topologyOf({0, 1, 2, 2, 1, 0, 0, 1, 3, 1, 2, 0, 0, 0, 1, 0, 0, 1}, 4)),
              ElementsAre(1, 3));
  const auto corners = randomTriangles(2000, 12, 3);
  std::set<std::set<uint32_t>> seen;
  std::vector<uint32_t> wanted;
  for (uint32_t t = 0; t < 2000; ++t) {
    const std::set<uint32_t> own(corners.begin() + t * 3, corners.begin() + t * 3 + 3);
    if (own.size() == 3 && !seen.insert(own).second) wanted.push_back(t);
  }
  EXPECT_EQ(duplicateTriangles(topologyOf(corners, 12)), wanted);
}

TEST(Topology, TwoFansAtAPlaceAreToldFromOne) {
  // A fan round 0, whole; two closed ones that touch in it; an open one; one of single triangles.
  const std::vector<uint32_t> whole = {0, 1, 2, 0, 2, 3, 0, 3, 1};
  EXPECT_THAT(nonManifoldPlaces(topologyOf(whole, 4)), IsEmpty());
  std::vector<uint32_t> two = whole;
  two.insert(two.end(), {0, 4, 5, 0, 5, 6, 0, 6, 4});
  EXPECT_THAT(nonManifoldPlaces(topologyOf(two, 7)), ElementsAre(0));
  EXPECT_THAT(nonManifoldPlaces(topologyOf({0, 1, 2, 0, 2, 3}, 4)), IsEmpty());
  // Begun in the middle of an open fan, with one triangle wound the other way.
  EXPECT_THAT(nonManifoldPlaces(topologyOf({0, 2, 3, 0, 2, 1, 0, 3, 4}, 5)), IsEmpty());
  EXPECT_THAT(nonManifoldPlaces(topologyOf({0, 1, 2, 0, 3, 4}, 5)), ElementsAre(0));
  EXPECT_THAT(nonManifoldPlaces(topologyOf({0, 1, 2, 0, 3, 4, 5, 1, 2}, 6)), ElementsAre(0));
  // Three triangles at an edge: its ends are another fault.
  EXPECT_THAT(nonManifoldPlaces(topologyOf({0, 1, 2, 1, 0, 3, 0, 1, 4}, 5)), IsEmpty());
}

TEST(Topology, FansAreWhatWalkingFromCornerToCornerFinds) {
  for (unsigned seed = 1; seed < 40; ++seed) {
    const auto corners = randomTriangles(12 + seed, 9 + seed / 2, seed);
    const Topology t = topologyOf(corners, 9 + seed / 2);
    std::vector<uint32_t> wanted;
    for (uint32_t p = 0; p < t.places; ++p) {
      // Corners here, joined by the edges of two that they have in common.
      std::vector<std::set<uint32_t>> fans;
      bool crowded = false;
      for (uint32_t c = 0; c < corners.size(); ++c) {
        if (corners[c] != p || t.collapsed(c / 3)) continue;
        std::set<uint32_t> own;
        for (uint32_t s = c / 3 * 3; s < c / 3 * 3 + 3; ++s)
          if (t.from(s) == p || t.to(s) == p) {
            own.insert(t.hasTwin(s) ? std::min(s, t.twin[s]) : s);  // names an edge of two
            crowded = crowded || t.twin[s] == Topology::kNonManifold;
          }
        std::vector<std::set<uint32_t>> apart;
        for (auto& fan : fans)
          if (std::any_of(fan.begin(), fan.end(), [&](uint32_t e) { return own.contains(e); }))
            own.insert(fan.begin(), fan.end());
          else
            apart.push_back(fan);
        apart.push_back(own);
        fans = std::move(apart);
      }
      if (fans.size() > 1 && !crowded) wanted.push_back(p);
    }
    EXPECT_EQ(nonManifoldPlaces(t), wanted) << seed;
  }
}

TEST(Topology, ShellsMeetAtEdgesOfThreeAndTheMajorityTellsTheWinding) {
  // A strip of four, of which one is turned; a fifth on an edge of two of them; a sixth by itself.
  const Topology t = topologyOf({0, 1, 2, 2, 1, 3, 2, 4, 3, 4, 3, 5, 1, 2, 6, 7, 8, 9}, 10);
  const Shells shells = shellsOf(t);
  EXPECT_EQ(shells.count, 2u);
  EXPECT_THAT(shells.of, ElementsAre(0, 0, 0, 0, 0, 1));
  EXPECT_EQ(shells.flipped[5], false);
  // Parted by the edge of three: {0}, {1, 2, 3} and {4} are walked by themselves.
  EXPECT_EQ(shells.flipped[1], shells.flipped[3]);
  EXPECT_NE(shells.flipped[1], shells.flipped[2]);
}

TEST(ShellFacts, AreOfEachShellHoweverManyThereAre) {
  // Corners of unit cubes cut off, each twice as large as the one before modulo 4; every third lacks a face,
  // every fifth is wound inward.
  for (const uint32_t count : {1U, 7U, 20'000U}) {
    std::vector<glm::vec3> places;
    std::vector<uint32_t> corners;
    for (uint32_t i = 0; i < count; ++i) {
      const auto o = static_cast<uint32_t>(places.size());
      const float size = static_cast<float>(1U << (i % 4));
      const glm::vec3 at(20.0F * static_cast<float>(i), 0, 0);
      for (const glm::vec3 c : {glm::vec3(0), {size, 0, 0}, {0, size, 0}, {0, 0, size}})
        places.push_back(at + c);
      std::vector<std::array<uint32_t, 3>> faces = {{1, 2, 3}, {0, 2, 1}, {0, 3, 2}, {0, 1, 3}};
      if (i % 3 == 2) faces.pop_back();
      for (auto f : faces) {
        if (i % 5 == 4) std::swap(f[1], f[2]);
        for (const uint32_t c : f) corners.push_back(o + c);
      }
    }
    const Topology t = topologyOf(corners, static_cast<uint32_t>(places.size()));
    const auto facts = shellFacts(places, t, shellsOf(t));
    ASSERT_EQ(facts.size(), count);
    for (uint32_t i = 0; i < count; ++i) {
      const double size = 1U << (i % 4), volume = size * size * size / 6;
      EXPECT_EQ(facts[i].triangles, i % 3 == 2 ? 3U : 4U);
      EXPECT_EQ(facts[i].closed, i % 3 != 2) << i;
      EXPECT_NEAR(facts[i].volume, i % 3 == 2 ? 0 : i % 5 == 4 ? -volume : volume, 1e-9) << i;
      EXPECT_EQ(facts[i].inside_out, i % 3 != 2 && i % 5 == 4) << i;
      EXPECT_EQ(facts[i].box.size(), glm::vec3(static_cast<float>(size)));
    }
  }
}

}  // namespace
}  // namespace rakugo::geometry
