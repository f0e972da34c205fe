// Draco-compressed primitives of glTF (KHR_draco_mesh_compression), by Draco's own decoder.
#include <new>

#include <draco/compression/decode.h>

#include "base/phrase.h"
#include "formats/gltf/gltf_scene.h"

namespace rakugo::formats::gltf {

using base::Json;

namespace {

template <int N>
bool convert(const draco::PointAttribute& attribute, uint32_t points, std::vector<float>& out) {
  out.resize(size_t{points} * N);
  for (uint32_t i = 0; i < points; ++i) {
    const draco::AttributeValueIndex at = attribute.mapped_index(draco::PointIndex(i));
    if (!attribute.ConvertValue<float, N>(at, &out[size_t{i} * N])) return false;
  }
  return true;
}

bool convert(const draco::PointAttribute& attribute, uint32_t points, std::vector<float>& out) {
  switch (attribute.num_components()) {
    case 1:
      return convert<1>(attribute, points, out);
    case 2:
      return convert<2>(attribute, points, out);
    case 3:
      return convert<3>(attribute, points, out);
    case 4:
      return convert<4>(attribute, points, out);
    default:
      return false;
  }
}

base::Result<Decompressed> decode(const Json& extension, base::ByteSpan bytes, Accessors& accessors,
                                  const File& file, const std::string& pointer) {
  draco::DecoderBuffer buffer;
  buffer.Init(reinterpret_cast<const char*>(bytes.data()), bytes.size());
  draco::Decoder decoder;
  auto decoded = decoder.DecodeMeshFromBuffer(&buffer);
  if (!decoded.ok() || decoded.value() == nullptr)
    return file.error("gltf.compressed", base::phrase("The compressed bytes are damaged."), pointer);
  const draco::Mesh& mesh = *decoded.value();
  Decompressed out;
  out.vertices = mesh.num_points();
  const auto too_large = [&] {
    return file.error("gltf.too_large",
                      base::phrase("The file would take far more memory than its size explains."), pointer);
  };
  if (!accessors.take(uint64_t{mesh.num_faces()} * 12)) return too_large();
  out.indices.reserve(size_t{mesh.num_faces()} * 3);
  for (uint32_t f = 0; f < mesh.num_faces(); ++f)
    for (int k = 0; k < 3; ++k)
      out.indices.push_back(mesh.face(draco::FaceIndex(f))[static_cast<size_t>(k)].value());
  for (const auto& [name, id] : objectOf(extension, "attributes").items()) {
    const draco::PointAttribute* attribute = id.is_number_unsigned() && id.get<uint64_t>() <= UINT32_MAX
                                                 ? mesh.GetAttributeByUniqueId(id.get<uint32_t>())
                                                 : nullptr;
    if (attribute == nullptr)
      return file.error("gltf.compressed", base::phrase("The compressed data lacks an attribute."),
                        pointer + "/attributes/" + name);
    if (!accessors.take(uint64_t{out.vertices} * 16)) return too_large();
    if (!convert(*attribute, out.vertices, out.attributes[name]))
      return file.error("gltf.compressed", base::phrase("The compressed attribute cannot be read."),
                        pointer + "/attributes/" + name);
    out.components[name] = attribute->num_components();
  }
  return out;
}

}  // namespace

base::Result<Decompressed> decodeDraco(const Json& extension, Accessors& accessors, const File& file,
                                       const std::string& pointer) {
  RAKUGO_ASSIGN(
      const base::ByteSpan bytes,
      accessors.viewBytes(unsignedOf(extension, "bufferView", UINT64_MAX), pointer + "/bufferView"));
  try {
    return decode(extension, bytes, accessors, file, pointer);
  } catch (const std::exception&) {
    // A lying count is met by the allocator.
    return file.error("gltf.compressed", base::phrase("The compressed bytes are damaged."), pointer);
  }
}

}  // namespace rakugo::formats::gltf
