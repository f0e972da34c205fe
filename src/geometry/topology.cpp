#include "geometry/topology.h"

#include <algorithm>
#include <numeric>

namespace rakugo::geometry {
namespace {

// Stable, by the higher half and then the lower: two counting passes, for the numbers are places.
void sortByEdge(std::vector<uint32_t>& sides, const std::vector<uint32_t>& key_low,
                const std::vector<uint32_t>& key_high, uint32_t places) {
  std::vector<uint32_t> other(sides.size()), begins;
  for (const std::vector<uint32_t>* key : {&key_high, &key_low}) {
    begins.assign(size_t{places} + 1, 0);
    for (const uint32_t s : sides) ++begins[(*key)[s] + 1];
    std::partial_sum(begins.begin(), begins.end(), begins.begin());
    for (const uint32_t s : sides) other[begins[(*key)[s]]++] = s;
    sides.swap(other);
  }
}

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
  out.edge_of.assign(n * 3, Topology::kNoEdge);
  std::vector<uint32_t> low(n * 3), high(n * 3);
  out.sides.reserve(n * 3);
  for (size_t t = 0; t < n; ++t) {
    const uint32_t a = out.corners[t * 3], b = out.corners[t * 3 + 1], c = out.corners[t * 3 + 2];
    if (a == b || b == c || c == a) continue;
    for (uint32_t k = 0; k < 3; ++k) {
      const auto side = static_cast<uint32_t>(t * 3 + k);
      low[side] = std::min(out.from(side), out.to(side));
      high[side] = std::max(out.from(side), out.to(side));
      out.sides.push_back(side);
    }
  }
  sortByEdge(out.sides, low, high, places);
  for (uint32_t i = 0; i < out.sides.size(); ++i) {
    const uint32_t side = out.sides[i];
    if (out.edges.empty() || out.edges.back().a != low[side] || out.edges.back().b != high[side])
      out.edges.push_back({low[side], high[side], i, 0});
    ++out.edges.back().count;
    out.edge_of[side] = static_cast<uint32_t>(out.edges.size() - 1);
  }
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
  // Corners of one place are united across the edges they share; more than one set is more than one fan.
  std::vector<uint32_t> parent(topology.corners.size());
  std::iota(parent.begin(), parent.end(), 0U);
  std::vector<bool> crowded(topology.places, false);
  for (const Edge& edge : topology.edges) {
    if (edge.count > 2) crowded[edge.a] = crowded[edge.b] = true;
    for (uint32_t i = 1; i < edge.count; ++i) {
      const uint32_t one = topology.sides[edge.first], two = topology.sides[edge.first + i];
      for (const uint32_t place : {edge.a, edge.b}) {
        const auto corner = [&](uint32_t side) {
          return topology.from(side) == place ? side : side - side % 3 + (side + 1) % 3;
        };
        unite(parent, corner(one), corner(two));
      }
    }
  }
  std::vector<uint32_t> fan(topology.places, UINT32_MAX);
  std::vector<bool> bad(topology.places, false);
  for (uint32_t c = 0; c < topology.corners.size(); ++c) {
    if (topology.collapsed(c / 3)) continue;
    const uint32_t place = topology.corners[c], root = find(parent, c);
    if (fan[place] == UINT32_MAX)
      fan[place] = root;
    else if (fan[place] != root)
      bad[place] = true;
  }
  std::vector<uint32_t> out;
  for (uint32_t p = 0; p < topology.places; ++p)
    if (bad[p] && !crowded[p]) out.push_back(p);
  return out;
}

Shells shellsOf(const Topology& topology) {
  std::vector<uint32_t> parent(topology.triangles());
  std::iota(parent.begin(), parent.end(), 0U);
  for (const Edge& edge : topology.edges)
    for (uint32_t i = 1; i < edge.count; ++i)
      unite(parent, topology.sides[edge.first] / 3, topology.sides[edge.first + i] / 3);
  Shells out;
  out.of.assign(topology.triangles(), Topology::kNoEdge);
  for (uint32_t t = 0; t < topology.triangles(); ++t) {
    if (topology.collapsed(t)) continue;
    const uint32_t root = find(parent, t);  // the lowest of its shell
    out.of[t] = root == t ? out.count++ : out.of[root];
  }
  return out;
}

std::vector<bool> flippedTriangles(const Topology& topology, const Shells& shells) {
  const size_t n = topology.triangles();
  std::vector<bool> against(n, false), seen(n, false);
  std::vector<uint32_t> open;
  for (uint32_t t = 0; t < n; ++t) {
    if (seen[t] || topology.collapsed(t)) continue;
    seen[t] = true;
    open.push_back(t);
    while (!open.empty()) {
      const uint32_t now = open.back();
      open.pop_back();
      for (uint32_t s = now * 3; s < now * 3 + 3; ++s) {
        const Edge& edge = topology.edges[topology.edge_of[s]];
        if (edge.count != 2) continue;
        const uint32_t other =
            topology.sides[edge.first] == s ? topology.sides[edge.first + 1] : topology.sides[edge.first];
        if (seen[other / 3]) continue;
        seen[other / 3] = true;
        // Neighbours wound alike run along their edge in opposite directions.
        against[other / 3] = against[now] != (topology.from(other) == topology.from(s));
        open.push_back(other / 3);
      }
    }
  }
  // Where a shell is parted by edges of three triangles, each piece was walked by itself; its majority counts
  // for the whole shell.
  std::vector<uint32_t> of_shell(shells.count, 0), turned(shells.count, 0);
  for (size_t t = 0; t < n; ++t) {
    if (topology.collapsed(t)) continue;
    ++of_shell[shells.of[t]];
    turned[shells.of[t]] += against[t] ? 1 : 0;
  }
  for (size_t t = 0; t < n; ++t)
    if (!topology.collapsed(t) && turned[shells.of[t]] * 2 > of_shell[shells.of[t]]) against[t] = !against[t];
  return against;
}

}  // namespace rakugo::geometry
