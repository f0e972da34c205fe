// What is said of a mesh as a body, of meshes of every shape: counts stay within what there is, and mends
// end.
#include "formats/plain/obj.h"
#include "geometry/needles.h"
#include "geometry/simplify.h"
#include "geometry/tangents.h"
#include "geometry/vertex_cache.h"
#include "scene/primitive_edit.h"
#include "scene/seams.h"
#include "scene/structure.h"
#include "scene/variants.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  const auto read = formats::readObj(bytes, "fuzz.obj", nullptr, {});
  if (!read) return 0;
  scene::Model model = read->model;
  const auto parts = scene::structureOf(model);
  if (!parts) __builtin_trap();
  for (const scene::PartStructure& s : *parts) {
    if (s.closed && !s.open_loops.empty()) __builtin_trap();
    if (s.fault(scene::FaultCode::degenerate_triangles).count > s.triangles ||
        s.fault(scene::FaultCode::unused_vertices).count > s.vertices)
      __builtin_trap();
    size_t edges = 0;
    for (const scene::OpenLoop& loop : s.open_loops) edges += loop.edges;
    if (edges != s.fault(scene::FaultCode::open_edges).count) __builtin_trap();
  }
  (void)scene::pairBorders(scene::bordersOf(model), scene::bordersOf(model));
  if (!scene::compareVariants(model, model).same) __builtin_trap();
  for (const auto& mesh : model.meshes)
    for (const scene::Primitive& p : mesh->primitives) {
      const auto named = [&](const std::vector<uint32_t>& indices) {
        for (const uint32_t i : indices)
          if (i >= p.positions.size()) __builtin_trap();
      };
      const auto ordered =
          geometry::orderForVertexCache(p.indices, static_cast<uint32_t>(p.positions.size()));
      if (ordered.size() != p.indices.size()) __builtin_trap();
      named(ordered);
      geometry::SimplifyOptions options;
      options.triangles = p.indices.size() / 6;
      const auto fewer = geometry::simplify({p.positions, p.indices, {}, 0}, options);
      if (!fewer || fewer->indices.size() > p.indices.size()) __builtin_trap();
      named(fewer->indices);
      const auto without = geometry::withoutNeedles(p.positions, p.indices, 1e-3F);
      if (without.size() > p.indices.size()) __builtin_trap();
      named(without);
      if (p.normals.size() == p.positions.size() && p.uvs[0].size() == p.positions.size() &&
          geometry::cornerTangents(p.positions, p.normals, p.uvs[0], p.indices).size() != p.indices.size())
        __builtin_trap();
    }
  for (size_t m = 0; m < model.meshes.size(); ++m)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(m)).primitives) {
      scene::weldVertices(p, 0.01F);
      scene::dropUnusedVertices(p);
      for (const uint32_t i : p.indices)
        if (i >= p.positions.size()) __builtin_trap();
    }
  return 0;
}
