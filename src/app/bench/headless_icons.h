// Icons of a mod's objects, taken without a window and without a display.
#pragma once

#include <filesystem>

#include "base/jobs.h"
#include "check/examiner.h"

namespace rakugo::app {

/// What became of an object.
struct TakenIcon {
  std::string object;
  std::string problem;  ///< why there is no icon; empty: there is one
};

/// Objects whose icon is missing, of another size than their kind asks for, or older than they are.
std::vector<std::string> iconsWanted(const check::Examination& examination);

/// Takes icons as the window does *As usual*: the same angle, margin, ground and line, the same pixels for
/// the same OpenGL. They are put into `state`. `progress` may be null; what is done when it is cancelled
/// stays. Errors: gl.none.
base::Result<std::vector<TakenIcon>> takeIcons(const check::Examination& examination, mod::ModState& state,
                                               const std::vector<std::string>& objects,
                                               const base::Progress* progress = nullptr);

}  // namespace rakugo::app
