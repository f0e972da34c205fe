// How many pixels of its picture a surface shows to a metre.
#pragma once

#include <map>
#include <span>

#include "scene/model.h"

namespace rakugo::scene {

/// For each worn material with a base colour picture, by its index: pixels to a metre, over all reached parts
/// that wear it (the root of shown pixels by surface). `sizes_px`: of the model's images, one each; (0, 0)
/// for one that cannot be read. Materials without surface, picture or texture coordinates are left out, and
/// so are triangles with numbers that are not finite. Cost: linear in triangles.
std::map<uint32_t, double> texelDensities(const Model& model, std::span<const glm::uvec2> sizes_px);

}  // namespace rakugo::scene
