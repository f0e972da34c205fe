#include "geometry/topology.h"

#include <algorithm>
#include <array>
#include <span>
#include <utility>

#include "base/jobs.h"
#include "base/memory.h"
#include "geometry/buckets.h"
#include "geometry/union_find.h"

namespace rakugo::geometry {
namespace {

// Enough to be worth a core of its own.
constexpr size_t kManyPlaces = 1 << 15;

// Calls body(side, a, b) for the sides of triangles [begin, end), a and b being its ends.
template <class Body>
void eachSide(const std::vector<uint32_t>& corners, size_t begin, size_t end, Body body) {
  for (auto t = static_cast<uint32_t>(begin * 3); t < end * 3; t += 3) {
    const uint32_t a = corners[t], b = corners[t + 1], c = corners[t + 2];
    if (a == b || b == c || c == a) continue;
    body(t, a, b);
    body(t + 1, b, c);
    body(t + 2, c, a);
  }
}

// What is found of the edges of some places; those of three triangles and more, and borders, are listed.
struct Found {
  std::vector<IrregularEdge> irregular;
  std::vector<uint32_t> irregular_half_edges;
  size_t edges = 0;
  bool wound_alike = true;
};

// Pairs the sides of some places' buckets.
class Pairing {
 public:
  Pairing(const std::vector<uint32_t>& corners, std::vector<uint32_t>& twin)
      : corners_(corners), twin_(twin) {}

  void bucket(uint32_t low, std::span<const uint32_t> sides) {
    keys_.clear();
    for (const uint32_t side : sides) {
      const uint32_t from = corners_[side];
      const uint32_t high = from == low ? corners_[Topology::nextHalfEdge(side)] : from;
      keys_.push_back(uint64_t{high} << 32 | side);
    }
    sortKeys();
    for (size_t i = 0, end = 0; i < keys_.size(); i = end, ++found_.edges) {
      for (end = i + 1; end < keys_.size() && high(end) == high(i);) ++end;
      if (end - i != 2) {
        oddEdge(low, i, end);
        continue;
      }
      twin_[side(i)] = side(i + 1);
      twin_[side(i + 1)] = side(i);
      found_.wound_alike = found_.wound_alike && corners_[side(i)] != corners_[side(i + 1)];
    }
  }
  Found found() { return std::move(found_); }

