// Meshes of glTF: attributes, morph targets, indices.
#include "formats/gltf/gltf_scene.h"

#include <algorithm>
#include <atomic>

#include "base/jobs.h"
#include "base/phrase.h"
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
                           const Decompressed* packed, std::vector<Vector>& out) {
  if (!attributes.contains(name)) return {};
  const std::string where = pointer + "/" + name;
  constexpr int kComponents = static_cast<int>(sizeof(Vector) / sizeof(float));
  uint64_t count = 0;
  if (packed != nullptr && packed->attributes.count(name) != 0) {
    const std::vector<float>& flat = packed->attributes.at(name);
    if (packed->components.at(name) != kComponents)
      return file_.error("gltf.compressed",
                         base::phrase("The compressed attribute has another number of components."), where);
    out.resize(packed->vertices);
    base::copyInto(std::as_bytes(std::span(flat)), std::span(out));
    count = packed->vertices;
  } else {
    RAKUGO_ASSIGN(Accessors::View view,
                  accessors_.view(unsignedOf(attributes, name, UINT64_MAX), kComponents, where));
    count = view.count;
    copies_.push_back(
        {count * sizeof(Vector), [view = std::move(view), &out] { out = Accessors::values<Vector>(view); }});
  }
  if (!vertices_) vertices_ = count;
  if (count != *vertices_)
    return file_.error("gltf.primitive", base::phrase("{0} and POSITION have different counts.", name),
                       where);
  return {};
}

base::Status ToScene::copyAll() {
  uint64_t bytes = 0;
  for (const Copy& one : copies_) bytes += one.bytes;
  std::atomic<size_t> done{0};
  const auto make = [&](size_t i) {
    if (cancelled()) return;
    copies_[i].make();
    if (options_.progress != nullptr)
      options_.progress->say(base::phrase("Reading {0}", file_.name),
                             static_cast<double>(++done) / static_cast<double>(copies_.size()));
  };
  constexpr uint64_t kWorthIt = 256 << 10;
  if (bytes >= kWorthIt && copies_.size() > 1) {
    // The largest first, so that the others fill the time beside it.
    std::stable_sort(copies_.begin(), copies_.end(),
                     [](const Copy& a, const Copy& b) { return a.bytes > b.bytes; });
    base::parallelFor(copies_.size(), make);
  } else {
    for (size_t i = 0; i < copies_.size(); ++i) make(i);
  }
  copies_.clear();
  return cancelled() ? base::Status(base::cancelledError()) : base::Status();
}

base::Status ToScene::readInfluences(const Json& attributes, const std::string& pointer,
                                     const Decompressed* packed, int set, scene::Primitive& p) {
  const std::string joints_name = "JOINTS_" + std::to_string(set),
                    weights_name = "WEIGHTS_" + std::to_string(set);
  if (!attributes.contains(joints_name)) return {};
  std::vector<glm::u16vec4>& out = set == 0 ? p.joints : p.more_joints;
  uint64_t count = 0;
  if (packed != nullptr && packed->attributes.count(joints_name) != 0 &&
      packed->components.at(joints_name) == 4) {
    const std::vector<float>& flat = packed->attributes.at(joints_name);
    count = flat.size() / 4;
    out.resize(count);
    for (size_t i = 0; i < count * 4; ++i)
      out[i / 4][static_cast<int>(i % 4)] = static_cast<uint16_t>(std::clamp(flat[i], 0.0F, 65535.0F));
  } else {
    RAKUGO_ASSIGN(Accessors::View view,
                  accessors_.wholeView(unsignedOf(attributes, joints_name.c_str(), UINT64_MAX), 4,
                                       pointer + "/" + joints_name));
    count = view.count;
    copies_.push_back({count * 8, [view = std::move(view), &out] { out = Accessors::joints(view); }});
  }
  if (!attributes.contains(weights_name) || count != *vertices_)
    return file_.error(
        "gltf.primitive",
        base::phrase("{0}, {1} and POSITION have different counts.", joints_name, weights_name), pointer);
  return take(attributes, weights_name.c_str(), pointer, packed, set == 0 ? p.weights : p.more_weights);
}

