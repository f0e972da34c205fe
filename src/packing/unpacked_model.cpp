#include "packing/unpacked_model.h"

#include <algorithm>
#include <glm/gtc/matrix_transform.hpp>

#include "base/bytes.h"
#include "base/phrase.h"
#include "bundle/mesh_payload.h"
#include "formats/pictures/pictures.h"
#include "texture/block_decoder.h"

namespace rakugo::packing {
namespace {

using bundle::AttributeFormat;
using bundle::Semantic;

// The numbers of one attribute of a vertex; the reader of the mesh has seen to it that they are there.
std::array<float, 4> numbersAt(const bundle::MeshPayload& mesh, const bundle::Attribute& attribute,
                               uint32_t v) {
  std::array<float, 4> out{0, 0, 0, 1};
  const size_t count = attribute.format == AttributeFormat::f32x2   ? 2
                       : attribute.format == AttributeFormat::f32x3 ? 3
                                                                    : 4;
  base::ByteReader in(base::ByteSpan(mesh.vertices)
                          .subspan(static_cast<size_t>(v) * mesh.stride + attribute.offset,
                                   bundle::formatBytes(attribute.format)));
  for (size_t i = 0; i < count; ++i) {
    if (attribute.format == AttributeFormat::unorm8x4)
      out[i] = static_cast<float>(in.read<uint8_t>()) / 255;
    else
      out[i] = in.read<float>();
  }
  return out;
}

scene::Wrap wrapOf(bundle::PictureLookup::Wrap wrap) {
  return wrap == bundle::PictureLookup::Wrap::clamp    ? scene::Wrap::clamp
         : wrap == bundle::PictureLookup::Wrap::mirror ? scene::Wrap::mirror
                                                       : scene::Wrap::repeat;
}

// "2-post" of "mesh/lamp/2-post".
std::string lastOf(const std::string& id) { return id.substr(id.rfind('/') + 1); }

// `place`: one a vertex, UINT32_MAX, and so again afterwards: a mesh may have very many submeshes.
scene::Primitive primitiveOf(const bundle::MeshPayload& mesh, const bundle::Submesh& sub,
                             const GameSpace& space, std::vector<uint32_t>& place) {
  scene::Primitive out;
  const auto unit = static_cast<float>(space.unit_m);
  const auto* position = mesh.find(Semantic::position);
  for (uint32_t i = sub.first_index; i < sub.first_index + sub.index_count; ++i) {
    const uint32_t v = mesh.indices[i];
    if (place[v] == UINT32_MAX) {
      place[v] = static_cast<uint32_t>(out.positions.size());
      const auto at = [&](const bundle::Attribute& a) { return numbersAt(mesh, a, v); };
      const auto p = at(*position);
      out.positions.push_back(space.direction({p[0], p[1], p[2]}) * unit);
      for (const bundle::Attribute& a : mesh.attributes) {
        if (a.semantic == Semantic::position || a.semantic == Semantic::joints ||
            a.semantic == Semantic::weights)
          continue;
        const auto n = at(a);
        if (a.semantic == Semantic::normal) out.normals.push_back(space.direction({n[0], n[1], n[2]}));
        if (a.semantic == Semantic::tangent)
          out.tangents.emplace_back(space.direction({n[0], n[1], n[2]}), space.mirrored < 0 ? n[3] : -n[3]);
        if (a.semantic == Semantic::uv0) out.uvs[0].emplace_back(n[0], n[1]);
        if (a.semantic == Semantic::uv1) out.uvs[1].emplace_back(n[0], n[1]);
        if (a.semantic == Semantic::color) out.colors.emplace_back(n[0], n[1], n[2], n[3]);
      }
    }
    out.indices.push_back(place[v]);
  }
  for (uint32_t i = sub.first_index; i < sub.first_index + sub.index_count; ++i)
    place[mesh.indices[i]] = UINT32_MAX;
  if (space.mirrored >= 0)
    for (size_t t = 0; t + 2 < out.indices.size(); t += 3) std::swap(out.indices[t + 1], out.indices[t + 2]);
  return out;
}

}  // namespace

base::Result<base::Bytes> ModelUnpacker::raw(const std::string& id, bundle::EntryKind kind) const {
  const bundle::Entry* found = bundle_.find(id);
  if (found == nullptr || found->kind != kind)
    return base::Error{"bundle.missing_entry",
                       base::phrase("The bundle names {0}, which is not in it.", id),
                       base::Place{bundle_.name()},
                       {}};
  return bundle_.read(*found);
}

base::Result<scene::ImageIndex> ModelUnpacker::picture(const std::string& id, scene::Model& into) {
  if (const auto known = images_.find(id); known != images_.end()) return known->second;
  std::shared_ptr<const base::Bytes>& png = pictures_[id];
  if (!png) {
    RAKUGO_ASSIGN(const base::Bytes bytes, raw(id, bundle::EntryKind::picture));
    RAKUGO_ASSIGN(const bundle::Ktx2Picture stored, bundle::decodeKtx2(bytes, id));
    formats::Picture plain;
    plain.width = stored.width;
    plain.height = stored.height;
    plain.pixels =
        texture::decodeLevel(stored.levels.at(0), stored.width, stored.height, stored.format, stored.srgb);
    png = std::make_shared<const base::Bytes>(formats::encodePng(plain));
  }
  scene::Image image;
  image.name = lastOf(id);
  image.mime = "image/png";
  image.bytes = png;
  const scene::ImageIndex out(static_cast<uint32_t>(into.images.size()));
  into.images.push_back(std::move(image));
  images_[id] = out;
  return out;
}

base::Result<scene::MaterialIndex> ModelUnpacker::material(const std::string& id, scene::Model& into) {
  if (const auto known = materials_.find(id); known != materials_.end()) return known->second;
  RAKUGO_ASSIGN(const base::Bytes bytes, raw(id, bundle::EntryKind::material));
  RAKUGO_ASSIGN(const bundle::MaterialRecord record, bundle::decodeMaterial(bytes, id));
  scene::Material out;
  out.name = record.name.empty() ? lastOf(id) : record.name;
  out.role = record.role;
  out.base_color = {record.base_color[0], record.base_color[1], record.base_color[2], record.base_color[3]};
  out.emissive = {record.emissive[0], record.emissive[1], record.emissive[2]};
  // What glows more than all is a strength in glTF.
  const float most = std::max({out.emissive.x, out.emissive.y, out.emissive.z});
  if (most > 1) out.emissive_strength = most, out.emissive /= most;
  out.metallic = record.metallic;
  out.roughness = record.roughness;
  out.normal_scale = record.normal_scale;
  out.occlusion_strength = record.occlusion_strength;
  out.alpha = record.alpha == "mask"    ? scene::AlphaMode::mask
              : record.alpha == "blend" ? scene::AlphaMode::blend
                                        : scene::AlphaMode::opaque;
  out.alpha_cutoff = record.alpha_cutoff;
  out.double_sided = record.double_sided;
  out.unlit = record.unlit;
  const std::array<std::string, 5> names = record.pictures();
  for (size_t i = 0; i < names.size(); ++i) {
    if (names[i].empty()) continue;
    scene::TextureUse& use = out.*scene::kTextureSlots[i].use;
    RAKUGO_ASSIGN(use.image, picture(names[i], into));
    const bundle::PictureLookup& lookup = record.lookups[i];
    use.uv_set = lookup.uv;
    use.filter = record.filter == "nearest" ? scene::Filter::nearest : scene::Filter::linear;
    use.wrap_u = wrapOf(lookup.wrap[0]);
    use.wrap_v = wrapOf(lookup.wrap[1]);
    use.offset = {lookup.offset[0], lookup.offset[1]};
    use.scale = {lookup.scale[0], lookup.scale[1]};
    use.turn_rad = lookup.turn;
  }
  const scene::MaterialIndex at(static_cast<uint32_t>(into.materials.size()));
  into.materials.push_back(std::move(out));
  materials_[id] = at;
  return at;
}

base::Result<scene::Mesh> ModelUnpacker::mesh(const std::string& id, scene::Model& into) {
  RAKUGO_ASSIGN(const base::Bytes bytes, raw(id, bundle::EntryKind::mesh));
  RAKUGO_ASSIGN(const bundle::MeshPayload payload, bundle::decodeMesh(bytes, id));
  morphs_ = morphs_ || !payload.morphs.empty();
  bones_ = bones_ || payload.find(Semantic::joints) != nullptr;
  scene::Mesh out;
  out.name = lastOf(id);
  std::vector<uint32_t> place(payload.vertex_count, UINT32_MAX);
  for (const bundle::Submesh& sub : payload.submeshes) {
    if (sub.index_count == 0) continue;
    scene::Primitive primitive = primitiveOf(payload, sub, space_, place);
    RAKUGO_ASSIGN(primitive.material, material(payload.materials.at(sub.material), into));
    out.primitives.push_back(std::move(primitive));
  }
  return out;
}

glm::mat4 ModelUnpacker::placeOf(const bundle::ObjectPiece& part) const {
  scene::Placement out;
  // The same mirror undoes itself.
  out.position = space_.direction({part.position[0], part.position[1], part.position[2]}) *
                 static_cast<float>(space_.unit_m);
  out.turn = space_.turn(glm::quat(part.turn[3], part.turn[0], part.turn[1], part.turn[2]));
  out.scale = {part.scale[0], part.scale[1], part.scale[2]};
  return out.matrix();
}

base::Result<scene::Model> ModelUnpacker::model(const std::vector<const bundle::ObjectPiece*>& parts,
                                                const glm::mat4& from_model) {
  scene::Model out;
  materials_.clear();
  images_.clear();
  std::map<std::string, scene::MeshIndex> meshes;
  for (const bundle::ObjectPiece* part : parts) {
    lighter_ = lighter_ || !part->lighter.empty();
    bones_ = bones_ || part->rig >= 0;
    if (part->mesh.empty()) continue;
    auto known = meshes.find(part->mesh);
    if (known == meshes.end()) {
      RAKUGO_ASSIGN(scene::Mesh made, mesh(part->mesh, out));
      known = meshes.emplace(part->mesh, scene::MeshIndex(static_cast<uint32_t>(out.meshes.size()))).first;
      out.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(made)));
    }
    scene::Node node;
    node.name = part->name.empty() ? lastOf(part->mesh) : part->name;
    node.mesh = known->second;
    node.region = part->region;
    bool exact = true;
    node.local = scene::placementOf(from_model * placeOf(*part), exact);
    out.roots.push_back(scene::NodeIndex(static_cast<uint32_t>(out.nodes.size())));
    out.nodes.push_back(std::move(node));
  }
  out.frame.up = book_.up;
  out.frame.forward = book_.forward;
  scene::assignKeys(out);
  return out;
}

std::vector<std::string> ModelUnpacker::lost() const {
  std::vector<std::string> out;
  if (bones_) out.push_back(base::phrase("bones and movements: it stands as at rest"));
  if (morphs_) out.push_back(base::phrase("morph targets and other sizes"));
  if (lighter_) out.push_back(base::phrase("lighter versions for the distance, which a step makes again"));
  return out;
}

}  // namespace rakugo::packing
