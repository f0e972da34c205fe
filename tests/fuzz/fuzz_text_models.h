// What must hold of any model that a reader gave out.
#pragma once

#include "formats/read_model.h"

namespace rakugo::fuzz {

inline void holdModel(const base::Result<formats::ReadModel>& read) {
  if (!read) {
    if (read.error().message.empty() || read.error().code.empty()) __builtin_trap();
    return;
  }
  const auto fits = [](size_t attribute, size_t vertices) { return attribute == 0 || attribute == vertices; };
  for (const auto& mesh : read->model.meshes)
    for (const scene::Primitive& p : mesh->primitives) {
      const size_t n = p.positions.size();
      if (p.indices.size() % 3 != 0 || !fits(p.normals.size(), n) || !fits(p.uvs[0].size(), n) ||
          !fits(p.colors.size(), n))
        __builtin_trap();
      for (const uint32_t i : p.indices)
        if (i >= n) __builtin_trap();
      if (p.material.valid() && p.material.value() >= read->model.materials.size()) __builtin_trap();
    }
  (void)scene::boundsOf(read->model);
}

}  // namespace rakugo::fuzz
