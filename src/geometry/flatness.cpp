#include "geometry/flatness.h"

#include <cmath>

namespace rakugo::geometry {
namespace {

using dvec3 = glm::dvec3;

// Unit normals of triangles; zero for those without a surface.
std::vector<dvec3> normalsOf(std::span<const glm::vec3> positions, const Topology& topology) {
  std::vector<dvec3> out(topology.triangles(), dvec3(0));
  for (size_t t = 0; t < out.size(); ++t) {
    const dvec3 a(positions[topology.corners[t * 3]]), b(positions[topology.corners[t * 3 + 1]]),
        c(positions[topology.corners[t * 3 + 2]]);
    const dvec3 n = glm::cross(b - a, c - a);
    const double length = glm::length(n);
    if (length > 0 && std::isfinite(length)) out[t] = n / length;
  }
  return out;
}

// Edges that are seen: borders, meetings of more than two, and ridges. How triangles are wound does not
// matter.
std::vector<bool> ridges(const std::vector<dvec3>& normals, const Topology& topology, double cosine) {
  std::vector<bool> out(topology.edges.size(), true);
  for (size_t e = 0; e < out.size(); ++e) {
    const Edge& edge = topology.edges[e];
    if (edge.count != 2) continue;
    const uint32_t side = topology.sides[edge.first], other = topology.sides[edge.first + 1];
    const dvec3 one = normals[side / 3],
                two = topology.from(side) == topology.from(other) ? -normals[other / 3] : normals[other / 3];
    // One without a surface bends nothing.
    if (one == dvec3(0) || two == dvec3(0) || glm::dot(one, two) >= cosine) out[e] = false;
  }
  return out;
}

}  // namespace

std::vector<uint32_t> shapelessPlaces(std::span<const glm::vec3> positions, const Topology& topology,
                                      const FlatOptions& options) {
  const double cosine = std::cos(static_cast<double>(options.angle_rad));
  const std::vector<bool> seen = ridges(normalsOf(positions, topology), topology, cosine);
  // The seen edges at each place: none, two that may go straight on, or others.
  struct At {
    uint32_t edges = 0, seen = 0;
    uint32_t ends[2] = {0, 0};
    bool crowded = false;
  };
  std::vector<At> at(topology.places);
  for (size_t e = 0; e < topology.edges.size(); ++e) {
    const Edge& edge = topology.edges[e];
    for (const uint32_t place : {edge.a, edge.b}) {
      At& here = at[place];
      ++here.edges;
      here.crowded = here.crowded || edge.count > 2;
      if (!seen[e]) continue;
      if (here.seen < 2) here.ends[here.seen] = place == edge.a ? edge.b : edge.a;
      ++here.seen;
    }
  }
  std::vector<uint32_t> out;
  for (uint32_t p = 0; p < topology.places; ++p) {
    const At& here = at[p];
    if (here.edges == 0 || here.crowded) continue;
    if (here.seen == 0) out.push_back(p);
    if (here.seen != 2) continue;
    const dvec3 one = dvec3(positions[here.ends[0]]) - dvec3(positions[p]),
                two = dvec3(positions[here.ends[1]]) - dvec3(positions[p]);
    const double lengths = glm::length(one) * glm::length(two);
    if (lengths > 0 && glm::dot(one, two) <= -cosine * lengths) out.push_back(p);
  }
  return out;
}

std::vector<uint32_t> unalignedEdges(std::span<const glm::vec3> positions, const Topology& topology,
                                     const FlatOptions& options) {
  const double cosine = std::cos(static_cast<double>(options.angle_rad));
  const std::vector<bool> seen = ridges(normalsOf(positions, topology), topology, cosine);
  std::vector<uint32_t> out;
  for (uint32_t e = 0; e < topology.edges.size(); ++e) {
    if (!seen[e]) continue;
    const dvec3 along =
        glm::abs(dvec3(positions[topology.edges[e].b]) - dvec3(positions[topology.edges[e].a]));
    const double most = std::max(along.x, std::max(along.y, along.z)), length = glm::length(along);
    if (length > 0 && most < cosine * length) out.push_back(e);
  }
  return out;
}

}  // namespace rakugo::geometry
