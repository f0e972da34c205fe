// Pictures drawn by rule: oak, rope, painted iron, brass. All of them tile.
#pragma once

#include "formats/pictures/pictures.h"

namespace rakugo::demo {

formats::Picture drawOak(uint32_t side);
formats::Picture drawRope(uint32_t side);
formats::Picture drawPaintedIron(uint32_t side);
formats::Picture drawBrass(uint32_t side);
/// Icons of the sample and of the second game's demo: plain silhouettes on a transparent ground.
formats::Picture drawBollardIcon(uint32_t side);
formats::Picture drawDinghyIcon(uint32_t width, uint32_t height);
formats::Picture drawLanternIcon(uint32_t side);
formats::Picture drawStallIcon(uint32_t side);
formats::Picture drawStoolIcon(uint32_t width, uint32_t height);

}  // namespace rakugo::demo
