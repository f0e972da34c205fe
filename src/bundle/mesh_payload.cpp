#include "bundle/mesh_payload.h"

#include <algorithm>
#include <cmath>

#include "base/limits.h"
#include "base/phrase.h"
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
    if (length > base::BundleLimits{}.id_bytes) return bad(base::phrase("the name of a morph target"));
    morph.name = std::string(base::asText(in.bytes(length)));
    for (const std::byte b : in.bytes((4 - in.at() % 4) % 4))
      if (b != std::byte{0}) return bad("padding");
    morph.weight = in.read<float>();
    if (uint64_t{out.vertex_count} * 24 > in.left())
      return bad(base::phrase("fewer morphed vertices than promised"));
    if (!std::isfinite(morph.weight)) return bad(base::phrase("the weight of a morph target"));
    for (auto* list : {&morph.positions, &morph.normals}) {
      list->resize(out.vertex_count);
      for (auto& v : *list)
        for (float& c : v) {
          c = in.read<float>();
          if (!std::isfinite(c)) return bad(base::phrase("a morph target that is not a number"));
        }
    }
    out.morphs.push_back(std::move(morph));
  }
  return in.ok() ? base::Status{} : base::Status{bad(base::phrase("its end"))};
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

namespace {

// Reads one mesh; each function a section of it, in their order.
class MeshReader {
 public:
  MeshReader(base::ByteSpan bytes, const std::string& id) : in_(bytes), id_(id) {}
  base::Status header();
  base::Status attributes();
  base::Status submeshes();
  base::Status materials();
  base::Status vertices();
  base::Status indices();
  base::Status rest();
  MeshPayload out;

