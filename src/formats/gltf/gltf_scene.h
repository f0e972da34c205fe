// Third stage of the glTF reader: from checked JSON to the scene. Internal to formats.
#pragma once

#include <cmath>
#include <functional>
#include <memory>
#include <optional>

#include "formats/gltf/gltf_validate.h"

namespace rakugo::formats::gltf {

/// "/list/7".
inline std::string pointerTo(const char* list, size_t i) {
  return std::string("/") + list + "/" + std::to_string(i);
}

/// `count` finite numbers of a member into `out`; false when it is there and is not that.
template <class Vector>
bool readVector(const base::Json& json, const char* key, int count, Vector& out) {
  if (!json.is_object() || !json.contains(key)) return true;
  const base::Json& list = json[key];
  if (!list.is_array() || list.size() != static_cast<size_t>(count)) return false;
  for (int i = 0; i < count; ++i) {
    const base::Json& one = list[static_cast<size_t>(i)];
    if (!one.is_number() || !std::isfinite(one.get<float>())) return false;
    out[i] = one.get<float>();
  }
  return true;
}
/// A finite number, or `fallback`.
float floatOf(const base::Json& json, const char* key, float fallback);
/// A boolean, or false.
bool flagOf(const base::Json& json, const char* key);
/// A member that must be an object, or an empty one.
const base::Json& objectOf(const base::Json& json, const char* key);

/// What an element says by "extras" and by extensions that are not in `read`: JSON text, or empty. Of the
/// extras the member `without` is left out.
std::string keptOf(const base::Json& json, std::initializer_list<const char*> read = {},
                   std::initializer_list<const char*> without = {});

/// Notes every property of the standard whose JSON type or enumerated value is not what the standard says
/// (glTF 2.0, section 5), into `notes`, up to 200.
void noteWrongTypes(const File& file, std::vector<base::Note>& notes);

/// One Draco-compressed primitive (KHR_draco_mesh_compression): n x components floats by attribute name.
struct Decompressed {
  uint32_t vertices = 0;
  std::vector<uint32_t> indices;
  std::map<std::string, std::vector<float>> attributes;
  std::map<std::string, int> components;
};
/// Errors: gltf.compressed, gltf.too_large.
base::Result<Decompressed> decodeDraco(const base::Json& extension, Accessors& accessors, const File& file,
                                       const std::string& pointer);

/// The reading itself; each part in the file named after it.
class ToScene {
 public:
  ToScene(const File& file, const Fetch& fetch, const ReadOptions& options)
      : file_(file), fetch_(fetch), options_(options), accessors_(file, options.limits) {}
  base::Result<ReadModel> run();

 private:
  void note(const char* code, const std::string& message, const std::string& pointer) {
    if (out_.notes.size() < 200) out_.notes.push_back({code, message, base::Place{file_.name, pointer}});
  }
  [[nodiscard]] bool cancelled() const {
    return options_.progress != nullptr && options_.progress->cancelled();
  }
  /// An index member that must lie below `size` when present; UINT32_MAX when absent.
  base::Result<uint32_t> reference(const base::Json& json, const char* key, size_t size,
                                   const std::string& pointer);

  // gltf_materials.cpp
  base::Status readImages();
  base::Status readMaterials();
  base::Status readTexture(const base::Json& json, const char* key, const std::string& pointer,
                           scene::TextureUse& use);
  // gltf_meshes.cpp
  /// A primitive whose lists are waited for.
  struct Awaited {
    scene::Primitive p;
    std::string pointer;
    uint64_t mode = 4;
    std::vector<uint32_t> listed;  ///< its indices as the file lists them, where those are no triangles
    uint32_t highest = 0;          ///< of its indices
  };
  using AwaitedMesh = std::vector<std::unique_ptr<Awaited>>;
  base::Status readMeshes();
  size_t mesh_number_ = 0;  ///< of the mesh whose primitives are read
  base::Status readPrimitive(const base::Json& json, const std::string& pointer, AwaitedMesh& mesh);
  base::Status readAttributes(const base::Json& attributes, const std::string& pointer,
                              const Decompressed* packed, scene::Primitive& p);
  base::Status readInfluences(const base::Json& attributes, const std::string& pointer,
                              const Decompressed* packed, int set, scene::Primitive& p);
  base::Status readMorphs(const base::Json& json, const std::string& pointer, scene::Primitive& p);
  base::Status readIndices(const base::Json& json, const std::string& pointer,
                           std::optional<std::vector<uint32_t>> packed, Awaited& awaited);
  base::Status putIndices(Awaited& awaited);
  base::Status finishMesh(const base::Json& json, AwaitedMesh& awaited);
  /// Checks one attribute and leaves its values to be made by `copyAll`. `vertices_` counts them: the first
  /// one says how many, the others must have as many.
  template <class Vector>
  base::Status take(const base::Json& attributes, const char* name, const std::string& pointer,
                    const Decompressed* packed, std::vector<Vector>& out);
  /// Makes the values of all that was taken, side by side where they are many.
  base::Status copyAll();
  struct Copy {
    uint64_t bytes = 0;
    std::function<void()> make;
  };
  std::vector<Copy> copies_;
  std::optional<uint64_t> vertices_;  ///< of the primitive that is being read

  // gltf_nodes.cpp
  base::Status readCameras();
  base::Status readLights();
  base::Status readNodes();
  base::Status readScene(const std::vector<uint32_t>& parents);
  base::Status readSkins();
  base::Status readAnimations();
  base::Status readChannel(const base::Json& json, const base::Json& samplers, const std::string& pointer,
                           scene::Animation& animation);

  const File& file_;
  const Fetch& fetch_;
  const ReadOptions& options_;
  Accessors accessors_;
  ReadModel out_;
};

}  // namespace rakugo::formats::gltf
