#include "formats/gltf/gltf.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace rakugo;
  const base::ByteSpan bytes(reinterpret_cast<const std::byte*>(data), size);
  const auto none = [](const std::string& name) -> base::Result<base::Bytes> {
    return base::Error{"file.missing", "none", base::Place{name}, ""};
  };
  const auto read = formats::readModel(bytes, "fuzz.glb", none);
  if (!read) return 0;
  for (const auto& mesh : read->model.meshes)
    for (const auto& p : mesh->primitives)
      for (const uint32_t i : p.indices)
        if (i >= p.positions.size()) __builtin_trap();
  (void)scene::boundsOf(read->model);
  // What was read can be written, and what was written can be read.
  if (!formats::readModel(formats::writeGlb(read->model), "again.glb", none)) __builtin_trap();
  return 0;
}
