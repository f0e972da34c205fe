// The demo's lamps.
#pragma once

#include "scene/model.h"

namespace rakugo::demo {

/// The quay lamp as its maker left it (see examples/README.md): centimetres, +Y up, facing -Z.
scene::Model makerLamp();
/// The game's own harbour lamp as a ghost: metres, +Z up, +X forward, no materials.
scene::Model harbourLampGhost();

}  // namespace rakugo::demo
