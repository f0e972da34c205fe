// The game's own figure and what it does, as the rulebook ships them.
#pragma once

#include <memory>
#include <vector>

#include "base/result.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// The skeleton of the game with its movements, in the game's axes, metres.
struct GameFigure {
  scene::Model model;
  std::vector<scene::NodeIndex> bones;  ///< one a bone of the rulebook's skeleton; all valid
  /// One a movement of the rulebook's skeleton: positions in `model.animations`.
  std::vector<size_t> animations;
  [[nodiscard]] const scene::Animation& animation(size_t movement) const {
    return model.animations[animations[movement]];
  }
};

/// The figure of that skeleton. Read once and kept; safe to call from any thread. Errors: movements.none
/// where the rulebook ships none, movements.bone and movements.animation for those that the file lacks, and
/// those of reading a model.
base::Result<std::shared_ptr<const GameFigure>> gameFigure(const rulebook::Rulebook& book,
                                                           const rulebook::Skeleton& skeleton);

}  // namespace rakugo::prepare
