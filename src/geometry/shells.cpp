#include "geometry/shells.h"

#include <algorithm>
#include <cmath>

#include "geometry/bvh.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

using dvec3 = glm::dvec3;

// Triangles by shell, and a tree of them for those that are asked.
class Insides {
 public:
  Insides(std::span<const glm::vec3> positions, const Topology& topology, const Shells& shells)
      : positions_(positions), topology_(topology), of_(shells.count) {
    for (uint32_t t = 0; t < topology.triangles(); ++t)
      if (shells.of[t] != Topology::kNoEdge) of_[shells.of[t]].triangles.push_back(t);
  }
  // Whether a point lies inside a closed shell: a ray from it crosses the shell an odd number of times.
  [[nodiscard]] bool inside(uint32_t shell, glm::vec3 point) {
    Own& own = of_[shell];
    if (own.tree.empty()) {
      std::vector<uint32_t> corners;
      for (const uint32_t t : own.triangles)
        corners.insert(corners.end(), topology_.corners.begin() + t * 3,
                       topology_.corners.begin() + t * 3 + 3);
      own.tree = Bvh(triangleBoxes(positions_, corners));
    }
    // Three rays, and the majority: one may run along an edge.
    static constexpr glm::vec3 kRays[] = {
        {0.6841F, 0.3717F, 0.6275F}, {-0.5713F, 0.7339F, 0.3671F}, {0.2903F, -0.6329F, -0.7177F}};
    int votes = 0;
    for (const glm::vec3& ray : kRays) {
      size_t crossed = 0;
      own.tree.along(point, ray, [&](uint32_t i) {
        const uint32_t t = own.triangles[i];
        crossed += crosses(point, ray, t) ? 1 : 0;
        return true;
      });
      votes += crossed % 2 == 1 ? 1 : 0;
    }
    return votes >= 2;
  }
  [[nodiscard]] const std::vector<uint32_t>& triangles(uint32_t shell) const { return of_[shell].triangles; }
  [[nodiscard]] glm::vec3 middle(uint32_t t) const {
    const auto& c = topology_.corners;
    return (positions_[c[t * 3]] + positions_[c[t * 3 + 1]] + positions_[c[t * 3 + 2]]) / 3.0F;
  }

 private:
  // Moeller and Trumbore, "Fast, minimum storage ray/triangle intersection" (1997), in double.
  [[nodiscard]] bool crosses(glm::vec3 point, glm::vec3 ray, uint32_t t) const {
    const auto& c = topology_.corners;
    const dvec3 a(positions_[c[t * 3]]), b(positions_[c[t * 3 + 1]]), d(positions_[c[t * 3 + 2]]);
    const dvec3 e1 = b - a, e2 = d - a, p = glm::cross(dvec3(ray), e2);
    const double det = glm::dot(e1, p);
    if (det == 0) return false;
    const dvec3 s = dvec3(point) - a;
    const double u = glm::dot(s, p) / det;
    if (u < 0 || u > 1) return false;
    const dvec3 q = glm::cross(s, e1);
    const double v = glm::dot(dvec3(ray), q) / det;
    return v >= 0 && u + v <= 1 && glm::dot(e2, q) / det > 0;
  }
  struct Own {
    std::vector<uint32_t> triangles;
    Bvh tree;
  };
  std::span<const glm::vec3> positions_;
  const Topology& topology_;
  std::vector<Own> of_;
};

bool within(const Bounds& outer, const Bounds& inner) {
  return !inner.empty() && glm::all(glm::lessThanEqual(outer.min, inner.min)) &&
         glm::all(glm::greaterThanEqual(outer.max, inner.max));
}

// The boxes of closed shells; open ones have none.
Bvh closedShells(const std::vector<ShellFacts>& facts) {
  std::vector<Bounds> boxes;
  for (const ShellFacts& s : facts) boxes.push_back(s.closed ? s.box : Bounds{});
  return Bvh(boxes);
}

}  // namespace

std::vector<ShellFacts> shellFacts(std::span<const glm::vec3> positions, const Topology& topology,
                                   const Shells& shells, const std::vector<bool>& flipped) {
  std::vector<ShellFacts> out(shells.count);
  for (ShellFacts& s : out) s.closed = true;
  for (uint32_t t = 0; t < topology.triangles(); ++t) {
    if (topology.collapsed(t)) continue;
    ShellFacts& s = out[shells.of[t]];
    ++s.triangles;
    for (uint32_t k = t * 3; k < t * 3 + 3; ++k) {
      s.box.add(positions[topology.corners[k]]);
      s.closed = s.closed && topology.edges[topology.edge_of[k]].count == 2 &&
                 finite(positions[topology.corners[k]]);
    }
  }
  for (uint32_t t = 0; t < topology.triangles(); ++t) {
    if (topology.collapsed(t) || !out[shells.of[t]].closed) continue;
    ShellFacts& s = out[shells.of[t]];
    const dvec3 middle(s.box.center());
    const auto at = [&](uint32_t k) { return dvec3(positions[topology.corners[t * 3 + k]]) - middle; };
    const double six = glm::dot(at(0), glm::cross(at(1), at(2)));
    s.volume += (flipped[t] ? -six : six) / 6;
  }
  Insides insides(positions, topology, shells);
  const Bvh closed = closedShells(out);
  for (uint32_t i = 0; i < shells.count; ++i) {
    if (!out[i].closed) continue;
    size_t around = 0;
    closed.within(out[i].box, [&](uint32_t k) {
      if (k != i && within(out[k].box, out[i].box) && std::abs(out[k].volume) > std::abs(out[i].volume) &&
          insides.inside(k, insides.middle(insides.triangles(i)[0])))
        ++around;
      return true;
    });
    out[i].hollow = out[i].volume < 0 && around % 2 == 1;
    out[i].inside_out = out[i].volume < 0 && !out[i].hollow;
  }
  return out;
}

std::vector<uint32_t> hiddenTriangles(std::span<const glm::vec3> positions, const Topology& topology,
                                      const Shells& shells, const std::vector<ShellFacts>& facts) {
  std::vector<uint32_t> out;
  std::vector<bool> hidden(topology.triangles(), false);
  Insides insides(positions, topology, shells);
  const Bvh closed = closedShells(facts);
  for (uint32_t inner = 0; inner < shells.count; ++inner) {
    closed.within(facts[inner].box, [&](uint32_t outer) {
      if (inner == outer) return true;
      for (const uint32_t t : insides.triangles(inner)) {
        if (hidden[t]) continue;
        bool all = true;
        for (uint32_t k = 0; k < 3 && all; ++k) {
          // Each corner, drawn a little to the middle: one that touches the outer shell is no evidence.
          const glm::vec3 corner = positions[topology.corners[t * 3 + k]];
          all = finite(corner) && insides.inside(outer, corner + (insides.middle(t) - corner) * 0.01F);
        }
        hidden[t] = all;
      }
      return true;
    });
  }
  for (uint32_t t = 0; t < hidden.size(); ++t)
    if (hidden[t]) out.push_back(t);
  return out;
}

double areaOf(std::span<const glm::vec3> positions, std::span<const uint32_t> corners) {
  double out = 0;
  for (size_t t = 0; t + 2 < corners.size(); t += 3) {
    const dvec3 a(positions[corners[t]]), b(positions[corners[t + 1]]), c(positions[corners[t + 2]]);
    const double twice = glm::length(glm::cross(b - a, c - a));
    if (std::isfinite(twice)) out += twice / 2;
  }
  return out;
}

}  // namespace rakugo::geometry
