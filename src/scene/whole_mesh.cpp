#include "scene/whole_mesh.h"

#include <algorithm>

#include "scene/primitive_edit.h"

namespace rakugo::scene {

WholeMesh wholeMesh(const Mesh& mesh) {
  WholeMesh out;
  for (const Primitive& p : mesh.primitives) {
    const auto first = static_cast<uint32_t>(out.positions.size());
    out.first_vertex.push_back(first);
    out.first_triangle.push_back(static_cast<uint32_t>(out.indices.size() / 3));
    out.positions.insert(out.positions.end(), p.positions.begin(), p.positions.end());
    for (const uint32_t i : p.indices) out.indices.push_back(first + i);
  }
  out.first_vertex.push_back(static_cast<uint32_t>(out.positions.size()));
  out.first_triangle.push_back(static_cast<uint32_t>(out.indices.size() / 3));
  return out;
}

size_t primitiveOf(const std::vector<uint32_t>& first, uint32_t number) {
  return static_cast<size_t>(std::upper_bound(first.begin(), first.end(), number) - first.begin()) - 1;
}

void replaceTriangles(Mesh& mesh, const WholeMesh& whole, const std::vector<uint32_t>& indices) {
  for (Primitive& p : mesh.primitives) p.indices.clear();
  for (size_t i = 0; i + 2 < indices.size(); i += 3) {
    const size_t k = primitiveOf(whole.first_vertex, indices[i]);
    for (size_t c = i; c < i + 3; ++c)
      mesh.primitives[k].indices.push_back(indices[c] - whole.first_vertex[k]);
  }
  for (Primitive& p : mesh.primitives) dropUnusedVertices(p);
}

}  // namespace rakugo::scene
