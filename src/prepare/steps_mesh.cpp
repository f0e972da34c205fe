// Steps that mend meshes.
#include <cmath>

#include "base/text.h"
#include "geometry/triangles.h"
#include "prepare/steps.h"
#include "scene/attribute_faults.h"
#include "scene/primitive_edit.h"

namespace rakugo::prepare {

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
  out.did = removed == 0 ? "none left" : base::countText(removed, "triangle", "triangles");
  return out;
}

StepOutcome applyMakeNormals(scene::Model& model, const base::Json& values, const StepContext&) {
  const double crease_deg = numberValue(values, "crease_deg", 40);
  if (!(crease_deg >= 0 && crease_deg <= 180)) return wrongValues("An angle lies between 0 and 180 degrees.");
  // Steps of an older Rakugo do not say which: those that are missing.
  const std::string which = values.contains("which") ? textValue(values, "which") : "missing";
  if (which != "missing" && which != "wrong" && which != "all")
    return wrongValues("Normals are made where they are missing, wrong, or everywhere.");
  // The vertices of a primitive whose normals are to be made; all of them where it has none.
  const auto wanted = [&](const scene::Primitive& p) {
    std::vector<uint32_t> out;
    if (which == "all" || p.normals.size() != p.positions.size() ||
        (which == "missing" && !geometry::nonFiniteVertices(p.normals).empty())) {
      for (uint32_t v = 0; v < p.positions.size(); ++v) out.push_back(v);
      return out;
    }
    return which == "wrong" ? scene::badNormals(p) : out;
  };
  uint64_t made = 0;
  for (size_t m = 0; m < model.meshes.size(); ++m) {
    std::vector<std::vector<uint32_t>> lists;
    bool any = false;
    for (const scene::Primitive& p : model.meshes[m]->primitives) {
      lists.push_back(wanted(p));
      any = any || !lists.back().empty();
    }
    if (!any) continue;
    scene::Mesh& mesh = model.editMesh(scene::MeshIndex(m));
    for (size_t k = 0; k < lists.size(); ++k) {
      scene::Primitive& p = mesh.primitives[k];
      if (lists[k].empty()) continue;
      const auto fresh = geometry::vertexNormals(p.positions, p.indices,
                                                 static_cast<float>(crease_deg * 3.14159265358979 / 180));
      p.normals.resize(p.positions.size());
      for (const uint32_t v : lists[k]) p.normals[v] = fresh[v];
      made += lists[k].size();
    }
  }
  StepOutcome out;
  out.did = made == 0 ? "all had them" : base::countText(made, "normal", "normals");
  return out;
}

}  // namespace rakugo::prepare
