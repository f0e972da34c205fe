// Parts of an object that turn or swing: a wheel, a rudder, a lamp that goes round.
#pragma once

#include <set>

#include "geometry/bounds.h"
#include "prepare/objects/collision_shapes.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/objects/piece_values.h"

namespace rakugo::prepare {

/// What a moving part says: turns or swings a second, degrees. It goes round the line through its piece along
/// the game's forward as the piece is turned, by the right-hand rule.
struct MovingValues {
  std::string part;         ///< key of a part of the model that carries it; empty: none
  std::string moves, runs;  ///< "turns" or "swings"; "always", "night", or another of the rulebook's choices
  float rate = 0;
  std::array<float, 2> span_deg{0, 0};
  bool operator==(const MovingValues&) const = default;
};
MovingValues movingValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields);

/// The angle in which it stands after `seconds`, in radians, while it runs at its rate. What swings begins in
/// the middle of its span. 0 where a value is not finite.
float movedAngle(const MovingValues& says, float seconds);

/// What a moving part moves. Indices into the object's pieces.
struct Moved {
  /// Parts of a model piece: the named one and all below it. By the piece's index.
  std::vector<std::pair<size_t, std::set<scene::NodeIndex>>> parts;
  std::vector<size_t> pieces;  ///< that hang on it, directly or not, whole
  [[nodiscard]] bool empty() const { return parts.empty() && pieces.empty(); }
};
/// The part is looked for in the nearest model that carries the piece; where none does, in all models of the
/// object. Cost: linear in pieces, and in parts of those models.
Moved movedBy(const mod::ObjectDoc& object, const mod::PieceDoc& moving, const ModelOf& models);

/// The box of all that it moves, in the moving piece's own space, metres; empty where it moves nothing that
/// has vertices. Cost: linear in vertices.
geometry::Bounds movedBox(const mod::ObjectDoc& object, const mod::PieceDoc& moving, const ModelOf& models);

/// Puts a moving part in the middle of what it moves, its axis along the shortest side of its box: so a wheel
/// and a screw turn. Its pair follows, and what it carries stays where it is. Errors: piece.unknown,
/// piece.moves_nothing.
base::Status centerMoving(mod::ObjectDoc& object, const std::string& piece, const rulebook::Rulebook& book,
                          const ModelOf& models);

}  // namespace rakugo::prepare
