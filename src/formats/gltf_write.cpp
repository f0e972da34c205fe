#include <algorithm>

#include "base/json.h"
#include "formats/gltf.h"

namespace rakugo::formats {
namespace {

using base::Json;
using scene::Model;

class Writer {
 public:
  explicit Writer(const Model& model) : model_(model) {}

  base::Bytes run() {
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
    put("accessors", std::move(accessors_));
    put("bufferViews", std::move(views_));
    if (binary_.size() > 0) json_["buffers"] = Json::array({Json{{"byteLength", binary_.size()}}});
    return container();
  }

 private:
  void put(const char* key, Json&& list) {
    if (!list.empty()) json_[key] = std::move(list);
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
    Json a{{"bufferView", view(std::as_bytes(std::span(values)), target)},
           {"componentType", component},
           {"count", count},
           {"type", type}};
    accessors_.push_back(std::move(a));
    return accessors_.size() - 1;
  }

  void writeNodes() {
    Json nodes = Json::array();
    bool lights = false;
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
      if (n.camera) {
        out["camera"] = 0;
        json_["cameras"] = Json::array(
            {Json{{"type", "perspective"}, {"perspective", Json{{"yfov", 0.7}, {"znear", 0.1}}}}});
      }
      if (n.light) {
        out["extensions"] = Json{{"KHR_lights_punctual", Json{{"light", 0}}}};
        lights = true;
      }
      nodes.push_back(std::move(out));
    }
    if (lights) {
      json_["extensionsUsed"] = Json::array({"KHR_lights_punctual"});
      json_["extensions"] =
          Json{{"KHR_lights_punctual", Json{{"lights", Json::array({Json{{"type", "point"}}})}}}};
    }
    put("nodes", std::move(nodes));
  }

  void writeMeshes() {
    Json meshes = Json::array();
    for (const auto& mesh : model_.meshes) {
      Json primitives = Json::array();
      for (const scene::Primitive& p : mesh->primitives) primitives.push_back(primitive(p));
      Json out{{"primitives", primitives}};
      if (!mesh->name.empty()) out["name"] = mesh->name;
      meshes.push_back(std::move(out));
    }
    put("meshes", std::move(meshes));
  }

  Json primitive(const scene::Primitive& p) {
    constexpr int kVertices = 34962, kIndices = 34963, kFloat = 5126;
    const size_t n = p.positions.size();
    Json attributes = Json::object();
    attributes["POSITION"] = accessor(p.positions, n, kFloat, "VEC3", kVertices);
    const geometry::Bounds box = geometry::boundsOf(p.positions);
    if (!box.empty()) {
      accessors_.back()["min"] = {box.min.x, box.min.y, box.min.z};
      accessors_.back()["max"] = {box.max.x, box.max.y, box.max.z};
    }
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
    Json out{{"attributes", attributes}};
    if (n <= 65535) {
      const std::vector<uint16_t> narrow(p.indices.begin(), p.indices.end());
      out["indices"] = accessor(narrow, narrow.size(), 5123, "SCALAR", kIndices);
    } else {
      out["indices"] = accessor(p.indices, p.indices.size(), 5125, "SCALAR", kIndices);
    }
    if (p.material.valid()) out["material"] = p.material.value();
    return out;
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
    const size_t t = place(textures_, Json{{"sampler", s}, {"source", use.image.value()}});
    Json out{{"index", t}};
    if (use.uv_set != 0) out["texCoord"] = use.uv_set;
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
      materials.push_back(std::move(out));
    }
    put("materials", std::move(materials));
    put("textures", std::move(textures_));
    put("samplers", std::move(samplers_));
    Json images = Json::array();
    for (const scene::Image& image : model_.images) {
      Json out = Json::object();
      if (!image.name.empty()) out["name"] = image.name;
      if (image.bytes) {
        out["bufferView"] = view(*image.bytes, 0);
        out["mimeType"] = image.mime.empty() ? "image/png" : image.mime;
      } else {
        out["uri"] = image.uri;
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
      Json out{
          {"joints", joints},
          {"inverseBindMatrices", accessor(skin.inverse_bind, skin.inverse_bind.size(), 5126, "MAT4", 0)}};
      if (!skin.name.empty()) out["name"] = skin.name;
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
      animations.push_back(std::move(out));
    }
    put("animations", std::move(animations));
  }

  base::Bytes container() {
    std::string text = base::jsonLine(json_);
    while (text.size() % 4 != 0) text += ' ';
    binary_.align(4);
    base::ByteWriter out;
    const bool has_binary = binary_.size() > 0;
    out.write<uint32_t>(0x46546C67);
    out.write<uint32_t>(2);
    out.write<uint32_t>(static_cast<uint32_t>(12 + 8 + text.size() + (has_binary ? 8 + binary_.size() : 0)));
    out.write<uint32_t>(static_cast<uint32_t>(text.size()));
    out.write<uint32_t>(0x4E4F534A);
    out.bytes(base::asBytes(text));
    if (has_binary) {
      out.write<uint32_t>(static_cast<uint32_t>(binary_.size()));
      out.write<uint32_t>(0x004E4942);
      out.bytes(binary_.view());
    }
    return out.take();
  }

  const Model& model_;
  Json json_ = Json::object();
  Json accessors_ = Json::array(), views_ = Json::array(), textures_ = Json::array(),
       samplers_ = Json::array();
  base::ByteWriter binary_;
};

}  // namespace

base::Bytes writeGlb(const Model& model) { return Writer(model).run(); }

}  // namespace rakugo::formats
