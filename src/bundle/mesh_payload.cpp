#include "bundle/mesh_payload.h"

#include <algorithm>
#include <cmath>

#include "base/limits.h"
#include "bundle/layout.h"

namespace rakugo::bundle {
namespace {

constexpr uint32_t kMeshMagic = 0x4D4B5221;  // "!RKM"
// 2: with bones or morph targets.
constexpr uint32_t kHighestMeshVersion = 2;

uint32_t indexWidth(uint32_t vertex_count) { return vertex_count <= 65'535 ? 2 : 4; }

AttributeFormat requiredFormat(Semantic semantic) {
  switch (semantic) {
    case Semantic::position:
    case Semantic::normal:
      return AttributeFormat::f32x3;
    case Semantic::tangent:
      return AttributeFormat::f32x4;
    case Semantic::uv0:
    case Semantic::uv1:
      return AttributeFormat::f32x2;
    case Semantic::color:
      return AttributeFormat::unorm8x4;
    case Semantic::joints:
      return AttributeFormat::u16x4;
    case Semantic::weights:
      return AttributeFormat::unorm16x4;
  }
  return AttributeFormat::f32x3;
}

// `bad` makes the error of what is wrong.
template <class Bad>
base::Status readMorphs(base::ByteReader& in, MeshPayload& out, uint32_t count, const Bad& bad) {
  for (uint32_t m = 0; m < count; ++m) {
    MorphPayload morph;
    const auto length = in.read<uint32_t>();
    if (length > base::BundleLimits{}.id_bytes) return bad("the name of a morph target");
    morph.name = std::string(base::asText(in.bytes(length)));
    for (const std::byte b : in.bytes((4 - in.at() % 4) % 4))
      if (b != std::byte{0}) return bad("padding");
    morph.weight = in.read<float>();
    if (uint64_t{out.vertex_count} * 24 > in.left()) return bad("fewer morphed vertices than promised");
    if (!std::isfinite(morph.weight)) return bad("the weight of a morph target");
    for (auto* list : {&morph.positions, &morph.normals}) {
      list->resize(out.vertex_count);
      for (auto& v : *list)
        for (float& c : v) {
          c = in.read<float>();
          if (!std::isfinite(c)) return bad("a morph target that is not a number");
        }
    }
    out.morphs.push_back(std::move(morph));
  }
  return in.ok() ? base::Status{} : base::Status{bad("its end")};
}

}  // namespace

uint32_t formatBytes(AttributeFormat format) {
  switch (format) {
    case AttributeFormat::f32x2:
    case AttributeFormat::u16x4:
    case AttributeFormat::unorm16x4:
      return 8;
    case AttributeFormat::f32x3:
      return 12;
    case AttributeFormat::f32x4:
      return 16;
    case AttributeFormat::unorm8x4:
      return 4;
  }
  return 0;
}

const Attribute* MeshPayload::find(Semantic semantic) const {
  for (const Attribute& a : attributes)
    if (a.semantic == semantic) return &a;
  return nullptr;
}

uint32_t MeshPayload::jointCount() const {
  const Attribute* joints = find(Semantic::joints);
  const Attribute* weights = find(Semantic::weights);
  uint32_t out = 0;
  if (joints == nullptr || weights == nullptr) return out;
  for (uint64_t v = 0; v < vertex_count; ++v) {
    const auto bone = base::loadAt<std::array<uint16_t, 4>>(vertices, v * stride + joints->offset);
    const auto weight = base::loadAt<std::array<uint16_t, 4>>(vertices, v * stride + weights->offset);
    for (size_t k = 0; k < 4; ++k)
      if (weight[k] > 0) out = std::max(out, uint32_t{bone[k]} + 1);
  }
  return out;
}

base::Bytes morphed(const MeshPayload& mesh, const std::vector<float>& weights) {
  base::Bytes out = mesh.vertices;
  const Attribute* normal = mesh.find(Semantic::normal);
  using Vector = std::array<float, 3>;
  bool any = false;
  for (size_t m = 0; m < mesh.morphs.size(); ++m) {
    const float share = m < weights.size() ? weights[m] : mesh.morphs[m].weight;
    if (share == 0 || !std::isfinite(share)) continue;
    any = true;
    const auto add = [&](uint64_t at, const Vector& way) {
      auto v = base::loadAt<Vector>(out, at);
      for (size_t c = 0; c < 3; ++c) v[c] += share * way[c];
      base::storeAt(out, at, v);
    };
    for (uint64_t v = 0; v < mesh.vertex_count; ++v) {
      add(v * mesh.stride + mesh.attributes[0].offset, mesh.morphs[m].positions[v]);
      if (normal != nullptr) add(v * mesh.stride + normal->offset, mesh.morphs[m].normals[v]);
    }
  }
  for (uint64_t v = 0; any && normal != nullptr && v < mesh.vertex_count; ++v) {
    auto n = base::loadAt<Vector>(out, v * mesh.stride + normal->offset);
    const float length = std::sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]);
    if (!(length > 0)) continue;
    for (float& c : n) c /= length;
    base::storeAt(out, v * mesh.stride + normal->offset, n);
  }
  return out;
}

