#include <algorithm>
#include <set>

#include "base/json.h"
#include "formats/gltf/gltf.h"
#include "formats/pictures/pictures.h"

namespace rakugo::formats {
namespace {

using base::Json;
using scene::Model;

// RFC 3986: what is not unreserved or a path's slash is written by its bytes.
std::string percentEncoded(const std::string& path) {
  static constexpr char kDigits[] = "0123456789ABCDEF";
  std::string out;
  for (const char c : path) {
    const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                       c == '-' || c == '.' || c == '_' || c == '~' || c == '/';
    if (plain) {
      out += c;
      continue;
    }
    const auto byte = static_cast<unsigned char>(c);
    out += '%';
    out += kDigits[byte >> 4];
    out += kDigits[byte & 15];
  }
  return out;
}

// What its bytes are; a name or a source may say otherwise.
std::string mediaType(const scene::Image& image) {
  std::string known = image.bytes ? mediaTypeOf(*image.bytes) : std::string();
  if (known.empty()) known = image.mime.empty() ? "image/png" : image.mime;
  return known;
}

class GltfWriter {
 public:
  // `pictures`: file names by image; those with one are named instead of embedded. `binary`: the name of a
  // file of its own for the buffer; empty for one that goes into the container.
  GltfWriter(const Model& model, std::vector<std::string> pictures, std::string binary,
             const base::Progress* progress)
      : model_(model), pictures_(std::move(pictures)), binary_name_(std::move(binary)), progress_(progress) {}

  void run() {
    json_["asset"] = Json{{"version", "2.0"}, {"generator", "Rakugo"}};
    json_["scene"] = 0;
    Json roots = Json::array();
    for (const auto root : model_.roots) roots.push_back(root.value());
    json_["scenes"] = Json::array({Json{{"nodes", roots}}});
    writeNodes();
    writeMeshes();
    writeMaterials();
    writeSkins();
    writeAnimations();
    writeCameras();
    writeLights();
    put("accessors", std::move(accessors_));
    put("bufferViews", std::move(views_));
    if (binary_.size() > 0) {
      json_["buffers"] = Json::array({Json{{"byteLength", binary_.size()}}});
      if (!binary_name_.empty()) json_["buffers"][0]["uri"] = percentEncoded(binary_name_);
    }
    giveBack(json_, model_.kept);
    Json used = Json::array();
    for (const std::string& name : extensions_) used.push_back(name);
    put("extensionsUsed", std::move(used));
  }
  [[nodiscard]] const Json& json() const { return json_; }
  [[nodiscard]] base::ByteSpan binary() const { return binary_.view(); }

 private:
  [[nodiscard]] bool cancelled() const { return progress_ != nullptr && progress_->cancelled(); }
  void put(const char* key, Json&& list) {
    if (!list.empty()) json_[key] = std::move(list);
  }

  // What an extension says of an element.
  void extend(Json& element, const std::string& extension, Json value) {
    element["extensions"][extension] = std::move(value);
    extensions_.insert(extension);
  }

  // What the source said beyond the standard, unless it is there by now.
  void giveBack(Json& element, const std::string& kept) {
    if (kept.empty()) return;
    const auto parsed = base::parseJson(kept, "");
    if (!parsed || !parsed->is_object()) return;
    for (const char* part : {"extensions", "extras"}) {
      if (!parsed->contains(part)) continue;
      const Json& from = (*parsed)[part];
      if (!from.is_object()) {
        if (!element.contains(part)) element[part] = from;
        continue;
      }
      for (const auto& [name, value] : from.items()) {
        if (!element[part].contains(name)) element[part][name] = value;
        if (std::string_view(part) == "extensions") extensions_.insert(name);
      }
    }
  }

  size_t view(base::ByteSpan bytes, int target) {
    binary_.align(4);
    Json v{{"buffer", 0}, {"byteOffset", binary_.size()}, {"byteLength", bytes.size()}};
    if (target != 0) v["target"] = target;
    binary_.bytes(bytes);
    views_.push_back(std::move(v));
    return views_.size() - 1;
  }

