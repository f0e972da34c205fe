// What a model's pictures are to the game, which decides how they are stored.
#pragma once

#include <map>
#include <optional>
#include <utility>

#include "formats/pictures/resample.h"
#include "rulebook/targets.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// How one picture is looked up, as colour, as data or as normals.
struct PictureNeed {
  rulebook::PictureRole role = rulebook::PictureRole::color;
  /// Where a material cuts it out by its alpha: at this value, 0 to 1. Mip levels keep that share of the
  /// picture. The first material's where several differ.
  std::optional<float> cutoff;
};

/// By picture and what its values mean: one picture may be looked up both as colour and as data. All
/// materials of the model count, worn or not. Alpha counts where a material that is not opaque takes the
/// picture as its base colour; a picture that is looked up without blending is pixel art.
std::map<std::pair<scene::ImageIndex, formats::PictureUse>, PictureNeed> pictureNeeds(
    const scene::Model& model);

}  // namespace rakugo::prepare
