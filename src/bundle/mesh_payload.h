// The runtime mesh: vertices interleaved as the graphics card wants them. docs/bundle-format.md section 5.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"

namespace rakugo::bundle {

/// What a vertex attribute means. Position (3 x f32, in the game's units and space) is always first.
enum class Semantic : uint16_t {
  position = 0,
  normal = 1,
  tangent = 2,
  uv0 = 3,
  uv1 = 4,
  color = 5,
  joints = 6,  ///< numbers of bones in the skeleton of the piece that wears the mesh
  weights = 7  ///< of those bones; they sum to one
};
/// How it is stored.
enum class AttributeFormat : uint16_t {
  f32x2 = 0,
  f32x3 = 1,
  f32x4 = 2,
  unorm8x4 = 3,
  u16x4 = 4,
  unorm16x4 = 5
};

struct Attribute {
  Semantic semantic = Semantic::position;
  AttributeFormat format = AttributeFormat::f32x3;
  uint32_t offset = 0;  ///< inside one vertex
};

/// A run of triangles with one material.
struct Submesh {
  uint32_t first_index = 0;
  uint32_t index_count = 0;  ///< a multiple of 3
  uint32_t material = 0;     ///< position in `materials`
};

/// How far the vertices go when the target counts whole.
struct MorphPayload {
  std::string name;
  float weight = 0;                             ///< how much it counts where nobody says otherwise
  std::vector<std::array<float, 3>> positions;  ///< one a vertex, in the game's units
  std::vector<std::array<float, 3>> normals;    ///< one a vertex
};

/// A decoded runtime mesh. Every index is below `vertex_count`; every float of a position is finite.
struct MeshPayload {
  uint32_t vertex_count = 0;
  uint32_t stride = 0;                 ///< bytes of one vertex, a multiple of 4
  std::vector<Attribute> attributes;   ///< ascending offsets, no overlap
  base::Bytes vertices;                ///< vertex_count x stride
  std::vector<uint32_t> indices;       ///< stored with 2 bytes each when vertex_count is at most 65,535
  std::vector<Submesh> submeshes;      ///< cover the indices without gap
  std::vector<std::string> materials;  ///< entry ids
  std::array<float, 3> bounds_min{0, 0, 0}, bounds_max{0, 0, 0};
  std::vector<MorphPayload> morphs;

  [[nodiscard]] const Attribute* find(Semantic semantic) const;
  /// One more than the highest bone that a vertex names with a weight; 0 without joints.
  [[nodiscard]] uint32_t jointCount() const;
};

/// Bytes one attribute takes.
uint32_t formatBytes(AttributeFormat format);

/// The vertices with morph targets added, each so much of it (missing: its own weight); normals are made
/// unit again. Without any that counts, the mesh's own.
base::Bytes morphed(const MeshPayload& mesh, const std::vector<float>& weights);

/// The bytes of an entry of kind mesh. The payload must fulfil what `decodeMesh` checks.
base::Bytes encodeMesh(const MeshPayload& mesh);
/// Errors: bundle.mesh with the byte offset inside the entry. `id` names the entry in messages.
base::Result<MeshPayload> decodeMesh(base::ByteSpan bytes, const std::string& id);

}  // namespace rakugo::bundle
