// Pictures drawn by rule: oak, rope, painted iron, brass. All of them tile.
#pragma once

#include "formats/pictures.h"

namespace rakugo::demo {

formats::Picture drawOak(uint32_t side);
formats::Picture drawRope(uint32_t side);
formats::Picture drawPaintedIron(uint32_t side);
formats::Picture drawBrass(uint32_t side);

}  // namespace rakugo::demo