  template <class T>
  size_t accessor(const std::vector<T>& values, size_t count, int component, const char* type, int target) {
    Json a{{"componentType", component}, {"count", count}, {"type", type}};
    // Of no values there is no view: a file of nothing else has no buffer that it could lie in.
    if (!values.empty()) a["bufferView"] = view(std::as_bytes(std::span(values)), target);
    accessors_.push_back(std::move(a));
    return accessors_.size() - 1;
  }

  void writeNodes() {
    Json nodes = Json::array();
    for (const scene::Node& n : model_.nodes) {
      Json out = Json::object();
      if (!n.name.empty()) out["name"] = n.name;
      if (!n.children.empty()) {
        out["children"] = Json::array();
        for (const auto c : n.children) out["children"].push_back(c.value());
      }
      const auto& l = n.local;
      if (l.position != glm::vec3(0)) out["translation"] = {l.position.x, l.position.y, l.position.z};
      if (l.turn != glm::quat(1, 0, 0, 0)) out["rotation"] = {l.turn.x, l.turn.y, l.turn.z, l.turn.w};
      if (l.scale != glm::vec3(1)) out["scale"] = {l.scale.x, l.scale.y, l.scale.z};
      if (n.mesh.valid()) out["mesh"] = n.mesh.value();
      if (n.skin.valid()) out["skin"] = n.skin.value();
      if (n.camera.valid()) out["camera"] = n.camera.value();
      if (n.light.valid()) extend(out, "KHR_lights_punctual", Json{{"light", n.light.value()}});
      if (!n.morph_weights.empty()) out["weights"] = n.morph_weights;
      if (!n.region.empty()) out["extras"]["region"] = n.region;
      // Drawn in place of the mesh from so many metres on: our own custom (docs/mod-folder.md), for there is
      // no word for it in the standard.
      for (const scene::LighterMesh& far : n.lighter)
        out["extras"]["lighter"].push_back(Json{{"mesh", far.mesh.value()}, {"from_m", far.from_m}});
      giveBack(out, n.kept);
      nodes.push_back(std::move(out));
    }
    put("nodes", std::move(nodes));
  }

  void writeMeshes() {
    Json meshes = Json::array();
    for (const auto& mesh : model_.meshes) {
      Json primitives = Json::array();
      for (const scene::Primitive& p : mesh->primitives) {
        if (cancelled()) return;
        primitives.push_back(primitive(p));
      }
      Json out{{"primitives", primitives}};
      if (!mesh->name.empty()) out["name"] = mesh->name;
      if (!mesh->morph_names.empty()) {
        out["weights"] = mesh->morph_weights;
        out["extras"]["targetNames"] = mesh->morph_names;
      }
      giveBack(out, mesh->kept);
      meshes.push_back(std::move(out));
    }
    put("meshes", std::move(meshes));
  }

  Json primitive(const scene::Primitive& p) {
    constexpr int kVertices = 34962, kIndices = 34963, kFloat = 5126;
    const size_t n = p.positions.size();
    Json attributes = Json::object();
    attributes["POSITION"] = accessor(p.positions, n, kFloat, "VEC3", kVertices);
    boundLast(p.positions);
    if (!p.normals.empty()) attributes["NORMAL"] = accessor(p.normals, n, kFloat, "VEC3", kVertices);
    if (!p.tangents.empty()) attributes["TANGENT"] = accessor(p.tangents, n, kFloat, "VEC4", kVertices);
    for (size_t set = 0; set < 2; ++set)
      if (!p.uvs[set].empty())
        attributes[set == 0 ? "TEXCOORD_0" : "TEXCOORD_1"] =
            accessor(p.uvs[set], n, kFloat, "VEC2", kVertices);
    if (!p.colors.empty()) attributes["COLOR_0"] = accessor(p.colors, n, kFloat, "VEC4", kVertices);
    if (!p.joints.empty()) {
      attributes["JOINTS_0"] = accessor(p.joints, n, 5123, "VEC4", kVertices);
      attributes["WEIGHTS_0"] = accessor(p.weights, n, kFloat, "VEC4", kVertices);
    }
    if (!p.more_joints.empty()) {
      attributes["JOINTS_1"] = accessor(p.more_joints, n, 5123, "VEC4", kVertices);
      attributes["WEIGHTS_1"] = accessor(p.more_weights, n, kFloat, "VEC4", kVertices);
    }
    Json targets = Json::array();
    for (const scene::MorphTarget& morph : p.morphs) {
      Json target = Json::object();
      if (!morph.positions.empty()) {
        target["POSITION"] = accessor(morph.positions, n, kFloat, "VEC3", kVertices);
        boundLast(morph.positions);
      }
      if (!morph.normals.empty()) target["NORMAL"] = accessor(morph.normals, n, kFloat, "VEC3", kVertices);
      if (!morph.tangents.empty()) target["TANGENT"] = accessor(morph.tangents, n, kFloat, "VEC3", kVertices);
      targets.push_back(std::move(target));
    }
    Json out{{"attributes", attributes}};
    if (n <= 65535) {
      const std::vector<uint16_t> narrow(p.indices.begin(), p.indices.end());
      out["indices"] = accessor(narrow, narrow.size(), 5123, "SCALAR", kIndices);
    } else {
      out["indices"] = accessor(p.indices, p.indices.size(), 5125, "SCALAR", kIndices);
    }
    if (p.material.valid()) out["material"] = p.material.value();
    if (!targets.empty()) out["targets"] = std::move(targets);
    giveBack(out, p.kept);
    return out;
  }

