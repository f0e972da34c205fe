// Controllers of COLLADA: what bends and what blends a mesh. Private to this library.
#pragma once

#include "formats/collada/collada_mesh.h"

namespace rakugo::formats::collada {

/// Bones and weights of a <skin>, by position of its mesh.
struct SkinData {
  std::vector<std::string> joints;
  bool by_id = false;                   ///< the names are ids of nodes, not sids
  std::vector<glm::mat4> inverse_bind;  ///< with the bind shape in it: from the mesh as stored
  /// By position: up to eight bones, the heaviest first; what was heavier than nothing and is left out is
  /// noted.
  std::vector<std::array<uint16_t, 8>> bones;
  std::vector<std::array<float, 8>> weights;
};

/// One target of a <morph>.
struct MorphData {
  std::string name;
  Element geometry;
  float weight = 0;
  bool relative = false;
};

/// Reads a <skin>. Errors: collada.source, collada.index, collada.number.
base::Result<SkinData> readSkin(Library& library, const Element& skin);
/// Reads a <morph>. Targets that lead nowhere are noted and left out.
base::Result<std::vector<MorphData>> readMorph(Library& library, const Element& morph);
/// Gives the bones of the positions to a piece's vertices.
void putWeights(const SkinData& skin, Piece& piece);
/// Adds one target to a piece of the base geometry; false when the target has other positions.
base::Result<bool> putMorph(Library& library, const MorphData& morph, const Geometry& base,
                            const Geometry& target, Piece& piece);

/// Four by four numbers, as COLLADA writes them: row by row.
glm::mat4 matrixOf(const float* rows);

}  // namespace rakugo::formats::collada
