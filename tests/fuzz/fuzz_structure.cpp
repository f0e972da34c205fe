// What is said of a mesh as a body, of meshes of every shape: counts stay within what there is, and mends
// end.
#include "formats/obj.h"
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
  for (size_t m = 0; m < model.meshes.size(); ++m)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(m)).primitives) {
      scene::weldVertices(p, 0.01F);
      scene::dropUnusedVertices(p);
      for (const uint32_t i : p.indices)
        if (i >= p.positions.size()) __builtin_trap();
    }
  return 0;
}
