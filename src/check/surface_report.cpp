#include "check/surface_report.h"

#include <map>
#include <set>

#include "check/surface_cost.h"
#include "formats/pictures/resample.h"
#include "prepare/surface/atlas.h"
#include "prepare/surface/packed_picture.h"
#include "prepare/surface/picture_needs.h"
#include "scene/texel_density.h"

namespace rakugo::check {
namespace {

const char* alphaName(scene::AlphaMode alpha) {
  return alpha == scene::AlphaMode::opaque ? "opaque" : alpha == scene::AlphaMode::mask ? "mask" : "blend";
}

using PictureKey = std::pair<scene::ImageIndex, formats::PictureUse>;

std::vector<SlotReport> slotsOf(const Context& context, const ModelState& state,
                                const scene::Material& material,
                                const std::map<PictureKey, prepare::PictureNeed>& needs,
                                const std::vector<rulebook::Target>& targets,
                                std::map<PictureKey, std::vector<uint64_t>>& counted) {
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
    const PictureKey key{use.image, formats::useOf(slot)};
    one.role = needs.at(key).role;
    for (const rulebook::Target& target : targets)
      one.bytes.push_back(bytesInGame(one.width, one.height, *context.book, target, one.role));
    counted[key] = one.bytes;
  }
  return out;
}

}  // namespace

std::vector<uint64_t> bytesOf(const rulebook::Rulebook& book, const ModelState& state,
                              const scene::Material& material,
                              const std::map<PictureKey, prepare::PictureNeed>& needs) {
  const std::vector<rulebook::Target> targets = book.allTargets();
  std::vector<uint64_t> out(targets.size());
  std::set<PictureKey> counted;
  for (const scene::TextureSlot& slot : scene::kTextureSlots) {
    const PictureKey key{(material.*slot.use).image, formats::useOf(slot)};
    if (!key.first.valid() || !counted.insert(key).second) continue;
    const auto& info = state.pictures[key.first.value()].info;
    for (size_t t = 0; info && t < targets.size(); ++t)
      out[t] += bytesInGame(info->width, info->height, book, targets[t], needs.at(key).role);
  }
  return out;
}

std::vector<glm::uvec2> pictureSizes(const ModelState& state) {
  std::vector<glm::uvec2> out;
  for (const PictureState& picture : state.pictures)
    out.emplace_back(picture.info ? glm::uvec2(picture.info->width, picture.info->height) : glm::uvec2(0));
  return out;
}

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
  const auto densities = scene::texelDensities(model, pictureSizes(state));
  const std::vector<RoleProposal> proposals = proposeRoles(context, state);
  out.targets = context.book->allTargets();
  const auto needs = prepare::pictureNeeds(model);
  std::map<PictureKey, std::vector<uint64_t>> counted;
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
    for (const rulebook::PackedPicture* packed : prepare::packedPictures(*context.book, m))
      one.packed.emplace_back(packed->id, prepare::packedText(*packed));
    one.slots = slotsOf(context, state, m, needs, out.targets, counted);
    out.materials.push_back(std::move(one));
  }
  out.bytes.resize(out.targets.size());
  for (const auto& [picture, bytes] : counted)
    for (size_t t = 0; t < bytes.size(); ++t) out.bytes[t] += bytes[t];
  const prepare::AtlasGroups groups = prepare::atlasGroups(model);
  for (const auto& group : groups.groups) {
    std::vector<std::string>& keys = out.groups.emplace_back();
    for (const scene::MaterialIndex i : group) keys.push_back(model.materials[i.value()].key);
  }
  for (const auto& [i, why] : groups.apart) out.apart.emplace_back(model.materials[i.value()].key, why);
  return out;
}

}  // namespace rakugo::check
