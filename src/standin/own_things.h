// What stands in the harbour before any mod is installed; it lies in the program.
#pragma once

#include "standin/game.h"

namespace rakugo::standin {

/// Gives the game the harbour's own things.
void takeHarboursOwn(Game& game);

}  // namespace rakugo::standin
