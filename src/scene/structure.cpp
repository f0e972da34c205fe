#include "scene/structure.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <glm/gtc/matrix_transform.hpp>
#include <numeric>

#include "geometry/crossings.h"
#include "geometry/finite.h"
#include "geometry/flatness.h"
#include "geometry/shells.h"
#include "geometry/topology.h"
#include "geometry/triangles.h"
#include "geometry/welding.h"
#include "scene/attribute_faults.h"
#include "scene/rest_pose.h"

namespace rakugo::scene {
namespace {

using geometry::Topology;

// The numbers of triangles in the order of their lowest place, `of` being the place of each vertex.
std::vector<uint32_t> alongPlaces(std::span<const uint32_t> indices, std::span<const uint32_t> of,
                                  uint32_t places) {
  const size_t count = indices.size() / 3;
  std::vector<uint32_t> lowest(count), out(count);
  for (size_t t = 0; t < count; ++t)
    lowest[t] = std::min({of[indices[t * 3]], of[indices[t * 3 + 1]], of[indices[t * 3 + 2]]});
  if (count < places / 32) {
    // A small primitive among many does not pay for a count of all places.
    std::iota(out.begin(), out.end(), 0U);
    std::sort(out.begin(), out.end(),
              [&](uint32_t a, uint32_t b) { return lowest[a] != lowest[b] ? lowest[a] < lowest[b] : a < b; });
    return out;
  }
  std::vector<uint32_t> begins(size_t{places} + 1, 0);
  for (const uint32_t p : lowest) ++begins[p + 1];
  std::partial_sum(begins.begin(), begins.end(), begins.begin());
  for (uint32_t t = 0; t < count; ++t) out[begins[lowest[t]]++] = t;
  return out;
}

class PartReader {
 public:
  PartReader(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world, float model_diagonal_m,
             const StructureOptions& options, base::Progress* progress)
      : options_(options), progress_(progress), diagonal_m_(model_diagonal_m) {
    out_.node = part;
    mesh_ = restMesh(model, part, world);
    matrix_ = model.node(part).skin.valid() ? glm::mat4(1) : world[part.value()];
  }

  base::Result<PartStructure> run() {
    if (cancelled()) return base::cancelledError();
    gather();
    // Side by side, each counts faults of its own sorts; what the first finds the second line is built on.
    each({[this] { weld(); }, [this] { twins(); }});
    each({[this] { attributes(); }, [this] { shells(); }, [this] { flatness(); }, [this] { edges(); },
          [this] { triangles(); }});
    topology_.dropNeighbours();
    // These take all cores by themselves.
    each({[this] { overlaps(); }});
    each({[this] { crossings(); }});
    if (cancelled()) return base::cancelledError();
    return std::move(out_);
  }

 private:
  [[nodiscard]] bool cancelled() const { return progress_ != nullptr && progress_->cancelled(); }
  void each(const std::vector<std::function<void()>>& stages) {
    base::parallelFor(stages.size(), [&](size_t i) {
      if (!cancelled()) stages[i]();
    });
  }
  Fault& fault(FaultCode code) { return out_.faults[static_cast<size_t>(code)]; }
  void mark(FaultCode code, glm::vec3 at) {
    Fault& f = fault(code);
    ++f.count;
    if (f.marks.size() < kMostMarks) f.marks.push_back(at);
  }
  [[nodiscard]] glm::vec3 middle(size_t t) const {
    return (place(topology_.corners[t * 3]) + place(topology_.corners[t * 3 + 1]) +
            place(topology_.corners[t * 3 + 2])) /
           3.0F;
  }
  [[nodiscard]] glm::vec3 place(uint32_t p) const { return by_place_[p]; }

  // All vertices in one list, in the model's space.
  void gather() {
    size_t vertices = 0, corners = 0;
    for (const Primitive& p : mesh_->primitives) {
      vertices += p.positions.size();
      corners += p.indices.size() / 3 * 3;
    }
    positions_.resize(vertices);
    corners_.resize(corners);
    out_.vertices = vertices;
    out_.triangles = corners / 3;
    size_t first = 0;
    for (const Primitive& p : mesh_->primitives)
      for (const glm::vec3& at : p.positions) positions_[first++] = glm::vec3(matrix_ * glm::vec4(at, 1));
    for (const glm::vec3& at : positions_) out_.box.add(at);
  }

