// What is dragged from one part of the window to another.
#pragma once

namespace rakugo::app {

/// Names of models of the mod, a line each, UTF-8.
inline constexpr const char* kModelsDragged = "application/x-rakugo-models";

}  // namespace rakugo::app
