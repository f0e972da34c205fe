#include "check/surface_report.h"

#include <map>
#include <set>

#include "formats/pictures/resample.h"
#include "prepare/surface/atlas.h"
#include "scene/texel_density.h"

namespace rakugo::check {
namespace {

// Four bytes a pixel, and all halves of it.
uint64_t bytesInGame(uint32_t width, uint32_t height, const rulebook::Rulebook& book) {
  uint32_t w = formats::allowedSide(width, book.picture_max_side, book.picture_power_of_two);
  uint32_t h = formats::allowedSide(height, book.picture_max_side, book.picture_power_of_two);
  uint64_t out = uint64_t{w} * h * 4;
  while (w > 1 || h > 1) {
    w = std::max(1U, w / 2);
    h = std::max(1U, h / 2);
    out += uint64_t{w} * h * 4;
  }
  return out;
}

const char* alphaName(scene::AlphaMode alpha) {
  return alpha == scene::AlphaMode::opaque ? "opaque" : alpha == scene::AlphaMode::mask ? "mask" : "blend";
}

std::vector<SlotReport> slotsOf(const Context& context, const ModelState& state,
                                const scene::Material& material,
                                std::map<std::pair<size_t, formats::PictureUse>, uint64_t>& counted) {
  const scene::Model& model = *state.prepared.model;
  std::vector<SlotReport> out;
  for (const scene::TextureSlot& slot : scene::kTextureSlots) {
    const scene::TextureUse& use = material.*slot.use;
    if (!use.image.valid()) continue;
    const scene::Image& image = model.images[use.image.value()];
    const PictureState& picture = state.pictures[use.image.value()];
    SlotReport& one = out.emplace_back();
    one.slot = slot.name;
    one.picture = image.uri.empty() ? image.name : image.uri;
    if (!picture.info) continue;
    one.found = true;
    one.format = picture.info->format;
    one.width = picture.info->width;
    one.height = picture.info->height;
    one.normal_map = formats::isNormalMap(picture.traits);
    one.transparent = picture.traits.transparent;
    one.bytes = bytesInGame(one.width, one.height, *context.book);
    counted[{use.image.value(), formats::useOf(slot)}] = one.bytes;
  }
  return out;
}

}  // namespace

SurfaceReport surfaceReport(const Context& context, const std::string& name) {
  SurfaceReport out;
  const auto found = context.models.find(name);
  if (found == context.models.end() || !found->second.prepared.model) return out;
  const ModelState& state = found->second;
  const scene::Model& model = *state.prepared.model;
  std::map<uint32_t, MaterialReport> worn;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    std::set<uint32_t> once;
    for (const scene::Primitive& p : model.mesh(node.mesh).primitives) {
      if (!p.material.valid()) continue;
      const auto index = static_cast<uint32_t>(p.material.value());
      MaterialReport& one = worn[index];
      one.triangles += p.indices.size() / 3;
      if (once.insert(index).second) one.parts.push_back(node.name.empty() ? node.key : node.name);
    }
  }
  std::vector<glm::uvec2> sizes;
  for (const PictureState& picture : state.pictures)
    sizes.emplace_back(picture.info ? glm::uvec2(picture.info->width, picture.info->height) : glm::uvec2(0));
  const auto densities = scene::texelDensities(model, sizes);
  const std::vector<RoleProposal> proposals = proposeRoles(context, state);
  std::map<std::pair<size_t, formats::PictureUse>, uint64_t> counted;
  for (auto& [index, one] : worn) {
    const scene::Material& m = model.materials[index];
    one.key = m.key;
    one.name = m.name.empty() ? m.key : m.name;
    one.role = m.role;
    one.alpha = alphaName(m.alpha);
    one.color = {m.base_color.x, m.base_color.y, m.base_color.z};
    one.metal = m.metallic;
    one.roughness = m.roughness;
    if (const auto density = densities.find(index); density != densities.end())
      one.texels_per_m = density->second;
    for (const RoleProposal& proposal : proposals)
      if (proposal.material == m.key) one.proposal = proposal;
    one.slots = slotsOf(context, state, m, counted);
    out.materials.push_back(std::move(one));
  }
  for (const auto& [picture, bytes] : counted) out.bytes += bytes;
  const prepare::AtlasGroups groups = prepare::atlasGroups(model);
  for (const auto& group : groups.groups) {
    std::vector<std::string>& keys = out.groups.emplace_back();
    for (const scene::MaterialIndex i : group) keys.push_back(model.materials[i.value()].key);
  }
  for (const auto& [i, why] : groups.apart) out.apart.emplace_back(model.materials[i.value()].key, why);
  return out;
}

}  // namespace rakugo::check
