// Findings about the pieces of an object, and mends of its document.
#pragma once

#include <functional>

#include "check/checks.h"
#include "geometry/moved_box.h"
#include "prepare/parts/pieces.h"

namespace rakugo::check {

/// A finding about a piece of an object; an empty piece: about the object.
inline Finding aboutPiece(const Context& context, const CheckRow& row, const std::string& object,
                          const std::string& piece, std::string message) {
  Finding f = begin(context, row, std::move(message));
  f.place.object = object;
  f.place.document = "objects/" + object + ".object.json";
  f.place.field = piece.empty() ? std::string() : "piece-" + piece;
  return f;
}

/// The box of a model piece in the object's space, metres; empty where its model is unknown or has no box,
/// and for what the game shows in place of the object.
inline geometry::Bounds boxOfPiece(const Context& context, const mod::ObjectDoc& object,
                                   const mod::PieceDoc& piece) {
  const auto state = context.models.find(piece.model);
  if (!piece.isModel() || state == context.models.end()) return {};
  if (prepare::apartRoot(*context.book, object, piece) != nullptr) return {};
  return geometry::movedBox(state->second.box_m, prepare::placeInObject(object, piece));
}

/// An edit of an object, which does nothing once it is gone or refuses.
inline Mend objectMend(const std::string& object, std::string label,
                       std::function<base::Status(mod::ObjectDoc&)> edit) {
  return {std::move(label), [object, edit = std::move(edit)](mod::ModState& mod) {
            const auto found = mod.objects.find(object);
            if (found == mod.objects.end()) return;
            mod::ObjectDoc next = found->second;
            if (edit(next)) mod.objects[object] = std::move(next);
          }};
}

}  // namespace rakugo::check
