// Several materials made one: their pictures side by side on one sheet, and texture coordinates that follow.
#pragma once

#include <string>
#include <vector>

#include "base/jobs.h"
#include "base/result.h"
#include "scene/model.h"

namespace rakugo::prepare {

struct AtlasOptions {
  std::string name;           ///< of the material that comes of it
  uint32_t most_side = 2048;  ///< pixels; the sheet is the smallest power of two, from 16 on, that holds all
  uint32_t margin = 4;        ///< pixels round each island, so that mip levels take nothing of the neighbours
  /// 1 to 4: everything goes into that quarter of a sheet of the largest side, whose other quarters are for
  /// other models that name the same sheet; 0: the sheet is this model's alone. Then pictures know that they
  /// are shared (scene::Image::shared), and a bundle holds one for all.
  uint32_t quarter = 0;
};

struct AtlasReport {
  uint32_t side = 0;  ///< pixels of the sheet
  double scale = 1;   ///< of the pictures: below 1 where they do not fit as large as they are
  double filled = 0;  ///< share of the sheet that islands and their margins take
  size_t islands = 0;
  size_t materials = 0;  ///< that became one
};

/// Why a material cannot become one with another, as a phrase; empty where it can. They must draw alike but
/// for colour, metal, roughness, glow and pictures: the same role, way of transparency, sides, filter.
std::string whyApart(const scene::Material& a, const scene::Material& b);

/// Why a material's pictures cannot go onto a sheet at all: a picture that repeats more than four times
/// across an island, coordinates beside one that does not repeat, a picture that is not there, a colour of 0
/// that takes it away, coordinates that pictures look up in different ways; empty where they can. A picture
/// that repeats less often goes onto the sheet as often as it is seen.
std::string whyNotOnSheet(const scene::Model& model, scene::MaterialIndex material);

/// Materials that can become one, and why others cannot.
struct AtlasGroups {
  std::vector<std::vector<scene::MaterialIndex>> groups;  ///< of two or more, in the model's order
  std::vector<std::pair<scene::MaterialIndex, std::string>>
      apart;  ///< worn ones in no group, and a phrase each
};
AtlasGroups atlasGroups(const scene::Model& model);

/// How the islands of the materials would lie; no picture is made. Errors as of `mergeIntoAtlas`.
base::Result<AtlasReport> packAtlas(const scene::Model& model,
                                    const std::vector<scene::MaterialIndex>& materials,
                                    const AtlasOptions& options, const base::Progress* progress = nullptr);

/// Makes the materials one (a single one is cropped to what it shows), worn by all that wore any of them.
/// Pictures of all slots go to the same places; factors are multiplied into them; constants fill where a
/// material has no picture. What they show stays the same, to half a step of the stored value where nothing
/// is resized. Meshes that several parts wear are changed once. Errors: atlas.apart, atlas.sheet with the
/// reasons, atlas.full where even an eighth of the size does not fit, those of `formats::decodePicture`,
/// job.cancelled.
base::Result<AtlasReport> mergeIntoAtlas(scene::Model& model,
                                         const std::vector<scene::MaterialIndex>& materials,
                                         const AtlasOptions& options,
                                         const base::Progress* progress = nullptr);

}  // namespace rakugo::prepare
