// Pictures, textures and materials of glTF.
#include "formats/gltf/gltf_scene.h"

#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::formats::gltf {

using base::Json;

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
      RAKUGO_ASSIGN(bytes, decodeDataUri(uri, image.mime, file_, pointerTo("images", i) + "/uri"));
      found = true;
    } else if (!uri.empty()) {
      image.uri = base::withoutDots(percentDecoded(uri));
      auto got = fetch_(image.uri);
      if (got) {
        bytes = std::move(got).value();
        found = true;
      } else {
        note("gltf.image_missing",
             base::phrase("The picture \"{0}\" is not there: {1}", base::presentable(image.uri, 80),
                          got.error().message),
             pointerTo("images", i) + "/uri");
      }
    } else {
      const uint64_t view = unsignedOf(images[i], "bufferView", UINT64_MAX);
      if (images[i].is_object() && images[i].contains("bufferView")) {
        RAKUGO_ASSIGN(const base::ByteSpan span,
                      accessors_.viewBytes(view, pointerTo("images", i) + "/bufferView"));
        bytes.assign(span.begin(), span.end());
        found = true;
      }
    }
    total += bytes.size();
    if (total > options_.limits.file_bytes)
      return file_.error("gltf.too_large", base::phrase("The pictures are larger than Rakugo reads."),
                         pointerTo("images", i));
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
  // A picture in the newer format goes before the one for readers that do not know it.
  const Json* webp = extensionOf(textures[texture], "EXT_texture_webp");
  RAKUGO_ASSIGN(const uint32_t image,
                reference(webp != nullptr && webp->contains("source") ? *webp : textures[texture], "source",
                          out_.model.images.size(), pointerTo("textures", texture)));
  if (image == UINT32_MAX) return {};
  use.image = scene::ImageIndex(image);
  use.uv_set = static_cast<uint32_t>(std::min<uint64_t>(unsignedOf(info, "texCoord", 0), UINT32_MAX));
  if (const Json* moved = extensionOf(info, "KHR_texture_transform")) {
    const bool good =
        readVector(*moved, "offset", 2, use.offset) && readVector(*moved, "scale", 2, use.scale);
    if (!good)
      note("gltf.texture_transform", base::phrase("The picture's placement is not made of finite numbers."),
           pointer + "/" + key + "/extensions/KHR_texture_transform");
    use.turn_rad = floatOf(*moved, "rotation", 0);
    use.uv_set =
        static_cast<uint32_t>(std::min<uint64_t>(unsignedOf(*moved, "texCoord", use.uv_set), UINT32_MAX));
  }
  if (use.uv_set > 1) {
    note("gltf.uv_set", base::phrase("A picture uses UV set {0}; Rakugo reads the first two.", use.uv_set),
         pointer + "/" + key);
    use.uv_set = 0;
  }
  const Json& samplers = listOf(file_.json, "samplers");
  RAKUGO_ASSIGN(const uint32_t sampler,
                reference(textures[texture], "sampler", samplers.size(), pointerTo("textures", texture)));
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
    const std::string pointer = pointerTo("materials", i);
    scene::Material m;
    m.name = base::presentable(textOf(json, "name"));
    const Json pbr = json.is_object() && json.contains("pbrMetallicRoughness") ? json["pbrMetallicRoughness"]
                                                                               : Json::object();
    if (!readVector(pbr, "baseColorFactor", 4, m.base_color) ||
        !readVector(json, "emissiveFactor", 3, m.emissive))
      return file_.error("gltf.material",
                         base::phrase("A colour of the material is not made of finite numbers."), pointer);
    m.metallic = floatOf(pbr, "metallicFactor", 1);
    m.roughness = floatOf(pbr, "roughnessFactor", 1);
    RAKUGO_TRY(readTexture(pbr, "baseColorTexture", pointer + "/pbrMetallicRoughness", m.base_color_texture));
    RAKUGO_TRY(readTexture(pbr, "metallicRoughnessTexture", pointer + "/pbrMetallicRoughness",
                           m.metallic_roughness_texture));
    RAKUGO_TRY(readTexture(json, "normalTexture", pointer, m.normal_texture));
    RAKUGO_TRY(readTexture(json, "occlusionTexture", pointer, m.occlusion_texture));
    RAKUGO_TRY(readTexture(json, "emissiveTexture", pointer, m.emissive_texture));
    if (json.is_object() && json.contains("normalTexture"))
      m.normal_scale = floatOf(json["normalTexture"], "scale", 1);
    if (json.is_object() && json.contains("occlusionTexture"))
      m.occlusion_strength = floatOf(json["occlusionTexture"], "strength", 1);
    const std::string alpha = textOf(json, "alphaMode");
    m.alpha = alpha == "MASK"    ? scene::AlphaMode::mask
              : alpha == "BLEND" ? scene::AlphaMode::blend
                                 : scene::AlphaMode::opaque;
    m.alpha_cutoff = floatOf(json, "alphaCutoff", 0.5F);
    m.double_sided = json.is_object() && json.contains("doubleSided") && json["doubleSided"].is_boolean() &&
                     json["doubleSided"].get<bool>();
    m.unlit = extensionOf(json, "KHR_materials_unlit") != nullptr;
    if (const Json* strength = extensionOf(json, "KHR_materials_emissive_strength"))
      m.emissive_strength = floatOf(*strength, "emissiveStrength", 1);
    m.kept = keptOf(json, {"KHR_materials_unlit", "KHR_materials_emissive_strength"});
    out_.model.materials.push_back(std::move(m));
  }
  return {};
}

}  // namespace rakugo::formats::gltf
