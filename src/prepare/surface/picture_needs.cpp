#include "prepare/surface/picture_needs.h"

#include <string_view>

namespace rakugo::prepare {

std::map<std::pair<scene::ImageIndex, formats::PictureUse>, PictureNeed> pictureNeeds(
    const scene::Model& model) {
  using rulebook::PictureRole;
  std::map<std::pair<scene::ImageIndex, formats::PictureUse>, PictureNeed> out;
  for (const scene::Material& material : model.materials)
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const scene::TextureUse& use = material.*slot.use;
      if (!use.image.valid()) continue;
      const formats::PictureUse means = formats::useOf(slot);
      const auto [at, fresh] = out.try_emplace({use.image, means});
      PictureNeed& need = at->second;
      const bool one_channel = slot.use == &scene::Material::occlusion_texture;
      if (fresh)
        need.role = means == formats::PictureUse::color    ? PictureRole::color
                    : means == formats::PictureUse::normal ? PictureRole::normal
                    : one_channel                          ? PictureRole::gray
                                                           : PictureRole::data;
      if (need.role == PictureRole::gray && !one_channel) need.role = PictureRole::data;
      if (means != formats::PictureUse::color) continue;
      const bool alpha =
          slot.use == &scene::Material::base_color_texture && material.alpha != scene::AlphaMode::opaque;
      if (alpha && need.role == PictureRole::color) need.role = PictureRole::color_alpha;
      if (alpha && material.alpha == scene::AlphaMode::mask && !need.cutoff)
        need.cutoff = material.alpha_cutoff;
      if (use.filter == scene::Filter::nearest) need.role = PictureRole::pixels;
    }
  return out;
}

}  // namespace rakugo::prepare
