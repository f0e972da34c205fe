// Meshes of glTF: attributes, morph targets, indices.
#include "formats/gltf_scene.h"

#include <algorithm>

#include "base/text.h"

namespace rakugo::formats::gltf {

using base::Json;

namespace {

uint64_t countOf(const File& file, const Json& json, const char* key) {
  const Json& accessors = listOf(file.json, "accessors");
  const uint64_t index = unsignedOf(json, key, UINT64_MAX);
  const uint64_t count = index < accessors.size() ? unsignedOf(accessors[index], "count", 0) : 0;
  return count == UINT64_MAX ? 0 : count;
}

}  // namespace

// One attribute into a list, from the compressed data where it is there.
template <class Vector>
base::Status ToScene::take(const Json& attributes, const char* name, const std::string& pointer,
                           const Decompressed* packed, size_t count, std::vector<Vector>& out) {
  if (!attributes.contains(name)) return {};
  const std::string where = pointer + "/" + name;
  constexpr int kComponents = static_cast<int>(sizeof(Vector) / sizeof(float));
  if (packed != nullptr && packed->attributes.count(name) != 0) {
    const std::vector<float>& flat = packed->attributes.at(name);
    if (packed->components.at(name) != kComponents)
      return file_.error("gltf.compressed", "The compressed attribute has another number of components.", where);
    out.resize(packed->vertices);
    base::copyInto(std::as_bytes(std::span(flat)), std::span(out));
  } else {
    RAKUGO_ASSIGN(out, accessors_.vectors<Vector>(unsignedOf(attributes, name, UINT64_MAX), where));
  }
  if (count != SIZE_MAX && out.size() != count)
    return file_.error("gltf.primitive", std::string(name) + " and POSITION have different counts.", where);
  return {};
}

base::Status ToScene::readInfluences(const Json& attributes, const std::string& pointer, const Decompressed* packed,
                                     int set, scene::Primitive& p) {
  const std::string joints_name = "JOINTS_" + std::to_string(set), weights_name = "WEIGHTS_" + std::to_string(set);
  if (!attributes.contains(joints_name)) return {};
  const size_t n = p.positions.size();
  std::vector<uint32_t> joints;
  if (packed != nullptr && packed->attributes.count(joints_name) != 0 && packed->components.at(joints_name) == 4) {
    for (const float v : packed->attributes.at(joints_name))
      joints.push_back(static_cast<uint32_t>(std::clamp(v, 0.0F, 65535.0F)));
  } else {
    RAKUGO_ASSIGN(joints, accessors_.unsigneds(unsignedOf(attributes, joints_name.c_str(), UINT64_MAX), 4,
                                               pointer + "/" + joints_name));
  }
  std::vector<glm::vec4>& weights = set == 0 ? p.weights : p.more_weights;
  RAKUGO_TRY(take(attributes, weights_name.c_str(), pointer, packed, n, weights));
  if (joints.size() != n * 4 || weights.size() != n)
    return file_.error("gltf.primitive", joints_name + ", " + weights_name + " and POSITION have different counts.",
                       pointer);
  std::vector<glm::u16vec4>& out = set == 0 ? p.joints : p.more_joints;
  out.resize(n);
  for (size_t i = 0; i < n; ++i)
    for (int c = 0; c < 4; ++c)
      out[i][c] = static_cast<uint16_t>(std::min(joints[i * 4 + static_cast<size_t>(c)], 65535U));
  return {};
}

base::Status ToScene::readAttributes(const Json& attributes, const std::string& pointer, const Decompressed* packed,
                                     scene::Primitive& p) {
  RAKUGO_TRY(take(attributes, "POSITION", pointer, packed, SIZE_MAX, p.positions));
  const size_t n = p.positions.size();
  RAKUGO_TRY(take(attributes, "NORMAL", pointer, packed, n, p.normals));
  RAKUGO_TRY(take(attributes, "TANGENT", pointer, packed, n, p.tangents));
  RAKUGO_TRY(take(attributes, "TEXCOORD_0", pointer, packed, n, p.uvs[0]));
  RAKUGO_TRY(take(attributes, "TEXCOORD_1", pointer, packed, n, p.uvs[1]));
  if (attributes.contains("TEXCOORD_2"))
    note("gltf.uv_set", "More than two sets of texture coordinates; the first two are read.", pointer + "/TEXCOORD_2");
  if (attributes.contains("COLOR_0")) {
    const bool packed_color = packed != nullptr && packed->attributes.count("COLOR_0") != 0;
    const int components = packed_color ? packed->components.at("COLOR_0")
                                        : accessors_.components(unsignedOf(attributes, "COLOR_0", UINT64_MAX));
    if (components == 4) {
      RAKUGO_TRY(take(attributes, "COLOR_0", pointer, packed, n, p.colors));
    } else {
      std::vector<glm::vec3> opaque;
      RAKUGO_TRY(take(attributes, "COLOR_0", pointer, packed, n, opaque));
      for (const glm::vec3& c : opaque) p.colors.emplace_back(c, 1);
    }
  }
  RAKUGO_TRY(readInfluences(attributes, pointer, packed, 0, p));
  if (!p.joints.empty()) RAKUGO_TRY(readInfluences(attributes, pointer, packed, 1, p));
  if (attributes.contains("JOINTS_2"))
    note("gltf.influences", "More than eight bones a vertex; the first eight are read.", pointer + "/JOINTS_2");
  return {};
}

base::Status ToScene::readMorphs(const Json& json, const std::string& pointer, scene::Primitive& p) {
  const Json& targets = listOf(json, "targets");
  for (size_t t = 0; t < targets.size(); ++t) {
    const std::string where = pointer + "/targets/" + std::to_string(t);
    if (!targets[t].is_object()) return file_.error("gltf.primitive", "The morph target is no object.", where);
    scene::MorphTarget morph;
    const size_t n = p.positions.size();
    RAKUGO_TRY(take(targets[t], "POSITION", where, nullptr, n, morph.positions));
    RAKUGO_TRY(take(targets[t], "NORMAL", where, nullptr, n, morph.normals));
    RAKUGO_TRY(take(targets[t], "TANGENT", where, nullptr, n, morph.tangents));
    p.morphs.push_back(std::move(morph));
  }
  return {};
}

base::Status ToScene::readIndices(const Json& json, const std::string& pointer, uint64_t mode,
                                  std::optional<std::vector<uint32_t>> packed, scene::Primitive& p) {
  std::vector<uint32_t> listed;
  const auto count = static_cast<uint32_t>(p.positions.size());
  if (packed) {
    listed = std::move(*packed);
  } else if (json.contains("indices")) {
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
  if (mode > 6) return file_.error("gltf.primitive", "The primitive's mode is unknown.", pointer + "/mode");
  if (!json.contains("attributes") || !json["attributes"].is_object())
    return file_.error("gltf.primitive", "The primitive has no attributes.", pointer);
  const Json& attributes = json["attributes"];
  if (!attributes.contains("POSITION")) {
    note("gltf.no_positions", "A primitive without positions is left out.", pointer);
    return {};
  }
  out_.stored_vertices += countOf(file_, attributes, "POSITION");
  if (mode < 4) {
    const uint64_t corners = json.contains("indices") ? countOf(file_, json, "indices") : countOf(file_, attributes, "POSITION");
    if (mode == 0) out_.points += corners;
    if (mode == 1) out_.lines += corners / 2;
    if (mode == 2) out_.lines += corners;
    if (mode == 3) out_.lines += corners > 0 ? corners - 1 : 0;
    note("gltf.not_triangles", mode == 0 ? "Points are left out." : "Lines are left out.", pointer);
    return {};
  }
  scene::Primitive p;
  std::optional<std::vector<uint32_t>> packed_indices;
  if (const Json* draco = extensionOf(json, "KHR_draco_mesh_compression")) {
    RAKUGO_ASSIGN(Decompressed packed,
                  decodeDraco(*draco, accessors_, file_, pointer + "/extensions/KHR_draco_mesh_compression"));
    RAKUGO_TRY(readAttributes(attributes, pointer + "/attributes", &packed, p));
    packed_indices = std::move(packed.indices);
  } else {
    RAKUGO_TRY(readAttributes(attributes, pointer + "/attributes", nullptr, p));
  }
  RAKUGO_TRY(readMorphs(json, pointer, p));
  if (!mesh.primitives.empty() && p.morphs.size() != mesh.primitives[0].morphs.size())
    return file_.error("gltf.primitive", "The primitives of the mesh have different numbers of morph targets.",
                       pointer + "/targets");
  RAKUGO_TRY(readIndices(json, pointer, mode, std::move(packed_indices), p));
  RAKUGO_ASSIGN(const uint32_t material, reference(json, "material", out_.model.materials.size(), pointer));
  if (material != UINT32_MAX) p.material = scene::MaterialIndex(material);
  p.kept = keptOf(json, {"KHR_draco_mesh_compression"});
  mesh.primitives.push_back(std::move(p));
  return {};
}

base::Status ToScene::readMeshes() {
  const Json& meshes = listOf(file_.json, "meshes");
  for (size_t i = 0; i < meshes.size(); ++i) {
    if (cancelled()) return base::cancelledError();
    if (options_.progress != nullptr)
      options_.progress->say("Reading " + file_.name, static_cast<double>(i) / static_cast<double>(meshes.size()));
    auto mesh = std::make_shared<scene::Mesh>();
    mesh->name = base::presentable(textOf(meshes[i], "name"));
    const Json& primitives = listOf(meshes[i], "primitives");
    for (size_t k = 0; k < primitives.size(); ++k)
      RAKUGO_TRY(
          readPrimitive(primitives[k], pointerTo("meshes", i) + "/primitives/" + std::to_string(k), *mesh));
    const size_t morphs = mesh->primitives.empty() ? 0 : mesh->primitives[0].morphs.size();
    // Names of targets stand in the extras, by a custom that the standard mentions.
    const Json& names = listOf(objectOf(meshes[i], "extras"), "targetNames");
    const Json& weights = listOf(meshes[i], "weights");
    for (size_t m = 0; m < morphs; ++m) {
      mesh->morph_names.push_back(m < names.size() && names[m].is_string()
                                      ? base::presentable(names[m].get<std::string>())
                                      : "target " + std::to_string(m + 1));
      mesh->morph_weights.push_back(m < weights.size() && weights[m].is_number() ? weights[m].get<float>() : 0);
    }
    mesh->kept = keptOf(meshes[i], {}, morphs > 0 ? "targetNames" : nullptr);
    out_.model.meshes.push_back(std::move(mesh));
  }
  return {};
}

}  // namespace rakugo::formats::gltf