  // Places, and triangles over them, in an order of their own: what lies together stands together, however a
  // file has it, and each of the walks below finds its next step close by. Those of one primitive stay
  // together. A mirroring placement turns triangles round, as it does in a game.
  void weld() {
    const bool mirrored = glm::determinant(glm::mat3(matrix_)) < 0;
    const geometry::Welding welding = geometry::weldAlongCurve(positions_);
    const auto places = static_cast<uint32_t>(welding.places());
    by_place_.resize(places);
    for (uint32_t p = 0; p < places; ++p) by_place_[p] = positions_[welding.first[p]];
    std::vector<uint32_t> sorted(corners_.size());
    uint32_t first = 0, triangles = 0;
    for (const Primitive& p : mesh_->primitives) {
      const auto count = static_cast<uint32_t>(p.indices.size() / 3);
      const std::span<const uint32_t> of(welding.of.data() + first, p.positions.size());
      const std::vector<uint32_t> order = alongPlaces(p.indices, of, places);
      for (uint32_t t = 0; t < count; ++t) {
        const uint32_t* from = p.indices.data() + size_t{order[t]} * 3;
        const size_t to = (size_t{triangles} + t) * 3;
        for (size_t k = 0; k < 3; ++k) corners_[to + k] = from[k];
        sorted[to] = of[from[0]];
        sorted[to + 1] = of[from[mirrored ? 2 : 1]];
        sorted[to + 2] = of[from[mirrored ? 1 : 2]];
      }
      triangles += count;
      first += static_cast<uint32_t>(p.positions.size());
    }
    topology_ = geometry::topologyOf(std::move(sorted), places);
  }

  void triangles() {
    const geometry::Slivers slivers =
        geometry::sliversOf(by_place_, topology_.corners, options_.needle_ratio);
    out_.area_m2 = slivers.area;
    for (const uint32_t t : slivers.degenerate) mark(FaultCode::degenerate_triangles, middle(t));
    for (const uint32_t t : slivers.needles) mark(FaultCode::needle_triangles, middle(t));
    for (const uint32_t t : geometry::duplicateTriangles(topology_))
      mark(FaultCode::duplicate_triangles, middle(t));
  }

  void edges() {
    for (const geometry::Edge& e : topology_.edges)
      if (e.count != 2)
        mark(e.count == 1 ? FaultCode::open_edges : FaultCode::nonmanifold_edges,
             (place(e.a) + place(e.b)) / 2.0F);
    out_.closed = !topology_.edges.empty() && fault(FaultCode::open_edges).count == 0 &&
                  fault(FaultCode::nonmanifold_edges).count == 0;
    for (const uint32_t p : geometry::nonManifoldPlaces(topology_))
      mark(FaultCode::nonmanifold_vertices, place(p));
    for (const geometry::BorderLoop& border : geometry::borderLoops(topology_)) {
      OpenLoop loop;
      const size_t n = border.places.size();
      loop.edges = static_cast<uint32_t>(border.closed ? n : n - 1);
      for (size_t i = 0; i < loop.edges; ++i)
        loop.length_m +=
            static_cast<double>(glm::distance(place(border.places[i]), place(border.places[(i + 1) % n])));
      for (const uint32_t p : border.places) loop.places.push_back(place(p));
      out_.open_loops.push_back(std::move(loop));
    }
    std::vector<uint8_t> used(topology_.places, 0);
    int64_t faces = 0;
    for (size_t t = 0; t < topology_.triangles(); ++t) {
      if (topology_.collapsed(t)) continue;
      ++faces;
      for (size_t k = 0; k < 3; ++k) used[topology_.corners[t * 3 + k]] = 1;
    }
    out_.euler =
        std::count(used.begin(), used.end(), 1) - static_cast<int64_t>(topology_.edges.size()) + faces;
  }

  void shells() {
    const geometry::Shells shells = geometry::shellsOf(topology_);
    const auto facts = geometry::shellFacts(by_place_, topology_, shells);
    out_.shells = shells.count;
    for (size_t t = 0; t < shells.flipped.size(); ++t)
      if (shells.flipped[t]) mark(FaultCode::flipped_triangles, middle(t));
    for (const geometry::ShellFacts& s : facts) {
      if (s.closed) {
        const double held = std::abs(s.volume);
        out_.volume_m3 = out_.volume_m3.value_or(0) + (s.hollow ? -held : held);
      }
      if (s.inside_out) mark(FaultCode::inside_out_shells, s.box.center());
      if (glm::length(s.box.size()) < diagonal_m_ * options_.speck_ratio)
        mark(FaultCode::specks, s.box.center());
    }
    if (!options_.thorough) return;
    for (const uint32_t t : geometry::hiddenTriangles(by_place_, topology_, shells, facts))
      mark(FaultCode::hidden_triangles, middle(t));
  }

