// The game without a window: commands from a file, pictures into a folder, the log as JSON lines.
#pragma once

#include <filesystem>
#include <functional>
#include <string>

#include "standin/game.h"

namespace rakugo::standin {

struct HeadlessOptions {
  std::filesystem::path mods, script, shots;
};

/// Runs a script: one command a line, a JSON object with "do" (docs/game-link.md), and beside those
/// {"do":"frames","count":3} and {"do":"shot","file":"day.png"}. A first scan is always made. Lines that
/// cannot be understood are said in the log. Returns the exit code: 0 good, 2 when the script cannot be read
/// or understood, or a picture could not be taken.
int runScript(const HeadlessOptions& options, const Game::Say& say);

}  // namespace rakugo::standin
