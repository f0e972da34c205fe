#include "scene/structure.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <glm/gtc/matrix_transform.hpp>

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
    const auto cancelled = [this] { return progress_ != nullptr && progress_->cancelled(); };
    if (cancelled()) return base::cancelledError();
    gather();
    weld();
    // Each of these counts faults of its own sorts, of what the two above have made: side by side.
    const std::function<void()> stages[] = {[this] { shells(); },     [this] { edges(); },
                                            [this] { attributes(); }, [this] { flatness(); },
                                            [this] { triangles(); },  [this] { crossings(); }};
    base::parallelFor(std::size(stages), [&](size_t i) {
      if (!cancelled()) stages[i]();
    });
    if (cancelled()) return base::cancelledError();
    return std::move(out_);
  }

 private:
  Fault& fault(FaultCode code) { return out_.faults[static_cast<size_t>(code)]; }
  void mark(FaultCode code, glm::vec3 at) {
    Fault& f = fault(code);
    ++f.count;
    if (f.marks.size() < kMostMarks) f.marks.push_back(at);
  }
  [[nodiscard]] glm::vec3 middle(size_t t) const {
    return (positions_[corners_[t * 3]] + positions_[corners_[t * 3 + 1]] + positions_[corners_[t * 3 + 2]]) /
           3.0F;
  }
  [[nodiscard]] glm::vec3 place(uint32_t p) const { return positions_[welding_.first[p]]; }

  // All primitives in one list, in the model's space. A mirroring placement turns triangles round, as it does
  // in a game.
  void gather() {
    const bool mirrored = glm::determinant(glm::mat3(matrix_)) < 0;
    for (const Primitive& p : mesh_->primitives) {
      const auto first = static_cast<uint32_t>(positions_.size());
      for (const glm::vec3& at : p.positions) positions_.push_back(glm::vec3(matrix_ * glm::vec4(at, 1)));
      for (size_t i = 0; i + 2 < p.indices.size(); i += 3) {
        corners_.push_back(first + p.indices[i]);
        corners_.push_back(first + p.indices[i + (mirrored ? 2 : 1)]);
        corners_.push_back(first + p.indices[i + (mirrored ? 1 : 2)]);
      }
    }
    out_.vertices = positions_.size();
    out_.triangles = corners_.size() / 3;
    for (const glm::vec3& at : positions_) out_.box.add(at);
    out_.area_m2 = geometry::areaOf(positions_, corners_);
  }

  void weld() {
    welding_ = geometry::weldEqual(positions_);
    std::vector<uint32_t> places(corners_.size());
    for (size_t i = 0; i < corners_.size(); ++i) places[i] = welding_.of[corners_[i]];
    topology_ = geometry::topologyOf(std::move(places), static_cast<uint32_t>(welding_.places()));
    for (uint32_t p = 0; p < welding_.places(); ++p) by_place_.push_back(place(p));
  }

  void triangles() {
    const auto degenerate = geometry::degenerateTriangles(positions_, corners_);
    std::vector<bool> empty(out_.triangles, false);
    for (const uint32_t t : degenerate) {
      empty[t] = true;
      mark(FaultCode::degenerate_triangles, middle(t));
    }
    for (const uint32_t t : geometry::needleTriangles(positions_, corners_, options_.needle_ratio))
      if (!empty[t]) mark(FaultCode::needle_triangles, middle(t));
    for (const uint32_t t : geometry::duplicateTriangles(topology_.corners))
      mark(FaultCode::duplicate_triangles, middle(t));
    std::vector<bool> used(positions_.size(), false);
    for (const uint32_t c : corners_) used[c] = true;
    for (size_t v = 0; v < used.size(); ++v)
      if (!used[v]) mark(FaultCode::unused_vertices, positions_[v]);
  }

  void edges() {
    for (const geometry::Edge& e : topology_.edges) {
      const glm::vec3 at = (place(e.a) + place(e.b)) / 2.0F;
      if (e.count == 1) mark(FaultCode::open_edges, at);
      if (e.count > 2) mark(FaultCode::nonmanifold_edges, at);
    }
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
    std::vector<bool> used(welding_.places(), false);
    int64_t faces = 0;
    for (size_t t = 0; t < topology_.triangles(); ++t) {
      if (topology_.collapsed(t)) continue;
      ++faces;
      for (size_t k = 0; k < 3; ++k) used[topology_.corners[t * 3 + k]] = true;
    }
    out_.euler =
        std::count(used.begin(), used.end(), true) - static_cast<int64_t>(topology_.edges.size()) + faces;
  }

  void shells() {
    const geometry::Shells shells = geometry::shellsOf(topology_);
    const std::vector<bool> flipped = geometry::flippedTriangles(topology_, shells);
    const auto facts = geometry::shellFacts(by_place_, topology_, shells, flipped);
    out_.shells = shells.count;
    for (size_t t = 0; t < flipped.size(); ++t)
      if (flipped[t]) mark(FaultCode::flipped_triangles, middle(t));
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
    for (const uint32_t p : geometry::shapelessPlaces(by_place_, topology_))
      mark(FaultCode::shapeless_vertices, place(p));
    for (const uint32_t e : geometry::unalignedEdges(by_place_, topology_))
      mark(FaultCode::unaligned_edges, (place(topology_.edges[e].a) + place(topology_.edges[e].b)) / 2.0F);
  }

  // Those of single vertices and pictures, a primitive after another, in the mesh's own space.
  void attributes() {
    const float tolerance = glm::length(out_.box.size()) * options_.coincident_ratio;
    uint32_t first = 0;
    for (const Primitive& p : mesh_->primitives) {
      const auto at = [&](uint32_t v) { return positions_[first + v]; };
      const auto vertices = [&](FaultCode code, const std::vector<uint32_t>& list) {
        for (const uint32_t v : list) mark(code, at(v));
      };
      const auto faces = [&](FaultCode code, const std::vector<uint32_t>& list) {
        for (const uint32_t t : list)
          mark(code, (at(p.indices[t * 3]) + at(p.indices[t * 3 + 1]) + at(p.indices[t * 3 + 2])) / 3.0F);
      };
      const std::span<const glm::vec3> placed(positions_.data() + first, p.positions.size());
      for (const VertexTwin& twin : coincidentTwins(p, placed, tolerance))
        mark(FaultCode::coincident_vertices, at(twin.vertex));
      vertices(FaultCode::normals_bad, badNormals(p));
      if (!p.indices.empty() && p.normals.size() != p.positions.size())
        for (uint32_t v = 0; v < p.positions.size(); ++v) mark(FaultCode::normals_missing, at(v));
      if (!p.indices.empty() && p.uvs[0].size() != p.positions.size()) {
        for (uint32_t v = 0; v < p.positions.size(); ++v) mark(FaultCode::uvs_missing, at(v));
      } else if (!p.indices.empty()) {
        vertices(FaultCode::uvs_outside, uvsOutside(p));
        if (options_.thorough)
          faces(FaultCode::uvs_overlapping, geometry::overlappingUvs(p.uvs[0], p.indices, progress_));
        faces(FaultCode::uvs_mirrored, mirroredUvs(p));
      }
      first += static_cast<uint32_t>(p.positions.size());
    }
  }

  StructureOptions options_;
  base::Progress* progress_;
  float diagonal_m_;
  std::shared_ptr<const Mesh> mesh_;
  glm::mat4 matrix_{1};
  std::vector<glm::vec3> positions_, by_place_;
  std::vector<uint32_t> corners_;
  geometry::Welding welding_;
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

}  // namespace rakugo::scene