base::Status ToScene::readAttributes(const Json& attributes, const std::string& pointer,
                                     const Decompressed* packed, scene::Primitive& p) {
  vertices_.reset();
  RAKUGO_TRY(take(attributes, "POSITION", pointer, packed, p.positions));
  RAKUGO_TRY(take(attributes, "NORMAL", pointer, packed, p.normals));
  RAKUGO_TRY(take(attributes, "TANGENT", pointer, packed, p.tangents));
  RAKUGO_TRY(take(attributes, "TEXCOORD_0", pointer, packed, p.uvs[0]));
  RAKUGO_TRY(take(attributes, "TEXCOORD_1", pointer, packed, p.uvs[1]));
  if (attributes.contains("TEXCOORD_2"))
    note("gltf.uv_set", base::phrase("More than two sets of texture coordinates; the first two are read."),
         pointer + "/TEXCOORD_2");
  if (attributes.contains("COLOR_0")) {
    const bool packed_color = packed != nullptr && packed->attributes.count("COLOR_0") != 0;
    const int components = packed_color
                               ? packed->components.at("COLOR_0")
                               : accessors_.components(unsignedOf(attributes, "COLOR_0", UINT64_MAX));
    if (components == 4) {
      RAKUGO_TRY(take(attributes, "COLOR_0", pointer, packed, p.colors));
    } else {
      // Taken as it stands, and made opaque on its way.
      auto opaque = std::make_shared<std::vector<glm::vec3>>();
      RAKUGO_TRY(take(attributes, "COLOR_0", pointer, packed, *opaque));
      const auto widen = [opaque, &p] {
        p.colors.reserve(opaque->size());
        for (const glm::vec3& c : *opaque) p.colors.emplace_back(c, 1);
      };
      if (packed_color) {
        widen();
      } else {
        copies_.back().make = [first = std::move(copies_.back().make), widen] {
          first();
          widen();
        };
      }
    }
  }
  RAKUGO_TRY(readInfluences(attributes, pointer, packed, 0, p));
  if (attributes.contains("JOINTS_0")) RAKUGO_TRY(readInfluences(attributes, pointer, packed, 1, p));
  if (attributes.contains("JOINTS_2"))
    note("gltf.influences", base::phrase("More than eight bones a vertex; the first eight are read."),
         pointer + "/JOINTS_2");
  return {};
}

base::Status ToScene::readMorphs(const Json& json, const std::string& pointer, scene::Primitive& p) {
  const Json& targets = listOf(json, "targets");
  p.morphs.resize(targets.size());  // none moves while its lists are waited for
  for (size_t t = 0; t < targets.size(); ++t) {
    const std::string where = pointer + "/targets/" + std::to_string(t);
    if (!targets[t].is_object())
      return file_.error("gltf.primitive", base::phrase("The morph target is no object."), where);
    RAKUGO_TRY(take(targets[t], "POSITION", where, nullptr, p.morphs[t].positions));
    RAKUGO_TRY(take(targets[t], "NORMAL", where, nullptr, p.morphs[t].normals));
    RAKUGO_TRY(take(targets[t], "TANGENT", where, nullptr, p.morphs[t].tangents));
  }
  return {};
}

// What the file lists, and the highest of it, to be made by `copyAll`.
base::Status ToScene::readIndices(const Json& json, const std::string& pointer,
                                  std::optional<std::vector<uint32_t>> packed, Awaited& awaited) {
  std::vector<uint32_t>& list = awaited.mode == 4 ? awaited.p.indices : awaited.listed;
  if (packed) {
    list = std::move(*packed);
    for (const uint32_t i : list) awaited.highest = std::max(awaited.highest, i);
  } else if (json.contains("indices")) {
    RAKUGO_ASSIGN(Accessors::View view,
                  accessors_.wholeView(unsignedOf(json, "indices", UINT64_MAX), 1, pointer + "/indices"));
    copies_.push_back({view.count * 4, [view = std::move(view), &list, &awaited] {
                         list = Accessors::wholes(view, &awaited.highest);
                       }});
  } else {
    const auto count = static_cast<uint32_t>(*vertices_);
    list.resize(count);
    for (uint32_t i = 0; i < count; ++i) list[i] = i;
  }
  return {};
}

// Triangles of what was listed.
base::Status ToScene::putIndices(Awaited& awaited) {
  scene::Primitive& p = awaited.p;
  const std::vector<uint32_t>& list = awaited.mode == 4 ? p.indices : awaited.listed;
  if (const auto count = static_cast<uint32_t>(p.positions.size());
      !list.empty() && awaited.highest >= count) {
    const auto bad = std::find_if(list.begin(), list.end(), [&](uint32_t i) { return i >= count; });
    return file_.error(
        "gltf.index",
        base::phrase("Index {0} is {1}, and there are {2} vertices.", bad - list.begin(), *bad, count),
        awaited.pointer + "/indices");
  }
  if (awaited.mode == 4) {
    if (p.indices.size() % 3 != 0)
      note("gltf.incomplete_triangle", base::phrase("The last triangle is not complete and is left out."),
           awaited.pointer);
    p.indices.resize(p.indices.size() / 3 * 3);
    return {};
  }
  const std::vector<uint32_t>& listed = awaited.listed;
  for (size_t i = 2; i < listed.size(); ++i) {
    const uint32_t a = awaited.mode == 5 ? listed[i - 2] : listed[0], b = listed[i - 1], c = listed[i];
    if (a == b || b == c || a == c) continue;  // strips turn corners with empty triangles
    const bool odd = awaited.mode == 5 && i % 2 == 1;
    p.indices.insert(p.indices.end(), {a, odd ? c : b, odd ? b : c});
  }
  return {};
}

