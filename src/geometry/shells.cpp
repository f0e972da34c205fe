#include "geometry/shells.h"

#include <algorithm>
#include <cmath>

#include "base/jobs.h"
#include "geometry/finite.h"
#include "geometry/ray.h"

namespace rakugo::geometry {
namespace {

using dvec3 = glm::dvec3;

// Triangles by shell, and a tree of them for those that are asked.
class Insides {
 public:
  Insides(std::span<const glm::vec3> positions, const Topology& topology, const Shells& shells)
      : positions_(positions), topology_(topology), shells_(shells) {}
  // Whether a point lies inside a closed shell: a ray from it crosses the shell an odd number of times.
  [[nodiscard]] bool inside(uint32_t shell, glm::vec3 point) {
    Own& own = of(shell);
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
        const uint32_t* c = topology_.corners.data() + size_t{own.triangles[i]} * 3;
        crossed += rayMeets(point, ray, positions_[c[0]], positions_[c[1]], positions_[c[2]]) ? 1 : 0;
        return true;
      });
      votes += crossed % 2 == 1 ? 1 : 0;
    }
    return votes >= 2;
  }
  [[nodiscard]] const std::vector<uint32_t>& triangles(uint32_t shell) { return of(shell).triangles; }
  [[nodiscard]] glm::vec3 middle(uint32_t t) const {
    const auto& c = topology_.corners;
    return (positions_[c[t * 3]] + positions_[c[t * 3 + 1]] + positions_[c[t * 3 + 2]]) / 3.0F;
  }

 private:
  struct Own {
    std::vector<uint32_t> triangles;
    Bvh tree;
  };
  // Only once somebody asks: most models have no shell within another's box.
  Own& of(uint32_t shell) {
    if (of_.empty()) {
      of_.resize(shells_.count);
      for (uint32_t t = 0; t < topology_.triangles(); ++t)
        if (shells_.of[t] != Topology::kCollapsed) of_[shells_.of[t]].triangles.push_back(t);
    }
    return of_[shell];
  }
  std::span<const glm::vec3> positions_;
  const Topology& topology_;
  const Shells& shells_;
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

namespace {

// What single triangles tell of their shells: how many there are, the box, whether every side has a twin, and
// the volume seen from a corner of the shell.
class ShellSums {
 public:
  ShellSums(std::span<const glm::vec3> positions, const Topology& topology, const Shells& shells)
      : positions_(positions), topology_(topology), shells_(shells), about_(shells.count) {
    uint32_t found = 0;
    for (uint32_t t = 0; found < shells.count; ++t)
      if (shells.of[t] == found) about_[found++] = glm::dvec3(positions[topology.corners[t * 3]]);
  }

  [[nodiscard]] std::vector<ShellFacts> ofTriangles(size_t begin, size_t end) const {
    ShellFacts fresh;
    fresh.closed = true;
    std::vector<ShellFacts> out(shells_.count, fresh);
    // Neighbours in the list are of one shell, mostly: what is summed up of those stays at hand.
    ShellFacts now = fresh;
    uint32_t shell = Topology::kCollapsed;
    for (auto t = static_cast<uint32_t>(begin); t < end; ++t) {
      if (topology_.collapsed(t)) continue;
      if (shells_.of[t] != shell) {
        if (shell != Topology::kCollapsed) out[shell] = now;
        shell = shells_.of[t];
        now = out[shell];
      }
      add(t, about_[shell], now);
    }
    if (shell != Topology::kCollapsed) out[shell] = now;
    return out;
  }

 private:
  void add(uint32_t t, const dvec3& about, ShellFacts& to) const {
    const uint32_t* c = topology_.corners.data() + size_t{t} * 3;
    const glm::vec3 &a = positions_[c[0]], &b = positions_[c[1]], &d = positions_[c[2]];
    ++to.triangles;
    if (finite(a) && finite(b) && finite(d)) {
      to.box.min = glm::min(to.box.min, glm::min(a, glm::min(b, d)));
      to.box.max = glm::max(to.box.max, glm::max(a, glm::max(b, d)));
    } else {
      to.closed = false;
      for (const glm::vec3& one : {a, b, d}) to.box.add(one);
    }
    to.closed =
        to.closed && topology_.hasTwin(t * 3) && topology_.hasTwin(t * 3 + 1) && topology_.hasTwin(t * 3 + 2);
    if (!to.closed) return;
    const double six = glm::dot(dvec3(a) - about, glm::cross(dvec3(b) - about, dvec3(d) - about));
    to.volume += (shells_.flipped[t] ? -six : six) / 6;
  }
  std::span<const glm::vec3> positions_;
  const Topology& topology_;
  const Shells& shells_;
  std::vector<dvec3> about_;
};

}  // namespace

std::vector<ShellFacts> shellFacts(std::span<const glm::vec3> positions, const Topology& topology,
                                   const Shells& shells) {
  const ShellSums sums(positions, topology, shells);
  // Pieces of the list where shells are few beside them.
  constexpr size_t kMany = 1 << 15;
  const size_t n = topology.triangles(), size = shells.count < kMany / 16 ? kMany : std::max<size_t>(n, 1);
  std::vector<std::vector<ShellFacts>> pieces(base::piecesOf(n, size));
  base::parallelPieces(
      n, size, [&](size_t piece, size_t begin, size_t end) { pieces[piece] = sums.ofTriangles(begin, end); });
  std::vector<ShellFacts> out(shells.count);
  for (ShellFacts& s : out) s.closed = true;
  for (const auto& piece : pieces)
    for (uint32_t i = 0; i < shells.count; ++i) {
      out[i].triangles += piece[i].triangles;
      out[i].box.add(piece[i].box);
      out[i].closed = out[i].closed && piece[i].closed;
      out[i].volume += piece[i].volume;
    }
  for (ShellFacts& s : out)
    if (!s.closed) s.volume = 0;
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
