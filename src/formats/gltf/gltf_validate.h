// Second stage of the glTF reader: accessors that cannot leave their buffers, and a tree that is one.
// Internal to formats.
#pragma once

#include <map>
#include <span>
#include <vector>

#include "base/memory.h"
#include "formats/gltf/gltf_parse.h"
#include "scene/model.h"

namespace rakugo::formats::gltf {

/// Takes values out of accessors. Counts what it hands out against a budget that grows with the file's real
/// size, so that a small file whose accessors share bytes cannot ask for gigabytes.
class Accessors {
 public:
  struct Sparse {
    uint64_t count = 0;
    std::vector<uint32_t> places;
    base::ByteSpan values;
  };
  /// An accessor whose values all lie inside their buffer; the bytes live as long as the `Accessors`.
  struct View {
    base::ByteSpan bytes;  ///< from the first element on
    uint64_t count = 0;
    uint64_t stride = 0;
    uint32_t type = 0;
    int components = 0;
    bool normalized = false;
    bool zeros = false;  ///< no buffer view: all values are zero
    Sparse sparse;
    /// Floats side by side, nothing to convert or to put in.
    [[nodiscard]] bool plainFloats() const;
  };

  Accessors(const File& file, const base::Limits& limits);
  /// An accessor of that many components. Errors name the accessor: gltf.reference, gltf.accessor,
  /// gltf.too_large.
  base::Result<View> view(uint64_t accessor, int components, const std::string& pointer);
  /// The same of whole numbers (component types 5121, 5123, 5125).
  base::Result<View> wholeView(uint64_t accessor, int components, const std::string& pointer);

  /// One value an element; `Vector` is float or one of glm's float vectors or matrices. Integers are
  /// normalised when the accessor says so; sparse values are put in. Any thread.
  template <class Vector>
  static std::vector<Vector> values(const View& v) {
    // Made in one pass: setting to zero first would touch every page of a large model twice.
    if (v.plainFloats()) {
      std::vector<Vector> out;
      base::reserveLarge(out, v.count);
      base::appendValues<Vector>(v.bytes, v.count, out);
      return out;
    }
    std::vector<Vector> out(v.count);
    if (!out.empty()) fill(v, reinterpret_cast<float*>(out.data()));
    return out;
  }
  /// n x components whole numbers, in order; `highest` receives the highest of them, or 0. Any thread.
  static std::vector<uint32_t> wholes(const View& v, uint32_t* highest = nullptr);
  /// Four bones a vertex; numbers beyond 65535 are held there. Any thread.
  static std::vector<glm::u16vec4> joints(const View& v);

  /// `view` and `values` in one.
  template <class Vector>
  base::Result<std::vector<Vector>> vectors(uint64_t accessor, const std::string& pointer) {
    RAKUGO_ASSIGN(const View v, view(accessor, static_cast<int>(sizeof(Vector) / sizeof(float)), pointer));
    return values<Vector>(v);
  }
  /// n x `components` floats of an accessor whose element type does not matter (SCALAR output of weights).
  base::Result<std::vector<float>> floats(uint64_t accessor, int components, const std::string& pointer);
  /// 3 or 4, 0 for an accessor that is neither VEC3 nor VEC4.
  [[nodiscard]] int components(uint64_t accessor) const;
  /// The bytes of a buffer view, decompressed where it is compressed (EXT_meshopt_compression); they live as
  /// long as this.
  base::Result<base::ByteSpan> viewBytes(uint64_t view, const std::string& pointer);
  /// Counts memory that is about to be taken; false when the file's size does not explain it.
  bool take(uint64_t bytes);

 private:
  template <class T, class Make>
  static std::vector<T> made(size_t count, const Make& make) {
    std::vector<T> out;
    base::reserveLarge(out, count);
    for (size_t i = 0; i < count; ++i) out.push_back(make(i));
    return out;
  }
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
