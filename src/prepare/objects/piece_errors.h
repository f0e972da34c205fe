// Errors that all edits of pieces share.
#pragma once

#include <string>

#include "base/phrase.h"
#include "base/result.h"
#include "base/text.h"

namespace rakugo::prepare {

/// piece.unknown: the object has no piece of that name.
inline base::Error unknownPiece(const std::string& piece) {
  return {"piece.unknown",
          base::phrase("The object has no piece \"{0}\".", base::presentable(piece, 60)),
          {},
          base::phrase("Name one of its pieces.")};
}

}  // namespace rakugo::prepare
