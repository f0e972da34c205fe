// The other things of the demo: ghosts of both games, and the sources of the demo mods. Game axes of the
// first game unless said otherwise: metres, +Z up, +X forward, +Y left.
#pragma once

#include "scene/model.h"

namespace rakugo::demo {

/// A hand lantern with a glass that can be lit; the grip is at the origin.
scene::Model litLantern();
/// A hand lantern: the grip is at the origin.
scene::Model handLantern();
/// A block of one cell.
scene::Model pierBlock(double cell_m);
/// A bollard for mooring lines, with materials.
scene::Model bollard();
/// A coat for the keeper: three parts.
scene::Model coat();
/// A dollhouse stool made of a button and three matches; metres, +Y up, +Z forward.
scene::Model buttonStool();
/// The same as its maker left it: millimetres, +Z up, with a cushion and materials.
scene::Model makerStool();
/// A wind-up snail; metres, +Y up, +Z forward.
scene::Model tinSnail();

}  // namespace rakugo::demo
