// What the lamps and emitters of an object say.
#pragma once

#include <glm/glm.hpp>

#include "mod/documents.h"
#include "rulebook/rulebook.h"

namespace rakugo::prepare {

/// The fields of a lamp or emitter: those of its rule, where the kind has it; else those that every piece of
/// its sort has. Empty for other pieces, and for a sort that this version does not know.
std::vector<rulebook::Field> fieldsOfPiece(const rulebook::Rulebook& book, const mod::ObjectDoc& object,
                                           const mod::PieceDoc& piece);

/// A new entry in a list of the game's, with the usual values.
mod::ListEntry newEntry(const rulebook::GameList& list);

/// What a piece says for the field: its own value where that is of the field's type, drawn into its limits;
/// else the field's default.
base::Json valueOf(const mod::PieceDoc& piece, const rulebook::Field& field);

/// Sets a value of a piece; the pair has it too (`pairedValues`). A null value is taken out.
/// Errors: piece.unknown.
base::Status setPieceValue(mod::ObjectDoc& object, const std::string& piece, const std::string& field,
                           const base::Json& value);
/// The values that the pair of `leads` has, whose own are `own`: those of `leads`, with the colours of its
/// own; what moves goes the other way round, as in a mirror.
base::Json pairedValues(const mod::PieceDoc& leads, const base::Json& own);

/// A lamp as it shines. Linear colour, candela, metres, degrees; its direction is the game's forward as the
/// piece is turned.
struct LampValues {
  glm::vec3 color{1};
  float strength = 0, reach_m = 0, cone_deg = 360, soft = 0;
  std::string lit;  ///< "always", "night", or another of the rulebook's choices
  bool operator==(const LampValues&) const = default;
};
LampValues lampValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields);

/// What an emitter sends out: particles a second, seconds, metres, metres a second, degrees; linear colours.
/// Its direction is the game's up as the piece is turned.
struct EmitterValues {
  std::string look, runs;
  float rate = 0, life_s = 1, speed_m_s = 0, spread_deg = 0, gravity = 0;
  std::array<float, 2> size_m{0, 0}, opacity{0, 0};  ///< as it leaves, at the end of its life
  std::array<glm::vec3, 2> color{};
  bool operator==(const EmitterValues&) const = default;
};
EmitterValues emitterValues(const mod::PieceDoc& piece, const std::vector<rulebook::Field>& fields);

}  // namespace rakugo::prepare
