// Entries of documents as JSON: pieces, points, places in lists, and what a document follows. Internal to
// mod.
#pragma once

#include <initializer_list>

#include "base/json.h"
#include "mod/documents.h"

namespace rakugo::mod {

/// The keys of a piece, in the order in which they are written.
inline constexpr std::initializer_list<const char*> kPieceKeys = {
    "name", "sort", "model", "parent", "as", "pair", "position_m", "turn", "scale", "values"};

/// How much larger than its design a variant may be.
inline constexpr int kMostFollowedScale = 1000;

/// An entry of a list, with the keys it had that are not ours behind its own.
base::Json entry(base::Json own, const base::Json& more);

base::Json toJson(const PieceDoc& piece);
base::Json toJson(const PointDoc& point);
base::Json toJson(const ListEntry& one);
/// Reading; complaints go where those of `in` go.
PieceDoc pieceFrom(base::JsonFields& in);
PointDoc pointFrom(base::JsonFields& in);
ListEntry listEntryFrom(base::JsonFields& in);

/// Puts it under "follows", or takes that out. `of`: what the other is called by, "object" or "model".
void putFollows(const Follows& follows, const char* of, base::Json& out);
Follows followsFrom(base::JsonFields& in, const char* of);

}  // namespace rakugo::mod
