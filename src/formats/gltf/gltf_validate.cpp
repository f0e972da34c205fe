#include "formats/gltf/gltf_validate.h"
#include "base/phrase.h"

#include <algorithm>
#include <cmath>

#include <meshoptimizer.h>

namespace rakugo::formats::gltf {
namespace {

using base::Json;

uint32_t componentBytes(uint64_t type) {
  switch (type) {
    case 5120:
    case 5121:
      return 1;
    case 5122:
    case 5123:
      return 2;
    case 5125:
    case 5126:
      return 4;
    default:
      return 0;
  }
}

int componentsOfType(const std::string& type) {
  if (type == "SCALAR") return 1;
  if (type == "VEC2") return 2;
  if (type == "VEC3") return 3;
  if (type == "VEC4" || type == "MAT2") return 4;
  if (type == "MAT3") return 9;
  if (type == "MAT4") return 16;
  return 0;
}

// Values of one component type, spread into floats. `most` normalises; 0 leaves the numbers as they are.
template <class T>
void spread(base::ByteSpan bytes, uint64_t stride, uint64_t count, int components, double most, float* out) {
  for (uint64_t i = 0; i < count; ++i)
    for (int c = 0; c < components; ++c) {
      const auto value = base::loadAt<T>(bytes, i * stride + static_cast<uint64_t>(c) * sizeof(T));
      *out++ = most == 0 ? static_cast<float>(value)
                         : static_cast<float>(std::max(static_cast<double>(value) / most, -1.0));
    }
}

void spreadAs(uint32_t type, bool normalized, base::ByteSpan bytes, uint64_t stride, uint64_t count,
              int components, float* out) {
  const auto most = [&](double value) { return normalized ? value : 0; };
  switch (type) {
    case 5120:
      return spread<int8_t>(bytes, stride, count, components, most(127), out);
    case 5121:
      return spread<uint8_t>(bytes, stride, count, components, most(255), out);
    case 5122:
      return spread<int16_t>(bytes, stride, count, components, most(32767), out);
    case 5123:
      return spread<uint16_t>(bytes, stride, count, components, most(65535), out);
    case 5125:
      return spread<uint32_t>(bytes, stride, count, components, 0, out);
    default:
      if (stride == static_cast<uint64_t>(components) * sizeof(float))
        return base::copyInto(bytes, std::span(out, count * static_cast<uint64_t>(components)));
      return spread<float>(bytes, stride, count, components, 0, out);
  }
}

// Whole numbers of one component type.
void spreadWhole(uint32_t type, base::ByteSpan bytes, uint64_t stride, uint64_t count, int components,
                 uint32_t* out) {
  const uint64_t each = componentBytes(type);
  if (each == 4 && stride == 4 * static_cast<uint64_t>(components))
    return base::copyInto(bytes, std::span(out, count * static_cast<uint64_t>(components)));
  for (uint64_t i = 0; i < count; ++i)
    for (int c = 0; c < components; ++c) {
      const uint64_t at = i * stride + static_cast<uint64_t>(c) * each;
      *out++ = each == 1   ? base::loadAt<uint8_t>(bytes, at)
               : each == 2 ? base::loadAt<uint16_t>(bytes, at)
                           : base::loadAt<uint32_t>(bytes, at);
    }
}

bool isWhole(uint32_t type) { return type == 5121 || type == 5123 || type == 5125; }

}  // namespace

Accessors::Accessors(const File& file, const base::Limits& limits) : file_(file), limits_(limits) {
  uint64_t bytes = file.input_bytes;
  for (const auto& fetched : file.fetched) bytes += fetched.size();
  budget_ = (16ull << 20) + bytes * limits.memory_per_byte;
}

int Accessors::components(uint64_t accessor) const {
  const Json& accessors = listOf(file_.json, "accessors");
  return accessor < accessors.size() ? componentsOfType(textOf(accessors[accessor], "type")) : 0;
}

base::Result<Accessors::View> Accessors::view(uint64_t index, int components, const std::string& pointer) {
  const Json& accessors = listOf(file_.json, "accessors");
  if (index >= accessors.size())
    return file_.error("gltf.reference", base::phrase("This refers to an accessor that does not exist."),
                       pointer);
  const std::string at = "/accessors/" + std::to_string(index);
  const Json& accessor = accessors[index];
  const auto bad = [&](const std::string& what) { return file_.error("gltf.accessor", what, at); };
  View out;
  out.count = unsignedOf(accessor, "count", UINT64_MAX);
  out.type = static_cast<uint32_t>(std::min<uint64_t>(unsignedOf(accessor, "componentType", 0), UINT32_MAX));
  out.components = componentsOfType(textOf(accessor, "type"));
  out.normalized = accessor.contains("normalized") && accessor["normalized"].is_boolean() &&
                   accessor["normalized"].get<bool>();
  const uint64_t each = componentBytes(out.type);
  if (each == 0) return bad(base::phrase("The accessor's component type is unknown."));
  if (out.components != components)
    return bad(
        base::phrase("The accessor has {0} components where {1} are needed.", out.components, components));
  if (out.count > limits_.elements)
    return bad(base::phrase("The accessor has more elements than Rakugo reads."));
  const uint64_t cost = out.count * static_cast<uint64_t>(components) * 4;
  if (!take(cost))
    return file_.error("gltf.too_large",
                       base::phrase("The file would take far more memory than its size explains."), at);
  if (accessor.contains("sparse")) RAKUGO_TRY(readSparse(accessor, at, out));
  if (!accessor.contains("bufferView")) {
    out.zeros = true;
    return out;
  }
  const Json& views = listOf(file_.json, "bufferViews");
  const uint64_t view_index = unsignedOf(accessor, "bufferView", UINT64_MAX);
  if (view_index >= views.size())
    return file_.error("gltf.reference",
                       base::phrase("The accessor refers to a buffer view that does not exist."),
                       at + "/bufferView");
  const std::string view_at = "/bufferViews/" + std::to_string(view_index);
  RAKUGO_ASSIGN(const base::ByteSpan bytes, viewBytes(view_index, at + "/bufferView"));
  const uint64_t length = bytes.size();
  const uint64_t inner = unsignedOf(accessor, "byteOffset", 0);
  const uint64_t element = each * static_cast<uint64_t>(components);
  const Json* compressed = extensionOf(views[view_index], "EXT_meshopt_compression");
  out.stride = unsignedOf(compressed != nullptr ? *compressed : views[view_index], "byteStride", 0);
  if (out.stride == 0) out.stride = element;
  if (out.stride < element || out.stride > 252 + element)
    return file_.error("gltf.accessor",
                       base::phrase("The stride of the buffer view does not fit its elements."),
                       view_at + "/byteStride");
  if (inner > length) return bad(base::phrase("The accessor begins outside its buffer view."));
  const uint64_t room = length - inner;
  if (out.count > 0 && (room < element || (out.count - 1) > (room - element) / out.stride))
    return bad(base::phrase("The accessor needs more bytes than its buffer view has."));
  out.bytes = bytes.subspan(inner, room);
  return out;
}

bool Accessors::take(uint64_t bytes) {
  if (bytes > budget_) return false;
  budget_ -= bytes;
  return true;
}

base::Status Accessors::readSparse(const Json& accessor, const std::string& at, View& out) {
  const Json& sparse = accessor["sparse"];
  const auto bad = [&](const std::string& what) {
    return file_.error("gltf.accessor", what, at + "/sparse");
  };
  if (!sparse.is_object() || !sparse.contains("indices") || !sparse.contains("values"))
    return bad(base::phrase("The sparse accessor does not say what it replaces."));
  out.sparse.count = unsignedOf(sparse, "count", UINT64_MAX);
  if (out.sparse.count > out.count)
    return bad(base::phrase("The sparse accessor replaces more elements than there are."));
  const auto part = [&](const char* key, uint64_t element) -> base::Result<base::ByteSpan> {
    const std::string pointer = at + "/sparse/" + key;
    RAKUGO_ASSIGN(const base::ByteSpan bytes,
                  viewBytes(unsignedOf(sparse[key], "bufferView", UINT64_MAX), pointer + "/bufferView"));
    const uint64_t offset = unsignedOf(sparse[key], "byteOffset", 0);
    if (offset > bytes.size() || out.sparse.count > (bytes.size() - offset) / element)
      return file_.error("gltf.accessor",
                         base::phrase("The sparse accessor needs more bytes than its buffer view has."),
                         pointer);
    return bytes.subspan(offset);
  };
  const auto type = static_cast<uint32_t>(
      std::min<uint64_t>(unsignedOf(sparse["indices"], "componentType", 0), UINT32_MAX));
  if (!isWhole(type)) return bad(base::phrase("The sparse accessor's places are not whole numbers."));
  RAKUGO_ASSIGN(const base::ByteSpan places, part("indices", componentBytes(type)));
  RAKUGO_ASSIGN(out.sparse.values,
                part("values", componentBytes(out.type) * static_cast<uint64_t>(out.components)));
  if (!take(out.sparse.count * 4))
    return file_.error("gltf.too_large",
                       base::phrase("The file would take far more memory than its size explains."), at);
  out.sparse.places.resize(out.sparse.count);
  spreadWhole(type, places, componentBytes(type), out.sparse.count, 1, out.sparse.places.data());
  for (const uint32_t place : out.sparse.places)
    if (place >= out.count)
      return bad(base::phrase("The sparse accessor replaces element {0} of {1}.", place, out.count));
  return {};
}

void Accessors::fill(const View& v, float* out) {
  const auto components = static_cast<uint64_t>(v.components);
  if (!v.zeros) spreadAs(v.type, v.normalized, v.bytes, v.stride, v.count, v.components, out);
  const uint64_t element = componentBytes(v.type) * components;
  for (uint64_t i = 0; i < v.sparse.count; ++i)
    spreadAs(v.type, v.normalized, v.sparse.values.subspan(i * element, element), element, 1, v.components,
             out + v.sparse.places[i] * components);
}

base::Result<std::vector<float>> Accessors::floats(uint64_t accessor, int components,
                                                   const std::string& pointer) {
  RAKUGO_ASSIGN(const View v, view(accessor, components, pointer));
  std::vector<float> out(v.count * static_cast<uint64_t>(components), 0.0F);
  if (!out.empty()) fill(v, out.data());
  return out;
}

bool Accessors::View::plainFloats() const {
  return type == 5126 && !zeros && sparse.count == 0 &&
         stride == static_cast<uint64_t>(components) * sizeof(float);
}

base::Result<Accessors::View> Accessors::wholeView(uint64_t accessor, int components,
                                                   const std::string& pointer) {
  RAKUGO_ASSIGN(View v, view(accessor, components, pointer));
  if (!isWhole(v.type))
    return file_.error("gltf.accessor",
                       base::phrase("Whole numbers are needed here, and the accessor has others."),
                       "/accessors/" + std::to_string(accessor));
  return v;
}

std::vector<uint32_t> Accessors::wholes(const View& v, uint32_t* highest) {
  const auto n = static_cast<uint64_t>(v.components);
  std::vector<uint32_t> out;
  uint32_t most = 0;
  const auto measure = [&](size_t from) {
    uint32_t here = most;  // of its own, so that it stays in a register
    for (const uint32_t i : std::span(out).subspan(from)) here = std::max(here, i);
    most = here;
  };
  const bool plain = !v.zeros && v.sparse.count == 0;
  if (plain && (v.type == 5125 || v.type == 5123) && v.stride == n * componentBytes(v.type)) {
    base::reserveLarge(out, v.count * n);
    // In blocks that the cache holds, so that the highest is found while they are there.
    constexpr size_t kBlock = 8192;
    for (size_t i = 0; i < v.count * n; i += kBlock) {
      const size_t count = std::min<size_t>(kBlock, v.count * n - i);
      if (v.type == 5125)
        base::appendValues<uint32_t>(v.bytes.subspan(i * 4), count, out);
      else
        base::appendValues<uint16_t>(v.bytes.subspan(i * 2), count, out);
      measure(i);
    }
  } else {
    out.assign(v.count * n, 0);
    if (!v.zeros && !out.empty()) spreadWhole(v.type, v.bytes, v.stride, v.count, v.components, out.data());
    const uint64_t element = componentBytes(v.type) * n;
    for (uint64_t i = 0; i < v.sparse.count; ++i)
      spreadWhole(v.type, v.sparse.values.subspan(i * element, element), element, 1, v.components,
                  out.data() + v.sparse.places[i] * n);
    measure(0);
  }
  if (highest != nullptr) *highest = most;
  return out;
}

std::vector<glm::u16vec4> Accessors::joints(const View& v) {
  if (!v.zeros && v.sparse.count == 0 && v.type == 5121)
    return made<glm::u16vec4>(
        v.count, [&](size_t i) { return glm::u16vec4(base::loadAt<glm::u8vec4>(v.bytes, i * v.stride)); });
  if (!v.zeros && v.sparse.count == 0 && v.type == 5123)
    return made<glm::u16vec4>(v.count,
                              [&](size_t i) { return base::loadAt<glm::u16vec4>(v.bytes, i * v.stride); });
  const std::vector<uint32_t> flat = wholes(v);
  return made<glm::u16vec4>(v.count, [&](size_t i) {
    glm::u16vec4 out;
    for (int c = 0; c < 4; ++c)
      out[c] = static_cast<uint16_t>(std::min(flat[i * 4 + static_cast<size_t>(c)], 65535U));
    return out;
  });
}

base::Result<base::ByteSpan> Accessors::viewBytes(uint64_t index, const std::string& pointer) {
  const Json& views = listOf(file_.json, "bufferViews");
  if (index >= views.size())
    return file_.error("gltf.reference", base::phrase("This refers to a buffer view that does not exist."),
                       pointer);
  const std::string at = "/bufferViews/" + std::to_string(index);
  const auto slice = [&](const Json& json, const std::string& where) -> base::Result<base::ByteSpan> {
    const uint64_t buffer = unsignedOf(json, "buffer", UINT64_MAX);
    if (buffer >= file_.buffers.size())
      return file_.error("gltf.reference",
                         base::phrase("The buffer view refers to a buffer that does not exist."),
                         where + "/buffer");
    const base::ByteSpan bytes = file_.buffers[buffer];
    const uint64_t offset = unsignedOf(json, "byteOffset", 0), length = unsignedOf(json, "byteLength", 0);
    if (offset > bytes.size() || length > bytes.size() - offset)
      return file_.error("gltf.buffer", base::phrase("The buffer view lies outside its buffer."), where);
    return bytes.subspan(offset, length);
  };
  const Json* compressed = extensionOf(views[index], "EXT_meshopt_compression");
  if (compressed == nullptr) return slice(views[index], at);
  const auto known = decompressed_.find(index);
  if (known != decompressed_.end()) return base::ByteSpan(known->second);
  const std::string where = at + "/extensions/EXT_meshopt_compression";
  RAKUGO_ASSIGN(const base::ByteSpan packed, slice(*compressed, where));
  const uint64_t count = unsignedOf(*compressed, "count", UINT64_MAX),
                 stride = unsignedOf(*compressed, "byteStride", 0);
  const std::string mode = textOf(*compressed, "mode"), filter = textOf(*compressed, "filter");
  const auto bad = [&](const std::string& what) { return file_.error("gltf.compressed", what, where); };
  const bool attributes = mode == "ATTRIBUTES", triangles = mode == "TRIANGLES", indices = mode == "INDICES";
  if (!attributes && !triangles && !indices) return bad(base::phrase("The way of compression is unknown."));
  if (count > limits_.elements ||
      (attributes ? stride == 0 || stride > 256 || stride % 4 != 0 : stride != 2 && stride != 4))
    return bad(base::phrase("The compressed view's count or stride is not allowed."));
  if (triangles && count % 3 != 0) return bad(base::phrase("The compressed triangles are not complete."));
  if (!take(count * stride))
    return file_.error("gltf.too_large",
                       base::phrase("The file would take far more memory than its size explains."), where);
  base::Bytes out(count * stride);
  const auto* source = reinterpret_cast<const unsigned char*>(packed.data());
  const int failed = attributes ? meshopt_decodeVertexBuffer(out.data(), count, stride, source, packed.size())
                     : triangles
                         ? meshopt_decodeIndexBuffer(out.data(), count, stride, source, packed.size())
                         : meshopt_decodeIndexSequence(out.data(), count, stride, source, packed.size());
  if (failed != 0) return bad(base::phrase("The compressed bytes are damaged."));
  if (filter == "OCTAHEDRAL") {
    if (stride != 4 && stride != 8) return bad(base::phrase("The filter does not fit the stride."));
    meshopt_decodeFilterOct(out.data(), count, stride);
  } else if (filter == "QUATERNION") {
    if (stride != 8) return bad(base::phrase("The filter does not fit the stride."));
    meshopt_decodeFilterQuat(out.data(), count, stride);
  } else if (filter == "EXPONENTIAL") {
    meshopt_decodeFilterExp(out.data(), count, stride);
  } else if (!filter.empty() && filter != "NONE") {
    return bad(base::phrase("The filter is unknown."));
  }
  return base::ByteSpan(decompressed_[index] = std::move(out));
}

base::Result<std::vector<uint32_t>> nodeParents(const File& file, const base::Limits& limits) {
  const Json& nodes = listOf(file.json, "nodes");
  if (nodes.size() > limits.nodes)
    return file.error("gltf.too_large", base::phrase("The file has more nodes than Rakugo reads."), "/nodes");
  std::vector<uint32_t> parents(nodes.size(), UINT32_MAX);
  for (size_t i = 0; i < nodes.size(); ++i) {
    const Json& children = listOf(nodes[i], "children");
    for (size_t c = 0; c < children.size(); ++c) {
      const std::string at = "/nodes/" + std::to_string(i) + "/children/" + std::to_string(c);
      const uint64_t child = wholeOf(children[c]);
      if (child >= nodes.size())
        return file.error("gltf.reference", base::phrase("The node has a child that does not exist."), at);
      if (parents[child] != UINT32_MAX || child == i)
        return file.error("gltf.tree", base::phrase("A node has two parents, or is its own."), at);
      parents[child] = static_cast<uint32_t>(i);
    }
  }
  // Walk up from each node; a walk longer than the depth limit is too deep or a cycle.
  for (size_t i = 0; i < nodes.size(); ++i) {
    int depth = 0;
    for (uint32_t at = parents[i]; at != UINT32_MAX; at = parents[at])
      if (++depth > limits.node_depth)
        return file.error(
            "gltf.tree",
            base::phrase("The nodes form a circle, or are nested deeper than {0}.", limits.node_depth),
            "/nodes/" + std::to_string(i));
  }
  return parents;
}

}  // namespace rakugo::formats::gltf
