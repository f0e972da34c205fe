#include "check/surface_cost.h"

#include <algorithm>
#include <set>

#include "formats/pictures/resample.h"
#include "prepare/surface/picture_needs.h"
#include "scene/texel_density.h"

namespace rakugo::check {

uint64_t bytesInGame(uint32_t width, uint32_t height, const rulebook::Rulebook& book,
                     const rulebook::Target& target, rulebook::PictureRole role) {
  const uint32_t most = book.pictureSide(target);
  return bundle::pictureBytes(
      target.formatOf(role), formats::allowedSide(width, most, book.picture_power_of_two),
      formats::allowedSide(height, most, book.picture_power_of_two), target.mip_levels);
}

SurfaceCost surfaceCost(const scene::Model& model, const rulebook::Rulebook& book,
                        const rulebook::Target& target) {
  SurfaceCost out;
  const std::vector<scene::MaterialIndex> used = scene::usedMaterials(model);
  out.materials = used.size();
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    std::set<scene::MaterialIndex> worn;
    for (const scene::Primitive& p : model.mesh(node.mesh).primitives)
      if (!p.indices.empty()) worn.insert(p.material);
    out.draws += worn.size();
  }
  std::vector<glm::uvec2> sizes;
  for (const scene::Image& image : model.images) {
    glm::uvec2 size(0);
    if (image.bytes)
      if (const auto info = formats::pictureInfo(*image.bytes, image.name))
        size = {info->width, info->height};
    sizes.push_back(size);
  }
  // Pictures of materials that something wears.
  const auto needs = prepare::pictureNeeds(model);
  std::set<std::pair<scene::ImageIndex, formats::PictureUse>> counted;
  for (const scene::MaterialIndex m : used)
    for (const scene::TextureSlot& slot : scene::kTextureSlots) {
      const std::pair key{(model.materials[m.value()].*slot.use).image, formats::useOf(slot)};
      if (!key.first.valid() || !counted.insert(key).second) continue;
      const glm::uvec2 size = sizes[key.first.value()];
      if (size.x > 0) out.bytes += bytesInGame(size.x, size.y, book, target, needs.at(key).role);
    }
  for (const auto& [material, density] : scene::texelDensities(model, sizes)) {
    if (!out.texels_per_m) out.texels_per_m = std::pair(density, density);
    out.texels_per_m->first = std::min(out.texels_per_m->first, density);
    out.texels_per_m->second = std::max(out.texels_per_m->second, density);
  }
  return out;
}

}  // namespace rakugo::check
