// glTF 2.0 (Khronos, ISO/IEC 12113:2022): reader and binary writer.
#pragma once

#include "formats/read_model.h"

namespace rakugo::formats {

/// True when the bytes begin with the mark of binary glTF (section 4.4).
bool isGlb(base::ByteSpan bytes);

/// Reads .glb or .gltf. The model keeps the file's axes (up +Y, forward +Z, metres). Strips and fans become
/// triangles; points and lines are counted and left out with a note; absent indices are made. A missing
/// picture is no error: its bytes are null. Read are KHR_lights_punctual, KHR_texture_transform,
/// KHR_materials_unlit, KHR_materials_emissive_strength, KHR_mesh_quantization, EXT_texture_webp,
/// KHR_draco_mesh_compression and EXT_meshopt_compression; other extensions and extras are kept for the
/// writer, and a required one that is none of these is refused by name. A property of a wrong JSON type is
/// noted. Errors: gltf.container, gltf.version, gltf.extension, gltf.reference, gltf.accessor,
/// gltf.compressed, gltf.buffer, gltf.tree, gltf.too_large, json.*; each with a JSON pointer or a byte
/// offset.
base::Result<ReadModel> readGltf(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                 const ReadOptions& options);

/// The model as binary glTF. Pictures with bytes are embedded, those with a uri alone stay references.
/// Equal models give equal bytes. What the model holds is written as it is: `scene::writtenModel` makes it
/// such that any reader takes it. A writer that is cancelled stops early; what it gives then is of no use.
base::Bytes writeGlb(const scene::Model& model, const base::Progress* progress = nullptr);

/// The model as .gltf text. `pictures` are file names by image, empty for those to be embedded; the vertices
/// go into `binary`, to be stored as `binary_name`.
std::string writeGltf(const scene::Model& model, const std::vector<std::string>& pictures,
                      const std::string& binary_name, base::Bytes& binary,
                      const base::Progress* progress = nullptr);

}  // namespace rakugo::formats
