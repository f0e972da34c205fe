#include "prepare/parts/pieces.h"

#include "scene/model.h"

namespace rakugo::prepare {

glm::mat4 pieceMatrix(const mod::PieceDoc& piece) {
  scene::Placement p;
  for (int i = 0; i < 3; ++i) p.position[i] = static_cast<float>(piece.position_m[static_cast<size_t>(i)]);
  p.turn = glm::normalize(glm::quat(static_cast<float>(piece.turn[3]), static_cast<float>(piece.turn[0]),
                                    static_cast<float>(piece.turn[1]), static_cast<float>(piece.turn[2])));
  return p.matrix();
}

}  // namespace rakugo::prepare
