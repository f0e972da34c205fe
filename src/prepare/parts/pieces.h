// Where an object's pieces stand.
#pragma once

#include <glm/glm.hpp>

#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// From the space of the piece to that of what carries it, metres; a turn that is no rotation is normalised.
glm::mat4 pieceMatrix(const mod::PieceDoc& piece);
/// From the space of the piece to that of the object, through all that carry it. Cost: for each of them,
/// linear in the object's pieces.
glm::mat4 placeInObject(const mod::ObjectDoc& object, const mod::PieceDoc& piece);
/// The factor by which the piece is scaled in the object, with all that carry it.
double scaleInObject(const mod::ObjectDoc& object, const mod::PieceDoc& piece);

/// What a piece's model is held against: the rules of the kind's model that it is, or the kind's own; these
/// too where it names a model that the kind does not know. Null where the rulebook does not know the kind.
const rulebook::Kind* kindOfPiece(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                                  const mod::PieceDoc& piece);
/// The same for all pieces of an object that are that model, each once.
std::vector<const rulebook::Kind*> kindsOfModel(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                                                const std::string& model);

/// The piece by which the game shows this one by itself and not with the object: it, or the nearest of its
/// carriers that is a model of the kind that stands `apart` (rulebook). Null where it is shown with the
/// object.
const mod::PieceDoc* apartRoot(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                               const mod::PieceDoc& piece);
/// `placeInObject`, and for what is shown by itself against that: its root stands at the origin, unturned,
/// with its scale.
glm::mat4 placeWhereShown(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                          const mod::PieceDoc& piece);

}  // namespace rakugo::prepare
