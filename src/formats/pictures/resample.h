// Pictures in other sizes, and their mip levels: colour averaged in linear light, data as it is, normals as
// directions.
#pragma once

#include "formats/pictures/pictures.h"
#include "scene/model.h"

namespace rakugo::formats {

/// What a picture's values mean: sRGB colour with straight alpha; numbers; or directions, each channel from
/// -1 to 1 (glTF 2.0, section 3.9.3).
enum class PictureUse : unsigned char { color, data, normal };

/// What the pictures of a slot mean (glTF 2.0, section 3.9.2).
PictureUse useOf(const scene::TextureSlot& slot);

/// `smooth`: the average over what a new pixel covers, or between the nearest where the picture grows.
/// `pixels`: the pixel under the new one's centre; pixel art stays sharp where sides change by whole factors.
enum class Resampling : unsigned char { smooth, pixels };

/// The picture with these sides, 1 or more each. Normals come out of length one, whatever their length was.
Picture resized(const Picture& picture, uint32_t width, uint32_t height, PictureUse use,
                Resampling how = Resampling::smooth);

/// The next mip level: half of each side, rounded down, at least 1 (2 x 2 box, edges repeated for odd sides).
Picture halved(const Picture& picture, PictureUse use);

/// Share of the pixels (4 bytes each) that a material draws which cuts out at `cutoff`, 0 to 1: those whose
/// alpha is not below it. 0 for no pixels.
double coverage(base::ByteSpan pixels, float cutoff);
/// Scales the alpha of a smaller level so that as much of it is drawn as `share` says, as near as its values
/// allow: leaves and lattices do not thin out in the distance. A level without any alpha stays as it is.
void keepCoverage(base::Bytes& pixels, double share, float cutoff);

/// A side of at most `most` pixels (0: any); with `power_of_two` the nearest power of two that is allowed.
/// `side` is 1 or more.
uint32_t allowedSide(uint32_t side, uint32_t most, bool power_of_two);

}  // namespace rakugo::formats
