#include "geometry/flatness.h"

#include <cmath>

namespace rakugo::geometry {
namespace {

using dvec3 = glm::dvec3;

// Normals of triangles, of any length; zero for those without a surface.
std::vector<dvec3> normalsOf(std::span<const glm::vec3> positions, const Topology& topology) {
  std::vector<dvec3> out(topology.triangles());
  for (size_t t = 0; t < out.size(); ++t) {
    const dvec3 a(positions[topology.corners[t * 3]]), b(positions[topology.corners[t * 3 + 1]]),
        c(positions[topology.corners[t * 3 + 2]]);
    const dvec3 n = glm::cross(b - a, c - a);
    out[t] = std::isfinite(glm::dot(n, n)) ? n : dvec3(0);
  }
  return out;
}

// Whether the angle between two directions of any length is within that of a positive cosine.
bool within(const dvec3& one, const dvec3& other, double cosine) {
  const double dot = glm::dot(one, other);
  return dot > 0 && dot * dot >= cosine * cosine * glm::dot(one, one) * glm::dot(other, other);
}

// The seen edges at a place: none, two that may go straight on, or others.
struct At {
  uint32_t ends[2] = {0, 0};
  uint32_t seen = 0;
  bool used = false, crowded = false;
  void add(uint32_t end) {
    if (seen < 2) ends[seen] = end;
    ++seen;
  }
};

}  // namespace

Flatness flatnessOf(std::span<const glm::vec3> positions, const Topology& topology,
                    const FlatOptions& options) {
  Flatness out;
  const double cosine = std::cos(static_cast<double>(options.angle_rad));
  const std::vector<dvec3> normals = normalsOf(positions, topology);
  std::vector<At> at(topology.places);
  for (uint32_t e = 0; e < topology.edges.size(); ++e) {
    const Edge& edge = topology.edges[e];
    At &a = at[edge.a], &b = at[edge.b];
    a.used = b.used = true;
    if (edge.count > 2) a.crowded = b.crowded = true;
    if (edge.count == 2) {
      const uint32_t side = topology.sides[edge.first], other = topology.sides[edge.first + 1];
      const dvec3 one = normals[side / 3], two = topology.from(side) == topology.from(other)
                                                     ? -normals[other / 3]
                                                     : normals[other / 3];
      if (one == dvec3(0) || two == dvec3(0) || within(one, two, cosine)) continue;
    }
    a.add(edge.b);
    b.add(edge.a);
    const dvec3 along = glm::abs(dvec3(positions[edge.b]) - dvec3(positions[edge.a]));
    const double most = std::max(along.x, std::max(along.y, along.z)), length2 = glm::dot(along, along);
    if (length2 > 0 && most * most < cosine * cosine * length2) out.unaligned.push_back(e);
  }
  for (uint32_t p = 0; p < topology.places; ++p) {
    const At& here = at[p];
    if (!here.used || here.crowded) continue;
    if (here.seen == 0) out.shapeless.push_back(p);
    if (here.seen != 2) continue;
    const dvec3 one = dvec3(positions[here.ends[0]]) - dvec3(positions[p]),
                two = dvec3(positions[here.ends[1]]) - dvec3(positions[p]);
    if (within(one, -two, cosine)) out.shapeless.push_back(p);
  }
  return out;
}

}  // namespace rakugo::geometry
