// The demo's boats: closed, so that they have a volume, a mass and a water line. Game axes of the first game:
// metres, +Z up, +X forward, +Y left.
#pragma once

#include "scene/model.h"

namespace rakugo::demo {

/// A rowing boat with a well between a foredeck and a stern seat, and two thwarts.
scene::Model dinghy();
/// The same with a painted hull and bare thwarts, as its builder published it.
scene::Model builtDinghy();
/// A steam tug as its builder published it: twice too large, with four screws though the game places them
/// itself, its funnel lying flat as it was packed, the origin at the end of the keel, and faults in the
/// wheelhouse (turned and doubled triangles, a splinter).
scene::Model tug();

}  // namespace rakugo::demo
