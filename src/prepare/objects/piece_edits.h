// Edits of what an object is made of: its pieces, where they stand, which are mirror images of each other.
#pragma once

#include <optional>

#include "base/result.h"
#include "mod/documents.h"
#include "mod/piece_tree.h"
#include "prepare/edit_steps.h"
#include "rulebook/rulebook.h"
#include "scene/same_parts.h"

namespace rakugo::prepare {

using mod::findPiece;

/// Where a piece stands: metres, and a unit quaternion x y z w. Against what carries it, where nothing else
/// is said.
struct PiecePlace {
  std::array<double, 3> position_m{0, 0, 0};
  std::array<double, 4> turn{0, 0, 0, 1};
  bool operator==(const PiecePlace&) const = default;
};
PiecePlace placeOf(const mod::PieceDoc& piece);
/// The same in the object's space, through all that carry it.
PiecePlace objectPlace(const mod::ObjectDoc& object, const mod::PieceDoc& piece);
/// Where a piece that stands so in the object's space stands against what carries it.
PiecePlace placeUnder(const mod::ObjectDoc& object, const mod::PieceDoc& piece, const PiecePlace& in_object);
/// The mirror image on the other side of the plane through the origin that `side` (a unit vector) stands on:
/// the position, and the turn that the mirror image of a turn is.
PiecePlace mirrored(const PiecePlace& place, const glm::vec3& side);
/// How far one place lies from the mirror image of the other, in metres; negative where it is that image, to
/// 0.1 mm and 0.2 degrees.
double offMirror(const PiecePlace& one, const PiecePlace& other, const glm::vec3& side);

/// All of the following leave the object as it is where they return an error. Errors: piece.unknown;
/// piece.name for an empty name or one that another piece has.

/// Puts a piece there; the one that it is a pair with becomes its mirror image.
base::Status placePiece(mod::ObjectDoc& object, const std::string& piece, const PiecePlace& place,
                        const glm::vec3& side);
/// Calls a piece otherwise; its pair follows.
base::Status renamePiece(mod::ObjectDoc& object, const std::string& piece, const std::string& name);
/// Says which of the kind's models or pieces a piece is (empty: the main model).
base::Status setPieceAs(mod::ObjectDoc& object, const std::string& piece, const std::string& as);
/// Scales a piece with all that it carries; its pair follows. Errors: also piece.scale unless it is finite
/// and from 0.001 to 1000.
base::Status scalePiece(mod::ObjectDoc& object, const std::string& piece, double scale);
/// Lets a piece hang on another (empty: on the object itself); it stays where it is in the object. Its pair
/// goes to the other's pair where there is one, else along, and is its mirror image there. Errors: also
/// piece.parent for a piece that hangs on it, for itself, and for what carries nothing.
base::Status setParent(mod::ObjectDoc& object, const std::string& piece, const std::string& parent,
                       const glm::vec3& side);
/// Takes a piece out; its pair stands alone then, and what it carried hangs on what carried it, in the same
/// place.
base::Status removePiece(mod::ObjectDoc& object, const std::string& piece);
/// Adds a copy of a piece, with all that it carries, behind it, at the same place; returns its name. Pairs
/// within are pairs in the copy.
base::Result<std::string> copyPiece(mod::ObjectDoc& object, const std::string& piece);
/// Makes `other` the mirror image of `piece`, now and through every later edit of either: place, scale, and
/// all values but colours, in the space of what carries them. What either was a pair with stands alone. An
/// empty `other` unties. Errors: also piece.pair for a piece with itself, for two of different sorts, and for
/// two that hang on different pieces which are no pair.
base::Status pairPieces(mod::ObjectDoc& object, const std::string& piece, const std::string& other,
                        const glm::vec3& side);
/// Adds the mirror image of a piece as its pair; returns its name.
base::Result<std::string> addMirrorImage(mod::ObjectDoc& object, const std::string& piece,
                                         const glm::vec3& side);
/// Gives a piece the place of another, or its mirror image.
base::Status copyPlace(mod::ObjectDoc& object, const std::string& from, const std::string& to, bool mirror,
                       const glm::vec3& side);

/// Whether two pieces may be a pair: of one sort, and hanging on the same piece or on two that are a pair.
bool mayBePair(const mod::ObjectDoc& object, const mod::PieceDoc& a, const mod::PieceDoc& b);

/// Adds a piece of a sort that the rulebook lists for the object's kind, at the object's origin, with the
/// values that its rule begins with; a shape hangs on the object's first model. Returns its name. Errors:
/// piece.sort for an id that the kind has not.
base::Result<std::string> addRuledPiece(mod::ObjectDoc& object, const rulebook::Kind& kind,
                                        const std::string& as);
/// Adds a group that carries the pieces: they stay where they are, and their pairs come along. It stands in
/// their middle, on the plane between left and right where a pair is among them. Returns its name. Errors:
/// also piece.few for none; piece.parent where they hang on different pieces.
base::Result<std::string> groupPieces(mod::ObjectDoc& object, const std::vector<std::string>& pieces,
                                      const std::string& name, const glm::vec3& side);

/// How far the lowest vertex of a piece's model lies above the object's floor, along `up` (a unit vector);
/// metres. Nothing for a model without vertices. Cost: linear in vertices.
std::optional<double> aboveFloor(const mod::ObjectDoc& object, const mod::PieceDoc& piece,
                                 const scene::Model& model, const glm::vec3& up);
/// Lets a piece down, or lifts it, so that its lowest vertex stands on the floor; its pair follows.
base::Status putOnFloor(mod::ObjectDoc& object, const std::string& piece, const scene::Model& model,
                        const rulebook::Rulebook& book);
/// Gives pieces places at even distances on the line between the first and the last, which stay; at least
/// three. Turns stay; pairs follow. Errors: also piece.few.
base::Status spreadPieces(mod::ObjectDoc& object, const std::vector<std::string>& pieces,
                          const glm::vec3& side);

/// Gives pieces the place of the first along one direction (a unit vector) of the object; pairs follow.
base::Status alignPieces(mod::ObjectDoc& object, const std::vector<std::string>& pieces,
                         const glm::vec3& along, const glm::vec3& side);

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

/// The game's own forward, side and up.
GameAxes gameAxes(const rulebook::Rulebook& book);
/// The turn that is made by turning about the game's forward, side and up by so many degrees, in this order:
/// the reverse of `anglesOf`.
glm::dquat turnOf(const GameAxes& axes, const glm::dvec3& degrees);

}  // namespace rakugo::prepare
