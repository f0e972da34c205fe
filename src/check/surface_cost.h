// What the surface of a model costs the game, as figures that can be held against each other.
#pragma once

#include <optional>
#include <utility>

#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::check {

struct SurfaceCost {
  size_t materials = 0;  ///< worn
  size_t draws = 0;      ///< runs of triangles that the game draws one after the other
  uint64_t bytes = 0;    ///< of pictures in the game's memory, each once
  std::optional<std::pair<double, double>> texels_per_m;  ///< the least and the greatest of its materials
};

/// What a picture of these sides takes in the game's memory for a target, with all that is stored of it.
uint64_t bytesInGame(uint32_t width, uint32_t height, const rulebook::Rulebook& book,
                     const rulebook::Target& target, rulebook::PictureRole role);

/// Of a model as it stands, for one target. Pictures are looked at no further than their headers; what cannot
/// be read costs nothing. Linear in triangles.
SurfaceCost surfaceCost(const scene::Model& model, const rulebook::Rulebook& book,
                        const rulebook::Target& target);

}  // namespace rakugo::check