  // Positions must say how far they reach (section 3.6.2.5).
  void boundLast(const std::vector<glm::vec3>& positions) {
    const geometry::Bounds box = geometry::boundsOf(positions);
    if (box.empty()) return;
    accessors_.back()["min"] = {box.min.x, box.min.y, box.min.z};
    accessors_.back()["max"] = {box.max.x, box.max.y, box.max.z};
  }

  // The texture for one use; equal uses share one.
  Json texture(const scene::TextureUse& use) {
    const auto wrap = [](scene::Wrap w) {
      return w == scene::Wrap::clamp ? 33071 : w == scene::Wrap::mirror ? 33648 : 10497;
    };
    const bool nearest = use.filter == scene::Filter::nearest;
    const Json sampler{{"magFilter", nearest ? 9728 : 9729},
                       {"minFilter", nearest ? 9728 : 9987},
                       {"wrapS", wrap(use.wrap_u)},
                       {"wrapT", wrap(use.wrap_v)}};
    const auto place = [](Json& list, const Json& value) {
      const auto at = std::find(list.begin(), list.end(), value);
      if (at != list.end()) return static_cast<size_t>(at - list.begin());
      list.push_back(value);
      return list.size() - 1;
    };
    const size_t s = place(samplers_, sampler);
    Json picture{{"sampler", s}};
    if (mediaType(model_.images[use.image.value()]) == "image/webp")
      extend(picture, "EXT_texture_webp", Json{{"source", use.image.value()}});
    else
      picture["source"] = use.image.value();
    const size_t t = place(textures_, picture);
    Json out{{"index", t}};
    if (use.uv_set != 0) out["texCoord"] = use.uv_set;
    if (!use.plain())
      extend(out, "KHR_texture_transform",
             Json{{"offset", {use.offset.x, use.offset.y}},
                  {"rotation", use.turn_rad},
                  {"scale", {use.scale.x, use.scale.y}}});
    return out;
  }