base::Bytes encodeMesh(const MeshPayload& mesh) {
  base::ByteWriter out;
  out.write<uint32_t>(kMeshMagic);
  out.write<uint32_t>(mesh.find(Semantic::joints) != nullptr || !mesh.morphs.empty() ? 2 : 1);
  out.write<uint32_t>(mesh.vertex_count);
  out.write<uint32_t>(mesh.stride);
  out.write<uint32_t>(static_cast<uint32_t>(mesh.indices.size()));
  out.write<uint32_t>(indexWidth(mesh.vertex_count));
  out.write<uint32_t>(static_cast<uint32_t>(mesh.attributes.size()));
  out.write<uint32_t>(static_cast<uint32_t>(mesh.submeshes.size()));
  out.write<uint32_t>(static_cast<uint32_t>(mesh.materials.size()));
  out.write<uint32_t>(static_cast<uint32_t>(mesh.morphs.size()));
  for (const float v : mesh.bounds_min) out.write<float>(v);
  for (const float v : mesh.bounds_max) out.write<float>(v);
  for (const Attribute& a : mesh.attributes) {
    out.write<uint16_t>(static_cast<uint16_t>(a.semantic));
    out.write<uint16_t>(static_cast<uint16_t>(a.format));
    out.write<uint32_t>(a.offset);
  }
  for (const Submesh& s : mesh.submeshes) {
    out.write<uint32_t>(s.first_index);
    out.write<uint32_t>(s.index_count);
    out.write<uint32_t>(s.material);
  }
  for (const std::string& id : mesh.materials) {
    out.write<uint32_t>(static_cast<uint32_t>(id.size()));
    out.bytes(base::asBytes(id));
    out.align(4);
  }
  out.align(64);
  out.bytes(mesh.vertices);
  out.align(64);
  for (const uint32_t i : mesh.indices) {
    if (indexWidth(mesh.vertex_count) == 2)
      out.write<uint16_t>(static_cast<uint16_t>(i));
    else
      out.write<uint32_t>(i);
  }
  out.align(4);
  for (const MorphPayload& morph : mesh.morphs) {
    out.write<uint32_t>(static_cast<uint32_t>(morph.name.size()));
    out.bytes(base::asBytes(morph.name));
    out.align(4);
    out.write<float>(morph.weight);
    for (const auto* list : {&morph.positions, &morph.normals})
      for (const auto& v : *list)
        for (const float c : v) out.write<float>(c);
  }
  return out.take();
}

