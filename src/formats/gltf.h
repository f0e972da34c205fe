// glTF 2.0 (Khronos, ISO/IEC 12113:2022): reader and binary writer.
#pragma once

#include "formats/read_model.h"

namespace rakugo::formats {

/// True when the bytes begin with the mark of binary glTF (section 4.4).
bool isGlb(base::ByteSpan bytes);

/// Reads .glb or .gltf. The model keeps the file's axes (up +Y, forward +Z, metres). Strips and fans become
/// triangles; points and lines are left out with a note; absent indices are made. A missing picture is no
/// error: its bytes are null. Errors: gltf.container, gltf.version, gltf.extension, gltf.reference,
/// gltf.accessor, gltf.buffer, gltf.tree, gltf.too_large, json.*; each with a JSON pointer or a byte offset.
base::Result<ReadModel> readGltf(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                 const ReadOptions& options);

/// The model as binary glTF. Pictures with bytes are embedded, those with a uri alone stay references.
/// Equal models give equal bytes.
base::Bytes writeGlb(const scene::Model& model);

}  // namespace rakugo::formats
