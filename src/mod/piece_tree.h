// The tree of an object's pieces: each hangs on the object itself or on another piece.
#pragma once

#include <functional>

#include "mod/documents.h"

namespace rakugo::mod {

/// The piece of that name, or null. Of several the first.
PieceDoc* findPiece(ObjectDoc& object, const std::string& piece);
const PieceDoc* findPiece(const ObjectDoc& object, const std::string& piece);

/// The pieces that carry a piece, the nearest first. Ends at a parent that is not there, and at a piece that
/// would come twice.
std::vector<const PieceDoc*> carriersOf(const ObjectDoc& object, const PieceDoc& piece);
/// Whether `piece` hangs on the piece `carrier`, directly or not.
bool hangsOn(const ObjectDoc& object, const PieceDoc& piece, const std::string& carrier);

/// Lets a piece hang on what carries its parent; it stays where it is in the object. Nothing for one that
/// hangs on the object itself.
void raisePiece(const ObjectDoc& object, PieceDoc& piece);

/// Takes out the pieces for which `gone` holds. What they carry stays where it is, and hangs on what carried
/// them; their pairs stand alone.
void removePieces(ObjectDoc& object, const std::function<bool(const PieceDoc&)>& gone);

}  // namespace rakugo::mod