 private:
  [[nodiscard]] base::Error bad(const std::string& what) const {
    return {"bundle.mesh", base::phrase("The mesh {0} is not well formed: {1}.", id_, what),
            base::Place{id_, "", static_cast<int64_t>(in_.at())}, base::phrase("Build the bundle again.")};
  }
  // Skips zero padding up to a multiple of `alignment`; false when a padding byte is set.
  bool align(uint64_t alignment) {
    for (const std::byte b : in_.bytes((alignment - in_.at() % alignment) % alignment))
      if (b != std::byte{0}) return false;
    return in_.ok();
  }
  base::ByteReader in_;
  const std::string& id_;
  uint32_t version_ = 0, index_count_ = 0, index_width_ = 0, attribute_count_ = 0, submesh_count_ = 0,
           material_count_ = 0, morph_count_ = 0;
};

base::Status MeshReader::header() {
  if (in_.read<uint32_t>() != kMeshMagic) return bad(base::phrase("unknown mark or version"));
  version_ = in_.read<uint32_t>();
  if (version_ == 0 || version_ > kHighestMeshVersion) return bad(base::phrase("unknown mark or version"));
  out.vertex_count = in_.read<uint32_t>();
  out.stride = in_.read<uint32_t>();
  for (uint32_t* one :
       {&index_count_, &index_width_, &attribute_count_, &submesh_count_, &material_count_, &morph_count_})
    *one = in_.read<uint32_t>();
  for (float& v : out.bounds_min) v = in_.read<float>();
  for (float& v : out.bounds_max) v = in_.read<float>();
  if (!in_.ok() || morph_count_ > (version_ < 2 ? 0 : kMostMorphs)) return bad(base::phrase("its header"));
  if (out.stride == 0 || out.stride % 4 != 0 || out.stride > 256)
    return bad(base::phrase("the size of a vertex"));
  if (attribute_count_ == 0 || attribute_count_ > 16 || uint64_t{attribute_count_} * 8 > in_.left())
    return bad(base::phrase("the number of attributes"));
  if (index_width_ != indexWidth(out.vertex_count)) return bad(base::phrase("the width of an index"));
  if (index_count_ % 3 != 0) return bad(base::phrase("the number of indices"));
  return {};
}

base::Status MeshReader::attributes() {
  uint32_t end = 0;
  int last = -1;
  for (uint32_t i = 0; i < attribute_count_; ++i) {
    const auto semantic = in_.read<uint16_t>();
    const auto format = in_.read<uint16_t>();
    const auto offset = in_.read<uint32_t>();
    if (semantic > (version_ < 2 ? 5 : 7) || format > (version_ < 2 ? 3 : 5))
      return bad(base::phrase("an unknown attribute"));
    Attribute a{static_cast<Semantic>(semantic), static_cast<AttributeFormat>(format), offset};
    if (a.format != requiredFormat(a.semantic)) return bad(base::phrase("the format of an attribute"));
    if (static_cast<int>(semantic) <= last || offset < end || offset > out.stride ||
        formatBytes(a.format) > out.stride - offset || offset % 4 != 0)
      return bad(base::phrase("the place of an attribute"));
    last = semantic;
    end = offset + formatBytes(a.format);
    out.attributes.push_back(a);
  }
  if (out.attributes[0].semantic != Semantic::position) return bad(base::phrase("no positions"));
  if ((out.find(Semantic::joints) == nullptr) != (out.find(Semantic::weights) == nullptr))
    return bad(base::phrase("bones without weights, or weights without bones"));
  return {};
}

base::Status MeshReader::submeshes() {
  if (uint64_t{submesh_count_} * 12 > in_.left()) return bad(base::phrase("the number of submeshes"));
  uint64_t covered = 0;
  for (uint32_t i = 0; i < submesh_count_; ++i) {
    const Submesh s{in_.read<uint32_t>(), in_.read<uint32_t>(), in_.read<uint32_t>()};
    if (s.first_index != covered || s.index_count % 3 != 0 || s.material >= material_count_)
      return bad(base::phrase("a submesh"));
    covered += s.index_count;
    out.submeshes.push_back(s);
  }
  if (covered != index_count_) return bad(base::phrase("its submeshes do not cover its indices"));
  return {};
}

base::Status MeshReader::materials() {
  if (uint64_t{material_count_} * 4 > in_.left()) return bad(base::phrase("the number of materials"));
  for (uint32_t i = 0; i < material_count_; ++i) {
    const auto length = in_.read<uint32_t>();
    if (length > base::BundleLimits{}.id_bytes) return bad(base::phrase("the id of a material"));
    out.materials.emplace_back(base::asText(in_.bytes(length)));
    if (!align(4)) return bad(base::phrase("the id of a material"));
  }
  return {};
}

base::Status MeshReader::vertices() {
  if (!align(64)) return bad("padding");
  const uint64_t vertex_bytes = uint64_t{out.vertex_count} * out.stride;
  if (vertex_bytes > in_.left()) return bad(base::phrase("fewer vertices than promised"));
  const base::ByteSpan all = in_.bytes(vertex_bytes);
  out.vertices.assign(all.begin(), all.end());
  return {};
}

base::Status MeshReader::indices() {
  if (!align(64)) return bad("padding");
  if (uint64_t{index_count_} * index_width_ > in_.left())
    return bad(base::phrase("fewer indices than promised"));
  out.indices.reserve(index_count_);
  for (uint32_t i = 0; i < index_count_; ++i) {
    const uint32_t index = index_width_ == 2 ? in_.read<uint16_t>() : in_.read<uint32_t>();
    if (index >= out.vertex_count) return bad(base::phrase("an index beyond the vertices"));
    out.indices.push_back(index);
  }
  return {};
}

base::Status MeshReader::rest() {
  if (!align(4)) return bad("padding");
  RAKUGO_TRY(readMorphs(in_, out, morph_count_, [this](const std::string& what) { return bad(what); }));
  if (in_.left() != 0) return bad(base::phrase("bytes behind its end"));
  for (uint64_t v = 0; v < out.vertex_count; ++v) {
    const auto p =
        base::loadAt<std::array<float, 3>>(out.vertices, v * out.stride + out.attributes[0].offset);
    if (!std::isfinite(p[0]) || !std::isfinite(p[1]) || !std::isfinite(p[2]))
      return bad(base::phrase("a position that is not a number"));
  }
  for (int i = 0; i < 3; ++i)
    if (!std::isfinite(out.bounds_min[static_cast<size_t>(i)]) ||
        !std::isfinite(out.bounds_max[static_cast<size_t>(i)]))
      return bad(base::phrase("its bounds"));
  return {};
}

}  // namespace

base::Result<MeshPayload> decodeMesh(base::ByteSpan bytes, const std::string& id) {
  MeshReader reader(bytes, id);
  for (const auto section :
       {&MeshReader::header, &MeshReader::attributes, &MeshReader::submeshes, &MeshReader::materials,
        &MeshReader::vertices, &MeshReader::indices, &MeshReader::rest})
    RAKUGO_TRY((reader.*section)());
  return std::move(reader.out);
}

}  // namespace rakugo::bundle
