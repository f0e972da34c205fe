// Geometry of COLLADA: any layout of inputs into vertices and triangles. Private to this library.
#pragma once

#include <optional>

#include "formats/collada/collada_document.h"

namespace rakugo::formats::collada {

/// Triangles of one material, and where each vertex comes from.
struct Piece {
  scene::Primitive primitive;  ///< without a material; whoever needs it may take it
  uint64_t triangles = 0;      ///< of the primitive
  std::string symbol;          ///< of its material, as instances bind it
  std::vector<uint32_t> position_of,
      normal_of;                         ///< by vertex: number in the sources; the latter may be empty
  std::array<int, 2> uv_set = {-1, -1};  ///< the set numbers behind `primitive.uvs`
};

struct Geometry {
  std::string name;
  Element element;
  std::vector<Piece> pieces;
  uint64_t positions = 0, lines = 0;
  Element position_source, normal_source;  ///< normals only where one source serves all pieces
};

/// Reads one <geometry>. Thread-safe. Errors: collada.source, collada.number, collada.index,
/// collada.reference, collada.too_large.
base::Result<Geometry> readGeometry(Library& library, const Element& geometry);

}  // namespace rakugo::formats::collada
