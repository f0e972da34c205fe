#include "geometry/corner_normals.h"

#include <cmath>

#include "geometry/finite.h"
#include "geometry/union_find.h"

namespace rakugo::geometry {
namespace {

glm::vec3 unitOr(glm::vec3 v, glm::vec3 otherwise) {
  const float length = glm::length(v);
  return length > 0 && std::isfinite(length) ? v / length : otherwise;
}

}  // namespace

std::vector<glm::vec3> cornerNormals(std::span<const glm::vec3> positions, const Topology& topology,
                                     float crease_rad) {
  const size_t n = topology.triangles();
  std::vector<glm::vec3> faces(n);  // as long as twice the area
  for (size_t t = 0; t < n; ++t) {
    const uint32_t* c = topology.corners.data() + t * 3;
    const glm::vec3 face = glm::cross(positions[c[1]] - positions[c[0]], positions[c[2]] - positions[c[0]]);
    faces[t] = finite(face) ? face : glm::vec3(0);
  }
  const float least = std::cos(crease_rad) - 1e-6F;
  UnionFind smooth(n * 3);
  for (uint32_t s = 0; s < n * 3; ++s) {
    const uint32_t o = topology.twin[s];
    if (!topology.hasTwin(s) || o < s) continue;
    const glm::vec3 a = faces[s / 3], b = faces[o / 3];
    const float lengths = glm::length(a) * glm::length(b);
    if (!(lengths > 0) || glm::dot(a, b) < least * lengths) continue;
    // The two corners at each end are of one face; sides of one edge may run the same way or against each
    // other.
    const bool against = topology.from(s) == topology.to(o);
    smooth.join(s, against ? Topology::nextHalfEdge(o) : o);
    smooth.join(Topology::nextHalfEdge(s), against ? o : Topology::nextHalfEdge(o));
  }
  std::vector<glm::vec3> sums(n * 3, glm::vec3(0)), all(topology.places, glm::vec3(0));
  for (uint32_t c = 0; c < n * 3; ++c) {
    sums[smooth.first(c)] += faces[c / 3];
    all[topology.corners[c]] += faces[c / 3];
  }
  std::vector<glm::vec3> out(n * 3);
  for (uint32_t c = 0; c < n * 3; ++c)
    out[c] = unitOr(sums[smooth.first(c)], unitOr(all[topology.corners[c]], {0, 0, 1}));
  return out;
}

}  // namespace rakugo::geometry
