// Third stage of the glTF reader: from checked JSON to the scene.
#include <algorithm>

#include "base/text.h"
#include "formats/gltf_validate.h"

namespace rakugo::formats {
namespace gltf {
namespace {

using base::Json;
using base::Note;
using scene::Model;

std::string at(const char* list, size_t i) { return std::string("/") + list + "/" + std::to_string(i); }

// `count` finite numbers of a member into `out`; false when present but not that.
template <class Vector>
bool readVector(const Json& json, const char* key, int count, Vector& out) {
  if (!json.is_object() || !json.contains(key)) return true;
  const Json& list = json[key];
  if (!list.is_array() || list.size() != static_cast<size_t>(count)) return false;
  for (int i = 0; i < count; ++i) {
    const Json& one = list[static_cast<size_t>(i)];
    if (!one.is_number() || !std::isfinite(one.get<float>())) return false;
    out[i] = one.get<float>();
  }
  return true;
}

float readFloat(const Json& json, const char* key, float fallback) {
  if (!json.is_object() || !json.contains(key) || !json[key].is_number()) return fallback;
  const auto value = json[key].get<float>();
  return std::isfinite(value) ? value : fallback;
}

template <class Vec, int N>
std::vector<Vec> packed(const std::vector<float>& flat) {
  std::vector<Vec> out(flat.size() / N);
  for (size_t i = 0; i < out.size(); ++i)
    for (int c = 0; c < N; ++c) out[i][c] = flat[i * N + static_cast<size_t>(c)];
  return out;
}

class ToScene {
 public:
  ToScene(const File& file, const Fetch& fetch, const ReadOptions& options)
      : file_(file), fetch_(fetch), options_(options), accessors_(file, options.limits) {}

  base::Result<ReadModel> run() {
    out_.format = file_.is_glb ? "glTF binary" : "glTF";
    out_.version = textOf(file_.json["asset"], "version");
    out_.unit_m = 1;  // section 3.3
    out_.up = geometry::Axis::plus_y;
    RAKUGO_TRY(readImages());
    RAKUGO_TRY(readMaterials());
    RAKUGO_TRY(readMeshes());
    RAKUGO_TRY(readNodes());
    RAKUGO_TRY(readSkins());
    RAKUGO_TRY(readAnimations());
    scene::assignKeys(out_.model);
    return std::move(out_);
  }

 private:
  void note(const char* code, const std::string& message, const std::string& pointer) {
    if (out_.notes.size() < 200) out_.notes.push_back(Note{code, message, base::Place{file_.name, pointer}});
  }
  bool cancelled() const { return options_.progress != nullptr && options_.progress->cancelled(); }

  // An index member that must lie below `size` when present; invalid when absent.
  base::Result<uint32_t> reference(const Json& json, const char* key, size_t size,
                                   const std::string& pointer) {
    if (!json.is_object() || !json.contains(key)) return UINT32_MAX;
    const uint64_t value = unsignedOf(json, key, UINT64_MAX);
    if (value >= size)
      return file_.error("gltf.reference",
                         std::string("\"") + key + "\" refers to something that does not exist.",
                         pointer + "/" + key);
    return static_cast<uint32_t>(value);
  }

  base::Status readImages();
  base::Status readMaterials();
  base::Status readTexture(const Json& json, const char* key, const std::string& pointer,
                           scene::TextureUse& use);
  base::Status readMeshes();
  base::Status readPrimitive(const Json& json, const std::string& pointer, scene::Mesh& mesh);
  base::Status readIndices(const Json& json, const std::string& pointer, uint64_t mode, scene::Primitive& p);
  base::Status readNodes();
  base::Status readSkins();
  base::Status readAnimations();

