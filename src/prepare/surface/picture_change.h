// Pictures that steps change: the source's bytes stay, and the model gets others.
#pragma once

#include <functional>

#include "base/result.h"
#include "formats/pictures/pictures.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// What the name of a picture says after one of its channels was inverted: gloss is roughness then.
inline constexpr const char* kInverted = "-inverted";

/// Changes the picture that a material shows in a slot (a position in `kTextureSlots`), for all materials
/// that show it in that slot; other slots keep the picture as it was. `what` names the change with all its
/// values: the same change of the same bytes is made once as long as somebody holds its result. Errors:
/// picture.none for a slot without a picture or a picture that is not there; those of
/// `formats::decodePicture`.
enum class Remembered : unsigned char {
  yes,
  no
};  ///< no: the change depends on more than `what` and the bytes
base::Status changePicture(scene::Model& model, scene::MaterialIndex material, size_t slot,
                           const std::string& what,
                           const std::function<void(formats::Picture& picture)>& change,
                           Remembered remembered = Remembered::yes);

}  // namespace rakugo::prepare
