// The icon of an object of the mod, as small as lists show it.
#pragma once

#include <QImage>

#include "mod/documents.h"

namespace rakugo::app {

/// Null where the object has none, or one that cannot be read. Decoded once for each size and kept, as lists
/// ask for it whenever they are painted. For the window's thread.
QImage objectIcon(const mod::ModState& state, const mod::ObjectDoc& object, int side_px);

}  // namespace rakugo::app
