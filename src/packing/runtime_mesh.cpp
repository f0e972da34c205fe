#include <algorithm>
#include <cmath>

#include "base/jobs.h"
#include "geometry/vertex_cache.h"
#include "packing/runtime.h"
#include "scene/influences.h"
#include "scene/rest_pose.h"

namespace rakugo::packing {
namespace {

using bundle::Attribute;
using bundle::AttributeFormat;
using bundle::Semantic;

struct Layout {
  bool tangent = false, uv0 = false, uv1 = false, color = false, bones = false;
};

Layout layoutOf(const scene::Mesh& mesh, bool bones) {
  Layout out;
  out.bones = bones;
  for (const scene::Primitive& p : mesh.primitives) {
    out.tangent = out.tangent || !p.tangents.empty();
    out.uv0 = out.uv0 || !p.uvs[0].empty();
    out.uv1 = out.uv1 || !p.uvs[1].empty();
    out.color = out.color || !p.colors.empty();
  }
  return out;
}

void describe(const Layout& layout, bundle::MeshPayload& out) {
  const auto add = [&](Semantic semantic, AttributeFormat format) {
    out.attributes.push_back({semantic, format, out.stride});
    out.stride += bundle::formatBytes(format);
  };
  add(Semantic::position, AttributeFormat::f32x3);
  add(Semantic::normal, AttributeFormat::f32x3);
  if (layout.tangent) add(Semantic::tangent, AttributeFormat::f32x4);
  if (layout.uv0) add(Semantic::uv0, AttributeFormat::f32x2);
  if (layout.uv1) add(Semantic::uv1, AttributeFormat::f32x2);
  if (layout.color) add(Semantic::color, AttributeFormat::unorm8x4);
  if (layout.bones) {
    add(Semantic::joints, AttributeFormat::u16x4);
    add(Semantic::weights, AttributeFormat::unorm16x4);
  }
}

template <class T>
T at(const std::vector<T>& values, uint32_t i, T fallback) {
  return i < values.size() ? values[i] : fallback;
}

float finiteOr(float value, float fallback) { return std::isfinite(value) ? value : fallback; }

// The four largest weights of a vertex in 65,535ths, which sum up to one; what follows nothing follows the
// first bone.
void writeInfluences(base::ByteWriter& out, const scene::Primitive& p, uint32_t i,
                     const std::vector<uint16_t>& bones) {
  std::vector<std::pair<float, uint16_t>> list;
  scene::eachInfluence(p, i, [&](uint32_t joint, float weight) {
    if (joint < bones.size() && std::isfinite(weight)) list.emplace_back(weight, bones[joint]);
  });
  std::stable_sort(list.begin(), list.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  if (list.empty()) list.emplace_back(1.0F, uint16_t{0});
  list.resize(4, {0.0F, 0});
  float sum = 0;
  for (const auto& [weight, bone] : list) sum += weight;
  std::array<uint16_t, 4> shares{};
  int left = 65'535;
  for (size_t k = 1; k < 4; ++k) {
    shares[k] = static_cast<uint16_t>(std::lround(list[k].first / sum * 65'535));
    left -= shares[k];
  }
  shares[0] = static_cast<uint16_t>(left);
  for (const auto& [weight, bone] : list) out.write<uint16_t>(bone);
  for (const uint16_t share : shares) out.write<uint16_t>(share);
}

void writeVertex(base::ByteWriter& out, const scene::Primitive& p, uint32_t i, const Layout& layout,
                 const GameSpace& space) {
  const auto write = [&](auto v, int n, float fallback) {
    for (int c = 0; c < n; ++c) out.write<float>(finiteOr(v[c], fallback));
  };
  // A position that is not a number goes in as it is: the game refuses it, and so does a finding before.
  const glm::vec3 position = space.position(p.positions[i]);
  for (int c = 0; c < 3; ++c) out.write<float>(position[c]);
  write(space.direction(at(p.normals, i, glm::vec3(0, 0, 1))), 3, 0);
  if (layout.tangent) {
    const glm::vec4 tangent = at(p.tangents, i, glm::vec4(1, 0, 0, 1));
    write(glm::vec4(space.direction(glm::vec3(tangent)), space.mirrored < 0 ? tangent.w : -tangent.w), 4, 0);
  }
  if (layout.uv0) write(at(p.uvs[0], i, glm::vec2(0)), 2, 0);
  if (layout.uv1) write(at(p.uvs[1], i, glm::vec2(0)), 2, 0);
  if (layout.color) {
    const glm::vec4 color = at(p.colors, i, glm::vec4(1));
    for (int c = 0; c < 4; ++c)
      out.write<uint8_t>(
          static_cast<uint8_t>(std::lround(std::clamp(finiteOr(color[c], 1), 0.0F, 1.0F) * 255)));
  }
}

void addMorph(const scene::Primitive& p, size_t m, uint32_t v, const GameSpace& space,
              bundle::MorphPayload& out) {
  const auto numbers = [](glm::vec3 way) {
    return std::array<float, 3>{finiteOr(way.x, 0), finiteOr(way.y, 0), finiteOr(way.z, 0)};
  };
  static const scene::MorphTarget kNone;
  const scene::MorphTarget& morph = m < p.morphs.size() ? p.morphs[m] : kNone;
  out.positions.push_back(numbers(space.position(at(morph.positions, v, glm::vec3(0)))));
  out.normals.push_back(numbers(space.direction(at(morph.normals, v, glm::vec3(0)))));
}

// How all pictures of a material look a set of coordinates up; null where they do it in different ways, or
// none does.
const scene::TextureUse* commonUse(const scene::Material& material, uint32_t set) {
  const scene::TextureUse* out = nullptr;
  for (const scene::TextureSlot& slot : scene::kTextureSlots) {
    const scene::TextureUse& use = material.*slot.use;
    if (!use.image.valid() || use.uv_set != set) continue;
    if (out != nullptr &&
        (out->offset != use.offset || out->scale != use.scale || out->turn_rad != use.turn_rad))
      return nullptr;
    out = &use;
  }
  return out;
}

}  // namespace

bundle::MeshPayload runtimeMesh(const scene::Mesh& mesh, const GameSpace& space,
                                const std::vector<uint16_t>& bones) {
  bundle::MeshPayload out;
  const Layout layout = layoutOf(mesh, !bones.empty());
  const size_t morphs = std::min<size_t>(mesh.morph_names.size(), 256);
  for (size_t m = 0; m < morphs; ++m)
    out.morphs.push_back({mesh.morph_names[m],
                          m < mesh.morph_weights.size() ? finiteOr(mesh.morph_weights[m], 0) : 0.0F,
                          {},
                          {}});
  describe(layout, out);
  base::ByteWriter vertices;
  geometry::Bounds box;
  uint32_t material = 0;
  for (const scene::Primitive& p : mesh.primitives) {
    if (p.indices.empty()) continue;
    const auto count = static_cast<uint32_t>(p.positions.size());
    std::vector<uint32_t> ordered = geometry::orderForVertexCache(p.indices, count);
    uint32_t used = 0;
    const std::vector<uint32_t> place = geometry::orderOfFirstUse(ordered, count, used);
    std::vector<uint32_t> back(used);
    for (uint32_t v = 0; v < count; ++v)
      if (place[v] != 0xFFFFFFFFu) back[place[v]] = v;
    if (space.mirrored >= 0)
      for (size_t t = 0; t + 2 < ordered.size(); t += 3) std::swap(ordered[t + 1], ordered[t + 2]);
    out.submeshes.push_back(
        {static_cast<uint32_t>(out.indices.size()), static_cast<uint32_t>(ordered.size()), material++});
    for (const uint32_t v : ordered) out.indices.push_back(out.vertex_count + place[v]);
    for (const uint32_t v : back) {
      writeVertex(vertices, p, v, layout, space);
      if (layout.bones) writeInfluences(vertices, p, v, bones);
      for (size_t m = 0; m < morphs; ++m) addMorph(p, m, v, space, out.morphs[m]);
      box.add(space.position(p.positions[v]));
    }
    out.vertex_count += used;
  }
  out.vertices = vertices.take();
  for (int c = 0; c < 3; ++c) {
    out.bounds_min[static_cast<size_t>(c)] = box.empty() ? 0 : box.min[c];
    out.bounds_max[static_cast<size_t>(c)] = box.empty() ? 0 : box.max[c];
  }
  return out;
}

std::vector<scene::MaterialIndex> drawnMaterials(const scene::Mesh& mesh) {
  std::vector<scene::MaterialIndex> out;
  for (const scene::Primitive& p : mesh.primitives)
    if (!p.indices.empty()) out.push_back(p.material);
  return out;
}

std::vector<DrawnPart> drawnParts(const scene::Model& model) {
  std::vector<DrawnPart> out;
  for (const scene::NodeIndex i : scene::reachedNodes(model)) {
    const scene::Node& node = model.node(i);
    if (!node.mesh.valid()) continue;
    DrawnPart part{i, drawnMaterials(model.mesh(node.mesh))};
    if (!part.materials.empty()) out.push_back(std::move(part));
  }
  return out;
}

std::shared_ptr<const scene::Mesh> drawnMesh(const scene::Model& model, scene::NodeIndex part,
                                             const std::vector<glm::mat4>& world) {
  std::shared_ptr<const scene::Mesh> mesh = scene::restMesh(model, part, world);
  std::shared_ptr<scene::Mesh> moved;
  for (size_t i = 0; i < mesh->primitives.size(); ++i) {
    const scene::MaterialIndex worn = mesh->primitives[i].material;
    if (!worn.valid()) continue;
    for (uint32_t set = 0; set < 2; ++set) {
      const scene::TextureUse* use = commonUse(model.materials[worn.value()], set);
      if (use == nullptr || use->plain()) continue;
      if (!moved) moved = std::make_shared<scene::Mesh>(*mesh);
      for (glm::vec2& uv : moved->primitives[i].uvs[set]) uv = use->lookedUp(uv);
    }
  }
  return moved ? moved : mesh;
}

void addSize(scene::Mesh& mesh, const scene::Mesh& other, const std::string& name) {
  mesh.morph_weights.resize(mesh.morph_names.size(), 0);
  for (size_t i = 0; i < mesh.primitives.size(); ++i) {
    scene::Primitive& p = mesh.primitives[i];
    const scene::Primitive& q = other.primitives[i];
    p.morphs.resize(mesh.morph_names.size());
    scene::MorphTarget ways;
    for (size_t v = 0; v < p.positions.size(); ++v) ways.positions.push_back(q.positions[v] - p.positions[v]);
    for (size_t v = 0; v < p.normals.size(); ++v) ways.normals.push_back(q.normals[v] - p.normals[v]);
    p.morphs.push_back(std::move(ways));
  }
  mesh.morph_names.push_back(name);
  mesh.morph_weights.push_back(0);
}

bundle::MaterialRecord materialRecord(const scene::Material& m) {
  using Lookup = bundle::PictureLookup;
  bundle::MaterialRecord out;
  out.name = m.name;
  out.role = m.role;
  for (int i = 0; i < 4; ++i) out.base_color[static_cast<size_t>(i)] = m.base_color[i];
  for (int i = 0; i < 3; ++i) out.emissive[static_cast<size_t>(i)] = m.emissive[i] * m.emissive_strength;
  out.metallic = m.metallic;
  out.roughness = m.roughness;
  out.normal_scale = m.normal_scale;
  out.occlusion_strength = m.occlusion_strength;
  out.alpha = m.alpha == scene::AlphaMode::mask    ? "mask"
              : m.alpha == scene::AlphaMode::blend ? "blend"
                                                   : "opaque";
  out.alpha_cutoff = m.alpha_cutoff;
  out.double_sided = m.double_sided;
  out.filter = m.base_color_texture.filter == scene::Filter::nearest ? "nearest" : "linear";
  out.unlit = m.unlit;
  const auto wrap = [](scene::Wrap w) {
    return w == scene::Wrap::clamp    ? Lookup::Wrap::clamp
           : w == scene::Wrap::mirror ? Lookup::Wrap::mirror
                                      : Lookup::Wrap::repeat;
  };
  for (size_t i = 0; i < out.lookups.size(); ++i) {
    const scene::TextureUse& use = m.*scene::kTextureSlots[i].use;
    if (!use.image.valid() || use.uv_set > 1) continue;
    Lookup& lookup = out.lookups[i];
    lookup.uv = use.uv_set;
    lookup.wrap = {wrap(use.wrap_u), wrap(use.wrap_v)};
    if (commonUse(m, use.uv_set) != nullptr) continue;  // in the mesh's coordinates already
    lookup.offset = {use.offset.x, use.offset.y};
    lookup.scale = {use.scale.x, use.scale.y};
    lookup.turn = use.turn_rad;
  }
  return out;
}

glm::mat4 partWorld(const scene::Model& model, const std::vector<glm::mat4>& world, scene::NodeIndex node) {
  return model.node(node).skin.valid() ? glm::mat4(1) : world[node.value()];
}

std::vector<RuntimePart> runtimeParts(const scene::Model& model) {
  const std::vector<DrawnPart> drawn = drawnParts(model);
  const auto world = scene::worldMatrices(model);
  const Rig rig = rigOf(model);
  std::vector<RuntimePart> out(drawn.size());
  base::parallelFor(drawn.size(), [&](size_t i) {
    const scene::Node& node = model.node(drawn[i].node);
    out[i].node = drawn[i].node;
    out[i].name = node.name;
    out[i].world = partWorld(model, world, drawn[i].node);
    std::vector<uint16_t> bones;
    if (node.skin.valid())
      bones = rig.numbersOf(model.skins[node.skin.value()]);
    else
      out[i].bone = rig.carrierOf(model, drawn[i].node);
    out[i].mesh = runtimeMesh(*drawnMesh(model, drawn[i].node, world), GameSpace(), bones);
    out[i].materials = drawn[i].materials;
  });
  return out;
}

}  // namespace rakugo::packing
