// Steps that mend meshes.
#include <cmath>

#include "base/phrase.h"
#include "base/text.h"
#include "geometry/corner_normals.h"
#include "geometry/triangles.h"
#include "prepare/mesh/mesh_ops.h"
#include "prepare/steps.h"
#include "scene/attribute_faults.h"
#include "scene/corner_split.h"
#include "scene/primitive_edit.h"

namespace rakugo::prepare {
namespace {

StepOutcome applyRemoveDegenerate(scene::Model& model, const base::Json&, const StepContext&) {
  uint64_t removed = 0;
  for (size_t m = 0; m < model.meshes.size(); ++m) {
    std::vector<std::vector<uint32_t>> bad;
    bool any = false;
    for (const scene::Primitive& p : model.meshes[m]->primitives) {
      bad.push_back(geometry::degenerateTriangles(p.positions, p.indices));
      any = any || !bad.back().empty();
    }
    if (!any) continue;
    scene::Mesh& mesh = model.editMesh(scene::MeshIndex(m));
    for (size_t k = 0; k < mesh.primitives.size(); ++k) {
      scene::dropTriangles(mesh.primitives[k], bad[k]);
      removed += bad[k].size();
    }
  }
  StepOutcome out;
  out.did = removed == 0 ? base::phrase("none left") : base::countText(removed, "triangle", "triangles");
  return out;
}

StepOutcome applyMakeNormals(scene::Model& model, const base::Json& values, const StepContext&) {
  // Steps of an older Rakugo do not say which: those that are missing.
  const std::string which = base::textOf(values, "which");
  // The vertices of a primitive whose normals are to be made; all of them where it has none.
  const auto wanted = [&](const scene::Primitive& p) {
    std::vector<uint32_t> out;
    if (which == "all" || p.normals.size() != p.positions.size() ||
        (which == "missing" && !geometry::nonFiniteVertices(p.normals).empty())) {
      for (uint32_t v = 0; v < p.positions.size(); ++v) out.push_back(v);
      return out;
    }
    return which == "wrong" ? scene::badNormals(p, p.indices) : out;
  };
  const float crease_rad = radians(numberValue(values, "crease_deg", 40));
  const uint64_t made = eachMesh(model, [&](scene::Mesh& mesh, size_t) {
    uint64_t count = 0;
    std::optional<MeshPlaces> all;
    std::vector<glm::vec3> fresh;
    for (size_t k = 0; k < mesh.primitives.size(); ++k) {
      scene::Primitive& p = mesh.primitives[k];
      const std::vector<uint32_t> list = wanted(p);
      if (list.empty()) continue;
      if (!all) {
        all = meshPlaces(mesh);
        fresh = geometry::cornerNormals(all->places, all->topology, crease_rad);
      }
      const std::span<const glm::vec3> of =
          std::span(fresh).subspan(size_t{all->first_triangle[k]} * 3, p.indices.size());
      count += list.size();
      if (list.size() == p.positions.size()) {
        scene::setCornerNormals(p, of);
        continue;
      }
      // Single ones: what the vertex's corners come to together; nothing is split.
      std::vector<glm::vec3> sums(p.positions.size(), glm::vec3(0));
      for (size_t c = 0; c < p.indices.size(); ++c) sums[p.indices[c]] += of[c];
      for (const uint32_t v : list) {
        const float length = glm::length(sums[v]);
        p.normals[v] = length > 0 ? sums[v] / length : glm::vec3(0, 0, 1);
      }
    }
    return count;
  });
  StepOutcome out;
  out.did = made == 0 ? base::phrase("all had them") : base::countText(made, "normal", "normals");
  return out;
}

}  // namespace

std::vector<StepKind> meshSteps() {
  return {
      {"remove_degenerate",
       "Remove empty triangles",
       StepGroup::mesh,
       12,
       "Remove triangles without a surface",
       {},
       applyRemoveDegenerate},
      {"make_normals",
       "Make normals",
       StepGroup::mesh,
       34,
       "Make {which} normals, smooth up to {crease_deg} degrees",
       {choiceParameter("which", "choice",
                        {{"missing", "missing"}, {"wrong", "missing and wrong"}, {"all", "all"}}),
        numberParameter("crease_deg", "angle", 40).between(0, 180).in("degrees").shown(1)},
       applyMakeNormals,
       "Where all of a mesh are made, vertices are split at harder edges."},
  };
}

}  // namespace rakugo::prepare
