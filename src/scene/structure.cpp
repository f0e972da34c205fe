#include "scene/structure.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <glm/gtc/matrix_transform.hpp>
#include <numeric>

#include "base/memory.h"
#include "geometry/buckets.h"
#include "geometry/crossings.h"
#include "geometry/curve_order.h"
#include "geometry/finite.h"
#include "geometry/flatness.h"
#include "geometry/shells.h"
#include "geometry/topology.h"
#include "geometry/triangles.h"
#include "scene/attribute_faults.h"
#include "scene/rest_pose.h"

namespace rakugo::scene {
namespace {

using geometry::Topology;

// Enough to be worth a core of its own.
constexpr size_t kMany = 1 << 15;

// The numbers of triangles in the order of their lowest place, `of` being the place of each vertex.
std::vector<uint32_t> alongPlaces(std::span<const uint32_t> indices, std::span<const uint32_t> of,
                                  uint32_t places) {
  const size_t count = indices.size() / 3;
  std::vector<uint32_t> lowest(count);
  base::parallelPieces(count, kMany, [&](size_t, size_t begin, size_t end) {
    for (size_t t = begin; t < end; ++t)
      lowest[t] = std::min({of[indices[t * 3]], of[indices[t * 3 + 1]], of[indices[t * 3 + 2]]});
  });
  if (count < places / 32) {
    // A small primitive among many does not pay for a count of all places.
    std::vector<uint32_t> out(count);
    std::iota(out.begin(), out.end(), 0U);
    std::sort(out.begin(), out.end(),
              [&](uint32_t a, uint32_t b) { return lowest[a] != lowest[b] ? lowest[a] < lowest[b] : a < b; });
    return out;
  }
  return geometry::bucketsOf(count, places,
                             [&](size_t begin, size_t end, auto give) {
                               for (size_t t = begin; t < end; ++t) give(lowest[t], static_cast<uint32_t>(t));
                             })
      .values;
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
    // Side by side, each counts faults of its own sorts; what the first find the next are built on.
    each({[this] { order_.emplace(positions_, out_.box); }, [this] { unused(); }, [this] { outside(); }});
    each({[this] { weld(); }, [this] { twins(); }});
    each({[this] { triangles(); }, [this] { shells(); }, [this] { edges(); }, [this] { normals(); },
          [this] { pictures(); }});
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
  // All of a list, `at` being where one is.
  template <class List, class At>
  void markAll(FaultCode code, const List& list, At at) {
    Fault& f = fault(code);
    f.count += list.size();
    for (size_t i = 0; i < list.size() && f.marks.size() < kMostMarks; ++i) f.marks.push_back(at(list[i]));
  }
  [[nodiscard]] glm::vec3 middle(size_t t) const {
    return (place(topology_.corners[t * 3]) + place(topology_.corners[t * 3 + 1]) +
            place(topology_.corners[t * 3 + 2])) /
           3.0F;
  }
  [[nodiscard]] glm::vec3 place(uint32_t p) const { return by_place_[p]; }
  [[nodiscard]] glm::vec3 middleOfEdge(uint32_t a, uint32_t b) const { return (place(a) + place(b)) / 2.0F; }

  // All vertices in one list, in the model's space.
  void gather() {
    for (const Primitive& p : mesh_->primitives) {
      out_.vertices += p.positions.size();
      if (p.positions.size() > size_t{1} << 16) out_.index_bits = 32;
      out_.triangles += p.indices.size() / 3;
    }
    base::reserveLarge(positions_, out_.vertices);
    positions_.resize(out_.vertices);
    size_t first = 0;
    for (const Primitive& p : mesh_->primitives) {
      std::vector<geometry::Bounds> boxes(base::piecesOf(p.positions.size(), kMany));
      base::parallelPieces(p.positions.size(), kMany, [&](size_t piece, size_t begin, size_t end) {
        geometry::Bounds box;
        for (size_t v = begin; v < end; ++v)
          box.add(positions_[first + v] = glm::vec3(matrix_ * glm::vec4(p.positions[v], 1)));
        boxes[piece] = box;
      });
      for (const geometry::Bounds& box : boxes) out_.box.add(box);
      first += p.positions.size();
    }
  }

  // Places, and triangles over them, in an order of their own: what lies together stands together, however a
  // file has it, and each of the walks below finds its next step close by. Those of one primitive stay
  // together. A mirroring placement turns triangles round, as it does in a game.
  void weld() {
    const bool mirrored = glm::determinant(glm::mat3(matrix_)) < 0;
    const geometry::Welding welding = order_->weld();
    const auto places = static_cast<uint32_t>(welding.places());
    by_place_.resize(places);
    base::parallelPieces(places, kMany, [&](size_t, size_t begin, size_t end) {
      for (size_t p = begin; p < end; ++p) by_place_[p] = positions_[welding.first[p]];
    });
    std::vector<uint32_t> sorted;
    base::reserveLarge(sorted, out_.triangles * 3);
    base::reserveLarge(corners_, out_.triangles * 3);
    sorted.resize(out_.triangles * 3);
    corners_.resize(out_.triangles * 3);
    size_t first = 0, triangles = 0;
    for (const Primitive& p : mesh_->primitives) {
      const size_t count = p.indices.size() / 3;
      const std::span<const uint32_t> of(welding.of.data() + first, p.positions.size());
      const std::vector<uint32_t> order = alongPlaces(p.indices, of, places);
      base::parallelPieces(count, kMany, [&](size_t, size_t begin, size_t end) {
        for (size_t t = begin; t < end; ++t) {
          const uint32_t* from = p.indices.data() + size_t{order[t]} * 3;
          const size_t to = (triangles + t) * 3;
          for (size_t k = 0; k < 3; ++k) corners_[to + k] = from[k];
          sorted[to] = of[from[0]];
          sorted[to + 1] = of[from[mirrored ? 2 : 1]];
          sorted[to + 2] = of[from[mirrored ? 1 : 2]];
        }
      });
      triangles += count;
      first += p.positions.size();
    }
    topology_ = geometry::topologyOf(std::move(sorted), places);
  }

  void triangles() {
    const geometry::Slivers slivers =
        geometry::sliversOf(by_place_, topology_.corners, options_.needle_ratio);
    out_.area_m2 = slivers.area;
    const auto at = [this](uint32_t t) { return middle(t); };
    markAll(FaultCode::degenerate_triangles, slivers.degenerate, at);
    markAll(FaultCode::needle_triangles, slivers.needles, at);
    const geometry::Flatness flatness = geometry::flatnessOf(by_place_, topology_, slivers.normals);
    markAll(FaultCode::shapeless_vertices, flatness.shapeless, [this](uint32_t p) { return place(p); });
    markAll(FaultCode::unaligned_edges, flatness.unaligned,
            [this](uint32_t side) { return middleOfEdge(topology_.from(side), topology_.to(side)); });
  }

  void edges() {
    for (const geometry::IrregularEdge& e : topology_.irregular)
      mark(e.count == 1 ? FaultCode::open_edges : FaultCode::nonmanifold_edges, middleOfEdge(e.a, e.b));
    out_.closed = topology_.closed();
    markAll(FaultCode::duplicate_triangles, geometry::duplicateTriangles(topology_),
            [this](uint32_t t) { return middle(t); });
    markAll(FaultCode::nonmanifold_vertices, geometry::nonManifoldPlaces(topology_),
            [this](uint32_t p) { return place(p); });
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
    out_.euler = std::count(used.begin(), used.end(), 1) - static_cast<int64_t>(topology_.edges) + faces;
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
    markAll(FaultCode::hidden_triangles, geometry::hiddenTriangles(by_place_, topology_, shells, facts),
            [this](uint32_t t) { return middle(t); });
  }

  void crossings() {
    if (!options_.thorough) return;
    for (const auto& [a, b] : geometry::crossingTriangles(by_place_, topology_.corners, progress_))
      mark(FaultCode::self_intersections, (middle(a) + middle(b)) / 2.0F);
  }

  // Vertices that no triangle names, a primitive after another; and the others.
  void unused() {
    used_.reserve(mesh_->primitives.size());
    size_t first = 0;
    for (const Primitive& p : mesh_->primitives) {
      used_.push_back(usedVertices(p));
      for (size_t v = 0; v < p.positions.size(); ++v)
        if (used_.back()[v] == 0) mark(FaultCode::unused_vertices, positions_[first + v]);
      first += p.positions.size();
    }
  }

  // Vertices that could be one, of those that have another close by.
  void twins() {
    const float tolerance = glm::length(out_.box.size()) * options_.coincident_ratio;
    const std::vector<uint32_t> company = order_->withNeighbour(tolerance);
    size_t first = 0;
    auto next = company.begin();
    for (size_t k = 0; k < mesh_->primitives.size(); ++k) {
      const Primitive& p = mesh_->primitives[k];
      const std::span<const glm::vec3> placed(positions_.data() + first, p.positions.size());
      std::vector<uint32_t> among;
      for (; next != company.end() && *next < first + placed.size(); ++next)
        if (used_[k][*next - first] != 0) among.push_back(static_cast<uint32_t>(*next - first));
      markAll(FaultCode::coincident_vertices, coincidentTwins(p, placed, among, tolerance),
              [&](const VertexTwin& twin) { return placed[twin.vertex]; });
      first += placed.size();
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
    markAll(code, list, [&](uint32_t t) { return (at(t * 3) + at(t * 3 + 1) + at(t * 3 + 2)) / 3.0F; });
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
  void normals() {
    eachPrimitive([&](const Primitive& p, std::span<const uint32_t> indices, uint32_t first) {
      const auto at = [&](uint32_t v) { return positions_[first + v]; };
      markAll(FaultCode::normals_bad, badNormals(p, indices), at);
      if (!indices.empty() && p.normals.size() != p.positions.size())
        for (uint32_t v = 0; v < p.positions.size(); ++v) mark(FaultCode::normals_missing, at(v));
    });
  }
  void pictures() {
    eachPrimitive([&](const Primitive& p, std::span<const uint32_t> indices, uint32_t first) {
      if (p.uvs[0].size() != p.positions.size()) return;
      const PictureFaults faults = pictureFaults(p, indices);
      markFaces(FaultCode::uvs_mirrored, faults.mirrored, indices, first);
      markFaces(FaultCode::uvs_collapsed, faults.collapsed, indices, first);
      markFaces(FaultCode::uvs_stretched, faults.stretched, indices, first);
    });
  }
  void outside() {
    size_t first = 0;
    for (const Primitive& p : mesh_->primitives) {
      const std::span<const glm::vec3> placed(positions_.data() + first, p.positions.size());
      if (p.indices.size() >= 3 && p.uvs[0].size() != p.positions.size())
        for (const glm::vec3& at : placed) mark(FaultCode::uvs_missing, at);
      else if (p.indices.size() >= 3)
        markAll(FaultCode::uvs_outside, uvsOutside(p), [&](uint32_t c) { return placed[p.indices[c]]; });
      first += placed.size();
    }
  }

  StructureOptions options_;
  base::Progress* progress_;
  float diagonal_m_;
  std::shared_ptr<const Mesh> mesh_;
  glm::mat4 matrix_{1};
  std::vector<glm::vec3> positions_, by_place_;  // by vertex, by place
  std::optional<geometry::CurveOrder> order_;
  std::vector<std::vector<uint8_t>> used_;  // by primitive, flags of its vertices
  std::vector<uint32_t> corners_;           // as `topology_` has its triangles: vertices of their primitive
  Topology topology_;
  PartStructure out_;
};

}  // namespace

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
