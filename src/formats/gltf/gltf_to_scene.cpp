// Third stage of the glTF reader: the order of its parts, and what they share.
#include "formats/gltf/gltf_scene.h"

#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::formats::gltf {

using base::Json;

float floatOf(const Json& json, const char* key, float fallback) {
  if (!json.is_object() || !json.contains(key) || !json[key].is_number()) return fallback;
  const auto value = json[key].get<float>();
  return std::isfinite(value) ? value : fallback;
}

bool flagOf(const Json& json, const char* key) {
  return json.is_object() && json.contains(key) && json[key].is_boolean() && json[key].get<bool>();
}

const Json& objectOf(const Json& json, const char* key) {
  static const Json kEmpty = Json::object();
  if (!json.is_object()) return kEmpty;
  const auto at = json.find(key);
  return at != json.end() && at->is_object() ? *at : kEmpty;
}

std::string keptOf(const Json& json, std::initializer_list<const char*> read,
                   std::initializer_list<const char*> without) {
  if (!json.is_object() || (!json.contains("extensions") && !json.contains("extras"))) return {};
  Json out = Json::object();
  for (const auto& [name, value] : objectOf(json, "extensions").items())
    if (std::none_of(read.begin(), read.end(), [&, &known = name](const char* one) { return known == one; }))
      out["extensions"][name] = value;
  if (json.contains("extras")) {
    Json extras = json["extras"];
    if (extras.is_object())
      for (const char* name : without) extras.erase(name);
    if (!(extras.is_object() && extras.empty())) out["extras"] = std::move(extras);
  }
  return out.empty() ? std::string() : base::jsonLine(out);
}

base::Result<uint32_t> ToScene::reference(const Json& json, const char* key, size_t size,
                                          const std::string& pointer) {
  if (!json.is_object() || !json.contains(key)) return UINT32_MAX;
  const uint64_t value = unsignedOf(json, key, UINT64_MAX);
  if (value >= size)
    return file_.error("gltf.reference",
                       base::phrase("\"{0}\" refers to something that does not exist.", key),
                       pointer + "/" + key);
  return static_cast<uint32_t>(value);
}

base::Result<ReadModel> ToScene::run() {
  out_.format = file_.is_glb ? "glTF binary" : "glTF";
  out_.version = textOf(file_.json["asset"], "version");
  out_.copyright = base::presentable(textOf(file_.json["asset"], "copyright"), 400);
  out_.unit_m = 1;  // section 3.3
  out_.up = geometry::Axis::plus_y;
  noteWrongTypes(file_, out_.notes);
  RAKUGO_TRY(readImages());
  RAKUGO_TRY(readMaterials());
  RAKUGO_TRY(readMeshes());
  RAKUGO_TRY(readCameras());
  RAKUGO_TRY(readLights());
  RAKUGO_TRY(readNodes());
  RAKUGO_TRY(readSkins());
  RAKUGO_TRY(readAnimations());
  out_.model.kept = keptOf(file_.json, {"KHR_lights_punctual"});
  scene::assignKeys(out_.model);
  return std::move(out_);
}

}  // namespace rakugo::formats::gltf

namespace rakugo::formats {

base::Result<ReadModel> readGltf(base::ByteSpan bytes, const std::string& name, const Fetch& fetch,
                                 const ReadOptions& options) {
  RAKUGO_ASSIGN(gltf::File file, gltf::parse(bytes, name, options.limits));
  RAKUGO_TRY(gltf::fetchBuffers(file, fetch, options.limits));
  return gltf::ToScene(file, fetch, options).run();
}

}  // namespace rakugo::formats
