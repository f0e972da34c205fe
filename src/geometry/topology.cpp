#include "geometry/topology.h"

#include <algorithm>
#include <numeric>
#include <span>
#include <utility>

#include "base/jobs.h"

namespace rakugo::geometry {
namespace {

// A side of a triangle: of a bucket of sides whose edges have their lower place in common.
struct Side {
  uint32_t high, side;
  bool operator<(const Side& o) const { return high != o.high ? high < o.high : side < o.side; }
};

// Few, mostly, and already in the order of their sides.
void sortBucket(std::span<Side> bucket) {
  if (bucket.size() > 24) return std::sort(bucket.begin(), bucket.end());
  for (size_t i = 1; i < bucket.size(); ++i) {
    const Side one = bucket[i];
    size_t at = i;
    for (; at > 0 && one < bucket[at - 1]; --at) bucket[at] = bucket[at - 1];
    bucket[at] = one;
  }
}

uint32_t nextSide(uint32_t side) { return side % 3 == 2 ? side - 2 : side + 1; }
uint32_t sideBefore(uint32_t side) { return side % 3 == 0 ? side + 2 : side - 1; }

uint32_t find(std::vector<uint32_t>& parent, uint32_t i) {
  while (parent[i] != i) i = parent[i] = parent[parent[i]];
  return i;
}

void unite(std::vector<uint32_t>& parent, uint32_t a, uint32_t b) {
  a = find(parent, a);
  b = find(parent, b);
  if (a != b) parent[std::max(a, b)] = std::min(a, b);
}

}  // namespace

Topology topologyOf(std::vector<uint32_t> corners, uint32_t places) {
  Topology out;
  out.places = places;
  out.corners = std::move(corners);
  const size_t n = out.triangles();
  const auto eachSide = [&](auto&& body) {
    for (uint32_t t = 0; t < n * 3; t += 3) {
      const uint32_t a = out.corners[t], b = out.corners[t + 1], c = out.corners[t + 2];
      if (a == b || b == c || c == a) continue;
      body(t, a, b);
      body(t + 1, b, c);
      body(t + 2, c, a);
    }
  };
  // Buckets by the lower place; each begins where the one before it ends, once it is filled.
  std::vector<uint32_t> ends(size_t{places} + 1, 0);
  eachSide([&](uint32_t, uint32_t a, uint32_t b) { ++ends[std::min(a, b) + 1]; });
  std::partial_sum(ends.begin(), ends.end(), ends.begin());
  std::vector<Side> sides(ends.back());
  eachSide([&](uint32_t side, uint32_t a, uint32_t b) {
    sides[ends[std::min(a, b)]++] = {std::max(a, b), side};
  });
  // Buckets are by themselves: some at a time on all cores, once how many edges come before them is known.
  struct Some {
    uint32_t begin, end;
    size_t edges = 0;
  };
  std::vector<Some> some;
  constexpr uint32_t kSome = 1 << 16;
  for (uint32_t low = 0; low < places; low += kSome) some.push_back({low, std::min(places, low + kSome)});
  const auto beginOf = [&](uint32_t low) { return low == 0 ? 0 : ends[low - 1]; };
  base::parallelFor(some.size(), [&](size_t k) {
    for (uint32_t low = some[k].begin; low < some[k].end; ++low) {
      const size_t begin = beginOf(low);
      sortBucket(std::span(sides).subspan(begin, ends[low] - begin));
      for (size_t i = begin; i < ends[low]; ++i)
        some[k].edges += i == begin || sides[i].high != sides[i - 1].high ? 1 : 0;
    }
  });
  size_t edges = 0;
  for (Some& one : some) edges += std::exchange(one.edges, edges);
  out.edges.resize(edges);
  out.sides.resize(sides.size());
  out.edge_of.assign(n * 3, Topology::kNoEdge);
  out.mate.assign(n * 3, Topology::kNoEdge);
  base::parallelFor(some.size(), [&](size_t k) {
    auto number = static_cast<uint32_t>(some[k].edges);
    for (uint32_t low = some[k].begin, i = beginOf(low); low < some[k].end; ++low)
      while (i < ends[low]) {
        Edge edge{low, sides[i].high, i, 0};
        for (; i < ends[low] && sides[i].high == edge.b; ++i, ++edge.count) {
          out.sides[i] = sides[i].side;
          out.edge_of[sides[i].side] = number;
        }
        if (edge.count == 2) {
          out.mate[sides[i - 1].side] = sides[i - 2].side;
          out.mate[sides[i - 2].side] = sides[i - 1].side;
        }
        out.edges[number++] = edge;
      }
  });
  return out;
}

std::vector<BorderLoop> borderLoops(const Topology& topology) {
  std::vector<BorderLoop> out;
  std::vector<bool> walked(topology.edges.size(), false);
  // From a border edge's end round the fan of triangles to the next border edge there; kNoEdge where the fan
  // ends at an edge of three triangles.
  const auto next = [&](uint32_t side, uint32_t place) {
    for (size_t guard = 0; guard <= topology.corners.size(); ++guard) {
      const uint32_t t = side / 3 * 3;
      uint32_t other = Topology::kNoEdge;
      for (uint32_t s = t; s < t + 3; ++s)
        if (s != side && (topology.from(s) == place || topology.to(s) == place)) other = s;
      const Edge& edge = topology.edges[topology.edge_of[other]];
      if (edge.count == 1) return other;
      if (edge.count != 2) return Topology::kNoEdge;
      side =
          topology.sides[edge.first] == other ? topology.sides[edge.first + 1] : topology.sides[edge.first];
    }
    return Topology::kNoEdge;
  };
  for (uint32_t e = 0; e < topology.edges.size(); ++e) {
    if (topology.edges[e].count != 1 || walked[e]) continue;
    const uint32_t begin = topology.sides[topology.edges[e].first];
    BorderLoop loop;
    loop.places = {topology.from(begin)};
    uint32_t side = begin, place = topology.to(begin);
    while (true) {
      walked[topology.edge_of[side]] = true;
      const uint32_t after = next(side, place);
      if (after != Topology::kNoEdge && topology.edge_of[after] == e) break;
      loop.places.push_back(place);
      if (after == Topology::kNoEdge || walked[topology.edge_of[after]]) {
        loop.closed = false;
        break;
      }
      side = after;
      place = topology.from(side) == place ? topology.to(side) : topology.from(side);
    }
    if (!loop.closed) {
      // The other way from the first edge, too: the rest of an open border.
      std::vector<uint32_t> before;
      side = begin;
      place = topology.from(begin);
      for (uint32_t after = next(side, place); after != Topology::kNoEdge && !walked[topology.edge_of[after]];
           after = next(side, place)) {
        side = after;
        walked[topology.edge_of[side]] = true;
        place = topology.from(side) == place ? topology.to(side) : topology.from(side);
        before.push_back(place);
      }
      loop.places.insert(loop.places.begin(), before.rbegin(), before.rend());
    }
    out.push_back(std::move(loop));
  }
  return out;
}

std::vector<uint32_t> nonManifoldPlaces(const Topology& topology) {
  // How many corners each place has, and one of them; a fan walked from there that has fewer is not the only
  // one.
  struct At {
    uint32_t corner = Topology::kNoEdge, corners = 0;
    bool crowded = false;
  };
  std::vector<At> at(topology.places);
  for (uint32_t c = 0; c < topology.corners.size(); ++c) {
    if (topology.collapsed(c / 3)) continue;
    At& here = at[topology.corners[c]];
    if (here.corners++ == 0) here.corner = c;
    if (topology.mate[c] == Topology::kNoEdge && topology.edges[topology.edge_of[c]].count > 2)
      here.crowded = at[topology.to(c)].crowded = true;
  }
  std::vector<uint32_t> out;
  for (uint32_t p = 0; p < topology.places; ++p) {
    const At& here = at[p];
    if (here.corners < 2 || here.crowded) continue;
    // Round by the one side of the corner, and from a border back to it, and on by the other.
    uint32_t seen = 1;
    bool round = false;
    for (const uint32_t first : {here.corner, sideBefore(here.corner)}) {
      for (uint32_t side = first; !round && seen <= here.corners;) {
        const uint32_t other = topology.mate[side];
        if (other == Topology::kNoEdge) break;
        const bool leaves = topology.from(other) == p;
        round = (leaves ? other : nextSide(other)) == here.corner;
        seen += round ? 0 : 1;
        side = leaves ? sideBefore(other) : nextSide(other);
      }
      if (round) break;
    }
    if (seen < here.corners) out.push_back(p);
  }
  return out;
}

std::vector<uint32_t> duplicateTriangles(const Topology& topology) {
  // They have all their edges in common; of those, the one between the two lower places tells.
  std::vector<uint32_t> out;
  std::vector<std::pair<uint32_t, uint32_t>> at;  // the third place, and the triangle
  for (const Edge& edge : topology.edges) {
    if (edge.count < 2) continue;
    const auto third = [&](uint32_t i) { return topology.to(nextSide(topology.sides[edge.first + i])); };
    if (edge.count == 2) {
      if (third(0) > edge.b && third(0) == third(1)) out.push_back(topology.sides[edge.first + 1] / 3);
      continue;
    }
    at.clear();
    for (uint32_t i = 0; i < edge.count; ++i)
      if (third(i) > edge.b) at.emplace_back(third(i), topology.sides[edge.first + i] / 3);
    std::sort(at.begin(), at.end());
    for (size_t i = 1; i < at.size(); ++i)
      if (at[i].first == at[i - 1].first) out.push_back(at[i].second);
  }
  std::sort(out.begin(), out.end());
  return out;
}

Shells shellsOf(const Topology& topology) {
  const auto n = static_cast<uint32_t>(topology.triangles());
  Shells out;
  out.of.assign(n, Topology::kNoEdge);
  std::vector<uint8_t> against(n, 0);
  std::vector<uint32_t> open;
  uint32_t pieces = 0;
  for (uint32_t t = 0; t < n; ++t) {
    if (out.of[t] != Topology::kNoEdge || topology.collapsed(t)) continue;
    out.of[t] = pieces;
    open.push_back(t);
    while (!open.empty()) {
      const uint32_t now = open.back();
      open.pop_back();
      for (uint32_t s = now * 3; s < now * 3 + 3; ++s) {
        const uint32_t mate = topology.mate[s];
        if (mate == Topology::kNoEdge || out.of[mate / 3] != Topology::kNoEdge) continue;
        out.of[mate / 3] = pieces;
        // Neighbours wound alike run along their edge in opposite directions.
        const bool same_way = topology.from(mate) == topology.from(s);
        against[mate / 3] = against[now] ^ static_cast<uint8_t>(same_way);
        open.push_back(mate / 3);
      }
    }
    ++pieces;
  }
  // Pieces that meet at edges of three triangles or more are one shell; each was walked by itself, and the
  // majority of the whole counts.
  std::vector<uint32_t> parent(pieces);
  std::iota(parent.begin(), parent.end(), 0U);
  for (const Edge& edge : topology.edges)
    for (uint32_t i = 1; edge.count > 2 && i < edge.count; ++i)
      unite(parent, out.of[topology.sides[edge.first] / 3], out.of[topology.sides[edge.first + i] / 3]);
  std::vector<uint32_t> number(pieces);
  for (uint32_t piece = 0; piece < pieces; ++piece) {
    const uint32_t root = find(parent, piece);  // the lowest of its shell
    number[piece] = root == piece ? out.count++ : number[root];
  }
  std::vector<uint32_t> of_shell(out.count, 0), turned(out.count, 0);
  for (uint32_t t = 0; t < n; ++t) {
    if (out.of[t] == Topology::kNoEdge) continue;
    const uint32_t shell = out.of[t] = number[out.of[t]];
    ++of_shell[shell];
    turned[shell] += against[t];
  }
  out.flipped.assign(n, false);
  for (uint32_t t = 0; t < n; ++t)
    if (const uint32_t shell = out.of[t]; shell != Topology::kNoEdge)
      out.flipped[t] = (against[t] != 0) != (turned[shell] * 2 > of_shell[shell]);
  return out;
}

}  // namespace rakugo::geometry
