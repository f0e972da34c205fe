#include "mod/piece_tree.h"

#include <algorithm>
#include <glm/glm.hpp>
#include <glm/gtc/quaternion.hpp>
#include <set>

namespace rakugo::mod {
namespace {

glm::dvec3 positionOf(const PieceDoc& piece) {
  return {piece.position_m[0], piece.position_m[1], piece.position_m[2]};
}
glm::dquat turnOf(const PieceDoc& piece) {
  const glm::dquat turn(piece.turn[3], piece.turn[0], piece.turn[1], piece.turn[2]);
  const double length = glm::length(turn);
  return length > 0 ? turn / length : glm::dquat(1, 0, 0, 0);
}

}  // namespace

PieceDoc* findPiece(ObjectDoc& object, const std::string& piece) {
  const auto found = std::find_if(object.pieces.begin(), object.pieces.end(),
                                  [&](const PieceDoc& one) { return one.name == piece; });
  return found != object.pieces.end() ? &*found : nullptr;
}
const PieceDoc* findPiece(const ObjectDoc& object, const std::string& piece) {
  return findPiece(const_cast<ObjectDoc&>(object), piece);  // NOLINT: nothing is changed
}

std::vector<const PieceDoc*> carriersOf(const ObjectDoc& object, const PieceDoc& piece) {
  std::vector<const PieceDoc*> out;
  std::set<const PieceDoc*> met = {findPiece(object, piece.name)};
  for (const PieceDoc* at = &piece; !at->parent.empty();) {
    at = findPiece(object, at->parent);
    if (at == nullptr || !met.insert(at).second) break;
    out.push_back(at);
  }
  return out;
}

bool hangsOn(const ObjectDoc& object, const PieceDoc& piece, const std::string& carrier) {
  const std::vector<const PieceDoc*> carriers = carriersOf(object, piece);
  return std::any_of(carriers.begin(), carriers.end(),
                     [&](const PieceDoc* one) { return one->name == carrier; });
}

void raisePiece(const ObjectDoc& object, PieceDoc& piece) {
  const PieceDoc* parent = piece.parent.empty() ? nullptr : findPiece(object, piece.parent);
  if (parent == nullptr) {
    piece.parent.clear();
    return;
  }
  const glm::dquat turn = turnOf(*parent);
  const glm::dvec3 at = positionOf(*parent) + turn * (parent->scale * positionOf(piece));
  const glm::dquat turned = turn * turnOf(piece);
  piece.position_m = {at.x + 0.0, at.y + 0.0, at.z + 0.0};
  piece.turn = {turned.x + 0.0, turned.y + 0.0, turned.z + 0.0, turned.w + 0.0};
  piece.scale *= parent->scale;
  piece.parent = parent->parent;
}

void removePieces(ObjectDoc& object, const std::function<bool(const PieceDoc&)>& gone) {
  const ObjectDoc before = object;
  std::set<std::string> names;
  for (const PieceDoc& piece : before.pieces)
    if (gone(piece)) names.insert(piece.name);
  std::erase_if(object.pieces, gone);
  for (PieceDoc& piece : object.pieces) {
    if (names.count(piece.pair) != 0) piece.pair.clear();
    // No more often than there are pieces: parents of a damaged file can go round in a circle.
    for (size_t n = before.pieces.size(); n > 0 && names.count(piece.parent) != 0; --n)
      raisePiece(before, piece);
    if (names.count(piece.parent) != 0 || piece.parent == piece.name) piece.parent.clear();
  }
}

}  // namespace rakugo::mod
