#include "formats/gltf_validate.h"

#include <algorithm>

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

float component(base::ByteSpan bytes, uint64_t at, uint32_t type, bool normalized) {
  const auto scaled = [&](double value, double most) {
    return static_cast<float>(normalized ? std::max(value / most, -1.0) : value);
  };
  switch (type) {
    case 5120:
      return scaled(base::loadAt<int8_t>(bytes, at), 127);
    case 5121:
      return scaled(base::loadAt<uint8_t>(bytes, at), 255);
    case 5122:
      return scaled(base::loadAt<int16_t>(bytes, at), 32767);
    case 5123:
      return scaled(base::loadAt<uint16_t>(bytes, at), 65535);
    case 5125:
      return static_cast<float>(base::loadAt<uint32_t>(bytes, at));
    default:
      return base::loadAt<float>(bytes, at);
  }
}

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
    return file_.error("gltf.reference", "This refers to an accessor that does not exist.", pointer);
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
  if (each == 0) return bad("The accessor's component type is unknown.");
  if (out.components != components)
    return bad("The accessor has " + std::to_string(out.components) + " components where " +
               std::to_string(components) + " are needed.");
  if (out.count > limits_.elements) return bad("The accessor has more elements than Rakugo reads.");
  if (accessor.contains("sparse"))
    return file_.error("gltf.accessor", "The accessor is sparse, which this version of Rakugo does not read.",
                       at, "Export the model without sparse accessors.");
  const uint64_t cost = out.count * static_cast<uint64_t>(components) * 4;
  if (cost > budget_)
    return file_.error("gltf.too_large", "The file would take far more memory than its size explains.", at);
  budget_ -= cost;
  if (!accessor.contains("bufferView")) {
    out.zeros = true;
    return out;
  }
  const Json& views = listOf(file_.json, "bufferViews");
  const uint64_t view_index = unsignedOf(accessor, "bufferView", UINT64_MAX);
  if (view_index >= views.size())
    return file_.error("gltf.reference", "The accessor refers to a buffer view that does not exist.",
                       at + "/bufferView");
  const Json& view = views[view_index];
  const std::string view_at = "/bufferViews/" + std::to_string(view_index);
  const uint64_t buffer = unsignedOf(view, "buffer", UINT64_MAX);
  if (buffer >= file_.buffers.size())
    return file_.error("gltf.reference", "The buffer view refers to a buffer that does not exist.",
                       view_at + "/buffer");
  const base::ByteSpan bytes = file_.buffers[buffer];
  const uint64_t offset = unsignedOf(view, "byteOffset", 0);
  const uint64_t length = unsignedOf(view, "byteLength", 0);
  if (offset > bytes.size() || length > bytes.size() - offset)
    return file_.error("gltf.buffer", "The buffer view lies outside its buffer.", view_at);
  const uint64_t inner = unsignedOf(accessor, "byteOffset", 0);
  const uint64_t element = each * static_cast<uint64_t>(components);
  out.stride = unsignedOf(view, "byteStride", 0);
  if (out.stride == 0) out.stride = element;
  if (out.stride < element || out.stride > 252 + element)
    return file_.error("gltf.accessor", "The stride of the buffer view does not fit its elements.",
                       view_at + "/byteStride");
  if (inner > length) return bad("The accessor begins outside its buffer view.");
  const uint64_t room = length - inner;
  if (out.count > 0 && (room < element || (out.count - 1) > (room - element) / out.stride))
    return bad("The accessor needs more bytes than its buffer view has.");
  out.bytes = bytes.subspan(offset + inner, room);
  return out;
}

base::Result<std::vector<float>> Accessors::floats(uint64_t accessor, int components,
                                                   const std::string& pointer) {
  RAKUGO_ASSIGN(const View v, view(accessor, components, pointer));
  std::vector<float> out(v.count * static_cast<uint64_t>(components), 0.0F);
  if (v.zeros) return out;
  const uint64_t each = componentBytes(v.type);
  for (uint64_t i = 0; i < v.count; ++i)
    for (int c = 0; c < components; ++c)
      out[i * static_cast<uint64_t>(components) + static_cast<uint64_t>(c)] =
          component(v.bytes, i * v.stride + static_cast<uint64_t>(c) * each, v.type, v.normalized);
  return out;
}

base::Result<std::vector<uint32_t>> Accessors::unsigneds(uint64_t accessor, int components,
                                                         const std::string& pointer) {
  RAKUGO_ASSIGN(const View v, view(accessor, components, pointer));
  if (v.type != 5121 && v.type != 5123 && v.type != 5125)
    return file_.error("gltf.accessor", "Whole numbers are needed here, and the accessor has others.",
                       "/accessors/" + std::to_string(accessor));
  std::vector<uint32_t> out(v.count * static_cast<uint64_t>(components), 0);
  if (v.zeros) return out;
  const uint64_t each = componentBytes(v.type);
  for (uint64_t i = 0; i < v.count; ++i)
    for (int c = 0; c < components; ++c) {
      const uint64_t at = i * v.stride + static_cast<uint64_t>(c) * each;
      uint32_t value = 0;
      if (each == 1) value = base::loadAt<uint8_t>(v.bytes, at);
      if (each == 2) value = base::loadAt<uint16_t>(v.bytes, at);
      if (each == 4) value = base::loadAt<uint32_t>(v.bytes, at);
      out[i * static_cast<uint64_t>(components) + static_cast<uint64_t>(c)] = value;
    }
  return out;
}

base::Result<std::vector<uint32_t>> nodeParents(const File& file, const base::Limits& limits) {
  const Json& nodes = listOf(file.json, "nodes");
  if (nodes.size() > limits.nodes)
    return file.error("gltf.too_large", "The file has more nodes than Rakugo reads.", "/nodes");
  std::vector<uint32_t> parents(nodes.size(), UINT32_MAX);
  for (size_t i = 0; i < nodes.size(); ++i) {
    const Json& children = listOf(nodes[i], "children");
    for (size_t c = 0; c < children.size(); ++c) {
      const std::string at = "/nodes/" + std::to_string(i) + "/children/" + std::to_string(c);
      const uint64_t child = children[c].is_number_unsigned() ? children[c].get<uint64_t>() : UINT64_MAX;
      if (child >= nodes.size())
        return file.error("gltf.reference", "The node has a child that does not exist.", at);
      if (parents[child] != UINT32_MAX || child == i)
        return file.error("gltf.tree", "A node has two parents, or is its own.", at);
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
            "The nodes form a circle, or are nested deeper than " + std::to_string(limits.node_depth) + ".",
            "/nodes/" + std::to_string(i));
  }
  return parents;
}

}  // namespace rakugo::formats::gltf
