// Where an object's pieces stand.
#pragma once

#include <glm/glm.hpp>

#include "mod/documents.h"

namespace rakugo::prepare {

/// From the space of the piece's model to that of the object, metres; a turn that is no rotation is
/// normalised.
glm::mat4 pieceMatrix(const mod::PieceDoc& piece);

}  // namespace rakugo::prepare