  void crossings() {
    if (!options_.thorough) return;
    for (const auto& [a, b] : geometry::crossingTriangles(by_place_, topology_.corners, progress_))
      mark(FaultCode::self_intersections, (middle(a) + middle(b)) / 2.0F);
  }

  void flatness() {
    const geometry::Flatness flatness = geometry::flatnessOf(by_place_, topology_);
    for (const uint32_t p : flatness.shapeless) mark(FaultCode::shapeless_vertices, place(p));
    for (const uint32_t e : flatness.unaligned)
      mark(FaultCode::unaligned_edges, (place(topology_.edges[e].a) + place(topology_.edges[e].b)) / 2.0F);
  }

  // Of single vertices, a primitive after another; each by what it has that others have too.
  void twins() {
    const float tolerance = glm::length(out_.box.size()) * options_.coincident_ratio;
    uint32_t first = 0;
    for (const Primitive& p : mesh_->primitives) {
      const std::span<const glm::vec3> placed(positions_.data() + first, p.positions.size());
      std::vector<uint8_t> used(p.positions.size(), 0);
      for (const uint32_t c : p.indices) used[c] = 1;
      for (size_t v = 0; v < used.size(); ++v)
        if (used[v] == 0) mark(FaultCode::unused_vertices, placed[v]);
      for (const VertexTwin& twin : coincidentTwins(p, placed, tolerance))
        mark(FaultCode::coincident_vertices, placed[twin.vertex]);
      first += static_cast<uint32_t>(p.positions.size());
    }
  }

  // Calls body(primitive, indices, first vertex) for each, its triangles in the order of `topology_`.
  template <class Body>
  void eachPrimitive(Body body) {
    uint32_t first = 0;
    size_t corner = 0;
    for (const Primitive& p : mesh_->primitives) {
      const std::span<const uint32_t> indices(corners_.data() + corner, p.indices.size() / 3 * 3);
      body(p, indices, first);
      first += static_cast<uint32_t>(p.positions.size());
      corner += indices.size();
    }
  }
  void markFaces(FaultCode code, const std::vector<uint32_t>& list, std::span<const uint32_t> indices,
                 uint32_t first) {
    const auto at = [&](uint32_t i) { return positions_[first + indices[i]]; };
    for (const uint32_t t : list) mark(code, (at(t * 3) + at(t * 3 + 1) + at(t * 3 + 2)) / 3.0F);
  }

  void overlaps() {
    if (options_.thorough)
      eachPrimitive([&](const Primitive& p, std::span<const uint32_t> indices, uint32_t first) {
        if (p.uvs[0].size() == p.positions.size())
          markFaces(FaultCode::uvs_overlapping, geometry::overlappingUvs(p.uvs[0], indices, progress_),
                    indices, first);
      });
    corners_ = {};
  }

  // Of normals and pictures, in the mesh's own space.
  void attributes() {
    eachPrimitive([&](const Primitive& p, std::span<const uint32_t> indices, uint32_t first) {
      const auto at = [&](uint32_t v) { return positions_[first + v]; };
      const auto vertices = [&](FaultCode code, const std::vector<uint32_t>& list) {
        for (const uint32_t v : list) mark(code, at(v));
      };
      const auto all = [&](FaultCode code) {
        for (uint32_t v = 0; v < p.positions.size(); ++v) mark(code, at(v));
      };
      vertices(FaultCode::normals_bad, badNormals(p, indices));
      if (!indices.empty() && p.normals.size() != p.positions.size()) all(FaultCode::normals_missing);
      if (!indices.empty() && p.uvs[0].size() != p.positions.size()) {
        all(FaultCode::uvs_missing);
      } else if (!indices.empty()) {
        vertices(FaultCode::uvs_outside, uvsOutside(p));
        markFaces(FaultCode::uvs_mirrored, mirroredUvs(p, indices), indices, first);
      }
    });
  }

