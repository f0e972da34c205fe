#include "prepare/mesh/mesh_ops.h"

#include <algorithm>

#include "base/text.h"
#include "geometry/corner_normals.h"
#include "geometry/tangents.h"
#include "geometry/welding.h"
#include "scene/corner_split.h"
#include "scene/primitive_edit.h"
#include "scene/whole_mesh.h"

namespace rakugo::prepare {

using scene::Mesh;
using scene::Primitive;

StepOutcome countedOutcome(uint64_t count, const char* one, const char* many) {
  StepOutcome out;
  out.did = count == 0 ? "none left" : base::countText(count, one, many);
  return out;
}

std::vector<float> meshScales(const scene::Model& model) {
  const auto world = scene::worldMatrices(model);
  std::vector<float> out(model.meshes.size(), 0);
  for (const scene::NodeIndex i : scene::reachedNodes(model))
    if (model.node(i).mesh.valid())
      for (int axis = 0; axis < 3; ++axis) {
        float& most = out[model.node(i).mesh.value()];
        most = std::max(most, glm::length(glm::vec3(world[i.value()][axis])));
      }
  for (float& scale : out)
    if (!(scale > 0)) scale = 1;
  return out;
}

MeshPlaces meshPlaces(const Mesh& mesh) {
  scene::WholeMesh whole = scene::wholeMesh(mesh);
  const geometry::Welding welding = geometry::weldEqual(whole.positions);
  for (uint32_t& c : whole.indices) c = welding.of[c];
  MeshPlaces out;
  for (const uint32_t v : welding.first) out.places.push_back(whole.positions[v]);
  out.topology = geometry::topologyOf(std::move(whole.indices), static_cast<uint32_t>(welding.places()));
  out.first_triangle = std::move(whole.first_triangle);
  return out;
}

std::vector<std::vector<uint32_t>> byPrimitive(const std::vector<uint32_t>& triangles,
                                               const MeshPlaces& all) {
  std::vector<std::vector<uint32_t>> out(all.first_triangle.size() - 1);
  for (const uint32_t t : triangles) {
    const size_t k = scene::primitiveOf(all.first_triangle, t);
    out[k].push_back(t - all.first_triangle[k]);
  }
  return out;
}

void dropTriangles(Mesh& mesh, const MeshPlaces& all, const std::vector<uint32_t>& triangles) {
  const auto lists = byPrimitive(triangles, all);
  for (size_t k = 0; k < lists.size(); ++k) {
    if (lists[k].empty()) continue;
    scene::dropTriangles(mesh.primitives[k], lists[k]);
    scene::dropUnusedVertices(mesh.primitives[k]);
  }
}

void makeCornerNormals(Mesh& mesh, float crease_rad) {
  const MeshPlaces all = meshPlaces(mesh);
  const std::vector<glm::vec3> normals = geometry::cornerNormals(all.places, all.topology, crease_rad);
  for (size_t k = 0; k < mesh.primitives.size(); ++k)
    scene::setCornerNormals(
        mesh.primitives[k],
        std::span(normals).subspan(size_t{all.first_triangle[k]} * 3, mesh.primitives[k].indices.size()));
}

void makeTangents(Mesh& mesh) {
  for (Primitive& p : mesh.primitives)
    if (p.normals.size() == p.positions.size() && p.uvs[0].size() == p.positions.size())
      scene::setCornerTangents(p, geometry::cornerTangents(p.positions, p.normals, p.uvs[0], p.indices));
}

}  // namespace rakugo::prepare
