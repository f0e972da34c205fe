// Measures of a part's mesh as a solid (size, volume, open borders), and its structure faults. docs/checks.md
// says by which rules faults are counted.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "base/jobs.h"
#include "scene/model.h"

namespace rakugo::scene {

/// What can be wrong. Each is counted in the thing its name ends with; self-intersections in pairs of
/// triangles.
enum class FaultCode : unsigned char {
  degenerate_triangles,
  needle_triangles,
  duplicate_triangles,
  unused_vertices,
  coincident_vertices,
  open_edges,
  nonmanifold_edges,
  nonmanifold_vertices,
  flipped_triangles,
  inside_out_shells,
  self_intersections,
  hidden_triangles,
  normals_missing,
  normals_bad,
  uvs_missing,
  uvs_outside,
  uvs_overlapping,
  uvs_mirrored,
  uvs_collapsed,
  uvs_stretched,
  shapeless_vertices,
  unaligned_edges,
  specks
};
inline constexpr size_t kFaultCodes = 23;
/// "degenerate_triangles"...
const char* faultName(FaultCode code);
/// The rule by which it is counted, as a sentence; docs/checks.md lists them.
const char* faultRule(FaultCode code);
/// Whether it is looked for only with `StructureOptions::thorough`.
bool needsThoroughLook(FaultCode code);

/// One sort of fault in one part.
struct Fault {
  uint64_t count = 0;
  std::vector<glm::vec3> marks;  ///< where, in the model's space; the first `kMostMarks`
};
inline constexpr size_t kMostMarks = 200;

struct OpenLoop {
  uint32_t edges = 0;
  double length_m = 0;
  std::vector<glm::vec3> places;  ///< along it, in the model's space
};

struct StructureOptions {
  float needle_ratio = 1e-3F;      ///< least height of a triangle beside its longest side
  float coincident_ratio = 1e-5F;  ///< vertices are one when they lie closer, beside the part's diagonal
  float speck_ratio = 0.01F;       ///< a shell's diagonal beside the model's
  bool thorough = true;            ///< also what costs most: crossings, hidden triangles, overlapping UVs
};

/// A part (a node with a mesh) in the model's space, skinned parts as their bones put them at rest. Places
/// are vertices of equal position, so that seams of normals and UVs are no borders.
struct PartStructure {
  NodeIndex node;
  uint64_t vertices = 0, triangles = 0;  ///< as stored
  uint32_t index_bits = 16;  ///< 32 when what is drawn at once has more vertices than 16 bits can number
  geometry::Bounds box;
  double area_m2 = 0;
  std::optional<double> volume_m3;  ///< of its closed shells, hollows taken off; nothing when there is none
  uint32_t shells = 0;              ///< by common edges
  bool closed = false;              ///< every edge has exactly two triangles
  int64_t euler = 0;                ///< places - edges + triangles
  std::vector<OpenLoop> open_loops;
  std::array<Fault, kFaultCodes> faults;
  [[nodiscard]] const Fault& fault(FaultCode code) const { return faults[static_cast<size_t>(code)]; }
};

/// Everything about one part. `model_diagonal_m` is what specks are measured by. Cost: n log n, on all cores
/// where it is much. Errors: job.cancelled.
base::Result<PartStructure> partStructure(const Model& model, NodeIndex part,
                                          const std::vector<glm::mat4>& world, float model_diagonal_m,
                                          const StructureOptions& options = {},
                                          base::Progress* progress = nullptr);

/// The same of every reached part with a mesh, in the order of the tree. `unit_m`: metres of one of the
/// model's units.
base::Result<std::vector<PartStructure>> structureOf(const Model& model, double unit_m = 1,
                                                     const StructureOptions& options = {},
                                                     base::Progress* progress = nullptr);

/// What the closed shells of all parts hold together; nothing where none is closed.
std::optional<double> heldVolume_m3(const std::vector<PartStructure>& parts);

}  // namespace rakugo::scene