  void writeMaterials() {
    Json materials = Json::array();
    for (const scene::Material& m : model_.materials) {
      Json pbr{{"baseColorFactor", {m.base_color.x, m.base_color.y, m.base_color.z, m.base_color.w}},
               {"metallicFactor", m.metallic},
               {"roughnessFactor", m.roughness}};
      Json out = Json::object();
      if (!m.name.empty()) out["name"] = m.name;
      if (m.base_color_texture.image.valid()) pbr["baseColorTexture"] = texture(m.base_color_texture);
      if (m.metallic_roughness_texture.image.valid())
        pbr["metallicRoughnessTexture"] = texture(m.metallic_roughness_texture);
      out["pbrMetallicRoughness"] = std::move(pbr);
      if (m.normal_texture.image.valid()) {
        out["normalTexture"] = texture(m.normal_texture);
        out["normalTexture"]["scale"] = m.normal_scale;
      }
      if (m.occlusion_texture.image.valid()) {
        out["occlusionTexture"] = texture(m.occlusion_texture);
        out["occlusionTexture"]["strength"] = m.occlusion_strength;
      }
      if (m.emissive_texture.image.valid()) out["emissiveTexture"] = texture(m.emissive_texture);
      if (m.emissive != glm::vec3(0)) out["emissiveFactor"] = {m.emissive.x, m.emissive.y, m.emissive.z};
      if (m.alpha == scene::AlphaMode::mask) {
        out["alphaMode"] = "MASK";
        out["alphaCutoff"] = m.alpha_cutoff;
      }
      if (m.alpha == scene::AlphaMode::blend) out["alphaMode"] = "BLEND";
      if (m.double_sided) out["doubleSided"] = true;
      if (m.unlit) extend(out, "KHR_materials_unlit", Json::object());
      if (m.emissive_strength != 1)
        extend(out, "KHR_materials_emissive_strength", Json{{"emissiveStrength", m.emissive_strength}});
      giveBack(out, m.kept);
      materials.push_back(std::move(out));
    }
    put("materials", std::move(materials));
    put("textures", std::move(textures_));
    put("samplers", std::move(samplers_));
    Json images = Json::array();
    for (size_t i = 0; i < model_.images.size(); ++i) {
      const scene::Image& image = model_.images[i];
      Json out = Json::object();
      if (!image.name.empty()) out["name"] = image.name;
      if (i < pictures_.size() && !pictures_[i].empty()) {
        out["uri"] = percentEncoded(pictures_[i]);
      } else if (image.bytes && image.bytes->empty()) {
        // A picture of no bytes: a buffer view must have some, and a file may have no buffer at all.
        out["uri"] = "data:" + mediaType(image) + ";base64,";
      } else if (image.bytes) {
        out["bufferView"] = view(*image.bytes, 0);
        out["mimeType"] = mediaType(image);
      } else {
        out["uri"] = percentEncoded(image.uri);
      }
      images.push_back(std::move(out));
    }
    put("images", std::move(images));
  }

  void writeSkins() {
    Json skins = Json::array();
    for (const scene::Skin& skin : model_.skins) {
      Json joints = Json::array();
      for (const auto j : skin.joints) joints.push_back(j.value());
      Json out{{"joints", joints}};
      if (!skin.inverse_bind.empty())
        out["inverseBindMatrices"] = accessor(skin.inverse_bind, skin.inverse_bind.size(), 5126, "MAT4", 0);
      if (!skin.name.empty()) out["name"] = skin.name;
      giveBack(out, skin.kept);
      skins.push_back(std::move(out));
    }
    put("skins", std::move(skins));
  }

  void writeAnimations() {
    Json animations = Json::array();
    for (const scene::Animation& a : model_.animations) {
      Json samplers = Json::array(), channels = Json::array();
      for (const scene::Channel& c : a.channels) {
        const int components = c.path == scene::AnimatedPath::turn      ? 4
                               : c.path == scene::AnimatedPath::weights ? 1
                                                                        : 3;
        static constexpr std::array<const char*, 4> kPaths = {"translation", "rotation", "scale", "weights"};
        static constexpr std::array<const char*, 3> kInterpolations = {"STEP", "LINEAR", "CUBICSPLINE"};
        const size_t input = accessor(c.times_s, c.times_s.size(), 5126, "SCALAR", 0);
        if (!c.times_s.empty()) {
          accessors_.back()["min"] = {*std::min_element(c.times_s.begin(), c.times_s.end())};
          accessors_.back()["max"] = {*std::max_element(c.times_s.begin(), c.times_s.end())};
        }
        const size_t output = accessor(c.values, c.values.size() / static_cast<size_t>(components), 5126,
                                       components == 4   ? "VEC4"
                                       : components == 3 ? "VEC3"
                                                         : "SCALAR",
                                       0);
        channels.push_back(
            Json{{"sampler", samplers.size()},
                 {"target", Json{{"node", c.node.value()}, {"path", kPaths[static_cast<size_t>(c.path)]}}}});
        samplers.push_back(Json{{"input", input},
                                {"output", output},
                                {"interpolation", kInterpolations[static_cast<size_t>(c.interpolation)]}});
      }
      Json out{{"channels", channels}, {"samplers", samplers}};
      if (!a.name.empty()) out["name"] = a.name;
      giveBack(out, a.kept);
      animations.push_back(std::move(out));
    }
    put("animations", std::move(animations));
  }

