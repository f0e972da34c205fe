#include "geometry/needles.h"

#include <algorithm>
#include <array>
#include <unordered_set>

#include "geometry/simplify.h"
#include "geometry/topology.h"
#include "geometry/triangles.h"
#include "geometry/welding.h"

namespace rakugo::geometry {
namespace {

// A side is short when it is below this share of the longest.
constexpr double kShort = 0.05;

uint32_t nextCorner(uint32_t c) { return Topology::nextHalfEdge(c); }
uint32_t lastCorner(uint32_t c) { return Topology::previousHalfEdge(c); }

double sideLength(std::span<const glm::vec3> positions, const std::vector<uint32_t>& indices, uint32_t c) {
  return glm::distance(glm::dvec3(positions[indices[c]]), glm::dvec3(positions[indices[nextCorner(c)]]));
}

glm::dvec3 face(std::span<const glm::vec3> positions, uint32_t a, uint32_t b, uint32_t c) {
  const glm::dvec3 o(positions[a]);
  return glm::cross(glm::dvec3(positions[b]) - o, glm::dvec3(positions[c]) - o);
}

uint64_t edgeKey(uint32_t a, uint32_t b) { return uint64_t{std::min(a, b)} << 32 | std::max(a, b); }

// The edges at any corner of some triangles.
std::unordered_set<uint64_t> edgesAt(const Topology& topology, std::span<const uint32_t> triangles) {
  std::vector<bool> there(topology.places, false);
  for (const uint32_t t : triangles)
    for (uint32_t c = t * 3; c < t * 3 + 3; ++c) there[topology.corners[c]] = true;
  std::unordered_set<uint64_t> out;
  for (uint32_t side = 0; side < topology.corners.size(); ++side) {
    const uint32_t a = topology.from(side), b = topology.to(side);
    if (a != b && (there[a] || there[b])) out.insert(edgeKey(a, b));
  }
  return out;
}

// Cuts the neighbour over the longest side of each needle whose third corner lies on that side. Returns how
// many were cut.
size_t cutNeighbours(std::span<const glm::vec3> positions, std::vector<uint32_t>& indices, float ratio) {
  const Topology topology = topologyOf(indices, static_cast<uint32_t>(positions.size()));
  const std::vector<uint32_t> needles = needleTriangles(positions, indices, ratio);
  std::unordered_set<uint64_t> edges = edgesAt(topology, needles);
  std::vector<bool> touched(indices.size() / 3, false);
  size_t count = 0;
  for (const uint32_t t : needles) {
    if (touched[t] || topology.collapsed(t)) continue;
    uint32_t longest = t * 3, shortest = t * 3;
    for (uint32_t c = t * 3; c < t * 3 + 3; ++c) {
      if (sideLength(positions, indices, c) > sideLength(positions, indices, longest)) longest = c;
      if (sideLength(positions, indices, c) < sideLength(positions, indices, shortest)) shortest = c;
    }
    if (sideLength(positions, indices, shortest) < kShort * sideLength(positions, indices, longest)) continue;
    const uint32_t other = topology.twin[longest];
    if (!topology.hasTwin(longest) || touched[other / 3]) continue;
    const uint32_t a = indices[longest], b = indices[nextCorner(longest)], c = indices[lastCorner(longest)],
                   d = indices[lastCorner(other)];
    if (indices[other] != b || c == d) continue;
    // Both halves look the way the neighbour did, and neither is as thin as what went.
    const glm::dvec3 was = face(positions, b, a, d);
    bool good = true;
    const std::array<std::array<uint32_t, 3>, 2> halves = {{{a, d, c}, {d, b, c}}};
    for (const auto& h : halves) {
      const glm::dvec3 now = face(positions, h[0], h[1], h[2]);
      good = good && glm::dot(now, was) > 0.9 * glm::length(now) * glm::length(was);
      good = good && needleTriangles(positions, h, ratio).empty();
    }
    // The edge that comes must not be there already.
    good = good && !edges.contains(edgeKey(c, d));
    if (!good) continue;
    std::copy(halves[0].begin(), halves[0].end(), indices.begin() + t * 3);
    std::copy(halves[1].begin(), halves[1].end(), indices.begin() + other / 3 * 3);
    edges.insert(edgeKey(c, d));
    touched[t] = touched[other / 3] = true;
    ++count;
  }
  return count;
}

// Makes the two ends of the short side of each needle one. Returns how many triangles went.
size_t closeShortSides(std::span<const glm::vec3> positions, std::vector<uint32_t>& indices, float ratio) {
  std::vector<uint8_t> may_go(positions.size(), 0);
  std::vector<uint32_t> only_to(positions.size(), UINT32_MAX);
  float longest_way = 0;
  for (const uint32_t t : needleTriangles(positions, indices, ratio)) {
    uint32_t shortest = t * 3, longest = t * 3;
    for (uint32_t c = t * 3; c < t * 3 + 3; ++c) {
      if (sideLength(positions, indices, c) < sideLength(positions, indices, shortest)) shortest = c;
      if (sideLength(positions, indices, c) > sideLength(positions, indices, longest)) longest = c;
    }
    const double way = sideLength(positions, indices, shortest);
    if (way > kShort * sideLength(positions, indices, longest)) continue;
    const uint32_t a = indices[shortest], b = indices[nextCorner(shortest)];
    // Either end may go; the kernel says which can.
    for (const auto& [from, to] : {std::pair(a, b), std::pair(b, a)})
      if (may_go[from] == 0) {
        may_go[from] = 1;
        only_to[from] = to;
      }
    longest_way = std::max(longest_way, static_cast<float>(way));
  }
  if (longest_way == 0) return 0;
  // What stands at one place goes together.
  const Welding welding = weldEqual(positions);
  std::vector<uint8_t> place_may_go(welding.places(), 0);
  for (size_t v = 0; v < may_go.size(); ++v) place_may_go[welding.of[v]] |= may_go[v];
  for (size_t v = 0; v < may_go.size(); ++v) may_go[v] = place_may_go[welding.of[v]];
  SimplifyOptions options;
  options.max_error = longest_way;
  options.may_go = may_go;
  options.only_to = only_to;
  options.every_way = true;
  auto made = simplify({positions, indices, {}, 0}, options);
  if (!made) return 0;
  const size_t gone = indices.size() / 3 - made->triangles.size();
  indices = std::move(made->indices);
  return gone;
}

}  // namespace

std::vector<uint32_t> withoutNeedles(std::span<const glm::vec3> positions, std::vector<uint32_t> indices,
                                     float ratio) {
  // A cut can make a neighbour thin, a closed side another one: a few rounds, or until nothing helps.
  for (int round = 0; round < 8; ++round) {
    const size_t before = needleTriangles(positions, indices, ratio).size();
    if (before == 0) break;
    std::vector<uint32_t> next = indices;
    const size_t did = closeShortSides(positions, next, ratio) + cutNeighbours(positions, next, ratio);
    if (did == 0 || needleTriangles(positions, next, ratio).size() >= before) break;
    indices = std::move(next);
  }
  return indices;
}

}  // namespace rakugo::geometry
