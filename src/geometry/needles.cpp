#include "geometry/needles.h"

#include <algorithm>
#include <array>

#include "geometry/simplify.h"
#include "geometry/topology.h"
#include "geometry/triangles.h"
#include "geometry/welding.h"

namespace rakugo::geometry {
namespace {

// A side is short when it is below this share of the longest.
constexpr double kShort = 0.05;

size_t nextCorner(size_t c) { return c % 3 == 2 ? c - 2 : c + 1; }
size_t lastCorner(size_t c) { return c % 3 == 0 ? c + 2 : c - 1; }

double sideLength(std::span<const glm::vec3> positions, const std::vector<uint32_t>& indices, size_t c) {
  return glm::distance(glm::dvec3(positions[indices[c]]), glm::dvec3(positions[indices[nextCorner(c)]]));
}

glm::dvec3 face(std::span<const glm::vec3> positions, uint32_t a, uint32_t b, uint32_t c) {
  const glm::dvec3 o(positions[a]);
  return glm::cross(glm::dvec3(positions[b]) - o, glm::dvec3(positions[c]) - o);
}

// Cuts the neighbour over the longest side of each needle whose third corner lies on that side. Returns how
// many were cut.
size_t cutNeighbours(std::span<const glm::vec3> positions, std::vector<uint32_t>& indices, float ratio) {
  const Topology topology = topologyOf(indices, static_cast<uint32_t>(positions.size()));
  std::vector<bool> touched(indices.size() / 3, false);
  size_t count = 0;
  for (const uint32_t t : needleTriangles(positions, indices, ratio)) {
    if (touched[t] || topology.collapsed(t)) continue;
    size_t longest = t * 3, shortest = t * 3;
    for (size_t c = t * 3; c < t * 3 + 3; ++c) {
      if (sideLength(positions, indices, c) > sideLength(positions, indices, longest)) longest = c;
      if (sideLength(positions, indices, c) < sideLength(positions, indices, shortest)) shortest = c;
    }
    if (sideLength(positions, indices, shortest) < kShort * sideLength(positions, indices, longest)) continue;
    const Edge& edge = topology.edges[topology.edge_of[longest]];
    if (edge.count != 2) continue;
    const uint32_t other =
        topology.sides[edge.first] == longest ? topology.sides[edge.first + 1] : topology.sides[edge.first];
    if (touched[other / 3]) continue;
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
    const auto ends = std::pair(std::min(c, d), std::max(c, d));
    const auto there =
        std::lower_bound(topology.edges.begin(), topology.edges.end(), ends,
                         [](const Edge& e, const auto& key) { return std::pair(e.a, e.b) < key; });
    good = good && (there == topology.edges.end() || std::pair(there->a, there->b) != ends);
    if (!good) continue;
    std::copy(halves[0].begin(), halves[0].end(), indices.begin() + t * 3);
    std::copy(halves[1].begin(), halves[1].end(), indices.begin() + other / 3 * 3);
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
    size_t shortest = t * 3, longest = t * 3;
    for (size_t c = t * 3; c < t * 3 + 3; ++c) {
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