base::Status ToScene::readPrimitive(const Json& json, const std::string& pointer, AwaitedMesh& mesh) {
  const uint64_t mode = unsignedOf(json, "mode", 4);
  if (mode > 6)
    return file_.error("gltf.primitive", base::phrase("The primitive's mode is unknown."), pointer + "/mode");
  if (!json.contains("attributes") || !json["attributes"].is_object())
    return file_.error("gltf.primitive", base::phrase("The primitive has no attributes."), pointer);
  const Json& attributes = json["attributes"];
  if (!attributes.contains("POSITION")) {
    note("gltf.no_positions", base::phrase("A primitive without positions is left out."), pointer);
    return {};
  }
  ++out_.stored_primitives;
  out_.stored_vertices += countOf(file_, attributes, "POSITION");
  if (mode < 4) {
    const uint64_t corners =
        json.contains("indices") ? countOf(file_, json, "indices") : countOf(file_, attributes, "POSITION");
    if (mode == 0) out_.points += corners;
    if (mode == 1) out_.lines += corners / 2;
    if (mode == 2) out_.lines += corners;
    if (mode == 3) out_.lines += corners > 0 ? corners - 1 : 0;
    RAKUGO_ASSIGN(const auto positions,
                  accessors_.vectors<glm::vec3>(unsignedOf(attributes, "POSITION", UINT64_MAX),
                                                pointer + "/attributes/POSITION"));
    out_.other_boxes[static_cast<uint32_t>(mesh_number_)].add(geometry::boundsOf(positions));
    note("gltf.not_triangles",
         mode == 0 ? base::phrase("Points are left out.") : base::phrase("Lines are left out."), pointer);
    return {};
  }
  mesh.push_back(std::make_unique<Awaited>());
  Awaited& awaited = *mesh.back();
  scene::Primitive& p = awaited.p;
  awaited.pointer = pointer;
  awaited.mode = mode;
  std::optional<Decompressed> packed;
  if (const Json* draco = extensionOf(json, "KHR_draco_mesh_compression")) {
    RAKUGO_ASSIGN(packed,
                  decodeDraco(*draco, accessors_, file_, pointer + "/extensions/KHR_draco_mesh_compression"));
  }
  RAKUGO_TRY(readAttributes(attributes, pointer + "/attributes", packed ? &*packed : nullptr, p));
  RAKUGO_TRY(readMorphs(json, pointer, p));
  RAKUGO_TRY(
      readIndices(json, pointer, packed ? std::optional(std::move(packed->indices)) : std::nullopt, awaited));
  if (p.morphs.size() != mesh[0]->p.morphs.size())
    return file_.error("gltf.primitive",
                       base::phrase("The primitives of the mesh have different numbers of morph targets."),
                       pointer + "/targets");
  RAKUGO_ASSIGN(const uint32_t material, reference(json, "material", out_.model.materials.size(), pointer));
  if (material != UINT32_MAX) p.material = scene::MaterialIndex(material);
  p.kept = keptOf(json, {"KHR_draco_mesh_compression"});
  return {};
}

base::Status ToScene::finishMesh(const Json& json, AwaitedMesh& awaited) {
  auto mesh = std::make_shared<scene::Mesh>();
  mesh->name = base::presentable(textOf(json, "name"));
  for (auto& one : awaited) {
    RAKUGO_TRY(putIndices(*one));
    mesh->primitives.push_back(std::move(one->p));
  }
  const size_t morphs = mesh->primitives.empty() ? 0 : mesh->primitives[0].morphs.size();
  // Names of targets stand in the extras, by a custom that the standard mentions.
  const Json& names = listOf(objectOf(json, "extras"), "targetNames");
  const Json& weights = listOf(json, "weights");
  for (size_t m = 0; m < morphs; ++m) {
    mesh->morph_names.push_back(m < names.size() && names[m].is_string()
                                    ? base::presentable(names[m].get<std::string>())
                                    : "target " + std::to_string(m + 1));
    mesh->morph_weights.push_back(m < weights.size() && weights[m].is_number() ? weights[m].get<float>() : 0);
  }
  if (morphs > 0)
    mesh->kept = keptOf(json, {}, {"targetNames"});
  else
    mesh->kept = keptOf(json);
  out_.model.meshes.push_back(std::move(mesh));
  return {};
}

base::Status ToScene::readMeshes() {
  const Json& meshes = listOf(file_.json, "meshes");
  std::vector<AwaitedMesh> awaited(meshes.size());
  for (size_t i = 0; i < meshes.size(); ++i) {
    if (cancelled()) return base::cancelledError();
    mesh_number_ = i;
    const Json& primitives = listOf(meshes[i], "primitives");
    for (size_t k = 0; k < primitives.size(); ++k)
      RAKUGO_TRY(readPrimitive(primitives[k], pointerTo("meshes", i) + "/primitives/" + std::to_string(k),
                               awaited[i]));
  }
  RAKUGO_TRY(copyAll());
  for (size_t i = 0; i < meshes.size(); ++i) RAKUGO_TRY(finishMesh(meshes[i], awaited[i]));
  return {};
}

}  // namespace rakugo::formats::gltf
