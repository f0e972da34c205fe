// Edits of what an object is made of: its pieces, where they stand, which are mirror images of each other.
#pragma once

#include <optional>

#include "base/result.h"
#include "mod/documents.h"
#include "prepare/edit_steps.h"
#include "rulebook/rulebook.h"
#include "scene/same_parts.h"

namespace rakugo::prepare {

/// Where a piece stands in its object: metres, and a unit quaternion x y z w.
struct PiecePlace {
  std::array<double, 3> position_m{0, 0, 0};
  std::array<double, 4> turn{0, 0, 0, 1};
  bool operator==(const PiecePlace&) const = default;
};
PiecePlace placeOf(const mod::PieceDoc& piece);
/// The mirror image on the other side of the plane through the object's origin that `side` (a unit vector)
/// stands on: the position, and the turn that the mirror image of a turn is.
PiecePlace mirrored(const PiecePlace& place, const glm::vec3& side);

/// The piece of that name, or null.
mod::PieceDoc* findPiece(mod::ObjectDoc& object, const std::string& piece);
const mod::PieceDoc* findPiece(const mod::ObjectDoc& object, const std::string& piece);

/// All of the following leave the object as it is where they return an error. Errors: piece.unknown;
/// piece.name for an empty name or one that another piece has.

/// Puts a piece there; the one that it is a pair with becomes its mirror image.
base::Status placePiece(mod::ObjectDoc& object, const std::string& piece, const PiecePlace& place,
                        const glm::vec3& side);
/// Calls a piece otherwise; its pair follows.
base::Status renamePiece(mod::ObjectDoc& object, const std::string& piece, const std::string& name);
/// Says which of the kind's models a piece is (empty: the main one).
base::Status setPieceAs(mod::ObjectDoc& object, const std::string& piece, const std::string& as);
/// Takes a piece out; its pair stands alone then.
base::Status removePiece(mod::ObjectDoc& object, const std::string& piece);
/// Adds a copy of a piece behind it, at the same place, alone; returns its name.
base::Result<std::string> copyPiece(mod::ObjectDoc& object, const std::string& piece);
/// Makes `other` the mirror image of `piece`, now and through every later `placePiece` of either. What either
/// was a pair with stands alone. An empty `other` unties. Errors: also piece.pair for a piece with itself.
base::Status pairPieces(mod::ObjectDoc& object, const std::string& piece, const std::string& other,
                        const glm::vec3& side);
/// Adds the mirror image of a piece as its pair; returns its name.
base::Result<std::string> addMirrorImage(mod::ObjectDoc& object, const std::string& piece,
                                         const glm::vec3& side);
/// Gives a piece the place of another, or its mirror image.
base::Status copyPlace(mod::ObjectDoc& object, const std::string& from, const std::string& to, bool mirror,
                       const glm::vec3& side);

/// How far the lowest vertex of a piece's model lies above the object's floor, along `up` (a unit vector);
/// metres. Nothing for a model without vertices. Cost: linear in vertices.
std::optional<double> aboveFloor(const mod::PieceDoc& piece, const scene::Model& model, const glm::vec3& up);
/// Lets a piece down, or lifts it, so that its lowest vertex stands on the floor; its pair follows.
base::Status putOnFloor(mod::ObjectDoc& object, const std::string& piece, const scene::Model& model,
                        const rulebook::Rulebook& book);
/// Gives pieces places at even distances on the line between the first and the last, which stay; at least
/// three. Turns stay; pairs follow. Errors: also piece.few.
base::Status spreadPieces(mod::ObjectDoc& object, const std::vector<std::string>& pieces,
                          const glm::vec3& side);

/// A name that no piece of the object has: `wanted`, else with a number behind.
std::string freePieceName(const mod::ObjectDoc& object, const std::string& wanted);

/// Makes pieces of copies: a new model of the first of `same` alone, its origin in its middle, and a piece of
/// it where each copy stands; the model that they were parts of goes without them. `prepared` is what `model`
/// gives now. `as`: which of the kind's models they are. Returns the new model's name. Errors: piece.unknown
/// where no piece of the object is that model; piece.turn_first where it does not lie along the game's axes
/// yet.
base::Result<std::string> piecesFromCopies(mod::ModState& state, const std::string& object,
                                           const std::string& model, const scene::Model& prepared,
                                           const rulebook::Rulebook& book, const scene::SameParts& same,
                                           const std::string& as);

/// The turn that is made by turning about the game's forward, side and up by so many degrees, in this order:
/// the reverse of `anglesOf`.
glm::dquat turnOf(const GameAxes& axes, const glm::dvec3& degrees);

}  // namespace rakugo::prepare