  StructureOptions options_;
  base::Progress* progress_;
  float diagonal_m_;
  std::shared_ptr<const Mesh> mesh_;
  glm::mat4 matrix_{1};
  std::vector<glm::vec3> positions_, by_place_;  // by vertex, by place
  std::vector<uint32_t> corners_;  // as `topology_` has its triangles: vertices of their primitive
  Topology topology_;
  PartStructure out_;
};

}  // namespace

const char* faultName(FaultCode code) {
  static constexpr std::array<const char*, kFaultCodes> kNames = {
      "degenerate_triangles", "needle_triangles",     "duplicate_triangles",
      "unused_vertices",      "coincident_vertices",  "open_edges",
      "nonmanifold_edges",    "nonmanifold_vertices", "flipped_triangles",
      "inside_out_shells",    "self_intersections",   "hidden_triangles",
      "normals_missing",      "normals_bad",          "uvs_missing",
      "uvs_outside",          "uvs_overlapping",      "uvs_mirrored",
      "shapeless_vertices",   "unaligned_edges",      "specks"};
  return kNames[static_cast<size_t>(code)];
}

const char* faultRule(FaultCode code) {
  static constexpr std::array<const char*, kFaultCodes> kRules = {
      "Triangles with two corners at one place, or with an area below 1e-12 of the square of the part's "
      "longest extent.",
      "Other triangles whose least height is below a thousandth of their longest side.",
      "Triangles with the same three places as an earlier one, whichever way they are wound.",
      "Vertices that no triangle names.",
      "Vertices that could be one with an earlier vertex of the same primitive: within 1e-5 of the part's "
      "diagonal, and "
      "alike in normal, coordinates, colour, bones and weights. Vertices of a seam are not.",
      "Edges with one triangle.",
      "Edges with three triangles or more.",
      "Places where the triangles form more than one fan, not counting the ends of edges with three "
      "triangles.",
      "Triangles wound against the majority of their shell.",
      "Closed shells wound inward that are no hollows (a hollow lies within an odd number of others).",
      "Pairs of triangles that pass through each other, or cover a common area of one plane. Touching does "
      "not count, "
      "nor do duplicates; a triangle is paired with 64 others at most.",
      "Triangles that lie wholly within a closed shell of the same part other than their own.",
      "Vertices of primitives without normals.",
      "Vertices whose normal is not finite, a hundredth off unit length, or turned away from the mean of its "
      "faces.",
      "Vertices of primitives without texture coordinates.",
      "Vertices with a coordinate that is not finite, or more than 1e-4 outside 0 to 1.",
      "Triangles that cover, on their picture, an area that another triangle of the primitive covers too.",
      "Triangles that show their picture mirrored.",
      "Places that could go without changing the shape: inside a flat face, or where a straight border or "
      "ridge goes on "
      "(to a tenth of a degree).",
      "Borders and ridges that run along none of the three axes (to a tenth of a degree).",
      "Shells whose diagonal is below a hundredth of the model's."};
  return kRules[static_cast<size_t>(code)];
}

base::Result<PartStructure> partStructure(const Model& model, NodeIndex part,
                                          const std::vector<glm::mat4>& world, float model_diagonal_m,
                                          const StructureOptions& options, base::Progress* progress) {
  return PartReader(model, part, world, model_diagonal_m, options, progress).run();
}

base::Result<std::vector<PartStructure>> structureOf(const Model& model, double unit_m,
                                                     const StructureOptions& options,
                                                     base::Progress* progress) {
  auto world = worldMatrices(model);
  const glm::mat4 to_metres = glm::scale(glm::mat4(1), glm::vec3(static_cast<float>(unit_m)));
  for (glm::mat4& m : world) m = to_metres * m;
  geometry::Bounds box;
  for (const NodeIndex i : reachedNodes(model)) box.add(partBounds(model, i, world));
  std::vector<PartStructure> out;
  for (const NodeIndex i : reachedNodes(model)) {
    if (!model.node(i).mesh.valid()) continue;
    RAKUGO_ASSIGN(PartStructure one,
                  partStructure(model, i, world, glm::length(box.size()), options, progress));
    out.push_back(std::move(one));
  }
  return out;
}

std::optional<double> heldVolume_m3(const std::vector<PartStructure>& parts) {
  std::optional<double> out;
  for (const PartStructure& part : parts)
    if (part.volume_m3) out = out.value_or(0) + *part.volume_m3;
  return out;
}

}  // namespace rakugo::scene
