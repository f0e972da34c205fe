// What type each property of glTF 2.0 has, and a note for every one that has another.
#include <algorithm>
#include <array>
#include <span>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/gltf/gltf_scene.h"

namespace rakugo::formats::gltf {

using base::Json;

namespace {

enum class Thing : unsigned char {
  root,
  asset,
  scene,
  node,
  mesh,
  primitive,
  target,
  accessor,
  sparse,
  sparse_part,
  view,
  buffer,
  image,
  texture,
  sampler,
  material,
  pbr,
  texture_info,
  skin,
  animation,
  channel,
  channel_target,
  animation_sampler,
  camera,
  perspective,
  orthographic,
  root_extensions,
  lights,
  light,
  spot,
  node_extensions,
  node_light,
  primitive_extensions,
  draco,
  view_extensions,
  compressed,
  texture_extensions,
  webp,
  material_extensions,
  emissive_strength,
  info_extensions,
  transform,
  none
};

enum class Type : unsigned char {
  text,
  number,
  whole,
  flag,
  numbers,
  wholes,
  texts,
  object,
  objects,
  by_name
};

struct Property {
  Thing owner;
  const char* key;
  Type type;
  Thing child = Thing::none;
  size_t count = 0;          // of numbers; 0: any
  const char* allowed = "";  // texts between bars; empty: any
};

// glTF 2.0, section 5, in its order of things.
constexpr Property kProperties[] = {
    {Thing::root, "extensionsUsed", Type::texts},
    {Thing::root, "extensionsRequired", Type::texts},
    {Thing::root, "asset", Type::object, Thing::asset},
    {Thing::root, "scene", Type::whole},
    {Thing::root, "scenes", Type::objects, Thing::scene},
    {Thing::root, "nodes", Type::objects, Thing::node},
    {Thing::root, "meshes", Type::objects, Thing::mesh},
    {Thing::root, "accessors", Type::objects, Thing::accessor},
    {Thing::root, "bufferViews", Type::objects, Thing::view},
    {Thing::root, "buffers", Type::objects, Thing::buffer},
    {Thing::root, "images", Type::objects, Thing::image},
    {Thing::root, "textures", Type::objects, Thing::texture},
    {Thing::root, "samplers", Type::objects, Thing::sampler},
    {Thing::root, "materials", Type::objects, Thing::material},
    {Thing::root, "skins", Type::objects, Thing::skin},
    {Thing::root, "animations", Type::objects, Thing::animation},
    {Thing::root, "cameras", Type::objects, Thing::camera},
    {Thing::root, "extensions", Type::object, Thing::root_extensions},
    {Thing::asset, "version", Type::text},
    {Thing::asset, "minVersion", Type::text},
    {Thing::asset, "generator", Type::text},
    {Thing::asset, "copyright", Type::text},
    {Thing::scene, "name", Type::text},
    {Thing::scene, "nodes", Type::wholes},
    {Thing::node, "name", Type::text},
    {Thing::node, "camera", Type::whole},
    {Thing::node, "children", Type::wholes},
    {Thing::node, "skin", Type::whole},
    {Thing::node, "matrix", Type::numbers, Thing::none, 16},
    {Thing::node, "mesh", Type::whole},
    {Thing::node, "rotation", Type::numbers, Thing::none, 4},
    {Thing::node, "scale", Type::numbers, Thing::none, 3},
    {Thing::node, "translation", Type::numbers, Thing::none, 3},
    {Thing::node, "weights", Type::numbers},
    {Thing::node, "extensions", Type::object, Thing::node_extensions},
    {Thing::mesh, "name", Type::text},
    {Thing::mesh, "primitives", Type::objects, Thing::primitive},
    {Thing::mesh, "weights", Type::numbers},
    {Thing::primitive, "attributes", Type::by_name},
    {Thing::primitive, "indices", Type::whole},
    {Thing::primitive, "material", Type::whole},
    {Thing::primitive, "mode", Type::whole},
    {Thing::primitive, "targets", Type::objects, Thing::target},
    {Thing::primitive, "extensions", Type::object, Thing::primitive_extensions},
    {Thing::target, "POSITION", Type::whole},
    {Thing::target, "NORMAL", Type::whole},
    {Thing::target, "TANGENT", Type::whole},
    {Thing::accessor, "name", Type::text},
    {Thing::accessor, "bufferView", Type::whole},
    {Thing::accessor, "byteOffset", Type::whole},
    {Thing::accessor, "componentType", Type::whole},
    {Thing::accessor, "normalized", Type::flag},
    {Thing::accessor, "count", Type::whole},
    {Thing::accessor, "type", Type::text, Thing::none, 0, "|SCALAR|VEC2|VEC3|VEC4|MAT2|MAT3|MAT4|"},
    {Thing::accessor, "max", Type::numbers},
    {Thing::accessor, "min", Type::numbers},
    {Thing::accessor, "sparse", Type::object, Thing::sparse},
    {Thing::sparse, "count", Type::whole},
    {Thing::sparse, "indices", Type::object, Thing::sparse_part},
    {Thing::sparse, "values", Type::object, Thing::sparse_part},
    {Thing::sparse_part, "bufferView", Type::whole},
    {Thing::sparse_part, "byteOffset", Type::whole},
    {Thing::sparse_part, "componentType", Type::whole},
    {Thing::view, "name", Type::text},
    {Thing::view, "buffer", Type::whole},
    {Thing::view, "byteOffset", Type::whole},
    {Thing::view, "byteLength", Type::whole},
    {Thing::view, "byteStride", Type::whole},
    {Thing::view, "target", Type::whole},
    {Thing::view, "extensions", Type::object, Thing::view_extensions},
    {Thing::buffer, "name", Type::text},
    {Thing::buffer, "uri", Type::text},
    {Thing::buffer, "byteLength", Type::whole},
    {Thing::image, "name", Type::text},
    {Thing::image, "uri", Type::text},
    {Thing::image, "mimeType", Type::text},
    {Thing::image, "bufferView", Type::whole},
    {Thing::texture, "name", Type::text},
    {Thing::texture, "sampler", Type::whole},
    {Thing::texture, "source", Type::whole},
    {Thing::texture, "extensions", Type::object, Thing::texture_extensions},
    {Thing::sampler, "name", Type::text},
    {Thing::sampler, "magFilter", Type::whole},
    {Thing::sampler, "minFilter", Type::whole},
    {Thing::sampler, "wrapS", Type::whole},
    {Thing::sampler, "wrapT", Type::whole},
    {Thing::material, "name", Type::text},
    {Thing::material, "pbrMetallicRoughness", Type::object, Thing::pbr},
    {Thing::material, "normalTexture", Type::object, Thing::texture_info},
    {Thing::material, "occlusionTexture", Type::object, Thing::texture_info},
    {Thing::material, "emissiveTexture", Type::object, Thing::texture_info},
    {Thing::material, "emissiveFactor", Type::numbers, Thing::none, 3},
    {Thing::material, "alphaMode", Type::text, Thing::none, 0, "|OPAQUE|MASK|BLEND|"},
    {Thing::material, "alphaCutoff", Type::number},
    {Thing::material, "doubleSided", Type::flag},
    {Thing::material, "extensions", Type::object, Thing::material_extensions},
    {Thing::pbr, "baseColorFactor", Type::numbers, Thing::none, 4},
    {Thing::pbr, "baseColorTexture", Type::object, Thing::texture_info},
    {Thing::pbr, "metallicFactor", Type::number},
    {Thing::pbr, "roughnessFactor", Type::number},
    {Thing::pbr, "metallicRoughnessTexture", Type::object, Thing::texture_info},
    {Thing::texture_info, "index", Type::whole},
    {Thing::texture_info, "texCoord", Type::whole},
    {Thing::texture_info, "scale", Type::number},
    {Thing::texture_info, "strength", Type::number},
    {Thing::texture_info, "extensions", Type::object, Thing::info_extensions},
    {Thing::skin, "name", Type::text},
    {Thing::skin, "inverseBindMatrices", Type::whole},
    {Thing::skin, "skeleton", Type::whole},
    {Thing::skin, "joints", Type::wholes},
    {Thing::animation, "name", Type::text},
    {Thing::animation, "channels", Type::objects, Thing::channel},
    {Thing::animation, "samplers", Type::objects, Thing::animation_sampler},
    {Thing::channel, "sampler", Type::whole},
    {Thing::channel, "target", Type::object, Thing::channel_target},
    {Thing::channel_target, "node", Type::whole},
    {Thing::channel_target, "path", Type::text},
    {Thing::animation_sampler, "input", Type::whole},
    {Thing::animation_sampler, "output", Type::whole},
    {Thing::animation_sampler, "interpolation", Type::text, Thing::none, 0, "|LINEAR|STEP|CUBICSPLINE|"},
    {Thing::camera, "name", Type::text},
    {Thing::camera, "type", Type::text, Thing::none, 0, "|perspective|orthographic|"},
    {Thing::camera, "perspective", Type::object, Thing::perspective},
    {Thing::camera, "orthographic", Type::object, Thing::orthographic},
    {Thing::perspective, "aspectRatio", Type::number},
    {Thing::perspective, "yfov", Type::number},
    {Thing::perspective, "zfar", Type::number},
    {Thing::perspective, "znear", Type::number},
    {Thing::orthographic, "xmag", Type::number},
    {Thing::orthographic, "ymag", Type::number},
    {Thing::orthographic, "zfar", Type::number},
    {Thing::orthographic, "znear", Type::number},
    // The extensions that are read, by their own specifications.
    {Thing::root_extensions, "KHR_lights_punctual", Type::object, Thing::lights},
    {Thing::lights, "lights", Type::objects, Thing::light},
    {Thing::light, "name", Type::text},
    {Thing::light, "type", Type::text, Thing::none, 0, "|directional|point|spot|"},
    {Thing::light, "color", Type::numbers, Thing::none, 3},
    {Thing::light, "intensity", Type::number},
    {Thing::light, "range", Type::number},
    {Thing::light, "spot", Type::object, Thing::spot},
    {Thing::spot, "innerConeAngle", Type::number},
    {Thing::spot, "outerConeAngle", Type::number},
    {Thing::node_extensions, "KHR_lights_punctual", Type::object, Thing::node_light},
    {Thing::node_light, "light", Type::whole},
    {Thing::primitive_extensions, "KHR_draco_mesh_compression", Type::object, Thing::draco},
    {Thing::draco, "bufferView", Type::whole},
    {Thing::draco, "attributes", Type::by_name},
    {Thing::view_extensions, "EXT_meshopt_compression", Type::object, Thing::compressed},
    {Thing::compressed, "buffer", Type::whole},
    {Thing::compressed, "byteOffset", Type::whole},
    {Thing::compressed, "byteLength", Type::whole},
    {Thing::compressed, "byteStride", Type::whole},
    {Thing::compressed, "count", Type::whole},
    {Thing::compressed, "mode", Type::text, Thing::none, 0, "|ATTRIBUTES|TRIANGLES|INDICES|"},
    {Thing::compressed, "filter", Type::text, Thing::none, 0, "|NONE|OCTAHEDRAL|QUATERNION|EXPONENTIAL|"},
    {Thing::texture_extensions, "EXT_texture_webp", Type::object, Thing::webp},
    {Thing::webp, "source", Type::whole},
    {Thing::material_extensions, "KHR_materials_unlit", Type::object},
    {Thing::material_extensions, "KHR_materials_emissive_strength", Type::object, Thing::emissive_strength},
    {Thing::emissive_strength, "emissiveStrength", Type::number},
    {Thing::info_extensions, "KHR_texture_transform", Type::object, Thing::transform},
    {Thing::transform, "offset", Type::numbers, Thing::none, 2},
    {Thing::transform, "rotation", Type::number},
    {Thing::transform, "scale", Type::numbers, Thing::none, 2},
    {Thing::transform, "texCoord", Type::whole},
};

// The table's rows stand by their owners.
std::span<const Property> propertiesOf(Thing owner) {
  static const auto kRanges = [] {
    std::array<std::span<const Property>, static_cast<size_t>(Thing::none) + 1> out;
    const std::span<const Property> all(kProperties);
    for (size_t begin = 0, end = 0; begin < all.size(); begin = end) {
      while (end < all.size() && all[end].owner == all[begin].owner) ++end;
      out[static_cast<size_t>(all[begin].owner)] = all.subspan(begin, end - begin);
    }
    return out;
  }();
  return kRanges[static_cast<size_t>(owner)];
}

std::string wordFor(Type type) {
  switch (type) {
    case Type::text:
      return base::phrase("a text");
    case Type::number:
      return base::phrase("a number");
    case Type::whole:
      return base::phrase("a whole number");
    case Type::flag:
      return base::phrase("true or false");
    case Type::numbers:
      return base::phrase("a list of numbers");
    case Type::wholes:
      return base::phrase("a list of whole numbers");
    case Type::texts:
      return base::phrase("a list of texts");
    case Type::object:
      return base::phrase("an object");
    case Type::objects:
      return base::phrase("a list of objects");
    case Type::by_name:
      return base::phrase("an object of whole numbers");
  }
  return "";
}

bool fits(const Json& value, const Property& property) {
  const auto all = [&](auto good) {
    return value.is_array() && (property.count == 0 || value.size() == property.count) &&
           std::all_of(value.begin(), value.end(), good);
  };
  switch (property.type) {
    case Type::text:
      return value.is_string() &&
             (*property.allowed == '\0' ||
              std::string_view(property.allowed).find("|" + value.get<std::string>() + "|") !=
                  std::string_view::npos);
    case Type::number:
      return value.is_number();
    case Type::whole:
      return wholeOf(value) != UINT64_MAX;
    case Type::flag:
      return value.is_boolean();
    case Type::numbers:
      return all([](const Json& v) { return v.is_number(); });
    case Type::wholes:
      return all([](const Json& v) { return wholeOf(v) != UINT64_MAX; });
    case Type::texts:
      return all([](const Json& v) { return v.is_string(); });
    case Type::object:
      return value.is_object();
    case Type::objects:
      return all([](const Json& v) { return v.is_object(); });
    case Type::by_name:
      return value.is_object() &&
             std::all_of(value.begin(), value.end(), [](const Json& v) { return wholeOf(v) != UINT64_MAX; });
  }
  return false;
}

}  // namespace

void noteWrongTypes(const File& file, std::vector<base::Note>& notes) {
  struct Open {
    Thing thing;
    const Json* json;
    std::string pointer;
  };
  std::vector<Open> open = {{Thing::root, &file.json, ""}};
  while (!open.empty() && notes.size() < 200) {
    const Open now = std::move(open.back());
    open.pop_back();
    for (const Property& p : propertiesOf(now.thing)) {
      const auto at = now.json->find(p.key);
      if (at == now.json->end()) continue;
      const std::string pointer = now.pointer + "/" + p.key;
      if (!fits(*at, p))
        notes.push_back({"gltf.type",
                         base::phrase("\"{0}\" is {1} where the standard has {2}{3}.", p.key,
                                      base::presentable(base::jsonLine(*at), 40), wordFor(p.type),
                                      (p.count > 0 ? base::phrase(" of {0}", p.count) : "")),
                         base::Place{file.name, pointer}});
      if (p.child == Thing::none) continue;
      if (p.type == Type::object && at->is_object()) open.push_back({p.child, &*at, pointer});
      if (p.type != Type::objects || !at->is_array()) continue;
      for (size_t i = at->size(); i-- > 0;)
        if ((*at)[i].is_object()) open.push_back({p.child, &(*at)[i], pointer + "/" + std::to_string(i)});
    }
  }
}

}  // namespace rakugo::formats::gltf