base::Result<MeshPayload> decodeMesh(base::ByteSpan bytes, const std::string& id) {
  base::ByteReader in(bytes);
  const auto bad = [&](const std::string& what) {
    return base::Error{"bundle.mesh", "The mesh " + id + " is not well formed: " + what + ".",
                       base::Place{id, "", static_cast<int64_t>(in.at())}, "Build the bundle again."};
  };
  // Skips zero padding up to a multiple of `alignment`; false when a padding byte is set.
  const auto align = [&](uint64_t alignment) {
    for (const std::byte b : in.bytes((alignment - in.at() % alignment) % alignment))
      if (b != std::byte{0}) return false;
    return in.ok();
  };
  if (in.read<uint32_t>() != kMeshMagic) return bad("unknown mark or version");
  const auto version = in.read<uint32_t>();
  if (version == 0 || version > kHighestMeshVersion) return bad("unknown mark or version");
  MeshPayload out;
  out.vertex_count = in.read<uint32_t>();
  out.stride = in.read<uint32_t>();
  const auto index_count = in.read<uint32_t>();
  const auto index_width = in.read<uint32_t>();
  const auto attribute_count = in.read<uint32_t>();
  const auto submesh_count = in.read<uint32_t>();
  const auto material_count = in.read<uint32_t>();
  const auto morph_count = in.read<uint32_t>();
  for (float& v : out.bounds_min) v = in.read<float>();
  for (float& v : out.bounds_max) v = in.read<float>();
  if (!in.ok() || morph_count > (version < 2 ? 0 : kMostMorphs)) return bad("its header");
  if (out.stride == 0 || out.stride % 4 != 0 || out.stride > 256) return bad("the size of a vertex");
  if (attribute_count == 0 || attribute_count > 16 || uint64_t{attribute_count} * 8 > in.left())
    return bad("the number of attributes");
  if (index_width != indexWidth(out.vertex_count)) return bad("the width of an index");
  if (index_count % 3 != 0) return bad("the number of indices");

  uint32_t end = 0;
  int last = -1;
  for (uint32_t i = 0; i < attribute_count; ++i) {
    const auto semantic = in.read<uint16_t>();
    const auto format = in.read<uint16_t>();
    const auto offset = in.read<uint32_t>();
    if (semantic > (version < 2 ? 5 : 7) || format > (version < 2 ? 3 : 5))
      return bad("an unknown attribute");
    Attribute a{static_cast<Semantic>(semantic), static_cast<AttributeFormat>(format), offset};
    if (a.format != requiredFormat(a.semantic)) return bad("the format of an attribute");
    if (static_cast<int>(semantic) <= last || offset < end || offset > out.stride ||
        formatBytes(a.format) > out.stride - offset || offset % 4 != 0)
      return bad("the place of an attribute");
    last = semantic;
    end = offset + formatBytes(a.format);
    out.attributes.push_back(a);
  }
  if (out.attributes[0].semantic != Semantic::position) return bad("no positions");
  if ((out.find(Semantic::joints) == nullptr) != (out.find(Semantic::weights) == nullptr))
    return bad("bones without weights, or weights without bones");

  if (uint64_t{submesh_count} * 12 > in.left()) return bad("the number of submeshes");
  uint64_t covered = 0;
  for (uint32_t i = 0; i < submesh_count; ++i) {
    const Submesh s{in.read<uint32_t>(), in.read<uint32_t>(), in.read<uint32_t>()};
    if (s.first_index != covered || s.index_count % 3 != 0 || s.material >= material_count)
      return bad("a submesh");
    covered += s.index_count;
    out.submeshes.push_back(s);
  }
  if (covered != index_count) return bad("its submeshes do not cover its indices");
  if (uint64_t{material_count} * 4 > in.left()) return bad("the number of materials");
  for (uint32_t i = 0; i < material_count; ++i) {
    const auto length = in.read<uint32_t>();
    if (length > base::BundleLimits{}.id_bytes) return bad("the id of a material");
    out.materials.emplace_back(base::asText(in.bytes(length)));
    if (!align(4)) return bad("the id of a material");
  }
  if (!align(64)) return bad("padding");
  const uint64_t vertex_bytes = uint64_t{out.vertex_count} * out.stride;
  if (vertex_bytes > in.left()) return bad("fewer vertices than promised");
  const base::ByteSpan vertices = in.bytes(vertex_bytes);
  out.vertices.assign(vertices.begin(), vertices.end());
  if (!align(64)) return bad("padding");
  if (uint64_t{index_count} * index_width > in.left()) return bad("fewer indices than promised");
  out.indices.reserve(index_count);
  for (uint32_t i = 0; i < index_count; ++i) {
    const uint32_t index = index_width == 2 ? in.read<uint16_t>() : in.read<uint32_t>();
    if (index >= out.vertex_count) return bad("an index beyond the vertices");
    out.indices.push_back(index);
  }
  if (!align(4)) return bad("padding");
  RAKUGO_TRY(readMorphs(in, out, morph_count, bad));
  if (in.left() != 0) return bad("bytes behind its end");
  for (uint64_t v = 0; v < out.vertex_count; ++v) {
    const auto p =
        base::loadAt<std::array<float, 3>>(out.vertices, v * out.stride + out.attributes[0].offset);
    if (!std::isfinite(p[0]) || !std::isfinite(p[1]) || !std::isfinite(p[2]))
      return bad("a position that is not a number");
  }
  for (int i = 0; i < 3; ++i)
    if (!std::isfinite(out.bounds_min[static_cast<size_t>(i)]) ||
        !std::isfinite(out.bounds_max[static_cast<size_t>(i)]))
      return bad("its bounds");
  return out;
}

}  // namespace rakugo::bundle
