#include "scene/material_facts.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "geometry/finite.h"
#include "geometry/union_find.h"

namespace rakugo::scene {
namespace {

constexpr float kBorder = 1e-4F;  // texture coordinates this near to the border lie on it

bool finite(glm::vec2 v) { return std::isfinite(v.x) && std::isfinite(v.y); }

// The whole number that brings [least, most] into [0, 1]; nothing where it lies across a border.
std::optional<float> homeward(float least, float most) {
  const float cell = std::floor(least + kBorder);
  if (most > cell + 1 + kBorder) return std::nullopt;
  return -cell;
}

}  // namespace

bool drawAlike(const Material& a, const Material& b) {
  const auto use = [&](TextureUse Material::*slot) { return a.*slot == b.*slot; };
  return a.role == b.role && a.base_color == b.base_color && a.metallic == b.metallic &&
         a.roughness == b.roughness && a.emissive == b.emissive && a.normal_scale == b.normal_scale &&
         a.occlusion_strength == b.occlusion_strength &&
         std::all_of(kTextureSlots.begin(), kTextureSlots.end(),
                     [&](const TextureSlot& slot) { return use(slot.use); }) &&
         a.alpha == b.alpha && a.alpha_cutoff == b.alpha_cutoff && a.double_sided == b.double_sided &&
         a.unlit == b.unlit && a.emissive_strength == b.emissive_strength && a.kept == b.kept;
}

std::optional<size_t> slotOfName(const std::string& name) {
  for (size_t i = 0; i < kTextureSlots.size(); ++i)
    if (name == kTextureSlots[i].name) return i;
  return std::nullopt;
}

Unseen unseenSlot(const Material& material, size_t slot) {
  constexpr float kNone = 1e-4F;
  const TextureUse& use = material.*kTextureSlots[slot].use;
  if (!use.image.valid()) return Unseen::no;
  const auto dark = [&](glm::vec3 v) { return std::max({v.x, v.y, v.z}) < kNone; };
  const TextureUse Material::*which = kTextureSlots[slot].use;
  const bool gone = (which == &Material::base_color_texture && dark(glm::vec3(material.base_color))) ||
                    (which == &Material::emissive_texture &&
                     (dark(material.emissive) || material.emissive_strength < kNone)) ||
                    (which == &Material::normal_texture && std::abs(material.normal_scale) < kNone) ||
                    (which == &Material::occlusion_texture && material.occlusion_strength < kNone);
  return gone ? Unseen::by_factor : Unseen::no;
}

unsigned usedUvSets(const Material& material) {
  unsigned out = 0;
  for (const TextureSlot& slot : kTextureSlots)
    if (const TextureUse& use = material.*slot.use; use.image.valid() && use.uv_set < 2)
      out |= 1U << use.uv_set;
  return out;
}

std::vector<glm::vec2> movesOntoPicture(const Primitive& primitive, const Material& material, size_t uv_set) {
  if (primitive.uvs[uv_set].size() != primitive.positions.size() ||
      (usedUvSets(material) & (1U << uv_set)) == 0)
    return {};
  for (const TextureSlot& slot : kTextureSlots) {
    const TextureUse& use = material.*slot.use;
    if (use.image.valid() && use.uv_set == uv_set &&
        (use.wrap_u != Wrap::repeat || use.wrap_v != Wrap::repeat || !use.plain()))
      return {};
  }
  const std::vector<glm::vec2>& uvs = primitive.uvs[uv_set];
  geometry::UnionFind islands(uvs.size());
  for (size_t c = 0; c + 2 < primitive.indices.size(); c += 3) {
    islands.join(primitive.indices[c], primitive.indices[c + 1]);
    islands.join(primitive.indices[c], primitive.indices[c + 2]);
  }
  // Vertices that were split for their normals alone.
  const auto key = [&](uint32_t v) {
    const glm::vec3& p = primitive.positions[v];
    return std::array<float, 5>{p.x, p.y, p.z, uvs[v].x, uvs[v].y};
  };
  std::map<std::array<float, 5>, uint32_t> same;
  for (uint32_t v = 0; v < uvs.size(); ++v)
    if (finite(uvs[v]) && geometry::finite(primitive.positions[v]))
      islands.join(same.emplace(key(v), v).first->second, v);
  struct Box {
    glm::vec2 least{INFINITY}, most{-INFINITY};
    bool whole = true;
  };
  std::map<uint32_t, Box> boxes;
  for (uint32_t v = 0; v < uvs.size(); ++v) {
    Box& box = boxes[islands.first(v)];
    if (!finite(uvs[v])) {
      box.whole = false;
      continue;
    }
    box.least = glm::min(box.least, uvs[v]);
    box.most = glm::max(box.most, uvs[v]);
  }
  bool any = false;
  std::map<uint32_t, glm::vec2> moves;
  for (const auto& [island, box] : boxes) {
    if (!box.whole) continue;
    const auto u = homeward(box.least.x, box.most.x), v = homeward(box.least.y, box.most.y);
    if (!u || !v || (*u == 0 && *v == 0)) continue;
    moves[island] = {*u, *v};
    any = true;
  }
  if (!any) return {};
  std::vector<glm::vec2> out(uvs.size(), glm::vec2(0));
  for (uint32_t v = 0; v < uvs.size(); ++v)
    if (const auto move = moves.find(islands.first(v)); move != moves.end()) out[v] = move->second;
  return out;
}

std::optional<glm::vec3> evenDarkening(const Primitive& primitive) {
  if (primitive.colors.empty() || primitive.colors.size() != primitive.positions.size()) return std::nullopt;
  const glm::vec3 first(primitive.colors.front());
  if (std::max({first.x, first.y, first.z}) >= 0.98F) return std::nullopt;
  for (const glm::vec4& color : primitive.colors) {
    const glm::vec3 off = glm::abs(glm::vec3(color) - first);
    if (!(std::max({off.x, off.y, off.z}) < 1.0F / 64)) return std::nullopt;
  }
  return first;
}

}  // namespace rakugo::scene
