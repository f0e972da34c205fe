// The values that lamps, emitters, collision shapes, sounds and moving parts have in any game.
#pragma once

#include <array>
#include <optional>
#include <string_view>
#include <vector>

#include "rulebook/rulebook.h"

namespace rakugo::rulebook {

inline constexpr std::array<PieceSort, 5> kPieceSorts = {
    PieceSort::lamp, PieceSort::emitter, PieceSort::shape, PieceSort::sound, PieceSort::moving};
/// As documents and rulebooks write it: "lamp".
const char* pieceSortName(PieceSort sort);
std::optional<PieceSort> pieceSortFrom(std::string_view name);

/// What every piece of the sort says, each with limits and a default. Lengths are metres, angles degrees,
/// colours sRGB.
/// A lamp shines along the game's forward, as its piece is turned: strength in candela, reach and cone as in
/// KHR_lights_punctual of glTF 2.0. An emitter sends particles along the game's up, as its piece is turned;
/// what they are like goes evenly from the first value to the second over their life. A shape is a box along
/// its piece's axes, a sphere, a capsule or cylinder along the game's up as its piece is turned, or made of
/// models: the one that carries it, or all of the object where none does. A sound is heard from its piece's
/// place, at its full gain within `near_m`, and less with the distance, down to nothing at `far_m`. A moving
/// part goes round the line through its piece along the game's forward as the piece is turned, against the
/// clock seen from ahead (right-hand rule); it moves a part of the model that carries it, and all that it
/// carries itself.
std::vector<Field> pieceValues(PieceSort sort);

}  // namespace rakugo::rulebook