  const File& file_;
  const Fetch& fetch_;
  const ReadOptions& options_;
  Accessors accessors_;
  ReadModel out_;
};

base::Status ToScene::readImages() {
  const Json& images = listOf(file_.json, "images");
  uint64_t total = 0;
  for (size_t i = 0; i < images.size(); ++i) {
    scene::Image image;
    image.name = base::presentable(textOf(images[i], "name"));
    image.mime = base::presentable(textOf(images[i], "mimeType"), 40);
    const std::string uri = textOf(images[i], "uri");
    base::Bytes bytes;
    bool found = false;
    if (isDataUri(uri)) {
      RAKUGO_ASSIGN(bytes, decodeDataUri(uri, image.mime, file_, at("images", i) + "/uri"));
      found = true;
    } else if (!uri.empty()) {
      image.uri = percentDecoded(uri);
      auto got = fetch_(image.uri);
      if (got) {
        bytes = std::move(got).value();
        found = true;
      } else {
        note("gltf.image_missing",
             "The picture \"" + base::presentable(image.uri, 80) + "\" is not there: " + got.error().message,
             at("images", i) + "/uri");
      }
    } else {
      const Json& views = listOf(file_.json, "bufferViews");
      RAKUGO_ASSIGN(const uint32_t view, reference(images[i], "bufferView", views.size(), at("images", i)));
      if (view != UINT32_MAX) {
        const uint64_t buffer = unsignedOf(views[view], "buffer", UINT64_MAX);
        const uint64_t offset = unsignedOf(views[view], "byteOffset", 0),
                       length = unsignedOf(views[view], "byteLength", 0);
        if (buffer >= file_.buffers.size() || offset > file_.buffers[buffer].size() ||
            length > file_.buffers[buffer].size() - offset)
          return file_.error("gltf.buffer", "The picture lies outside its buffer.", at("bufferViews", view));
        const base::ByteSpan span = file_.buffers[buffer].subspan(offset, length);
        bytes.assign(span.begin(), span.end());
        found = true;
      }
    }
    total += bytes.size();
    if (total > options_.limits.file_bytes)
      return file_.error("gltf.too_large", "The pictures are larger than Rakugo reads.", at("images", i));
    if (found) image.bytes = std::make_shared<const base::Bytes>(std::move(bytes));
    out_.model.images.push_back(std::move(image));
  }
  return {};
}

base::Status ToScene::readTexture(const Json& json, const char* key, const std::string& pointer,
                                  scene::TextureUse& use) {
  if (!json.is_object() || !json.contains(key)) return {};
  const Json& info = json[key];
  const Json& textures = listOf(file_.json, "textures");
  RAKUGO_ASSIGN(const uint32_t texture, reference(info, "index", textures.size(), pointer + "/" + key));
  if (texture == UINT32_MAX) return {};
  RAKUGO_ASSIGN(const uint32_t image,
                reference(textures[texture], "source", out_.model.images.size(), at("textures", texture)));
  if (image == UINT32_MAX) return {};
  use.image = scene::ImageIndex(image);
  use.uv_set = static_cast<uint32_t>(std::min<uint64_t>(unsignedOf(info, "texCoord", 0), UINT32_MAX));
  if (use.uv_set > 1) {
    note("gltf.uv_set",
         "A picture uses UV set " + std::to_string(use.uv_set) + "; Rakugo reads the first two.",
         pointer + "/" + key);
    use.uv_set = 0;
  }
  const Json& samplers = listOf(file_.json, "samplers");
  RAKUGO_ASSIGN(const uint32_t sampler,
                reference(textures[texture], "sampler", samplers.size(), at("textures", texture)));
  if (sampler == UINT32_MAX) return {};
  const auto wrap = [&](const char* name) {
    const uint64_t value = unsignedOf(samplers[sampler], name, 10497);
    return value == 33071 ? scene::Wrap::clamp : value == 33648 ? scene::Wrap::mirror : scene::Wrap::repeat;
  };
  use.filter = unsignedOf(samplers[sampler], "magFilter", 9729) == 9728 ? scene::Filter::nearest
                                                                        : scene::Filter::linear;
  use.wrap_u = wrap("wrapS");
  use.wrap_v = wrap("wrapT");
  return {};
}

base::Status ToScene::readMaterials() {
  const Json& materials = listOf(file_.json, "materials");
  for (size_t i = 0; i < materials.size(); ++i) {
    const Json& json = materials[i];
    const std::string pointer = at("materials", i);
    scene::Material m;
    m.name = base::presentable(textOf(json, "name"));
    const Json pbr = json.is_object() && json.contains("pbrMetallicRoughness") ? json["pbrMetallicRoughness"]
                                                                               : Json::object();
    if (!readVector(pbr, "baseColorFactor", 4, m.base_color) ||
        !readVector(json, "emissiveFactor", 3, m.emissive))
      return file_.error("gltf.material", "A colour of the material is not made of finite numbers.", pointer);
    m.metallic = readFloat(pbr, "metallicFactor", 1);
    m.roughness = readFloat(pbr, "roughnessFactor", 1);
    RAKUGO_TRY(readTexture(pbr, "baseColorTexture", pointer + "/pbrMetallicRoughness", m.base_color_texture));
    RAKUGO_TRY(readTexture(pbr, "metallicRoughnessTexture", pointer + "/pbrMetallicRoughness",
                           m.metallic_roughness_texture));
    RAKUGO_TRY(readTexture(json, "normalTexture", pointer, m.normal_texture));
    RAKUGO_TRY(readTexture(json, "occlusionTexture", pointer, m.occlusion_texture));
    RAKUGO_TRY(readTexture(json, "emissiveTexture", pointer, m.emissive_texture));
    if (json.is_object() && json.contains("normalTexture"))
      m.normal_scale = readFloat(json["normalTexture"], "scale", 1);
    if (json.is_object() && json.contains("occlusionTexture"))
      m.occlusion_strength = readFloat(json["occlusionTexture"], "strength", 1);
    const std::string alpha = textOf(json, "alphaMode");
    m.alpha = alpha == "MASK"    ? scene::AlphaMode::mask
              : alpha == "BLEND" ? scene::AlphaMode::blend
                                 : scene::AlphaMode::opaque;
    m.alpha_cutoff = readFloat(json, "alphaCutoff", 0.5F);
    m.double_sided = json.is_object() && json.contains("doubleSided") && json["doubleSided"].is_boolean() &&
                     json["doubleSided"].get<bool>();
    out_.model.materials.push_back(std::move(m));
  }
  return {};
}

base::Status ToScene::readIndices(const Json& json, const std::string& pointer, uint64_t mode,
                                  scene::Primitive& p) {
  std::vector<uint32_t> listed;
  const auto count = static_cast<uint32_t>(p.positions.size());
  if (json.contains("indices")) {
    RAKUGO_ASSIGN(listed,
                  accessors_.unsigneds(unsignedOf(json, "indices", UINT64_MAX), 1, pointer + "/indices"));
  } else {
    listed.resize(count);
    for (uint32_t i = 0; i < count; ++i) listed[i] = i;
  }
  for (size_t i = 0; i < listed.size(); ++i)
    if (listed[i] >= count)
      return file_.error("gltf.index",
                         "Index " + std::to_string(i) + " is " + std::to_string(listed[i]) +
                             ", and there are " + std::to_string(count) + " vertices.",
                         pointer + "/indices");
  if (mode == 4) {
    if (listed.size() % 3 != 0)
      note("gltf.incomplete_triangle", "The last triangle is not complete and is left out.", pointer);
    listed.resize(listed.size() / 3 * 3);
    p.indices = std::move(listed);
    return {};
  }
  for (size_t i = 2; i < listed.size(); ++i) {
    const uint32_t a = mode == 5 ? listed[i - 2] : listed[0], b = listed[i - 1], c = listed[i];
    if (a == b || b == c || a == c) continue;  // strips turn corners with empty triangles
    const bool odd = mode == 5 && i % 2 == 1;
    p.indices.insert(p.indices.end(), {a, odd ? c : b, odd ? b : c});
  }
  return {};
}

base::Status ToScene::readPrimitive(const Json& json, const std::string& pointer, scene::Mesh& mesh) {
  const uint64_t mode = unsignedOf(json, "mode", 4);
  if (mode < 4) {
    note("gltf.not_triangles", mode == 0 ? "Points are left out." : "Lines are left out.", pointer);
    return {};
  }
  if (mode > 6) return file_.error("gltf.primitive", "The primitive's mode is unknown.", pointer + "/mode");
  if (!json.contains("attributes") || !json["attributes"].is_object())
    return file_.error("gltf.primitive", "The primitive has no attributes.", pointer);
  const Json& attributes = json["attributes"];
  if (!attributes.contains("POSITION")) {
    note("gltf.no_positions", "A primitive without positions is left out.", pointer);
    return {};
  }
  scene::Primitive p;
  const auto take = [&](const char* name, int components) -> base::Result<std::vector<float>> {
    if (!attributes.contains(name)) return std::vector<float>();
    const std::string where = pointer + "/attributes/" + name;
    RAKUGO_ASSIGN(std::vector<float> values,
                  accessors_.floats(unsignedOf(attributes, name, UINT64_MAX), components, where));
    if (!p.positions.empty() && values.size() != p.positions.size() * static_cast<size_t>(components))
      return file_.error("gltf.primitive", std::string(name) + " and POSITION have different counts.", where);
    return values;
  };
  {
    RAKUGO_ASSIGN(const auto flat, take("POSITION", 3));
    p.positions = packed<glm::vec3, 3>(flat);
  }
  {
    RAKUGO_ASSIGN(const auto flat, take("NORMAL", 3));
    p.normals = packed<glm::vec3, 3>(flat);
  }
  {
    RAKUGO_ASSIGN(const auto flat, take("TANGENT", 4));
    p.tangents = packed<glm::vec4, 4>(flat);
  }
  for (size_t set = 0; set < 2; ++set) {
    RAKUGO_ASSIGN(const auto flat, take(set == 0 ? "TEXCOORD_0" : "TEXCOORD_1", 2));
    p.uvs[set] = packed<glm::vec2, 2>(flat);
  }
  if (attributes.contains("COLOR_0")) {
    const int n = accessors_.components(unsignedOf(attributes, "COLOR_0", UINT64_MAX)) == 4 ? 4 : 3;
    RAKUGO_ASSIGN(const auto flat, take("COLOR_0", n));
    p.colors.assign(p.positions.size(), glm::vec4(1));
    for (size_t i = 0; i < flat.size(); ++i)
      p.colors[i / static_cast<size_t>(n)][static_cast<int>(i % static_cast<size_t>(n))] = flat[i];
  }
  if (attributes.contains("JOINTS_0")) {
    RAKUGO_ASSIGN(const auto joints, accessors_.unsigneds(unsignedOf(attributes, "JOINTS_0", UINT64_MAX), 4,
                                                          pointer + "/attributes/JOINTS_0"));
    RAKUGO_ASSIGN(const auto weights, take("WEIGHTS_0", 4));
    p.weights = packed<glm::vec4, 4>(weights);
    if (joints.size() != p.positions.size() * 4 || p.weights.size() != p.positions.size())
      return file_.error("gltf.primitive", "JOINTS_0, WEIGHTS_0 and POSITION have different counts.",
                         pointer + "/attributes");
    p.joints.resize(p.positions.size());
    for (size_t i = 0; i < joints.size(); ++i)
      p.joints[i / 4][static_cast<int>(i % 4)] = static_cast<uint16_t>(std::min(joints[i], 65535u));
  }
  if (attributes.contains("JOINTS_1"))
    note("gltf.joints_1", "More than four bones a vertex; the first four are read.", pointer);
  if (json.contains("targets")) note("gltf.morph", "Morph targets are not read yet.", pointer + "/targets");
  RAKUGO_TRY(readIndices(json, pointer, mode, p));
  RAKUGO_ASSIGN(const uint32_t material, reference(json, "material", out_.model.materials.size(), pointer));
  if (material != UINT32_MAX) p.material = scene::MaterialIndex(material);
  mesh.primitives.push_back(std::move(p));
  return {};
}

base::Status ToScene::readMeshes() {
  const Json& meshes = listOf(file_.json, "meshes");
  for (size_t i = 0; i < meshes.size(); ++i) {
    if (cancelled()) return base::cancelledError();
    auto mesh = std::make_shared<scene::Mesh>();
    mesh->name = base::presentable(textOf(meshes[i], "name"));
    const Json& primitives = listOf(meshes[i], "primitives");
    for (size_t k = 0; k < primitives.size(); ++k)
      RAKUGO_TRY(readPrimitive(primitives[k], at("meshes", i) + "/primitives/" + std::to_string(k), *mesh));
    out_.model.meshes.push_back(std::move(mesh));
  }
  return {};
}

base::Status ToScene::readNodes() {
  RAKUGO_ASSIGN(const std::vector<uint32_t> parents, nodeParents(file_, options_.limits));
  const Json& nodes = listOf(file_.json, "nodes");
  const size_t skins = listOf(file_.json, "skins").size();
  for (size_t i = 0; i < nodes.size(); ++i) {
    const Json& json = nodes[i];
    const std::string pointer = at("nodes", i);
    scene::Node node;
    node.name = base::presentable(textOf(json, "name"));
    if (parents[i] != UINT32_MAX) node.parent = scene::NodeIndex(parents[i]);
    for (const Json& child : listOf(json, "children"))
      node.children.push_back(scene::NodeIndex(child.get<uint32_t>()));
    std::array<float, 16> matrix{};
    std::array<float, 4> turn{0, 0, 0, 1};
    if (!readVector(json, "matrix", 16, matrix) || !readVector(json, "translation", 3, node.local.position) ||
        !readVector(json, "rotation", 4, turn) || !readVector(json, "scale", 3, node.local.scale))
      return file_.error("gltf.node", "The node's placement is not made of finite numbers.", pointer);
    const float length =
        std::sqrt(turn[0] * turn[0] + turn[1] * turn[1] + turn[2] * turn[2] + turn[3] * turn[3]);
    if (length < 1e-6F)
      note("gltf.rotation", "The node's rotation is no quaternion and is taken as none.",
           pointer + "/rotation");
    else
      node.local.turn = glm::quat(turn[3] / length, turn[0] / length, turn[1] / length, turn[2] / length);
    if (json.is_object() && json.contains("matrix")) {
      glm::mat4 m;
      for (int k = 0; k < 16; ++k) m[k / 4][k % 4] = matrix[static_cast<size_t>(k)];
      bool exact = true;
      node.local = scene::placementOf(m, exact);
      if (!exact)
        note("gltf.shear", "The node's matrix shears; the nearest turn and scale are used.",
             pointer + "/matrix");
    }
    RAKUGO_ASSIGN(const uint32_t mesh, reference(json, "mesh", out_.model.meshes.size(), pointer));
    if (mesh != UINT32_MAX) node.mesh = scene::MeshIndex(mesh);
    RAKUGO_ASSIGN(const uint32_t skin, reference(json, "skin", skins, pointer));
    if (skin != UINT32_MAX) node.skin = scene::SkinIndex(skin);
    node.camera = json.is_object() && json.contains("camera");
    node.light = json.is_object() && json.contains("extensions") && json["extensions"].is_object() &&
                 json["extensions"].contains("KHR_lights_punctual");
    out_.cameras += node.camera ? 1 : 0;
    out_.lights += node.light ? 1 : 0;
    out_.model.nodes.push_back(std::move(node));
  }
  const Json& scenes = listOf(file_.json, "scenes");
  if (scenes.empty()) {
    for (size_t i = 0; i < nodes.size(); ++i)
      if (parents[i] == UINT32_MAX) out_.model.roots.push_back(scene::NodeIndex(i));
    return {};
  }
  const uint64_t chosen = unsignedOf(file_.json, "scene", 0);
  if (chosen >= scenes.size())
    return file_.error("gltf.reference", "The default scene does not exist.", "/scene");
  const Json& roots = listOf(scenes[chosen], "nodes");
  std::vector<bool> taken(nodes.size(), false);
  for (size_t k = 0; k < roots.size(); ++k) {
    const std::string pointer = at("scenes", chosen) + "/nodes/" + std::to_string(k);
    const uint64_t root = roots[k].is_number_unsigned() ? roots[k].get<uint64_t>() : UINT64_MAX;
    if (root >= nodes.size())
      return file_.error("gltf.reference", "The scene names a node that does not exist.", pointer);
    if (parents[root] != UINT32_MAX || taken[root])
      return file_.error("gltf.tree", "The scene names a node that is not a root, or names it twice.",
                         pointer);
    taken[root] = true;
    out_.model.roots.push_back(scene::NodeIndex(root));
  }
  if (scenes.size() > 1)
    note("gltf.scenes", "The file has " + std::to_string(scenes.size()) + " scenes; the default one is read.",
         "/scenes");
  return {};
}

base::Status ToScene::readSkins() {
  const Json& skins = listOf(file_.json, "skins");
  for (size_t i = 0; i < skins.size(); ++i) {
    scene::Skin skin;
    skin.name = base::presentable(textOf(skins[i], "name"));
    const Json& joints = listOf(skins[i], "joints");
    for (size_t k = 0; k < joints.size(); ++k) {
      const uint64_t joint = joints[k].is_number_unsigned() ? joints[k].get<uint64_t>() : UINT64_MAX;
      if (joint >= out_.model.nodes.size())
        return file_.error("gltf.reference", "The skin names a joint that does not exist.",
                           at("skins", i) + "/joints/" + std::to_string(k));
      skin.joints.push_back(scene::NodeIndex(joint));
    }
    skin.inverse_bind.assign(skin.joints.size(), glm::mat4(1));
    if (skins[i].contains("inverseBindMatrices")) {
      RAKUGO_ASSIGN(const auto flat,
                    accessors_.floats(unsignedOf(skins[i], "inverseBindMatrices", UINT64_MAX), 16,
                                      at("skins", i) + "/inverseBindMatrices"));
      if (flat.size() < skin.joints.size() * 16)
        return file_.error("gltf.skin", "There are fewer inverse bind matrices than joints.", at("skins", i));
      for (size_t k = 0; k < skin.joints.size() * 16; ++k)
        skin.inverse_bind[k / 16][static_cast<int>(k % 16 / 4)][static_cast<int>(k % 4)] = flat[k];
    }
    out_.model.skins.push_back(std::move(skin));
  }
  return {};
}

base::Status ToScene::readAnimations() {
  const Json& animations = listOf(file_.json, "animations");
  for (size_t i = 0; i < animations.size(); ++i) {
    if (cancelled()) return base::cancelledError();
    scene::Animation animation;
    animation.name = base::presentable(textOf(animations[i], "name"));
    const Json& samplers = listOf(animations[i], "samplers");
    const Json& channels = listOf(animations[i], "channels");
    for (size_t k = 0; k < channels.size(); ++k) {
      const std::string pointer = at("animations", i) + "/channels/" + std::to_string(k);
      const Json target =
          channels[k].is_object() && channels[k].contains("target") ? channels[k]["target"] : Json::object();
      RAKUGO_ASSIGN(const uint32_t node,
                    reference(target, "node", out_.model.nodes.size(), pointer + "/target"));
      RAKUGO_ASSIGN(const uint32_t sampler, reference(channels[k], "sampler", samplers.size(), pointer));
      const std::string path = textOf(target, "path");
      if (node == UINT32_MAX || sampler == UINT32_MAX) continue;
      scene::Channel channel;
      channel.node = scene::NodeIndex(node);
      int components = 0;
      if (path == "translation") channel.path = scene::AnimatedPath::position, components = 3;
      if (path == "rotation") channel.path = scene::AnimatedPath::turn, components = 4;
      if (path == "scale") channel.path = scene::AnimatedPath::scale, components = 3;
      if (path == "weights") channel.path = scene::AnimatedPath::weights, components = 1;
      if (components == 0) {
        note("gltf.animation_path", "A channel moves something unknown and is left out.", pointer);
        continue;
      }
      const std::string interpolation = textOf(samplers[sampler], "interpolation");
      channel.interpolation = interpolation == "STEP"          ? scene::Interpolation::step
                              : interpolation == "CUBICSPLINE" ? scene::Interpolation::cubic
                                                               : scene::Interpolation::linear;
      RAKUGO_ASSIGN(channel.times_s,
                    accessors_.floats(unsignedOf(samplers[sampler], "input", UINT64_MAX), 1, pointer));
      RAKUGO_ASSIGN(channel.values, accessors_.floats(unsignedOf(samplers[sampler], "output", UINT64_MAX),
                                                      components, pointer));
      const size_t per_key =
          static_cast<size_t>(components) * (channel.interpolation == scene::Interpolation::cubic ? 3 : 1);
      if (path != "weights" && channel.values.size() != channel.times_s.size() * per_key)
        return file_.error("gltf.animation", "A channel has another number of values than of keys.", pointer);
      animation.channels.push_back(std::move(channel));
    }
    out_.model.animations.push_back(std::move(animation));
  }
  return {};
}

}  // namespace
}  // namespace gltf

base::Result<ReadModel> readGltf(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                 const ReadOptions& options) {
  RAKUGO_ASSIGN(gltf::File file, gltf::parse(bytes, name, options.limits));
  RAKUGO_TRY(gltf::fetchBuffers(file, fetch, options.limits));
  return gltf::ToScene(file, fetch, options).run();
}

}  // namespace rakugo::formats
