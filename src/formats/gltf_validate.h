// Second stage of the glTF reader: accessors that cannot leave their buffers, and a tree that is one.
// Internal to formats.
#pragma once

#include <map>
#include <span>
#include <vector>

#include "formats/gltf_parse.h"

namespace rakugo::formats::gltf {

/// Takes values out of accessors. Counts what it hands out against a budget that grows with the file's real
/// size, so that a small file whose accessors share bytes cannot ask for gigabytes.
class Accessors {
 public:
  Accessors(const File& file, const base::Limits& limits);
  /// One value an element; `Vector` is float or one of glm's float vectors or matrices. Integers are normalised
  /// when the accessor says so; sparse values are put in. Errors name the accessor.
  template <class Vector>
  base::Result<std::vector<Vector>> vectors(uint64_t accessor, const std::string& pointer) {
    constexpr int kComponents = static_cast<int>(sizeof(Vector) / sizeof(float));
    RAKUGO_ASSIGN(const View v, view(accessor, kComponents, pointer));
    std::vector<Vector> out(v.count);
    if (!out.empty()) fill(v, reinterpret_cast<float*>(out.data()));
    return out;
  }
  /// n x `components` floats of an accessor whose element type does not matter (SCALAR output of weights).
  base::Result<std::vector<float>> floats(uint64_t accessor, int components, const std::string& pointer);
  /// n x `components` unsigned integers (component types 5121, 5123, 5125).
  base::Result<std::vector<uint32_t>> unsigneds(uint64_t accessor, int components,
                                                const std::string& pointer);
  /// 3 or 4, 0 for an accessor that is neither VEC3 nor VEC4.
  [[nodiscard]] int components(uint64_t accessor) const;
  /// The bytes of a buffer view, decompressed where it is compressed (EXT_meshopt_compression); they live as
  /// long as this.
  base::Result<base::ByteSpan> viewBytes(uint64_t view, const std::string& pointer);
  /// Counts memory that is about to be taken; false when the file's size does not explain it.
  bool take(uint64_t bytes);

 private:
  struct Sparse {
    uint64_t count = 0;
    std::vector<uint32_t> places;
    base::ByteSpan values;
  };
  struct View {
    base::ByteSpan bytes;  ///< from the first element on
    uint64_t count = 0;
    uint64_t stride = 0;
    uint32_t type = 0;
    int components = 0;
    bool normalized = false;
    bool zeros = false;  ///< no buffer view: all values are zero
    Sparse sparse;
  };
  base::Result<View> view(uint64_t accessor, int components, const std::string& pointer);
  base::Status readSparse(const base::Json& accessor, const std::string& at, View& out);
  static void fill(const View& view, float* out);
  const File& file_;
  base::Limits limits_;
  uint64_t budget_;
  std::map<uint64_t, base::Bytes> decompressed_;
};

/// Nodes: every child exists, has one parent, no cycle, not too deep or many. Returns each node's parent (or
/// UINT32_MAX).
base::Result<std::vector<uint32_t>> nodeParents(const File& file, const base::Limits& limits);

}  // namespace rakugo::formats::gltf
