// Second stage of the glTF reader: accessors that cannot leave their buffers, and a tree that is one.
// Internal to formats.
#pragma once

#include <span>
#include <vector>

#include "formats/gltf_parse.h"

namespace rakugo::formats::gltf {

/// Takes values out of accessors. Counts what it hands out against a budget that grows with the file's real
/// size, so that a small file whose accessors share bytes cannot ask for gigabytes.
class Accessors {
 public:
  Accessors(const File& file, const base::Limits& limits);
  /// n x `components` floats; integers are normalised when the accessor says so. Errors name the accessor.
  base::Result<std::vector<float>> floats(uint64_t accessor, int components, const std::string& pointer);
  /// n x `components` unsigned integers (component types 5121, 5123, 5125).
  base::Result<std::vector<uint32_t>> unsigneds(uint64_t accessor, int components,
                                                const std::string& pointer);
  /// 3 or 4, 0 for an accessor that is neither VEC3 nor VEC4.
  [[nodiscard]] int components(uint64_t accessor) const;

 private:
  struct View {
    base::ByteSpan bytes;  ///< from the first element on
    uint64_t count = 0;
    uint64_t stride = 0;
    uint32_t type = 0;
    int components = 0;
    bool normalized = false;
    bool zeros = false;  ///< no buffer view: all values are zero
  };
  base::Result<View> view(uint64_t accessor, int components, const std::string& pointer);
  const File& file_;
  base::Limits limits_;
  uint64_t budget_;
};

/// Nodes: every child exists, has one parent, no cycle, not too deep or many. Returns each node's parent (or
/// UINT32_MAX).
base::Result<std::vector<uint32_t>> nodeParents(const File& file, const base::Limits& limits);

}  // namespace rakugo::formats::gltf
