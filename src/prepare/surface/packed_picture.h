// Pictures as a game reads them that has something else in each channel than glTF: made of a material's
// slots, and taken apart again.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "formats/pictures/pictures.h"
#include "formats/pictures/resample.h"
#include "rulebook/rulebook.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// The packed pictures that a material is given by its role, in the rulebook's order.
std::vector<const rulebook::PackedPicture*> packedPictures(const rulebook::Rulebook& book,
                                                           const scene::Material& material);
/// What is in each channel: "red: metal, alpha: gloss".
std::string packedText(const rulebook::PackedPicture& packed);
/// What the values of the packed picture mean where it is made smaller: colour where red, green or blue hold
/// a colour, a normal map where they hold all of a direction, else numbers.
formats::PictureUse useOf(const rulebook::PackedPicture& packed);
/// For each of `scene::kTextureSlots` whether packed pictures hold all of it, so that the game reads no
/// picture of its own there.
std::array<bool, 5> packedWhole(const std::vector<const rulebook::PackedPicture*>& packed);

/// Slots that go into it and look texture coordinates up in another way than the first that goes in:
/// positions in `scene::kTextureSlots`. It can be made where there are none.
std::vector<size_t> slotsApart(const scene::Material& material, const rulebook::PackedPicture& packed);

/// The picture that a material is given, as large as the largest that goes in (1 x 1 where none does). The
/// material's factors are worked in. Errors: packed.apart where `slotsApart` has any, those of
/// `formats::decodePicture`.
base::Result<formats::Picture> packPicture(const scene::Model& model, const scene::Material& material,
                                           const rulebook::PackedPicture& packed);

/// Takes the picture of a slot apart that holds `channels`: each goes into the slot where glTF has it, into
/// the picture that stands there, or a new one. The slot it came from is empty then, unless something went
/// there. Factors of what came are 1. A normal map's missing third part is worked out. Errors: picture.none, packed.nothing where all
/// channels hold nothing, those of `formats::decodePicture`.
base::Status unpackPicture(scene::Model& model, scene::MaterialIndex material, size_t slot,
                           const std::array<rulebook::Channel, 4>& channels);

}  // namespace rakugo::prepare