  void writeCameras() {
    Json cameras = Json::array();
    for (const scene::Camera& c : model_.cameras) {
      Json lens = Json::object();
      const float aspect = c.aspect > 0 ? c.aspect : 1;
      if (c.perspective)
        lens["yfov"] = c.fov_y_rad;
      else
        lens = Json{{"xmag", c.size_y * aspect}, {"ymag", c.size_y}};
      lens["znear"] = c.near_m;
      if (c.perspective && c.aspect > 0) lens["aspectRatio"] = c.aspect;
      // Only a point of view without perspective must have an end.
      if (c.far_m > 0 || !c.perspective) lens["zfar"] = c.far_m > 0 ? c.far_m : c.near_m + 1000;
      const char* kind = c.perspective ? "perspective" : "orthographic";
      Json out{{"type", kind}, {kind, lens}};
      if (!c.name.empty()) out["name"] = c.name;
      cameras.push_back(std::move(out));
    }
    put("cameras", std::move(cameras));
  }

  void writeLights() {
    if (model_.lights.empty()) return;
    static constexpr std::array<const char*, 3> kKinds = {"point", "spot", "directional"};
    Json lights = Json::array();
    for (const scene::Light& l : model_.lights) {
      Json out{{"type", kKinds[static_cast<size_t>(l.kind)]},
               {"color", {l.color.x, l.color.y, l.color.z}},
               {"intensity", l.intensity}};
      if (!l.name.empty()) out["name"] = l.name;
      if (l.range_m > 0) out["range"] = l.range_m;
      if (l.kind == scene::Light::Kind::spot)
        out["spot"] = Json{{"innerConeAngle", l.inner_rad}, {"outerConeAngle", l.outer_rad}};
      lights.push_back(std::move(out));
    }
    extend(json_, "KHR_lights_punctual", Json{{"lights", std::move(lights)}});
  }

  const Model& model_;
  const std::vector<std::string> pictures_;
  const std::string binary_name_;
  const base::Progress* progress_;
  std::set<std::string> extensions_;
  Json json_ = Json::object();
  Json accessors_ = Json::array(), views_ = Json::array(), textures_ = Json::array(),
       samplers_ = Json::array();
  base::ByteWriter binary_;
};

}  // namespace

base::Bytes writeGlb(const Model& model, const base::Progress* progress) {
  GltfWriter writer(model, {}, "", progress);
  writer.run();
  std::string text = base::jsonLine(writer.json());
  while (text.size() % 4 != 0) text += ' ';
  const base::ByteSpan binary = writer.binary();
  const size_t padding = (4 - binary.size() % 4) % 4;
  base::ByteWriter out;
  out.reserve(12 + 8 + text.size() + 8 + binary.size() + padding);
  const size_t whole = 12 + 8 + text.size() + (binary.empty() ? 0 : 8 + binary.size() + padding);
  out.write<uint32_t>(0x46546C67);
  out.write<uint32_t>(2);
  out.write<uint32_t>(static_cast<uint32_t>(whole));
  out.write<uint32_t>(static_cast<uint32_t>(text.size()));
  out.write<uint32_t>(0x4E4F534A);
  out.bytes(base::asBytes(text));
  if (!binary.empty()) {
    out.write<uint32_t>(static_cast<uint32_t>(binary.size() + padding));
    out.write<uint32_t>(0x004E4942);
    out.bytes(binary);
    out.zeros(padding);
  }
  return out.take();
}

std::string writeGltf(const Model& model, const std::vector<std::string>& pictures,
                      const std::string& binary_name, base::Bytes& binary, const base::Progress* progress) {
  GltfWriter writer(model, pictures, binary_name, progress);
  writer.run();
  binary.assign(writer.binary().begin(), writer.binary().end());
  return base::jsonText(writer.json());
}

}  // namespace rakugo::formats
