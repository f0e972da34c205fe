// What the game can be told to do, a JSON object a command: by a script, or by a program it is connected to.
// docs/game-link.md lists them.
#pragma once

#include "standin/harbour_view.h"

namespace rakugo::standin {

/// Carries commands out on one running harbour. The picture in `view` may be null where there is no OpenGL:
/// what concerns looks is understood then, and has no effect.
class Commands {
 public:
  /// All outlive this.
  Commands(Game& game, Play& play, Game::Say say) : game_(game), play_(play), say_(std::move(say)) {}
  HarbourView* view = nullptr;

  /// Carries one out. Errors: link.unknown, json.* for fields of a wrong type; nothing is done then.
  base::Status run(const base::Json& command, const std::string& place);

 private:
  using Act = std::function<void()>;
  /// What a command means, not yet done; null when it is not known.
  Act understood(const std::string& what, base::JsonFields& in);
  Act looks(const std::string& what, base::JsonFields& in);
  Game& game_;
  Play& play_;
  Game::Say say_;
};

}  // namespace rakugo::standin