 private:
  [[nodiscard]] uint32_t high(size_t i) const { return static_cast<uint32_t>(keys_[i] >> 32); }
  [[nodiscard]] uint32_t side(size_t i) const { return static_cast<uint32_t>(keys_[i]); }
  void oddEdge(uint32_t low, size_t begin, size_t end) {
    found_.irregular.push_back({low, high(begin), static_cast<uint32_t>(found_.irregular_half_edges.size()),
                                static_cast<uint32_t>(end - begin)});
    for (size_t i = begin; i < end; ++i) {
      found_.irregular_half_edges.push_back(side(i));
      twin_[side(i)] = end - begin == 1 ? Topology::kBorder : Topology::kNonManifold;
    }
  }
  // Few, mostly: each goes where as many are before it as are less, which is nothing to guess about.
  void sortKeys() {
    constexpr size_t kFew = 12;
    const size_t n = keys_.size();
    if (n > kFew) return std::sort(keys_.begin(), keys_.end());
    std::array<uint64_t, kFew> sorted;
    for (size_t i = 0; i < n; ++i) {
      size_t less = 0;
      for (size_t k = 0; k < n; ++k) less += keys_[k] < keys_[i] ? 1 : 0;
      sorted[less] = keys_[i];
    }
    std::copy_n(sorted.begin(), n, keys_.begin());
  }
  const std::vector<uint32_t>& corners_;
  std::vector<uint32_t>& twin_;
  std::vector<uint64_t> keys_;  // the higher place of each side's edge, and the side
  Found found_;
};

}  // namespace

Topology topologyOf(std::vector<uint32_t> corners, uint32_t places) {
  Topology out;
  out.places = places;
  out.corners = std::move(corners);
  Buckets buckets;
  base::parallelFor(2, [&](size_t i) {
    if (i == 0) {
      // Sides by the lower place of their edge.
      buckets = bucketsOf(out.triangles(), places, [&](size_t begin, size_t end, auto give) {
        eachSide(out.corners, begin, end,
                 [&](uint32_t side, uint32_t a, uint32_t b) { give(std::min(a, b), side); });
      });
    } else {
      base::reserveLarge(out.twin, out.corners.size());
      out.twin.assign(out.corners.size(), Topology::kCollapsed);
    }
  });
  std::vector<Found> found(base::piecesOf(places, kManyPlaces));
  base::parallelPieces(places, kManyPlaces, [&](size_t piece, size_t begin, size_t end) {
    Pairing pairing(out.corners, out.twin);
    for (auto low = static_cast<uint32_t>(begin); low < end; ++low)
      pairing.bucket(
          low, std::span(buckets.values).subspan(buckets.begin(low), buckets.ends[low] - buckets.begin(low)));
    found[piece] = pairing.found();
  });
  for (const Found& some : found) {
    const auto first = static_cast<uint32_t>(out.irregular_half_edges.size());
    for (IrregularEdge edge : some.irregular) {
      edge.first += first;
      out.irregular.push_back(edge);
    }
    out.irregular_half_edges.insert(out.irregular_half_edges.end(), some.irregular_half_edges.begin(),
                                    some.irregular_half_edges.end());
    out.edges += some.edges;
    out.wound_alike = out.wound_alike && some.wound_alike;
  }
  return out;
}

std::vector<BorderLoop> borderLoops(const Topology& topology) {
  std::vector<BorderLoop> out;
  if (topology.irregular.empty()) return out;
  std::vector<bool> walked(topology.corners.size(), false);  // by side
  // From a border's end round the fan of triangles to the next border there; kCollapsed where the fan ends at
  // an edge of three triangles.
  const auto next = [&](uint32_t side, uint32_t place) {
    for (size_t guard = 0; guard <= topology.corners.size(); ++guard) {
      const uint32_t after = Topology::nextHalfEdge(side);
      const uint32_t other = topology.from(after) == place || topology.to(after) == place
                                 ? after
                                 : Topology::previousHalfEdge(side);
      if (topology.twin[other] == Topology::kBorder) return other;
      if (!topology.hasTwin(other)) break;
      side = topology.twin[other];
    }
    return Topology::kCollapsed;
  };
  for (const IrregularEdge& edge : topology.irregular) {
    const uint32_t begin = topology.irregular_half_edges[edge.first];
    if (edge.count != 1 || walked[begin]) continue;
    BorderLoop loop;
    loop.places = {topology.from(begin)};
    uint32_t side = begin, place = topology.to(begin);
    while (true) {
      walked[side] = true;
      const uint32_t after = next(side, place);
      if (after == begin) break;
      loop.places.push_back(place);
      if (after == Topology::kCollapsed || walked[after]) {
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
      for (uint32_t after = next(side, place); after != Topology::kCollapsed && !walked[after];
           after = next(side, place)) {
        side = after;
        walked[side] = true;
        place = topology.from(side) == place ? topology.to(side) : topology.from(side);
        before.push_back(place);
      }
      loop.places.insert(loop.places.begin(), before.rbegin(), before.rend());
    }
    out.push_back(std::move(loop));
  }
  return out;
}

namespace {

// How many corners of one fan a place has, walked from a corner there. Round by the one side of the corner,
// and from a border back to it, and on by the other.
uint32_t fanSize(const Topology& topology, uint32_t place, uint32_t corner) {
  uint32_t seen = 1;
  for (const bool back : {false, true}) {
    uint32_t side = back ? Topology::previousHalfEdge(corner) : corner;
    while (topology.hasTwin(side)) {
      const uint32_t other = topology.twin[side];
      // Where all are wound alike, what comes in over there goes out here.
      const bool leaves = topology.wound_alike ? back : topology.from(other) == place;
      if ((leaves ? other : Topology::nextHalfEdge(other)) == corner) return seen;
      ++seen;
      side = leaves ? Topology::previousHalfEdge(other) : Topology::nextHalfEdge(other);
    }
  }
  return seen;
}

}  // namespace

std::vector<uint32_t> nonManifoldPlaces(const Topology& topology) {
  // How many corners each place has, and one of them; a fan walked from there that has fewer is not the only
  // one.
  struct At {
    uint32_t corner, corners;
  };
  std::vector<At> at(topology.places, {0, 0});
  for (uint32_t c = 0; c < topology.corners.size(); ++c) {
    if (topology.twin[c] == Topology::kCollapsed) continue;
    At& here = at[topology.corners[c]];
    here.corner = c;
    ++here.corners;
  }
  for (const IrregularEdge& edge : topology.irregular)
    if (edge.count > 2) at[edge.a].corners = at[edge.b].corners = 0;
  std::vector<std::vector<uint32_t>> found(base::piecesOf(topology.places, kManyPlaces));
  base::parallelPieces(topology.places, kManyPlaces, [&](size_t piece, size_t begin, size_t end) {
    for (auto p = static_cast<uint32_t>(begin); p < end; ++p)
      if (at[p].corners > 1 && fanSize(topology, p, at[p].corner) < at[p].corners) found[piece].push_back(p);
  });
  std::vector<uint32_t> out;
  for (const auto& some : found) out.insert(out.end(), some.begin(), some.end());
  return out;
}

std::vector<uint32_t> duplicateTriangles(const Topology& topology) {
  std::vector<uint32_t> out;
  // Two that have all three edges to themselves.
  const std::vector<uint32_t>& twin = topology.twin;
  for (uint32_t t = 0; t < topology.triangles(); ++t) {
    const uint32_t other = twin[t * 3] / 3;
    if (topology.hasTwin(t * 3) && other < t && twin[t * 3 + 1] / 3 == other && twin[t * 3 + 2] / 3 == other)
      out.push_back(t);
  }
  // Others meet at an edge of three triangles or more; there the third place tells.
  std::vector<std::pair<uint32_t, uint32_t>> at;  // that, and the triangle
  for (const IrregularEdge& edge : topology.irregular) {
    if (edge.count < 3) continue;
    at.clear();
    for (uint32_t i = edge.first; i < edge.first + edge.count; ++i) {
      const uint32_t side = topology.irregular_half_edges[i];
      at.emplace_back(topology.from(Topology::previousHalfEdge(side)), side / 3);
    }
    std::sort(at.begin(), at.end());
    for (size_t i = 1; i < at.size(); ++i)
      if (at[i].first == at[i - 1].first) out.push_back(at[i].second);
  }
  std::sort(out.begin(), out.end());
  out.erase(std::unique(out.begin(), out.end()), out.end());
  return out;
}

namespace {

// Flags of triangles wound against the first of those that hang together by edges of two.
std::vector<uint8_t> againstFirst(const Topology& topology) {
  const auto n = static_cast<uint32_t>(topology.triangles());
  std::vector<uint8_t> out(n, 0), seen(n, 0);
  std::vector<uint32_t> open;
  for (uint32_t t = 0; t < n; ++t) {
    if (seen[t] != 0) continue;
    seen[t] = 1;
    open.push_back(t);
    while (!open.empty()) {
      const uint32_t now = open.back();
      open.pop_back();
      for (uint32_t s = now * 3; s < now * 3 + 3; ++s) {
        const uint32_t twin = topology.twin[s];
        if (!topology.hasTwin(s) || seen[twin / 3] != 0) continue;
        seen[twin / 3] = 1;
        // Neighbours wound alike run along their edge in opposite directions.
        out[twin / 3] = out[now] ^ static_cast<uint8_t>(topology.from(twin) == topology.from(s));
        open.push_back(twin / 3);
      }
    }
  }
  return out;
}

}  // namespace

Shells shellsOf(const Topology& topology) {
  const auto n = static_cast<uint32_t>(topology.triangles());
  Shells out;
  UnionFind groups(n);
  for (uint32_t side = 0; side < n * 3; ++side)
    if (topology.hasTwin(side) && topology.twin[side] < side) groups.join(side / 3, topology.twin[side] / 3);
  for (const IrregularEdge& edge : topology.irregular)
    for (uint32_t i = 1; i < edge.count; ++i)
      groups.join(topology.irregular_half_edges[edge.first] / 3,
                  topology.irregular_half_edges[edge.first + i] / 3);
  static_assert(UnionFind::kNone == Topology::kCollapsed);
  out.of = std::move(groups).numbers(out.count, [&](uint32_t t) { return !topology.collapsed(t); });
  out.flipped.assign(n, false);
  if (topology.wound_alike) return out;
  // Pieces that meet at edges of three triangles or more are one shell; each was walked by itself, and the
  // majority of the whole counts.
  const std::vector<uint8_t> against = againstFirst(topology);
  std::vector<uint32_t> of_shell(out.count, 0), turned(out.count, 0);
  for (uint32_t t = 0; t < n; ++t) {
    if (topology.collapsed(t)) continue;
    ++of_shell[out.of[t]];
    turned[out.of[t]] += against[t];
  }
  for (uint32_t t = 0; t < n; ++t)
    if (const uint32_t shell = out.of[t]; shell != Topology::kCollapsed)
      out.flipped[t] = (against[t] != 0) != (turned[shell] * 2 > of_shell[shell]);
  return out;
}

}  // namespace rakugo::geometry
