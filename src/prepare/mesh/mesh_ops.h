// What steps that change meshes share.
#pragma once

#include <vector>

#include "geometry/topology.h"
#include "prepare/step.h"

namespace rakugo::prepare {

/// Changes every mesh by `edit(mesh, number)`, which returns how much it changed; a mesh in which that is
/// nothing stays shared. Returns the sum.
template <class Edit>
uint64_t eachMesh(scene::Model& model, Edit edit) {
  uint64_t all = 0;
  for (size_t m = 0; m < model.meshes.size(); ++m) {
    scene::Mesh copy = *model.meshes[m];
    const uint64_t count = edit(copy, m);
    if (count > 0) model.meshes[m] = std::make_shared<const scene::Mesh>(std::move(copy));
    all += count;
  }
  return all;
}

/// An outcome that says how many.
StepOutcome countedOutcome(uint64_t count, const char* one, const char* many);

/// For each mesh, the largest scale factor from mesh space to model space over all parts that use the mesh; 1
/// for a mesh that no part uses.
std::vector<float> meshScales(const scene::Model& model);

/// The corners of all primitives as places (vertices of equal position), and where each primitive's triangles
/// begin.
struct MeshPlaces {
  std::vector<glm::vec3> places;
  geometry::Topology topology;
  std::vector<uint32_t> first_triangle;  ///< by primitive, and one behind the last
};
MeshPlaces meshPlaces(const scene::Mesh& mesh);

/// A list of triangles of the whole mesh (ascending), taken apart by primitive.
std::vector<std::vector<uint32_t>> byPrimitive(const std::vector<uint32_t>& triangles, const MeshPlaces& all);

/// Leaves out triangles of the whole mesh (ascending), and vertices that only they used.
void dropTriangles(scene::Mesh& mesh, const MeshPlaces& all, const std::vector<uint32_t>& triangles);

/// Gives all corners normals that are smooth up to an angle; vertices are split at harder edges.
void makeCornerNormals(scene::Mesh& mesh, float crease_rad);

/// Gives tangents (`geometry::cornerTangents`) to all primitives that have normals and texture coordinates;
/// vertices are split where the picture is mirrored.
void makeTangents(scene::Mesh& mesh);

}  // namespace rakugo::prepare
