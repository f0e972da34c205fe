// A mesh's primitives as one list of vertices and triangles, and back.
#pragma once

#include <cstdint>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// Positions (n x 3, the mesh's space) and triangles (3 x m) of all primitives, one after another.
struct WholeMesh {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> indices;
  std::vector<uint32_t> first_vertex, first_triangle;  ///< by primitive, and one behind the last
};
WholeMesh wholeMesh(const Mesh& mesh);

/// Which primitive a triangle or a vertex of the whole belongs to; `first` is one of the two lists above.
size_t primitiveOf(const std::vector<uint32_t>& first, uint32_t number);

/// Puts other triangles in place of the mesh's: `indices` (3 x m) name vertices of the whole, and the three
/// of a triangle belong to one primitive. Their order stays within a primitive. Vertices that are not named
/// any more are left out.
void replaceTriangles(Mesh& mesh, const WholeMesh& whole, const std::vector<uint32_t>& indices);

}  // namespace rakugo::scene
