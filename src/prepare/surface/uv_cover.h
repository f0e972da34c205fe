// Which pixels of a picture are shown by anything.
#pragma once

#include "scene/model.h"

namespace rakugo::prepare {

/// One flag a pixel, rows top to bottom: whether a triangle that shows the image in that slot (a position in
/// `kTextureSlots`) touches it. Coordinates beside the picture count where the picture repeats; mirrored and
/// clamped pictures are covered whole where coordinates lie beside them. Cost: linear in triangles and
/// covered pixels.
std::vector<uint8_t> shownPixels(const scene::Model& model, scene::ImageIndex image, size_t slot,
                                 uint32_t width, uint32_t height);

}  // namespace rakugo::prepare
