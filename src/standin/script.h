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

/// Runs a script. One command a line, a JSON object with "do":
/// {"do":"scan"} {"do":"day"} {"do":"night","value":1} {"do":"paint","color":[r,g,b]}
/// {"do":"place","object":"mod/object","at":[x,y,z],"turn_deg":0}
/// {"do":"clear"} {"do":"look","at":[x,y,z],"distance":9,"yaw_deg":-35,"pitch_deg":8}
/// {"do":"frames","count":3} {"do":"shot","file":"day.png"} A first scan is always made. Lines that cannot be
/// understood are said in the log. Returns the exit code: 0 good, 2 when the script cannot be read or a
/// picture could not be taken.
int runScript(const HeadlessOptions& options, const Game::Say& say);

}  // namespace rakugo::standin
