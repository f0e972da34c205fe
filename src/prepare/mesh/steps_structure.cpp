// Steps that mend how a mesh hangs together. Each is the cure of what `scene/structure.h` counts.
#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.h"
#include "geometry/polygon.h"
#include "geometry/shells.h"
#include "geometry/topology.h"
#include "geometry/triangles.h"
#include "prepare/mesh/mesh_ops.h"
#include "prepare/steps.h"
#include "scene/primitive_edit.h"
#include "scene/whole_mesh.h"

namespace rakugo::prepare {
namespace {

using scene::Mesh;
using scene::Primitive;

StepOutcome applyWeld(scene::Model& model, const base::Json& values, const StepContext&) {
  const double distance_mm = numberValue(values, "distance_mm", 0.01);
  const std::vector<float> scales = meshScales(model);
  return countedOutcome(eachMesh(model,
                                 [&](Mesh& mesh, size_t m) {
                                   uint64_t count = 0;
                                   for (Primitive& p : mesh.primitives)
                                     count += scene::weldVertices(
                                         p, static_cast<float>(distance_mm / 1000) / scales[m]);
                                   return count;
                                 }),
                        "vertex", "vertices");
}

// The corner of a place on a border: in which primitive, and which of its vertices.
struct BorderCorner {
  size_t primitive = 0;
  uint32_t vertex = 0;
};

std::vector<BorderCorner> borderCorners(const Mesh& mesh, const MeshPlaces& all) {
  std::vector<BorderCorner> out(all.places.size());
  for (const geometry::IrregularEdge& edge : all.topology.irregular) {
    if (edge.count != 1) continue;
    const uint32_t side = all.topology.irregular_half_edges[edge.first];
    for (const uint32_t corner : {side, geometry::Topology::nextHalfEdge(side)}) {
      const size_t k = scene::primitiveOf(all.first_triangle, corner / 3);
      out[all.topology.corners[corner]] = {
          k, mesh.primitives[k].indices[corner - size_t{all.first_triangle[k]} * 3]};
    }
  }
  return out;
}

// Closes one border with faces that look the way its neighbours do. False for the outline of a flat sheet,
// whose faces would lie on its own back.
bool closeBorder(Mesh& mesh, const MeshPlaces& all, const std::vector<BorderCorner>& corners,
                 const geometry::BorderLoop& loop, glm::vec3 neighbours) {
  // A border runs the way its triangles do; what fills it runs against it.
  std::vector<uint32_t> places(loop.places.rbegin(), loop.places.rend());
  std::vector<glm::vec3> outline;
  for (const uint32_t p : places) outline.push_back(all.places[p]);
  const glm::vec3 newell = geometry::newellNormal(outline);
  const float length = glm::length(newell), beside = glm::length(neighbours);
  if (!(length > 0) || !std::isfinite(length)) return false;
  if (glm::dot(newell, neighbours) < -0.9F * length * beside) return false;
  std::vector<uint32_t> cut;
  geometry::triangulatePolygon(outline, cut);
  const size_t into = corners[places[0]].primitive;
  std::vector<uint32_t> vertices;
  for (size_t i = 0; i < places.size(); ++i) {
    const BorderCorner& from = corners[places[i]];
    vertices.push_back(scene::appendVertex(mesh.primitives[into], mesh.primitives[from.primitive],
                                           from.vertex, outline[i], newell / length));
  }
  for (const uint32_t c : cut) mesh.primitives[into].indices.push_back(vertices[c]);
  return true;
}

StepOutcome applyFillHoles(scene::Model& model, const base::Json& values, const StepContext&) {
  const double most = numberValue(values, "most_edges", 64);
  return countedOutcome(
      eachMesh(model,
               [&](Mesh& mesh, size_t) {
                 const MeshPlaces all = meshPlaces(mesh);
                 const auto corners = borderCorners(mesh, all);
                 // The mean of the faces along a border, by the edge's two places.
                 std::map<std::pair<uint32_t, uint32_t>, glm::vec3> faces;
                 for (const geometry::IrregularEdge& edge : all.topology.irregular) {
                   if (edge.count != 1) continue;
                   const uint32_t* t =
                       all.topology.corners.data() + all.topology.irregular_half_edges[edge.first] / 3 * 3;
                   const glm::vec3 n =
                       glm::cross(all.places[t[1]] - all.places[t[0]], all.places[t[2]] - all.places[t[0]]);
                   const float length = glm::length(n);
                   faces[{edge.a, edge.b}] = length > 0 && std::isfinite(length) ? n / length : glm::vec3(0);
                 }
                 uint64_t filled = 0;
                 for (const geometry::BorderLoop& loop : geometry::borderLoops(all.topology)) {
                   const size_t n = loop.places.size();
                   if (!loop.closed || n < 3 || static_cast<double>(n) > most) continue;
                   glm::vec3 neighbours(0);
                   for (size_t i = 0; i < n; ++i) {
                     const uint32_t a = loop.places[i], b = loop.places[(i + 1) % n];
                     neighbours += faces[{std::min(a, b), std::max(a, b)}];
                   }
                   filled += closeBorder(mesh, all, corners, loop, neighbours) ? 1 : 0;
                 }
                 return filled;
               }),
      "hole", "holes");
}

StepOutcome applyRemoveUnused(scene::Model& model, const base::Json&, const StepContext&) {
  return countedOutcome(eachMesh(model,
                                 [](Mesh& mesh, size_t) {
                                   uint64_t count = 0;
                                   for (Primitive& p : mesh.primitives) count += scene::dropUnusedVertices(p);
                                   return count;
                                 }),
                        "vertex", "vertices");
}

StepOutcome applyRemoveDuplicates(scene::Model& model, const base::Json&, const StepContext&) {
  return countedOutcome(eachMesh(model,
                                 [](Mesh& mesh, size_t) {
                                   const MeshPlaces all = meshPlaces(mesh);
                                   const auto double_ones = geometry::duplicateTriangles(all.topology);
                                   const auto lists = byPrimitive(double_ones, all);
                                   for (size_t k = 0; k < lists.size(); ++k)
                                     scene::dropTriangles(mesh.primitives[k], lists[k]);
                                   return uint64_t{double_ones.size()};
                                 }),
                        "triangle", "triangles");
}

StepOutcome applyOrient(scene::Model& model, const base::Json&, const StepContext&) {
  return countedOutcome(eachMesh(model,
                                 [](Mesh& mesh, size_t) {
                                   const MeshPlaces all = meshPlaces(mesh);
                                   const geometry::Shells shells = geometry::shellsOf(all.topology);
                                   const auto facts = geometry::shellFacts(all.places, all.topology, shells);
                                   std::vector<uint32_t> list;
                                   for (uint32_t t = 0; t < shells.of.size(); ++t) {
                                     if (all.topology.collapsed(t)) continue;
                                     // Turning a shell as a whole turns the ones back that stood against it.
                                     if (shells.flipped[t] != facts[shells.of[t]].inside_out)
                                       list.push_back(t);
                                   }
                                   const auto lists = byPrimitive(list, all);
                                   for (size_t k = 0; k < lists.size(); ++k)
                                     for (const uint32_t t : lists[k])
                                       std::swap(mesh.primitives[k].indices[size_t{t} * 3 + 1],
                                                 mesh.primitives[k].indices[size_t{t} * 3 + 2]);
                                   return uint64_t{list.size()};
                                 }),
                        "triangle", "triangles");
}

}  // namespace

std::vector<StepKind> structureSteps() {
  return {
      {"weld",
       "Make vertices one",
       StepGroup::mesh,
       14,
       "Make vertices one that are alike and no farther apart than {distance_mm} mm",
       {numberParameter("distance_mm", "distance", 0.01).between(0, 1000).in("mm").shown(4)},
       applyWeld},
      {"remove_duplicates",
       "Remove double triangles",
       StepGroup::mesh,
       15,
       "Remove triangles that are there twice",
       {},
       applyRemoveDuplicates},
      {"orient",
       "Turn triangles outward",
       StepGroup::mesh,
       16,
       "Turn triangles that face another way than the rest of their shell",
       {},
       applyOrient},
      {"fill_holes",
       "Fill holes",
       StepGroup::mesh,
       17,
       "Fill holes of up to {most_edges} edges",
       {countParameter("most_edges", "number of edges", 64).between(3, 2000)},
       applyFillHoles,
       "The outlines of flat sheets stay open."},
      {"remove_unused",
       "Remove unused vertices",
       StepGroup::mesh,
       30,
       "Remove vertices that no triangle uses",
       {},
       applyRemoveUnused},
  };
}

}  // namespace rakugo::prepare
