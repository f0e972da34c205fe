#include "prepare/parts/pieces.h"

#include <algorithm>
#include <glm/gtc/matrix_transform.hpp>

#include "mod/piece_tree.h"
#include "scene/model.h"

namespace rakugo::prepare {

glm::mat4 pieceMatrix(const mod::PieceDoc& piece) {
  scene::Placement p;
  for (int i = 0; i < 3; ++i) p.position[i] = static_cast<float>(piece.position_m[static_cast<size_t>(i)]);
  p.turn = glm::normalize(glm::quat(static_cast<float>(piece.turn[3]), static_cast<float>(piece.turn[0]),
                                    static_cast<float>(piece.turn[1]), static_cast<float>(piece.turn[2])));
  p.scale = glm::vec3(static_cast<float>(piece.scale));
  return p.matrix();
}

glm::mat4 placeInObject(const mod::ObjectDoc& object, const mod::PieceDoc& piece) {
  glm::mat4 out = pieceMatrix(piece);
  if (piece.parent.empty()) return out;
  for (const mod::PieceDoc* carrier : mod::carriersOf(object, piece)) out = pieceMatrix(*carrier) * out;
  return out;
}

double scaleInObject(const mod::ObjectDoc& object, const mod::PieceDoc& piece) {
  double out = piece.scale;
  for (const mod::PieceDoc* carrier : mod::carriersOf(object, piece)) out *= carrier->scale;
  return out;
}

const rulebook::Kind* kindOfPiece(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                                  const mod::PieceDoc& piece) {
  const rulebook::Kind* kind = book.findKind(object.kind);
  const rulebook::KindModel* model = kind != nullptr ? kind->findModel(piece.as) : nullptr;
  return model != nullptr ? &model->kind() : kind;
}

std::vector<const rulebook::Kind*> kindsOfModel(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                                                const std::string& model) {
  std::vector<const rulebook::Kind*> out;
  for (const mod::PieceDoc& piece : object.pieces) {
    if (piece.model != model) continue;
    const rulebook::Kind* kind = kindOfPiece(book, object, piece);
    if (std::find(out.begin(), out.end(), kind) == out.end()) out.push_back(kind);
  }
  return out;
}

const mod::PieceDoc* apartRoot(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                               const mod::PieceDoc& piece) {
  const rulebook::Kind* kind = book.findKind(object.kind);
  if (kind == nullptr || kind->models.empty()) return nullptr;
  const auto apart = [&](const mod::PieceDoc& one) {
    const rulebook::KindModel* model = one.isModel() ? kind->findModel(one.as) : nullptr;
    return model != nullptr && model->apart;
  };
  if (apart(piece)) return &piece;
  for (const mod::PieceDoc* carrier : mod::carriersOf(object, piece))
    if (apart(*carrier)) return carrier;
  return nullptr;
}

glm::mat4 placeWhereShown(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                          const mod::PieceDoc& piece) {
  const glm::mat4 place = placeInObject(object, piece);
  const mod::PieceDoc* root = apartRoot(book, object, piece);
  if (root == nullptr) return place;
  const auto scale = static_cast<float>(scaleInObject(object, *root));
  return glm::scale(glm::mat4(1), glm::vec3(scale)) * glm::inverse(placeInObject(object, *root)) * place;
}

}  // namespace rakugo::prepare
