// COLLADA 1.4.1 from a model.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>
#include <map>
#include <pugixml.hpp>
#include <set>
#include <sstream>

#include "base/text.h"
#include "formats/collada/collada.h"
#include "scene/keys.h"

namespace rakugo::formats {
namespace {

using pugi::xml_node;
using scene::AnimatedPath;
using scene::NodeIndex;

constexpr float kDegrees = 57.29577951308232F;
// Cubic keys have no counterpart for turns; motions with them are taken this often.
constexpr float kSpacing_s = 1.0F / 30;

std::string xmlNumber(float v) {
  return std::isfinite(v) ? fmt::format("{}", v) : std::isnan(v) ? "NaN" : v > 0 ? "INF" : "-INF";
}

std::string list(const float* values, size_t count) {
  std::string out;
  for (size_t i = 0; i < count; ++i) (out += i > 0 ? " " : "") += xmlNumber(values[i]);
  return out;
}

std::string rows(const glm::mat4& m) {
  float values[16];
  for (int i = 0; i < 16; ++i) values[i] = m[i % 4][i / 4];
  return list(values, 16);
}

// Names may hold what XML cannot (control characters); those are left out.
std::string xmlText(const std::string& text) { return base::presentable(text, 400); }

xml_node add(xml_node parent, const char* name, const std::string& text = {}) {
  xml_node out = parent.append_child(name);
  if (!text.empty()) out.text().set(text.c_str());
  return out;
}

void set(xml_node node, const char* key, const std::string& value) {
  node.append_attribute(key) = value.c_str();
}

class ColladaWriter {
 public:
  ColladaWriter(const scene::Model& model, const std::vector<std::string>& pictures,
                const base::Progress* progress)
      : model_(model),
        pictures_(pictures),
        progress_(progress),
        animated_(model.nodes.size(), false),
        joint_(model.nodes.size(), false) {
    for (const scene::Animation& a : model.animations)
      for (const scene::Channel& c : a.channels)
        if (c.path != AnimatedPath::weights && c.node.valid()) animated_[c.node.value()] = true;
    for (const scene::Skin& skin : model.skins)
      for (const NodeIndex j : skin.joints) joint_[j.value()] = true;
  }

  std::string run() {
    xml_node declaration = document_.append_child(pugi::node_declaration);
    set(declaration, "version", "1.0");
    set(declaration, "encoding", "utf-8");
    root_ = document_.append_child("COLLADA");
    set(root_, "xmlns", "http://www.collada.org/2005/11/COLLADASchema");
    set(root_, "version", "1.4.1");
    writeAsset();
    writeCameras();
    writeLights();
    writeImages();
    writeEffects();
    writeMaterials();
    writeGeometries();
    writeControllers();
    writeScene();
    writeAnimations();
    xml_node scene = root_.append_child("scene");
    set(scene.append_child("instance_visual_scene"), "url", "#scene");
    std::ostringstream out;
    document_.save(out, " ", pugi::format_default, pugi::encoding_utf8);
    return out.str();
  }

 private:
  static std::string id(const char* what, size_t i) { return std::string(what) + std::to_string(i); }

  void writeAsset() {
    xml_node asset = root_.append_child("asset");
    add(asset.append_child("contributor"), "authoring_tool", "Rakugo");
    // Equal models give equal bytes: no clock.
    add(asset, "created", "2000-01-01T00:00:00Z");
    add(asset, "modified", "2000-01-01T00:00:00Z");
    xml_node unit = asset.append_child("unit");
    set(unit, "name", "meter");
    set(unit, "meter", "1");
    using geometry::Axis;
    const Axis up = model_.frame.up;
    add(asset, "up_axis", up == Axis::plus_z ? "Z_UP" : up == Axis::plus_x ? "X_UP" : "Y_UP");
  }

  xml_node library(const char* name) { return root_.append_child(name); }

  void writeCameras() {
    if (model_.cameras.empty()) return;
    xml_node all = library("library_cameras");
    for (size_t i = 0; i < model_.cameras.size(); ++i) {
      const scene::Camera& c = model_.cameras[i];
      xml_node camera = all.append_child("camera");
      set(camera, "id", id("camera", i));
      if (!c.name.empty()) set(camera, "name", xmlText(c.name));
      xml_node common = camera.append_child("optics").append_child("technique_common");
      xml_node kind = common.append_child(c.perspective ? "perspective" : "orthographic");
      if (c.perspective)
        add(kind, "yfov", xmlNumber(c.fov_y_rad * kDegrees));
      else
        add(kind, "ymag", xmlNumber(c.size_y));
      if (c.aspect > 0) add(kind, "aspect_ratio", xmlNumber(c.aspect));
      add(kind, "znear", xmlNumber(c.near_m));
      add(kind, "zfar", xmlNumber(c.far_m));
    }
  }

  void writeLights() {
    if (model_.lights.empty()) return;
    static constexpr std::array<const char*, 3> kKinds = {"point", "spot", "directional"};
    xml_node all = library("library_lights");
    for (size_t i = 0; i < model_.lights.size(); ++i) {
      const scene::Light& l = model_.lights[i];
      xml_node light = all.append_child("light");
      set(light, "id", id("light", i));
      if (!l.name.empty()) set(light, "name", xmlText(l.name));
      xml_node kind =
          light.append_child("technique_common").append_child(kKinds[static_cast<size_t>(l.kind)]);
      add(kind, "color", list(&l.color[0], 3));
      if (l.kind == scene::Light::Kind::spot)
        add(kind, "falloff_angle", xmlNumber(l.outer_rad * 2 * kDegrees));
    }
  }

  [[nodiscard]] bool hasPicture(const scene::TextureUse& use) const {
    return use.image.valid() && use.image.value() < pictures_.size() && !pictures_[use.image.value()].empty();
  }

  void writeImages() {
    xml_node all;
    for (size_t i = 0; i < std::min(pictures_.size(), model_.images.size()); ++i) {
      if (pictures_[i].empty()) continue;
      if (!all) all = library("library_images");
      xml_node image = all.append_child("image");
      set(image, "id", id("image", i));
      if (!model_.images[i].name.empty()) set(image, "name", xmlText(model_.images[i].name));
      std::string uri;
      // The parts of a URI that would end its path.
      for (const char c : pictures_[i])
        uri += c == ' ' ? "%20" : c == '#' ? "%23" : c == '?' ? "%3F" : c == '%' ? "%25" : std::string(1, c);
      add(image, "init_from", uri);
    }
  }

  void texture(xml_node profile, xml_node holder, const std::string& name, const scene::TextureUse& use) {
    const std::string surface = name + "-surface", sampler = name + "-sampler";
    const auto wrap = [](scene::Wrap w) {
      return w == scene::Wrap::clamp ? "CLAMP" : w == scene::Wrap::mirror ? "MIRROR" : "WRAP";
    };
    xml_node before = profile.child("technique");
    xml_node first = profile.insert_child_before("newparam", before);
    set(first, "sid", surface);
    xml_node inner = first.append_child("surface");
    set(inner, "type", "2D");
    add(inner, "init_from", id("image", use.image.value()));
    xml_node second = profile.insert_child_before("newparam", before);
    set(second, "sid", sampler);
    inner = second.append_child("sampler2D");
    add(inner, "source", surface);
    add(inner, "wrap_s", wrap(use.wrap_u));
    add(inner, "wrap_t", wrap(use.wrap_v));
    const char* filter = use.filter == scene::Filter::nearest ? "NEAREST" : "LINEAR";
    add(inner, "minfilter", filter);
    add(inner, "magfilter", filter);
    xml_node out = holder.append_child("texture");
    set(out, "texture", sampler);
    set(out, "texcoord", use.uv_set == 1 ? "UVSET1" : "UVSET0");
  }

  void writeEffects() {
    if (model_.materials.empty()) return;
    xml_node all = library("library_effects");
    for (size_t i = 0; i < model_.materials.size(); ++i) {
      const scene::Material& m = model_.materials[i];
      xml_node effect = all.append_child("effect");
      set(effect, "id", id("effect", i));
      xml_node profile = effect.append_child("profile_COMMON");
      xml_node technique = profile.append_child("technique");
      set(technique, "sid", "common");
      xml_node shader = technique.append_child(m.unlit ? "constant" : "lambert");
      xml_node emission = shader.append_child("emission");
      if (hasPicture(m.emissive_texture))
        texture(profile, emission, "emission", m.emissive_texture);
      else
        add(emission, "color", list(&m.emissive[0], 3) + " 1");
      const glm::vec4 opaque(glm::vec3(m.base_color), 1);
      xml_node diffuse = m.unlit ? xml_node() : shader.append_child("diffuse");
      if (diffuse && hasPicture(m.base_color_texture))
        texture(profile, diffuse, "diffuse", m.base_color_texture);
      else if (diffuse)
        add(diffuse, "color", list(&opaque[0], 4));
      if (m.alpha == scene::AlphaMode::blend || m.base_color.w < 1) {
        xml_node transparent = shader.append_child("transparent");
        set(transparent, "opaque", "A_ONE");
        add(transparent, "color", "1 1 1 1");
        add(shader.append_child("transparency"), "float", xmlNumber(m.base_color.w));
      }
      writeOwn(profile, technique, m);
    }
  }

  // What the common profile has no place for, in a technique of our own that other programs pass over.
  void writeOwn(xml_node profile, xml_node technique, const scene::Material& m) {
    xml_node own = technique.append_child("extra").append_child("technique");
    set(own, "profile", "rakugo");
    add(own, "metallic", xmlNumber(m.metallic));
    add(own, "roughness", xmlNumber(m.roughness));
    add(own, "base_color", list(&m.base_color[0], 4));
    add(own, "emissive", list(&m.emissive[0], 3));
    add(own, "emissive_strength", xmlNumber(m.emissive_strength));
    add(own, "alpha",
        m.alpha == scene::AlphaMode::mask    ? "mask"
        : m.alpha == scene::AlphaMode::blend ? "blend"
                                             : "opaque");
    add(own, "alpha_cutoff", xmlNumber(m.alpha_cutoff));
    add(own, "double_sided", m.double_sided ? "1" : "0");
    if (m.unlit && hasPicture(m.base_color_texture))
      texture(profile, own.append_child("base_color_picture"), "base", m.base_color_texture);
    if (hasPicture(m.normal_texture)) {
      add(own, "normal_scale", xmlNumber(m.normal_scale));
      texture(profile, own.append_child("bump"), "bump", m.normal_texture);
    }
    if (hasPicture(m.metallic_roughness_texture))
      texture(profile, own.append_child("metallic_roughness_picture"), "metal", m.metallic_roughness_texture);
    if (hasPicture(m.occlusion_texture)) {
      add(own, "occlusion_strength", xmlNumber(m.occlusion_strength));
      texture(profile, own.append_child("occlusion_picture"), "occlusion", m.occlusion_texture);
    }
  }

  void writeMaterials() {
    if (model_.materials.empty()) return;
    xml_node all = library("library_materials");
    for (size_t i = 0; i < model_.materials.size(); ++i) {
      xml_node material = all.append_child("material");
      set(material, "id", id("material", i));
      set(material, "name", xmlText(model_.materials[i].name));
      set(material.append_child("instance_effect"), "url", "#" + id("effect", i));
    }
  }

  // --- geometry

  void source(xml_node mesh, const std::string& name, const std::string& values, size_t count, size_t width,
              std::initializer_list<const char*> params) {
    xml_node out = mesh.append_child("source");
    set(out, "id", name);
    xml_node array = add(out, "float_array", values);
    set(array, "id", name + "-array");
    set(array, "count", std::to_string(count * width));
    xml_node accessor = out.append_child("technique_common").append_child("accessor");
    set(accessor, "source", "#" + name + "-array");
    set(accessor, "count", std::to_string(count));
    set(accessor, "stride", std::to_string(width));
    for (const char* param : params) {
      xml_node p = accessor.append_child("param");
      set(p, "name", param);
      set(p, "type", width == 16 ? "float4x4" : "float");
    }
  }

  template <class Vector>
  static std::string values(const std::vector<Vector>& of) {
    std::string out;
    for (const Vector& v : of) (out += out.empty() ? "" : " ") += list(&v[0], sizeof(Vector) / sizeof(float));
    return out;
  }

  static void input(xml_node holder, const char* semantic, const std::string& source, int offset = -1,
                    int set_number = -1) {
    xml_node out = holder.append_child("input");
    set(out, "semantic", semantic);
    set(out, "source", "#" + source);
    if (offset >= 0) set(out, "offset", std::to_string(offset));
    if (set_number >= 0) set(out, "set", std::to_string(set_number));
  }

  void positions(xml_node mesh, const std::string& name, const scene::Mesh& from, size_t morph) {
    std::string text;
    size_t count = 0;
    for (const scene::Primitive& p : from.primitives)
      for (size_t v = 0; v < p.positions.size(); ++v, ++count) {
        glm::vec3 at = p.positions[v];
        if (morph != SIZE_MAX && v < p.morphs[morph].positions.size()) at += p.morphs[morph].positions[v];
        (text += text.empty() ? "" : " ") += list(&at[0], 3);
      }
    source(mesh, name + "-positions", text, count, 3, {"X", "Y", "Z"});
  }

  void vertices(xml_node mesh, const std::string& name) {
    xml_node out = mesh.append_child("vertices");
    set(out, "id", name + "-vertices");
    input(out, "POSITION", name + "-positions");
  }

  void writeGeometries() {
    if (model_.meshes.empty()) return;
    xml_node all = library("library_geometries");
    for (size_t m = 0; m < model_.meshes.size(); ++m) {
      if (progress_ != nullptr && progress_->cancelled()) return;
      const scene::Mesh& from = *model_.meshes[m];
      const std::string name = id("mesh", m);
      xml_node geometry = all.append_child("geometry");
      set(geometry, "id", name);
      if (!from.name.empty()) set(geometry, "name", xmlText(from.name));
      xml_node mesh = geometry.append_child("mesh");
      positions(mesh, name, from, SIZE_MAX);
      for (size_t k = 0; k < from.primitives.size(); ++k)
        attributes(mesh, name + "-" + std::to_string(k), from.primitives[k]);
      vertices(mesh, name);
      size_t base = 0;
      for (size_t k = 0; k < from.primitives.size(); ++k) {
        triangles(mesh, name, name + "-" + std::to_string(k), from.primitives[k], base);
        base += from.primitives[k].positions.size();
      }
      for (size_t t = 0; t < from.morph_names.size(); ++t) {
        xml_node target = all.append_child("geometry");
        const std::string target_name = name + "-morph" + std::to_string(t);
        set(target, "id", target_name);
        set(target, "name", xmlText(from.morph_names[t]));
        mesh = target.append_child("mesh");
        positions(mesh, target_name, from, t);
        vertices(mesh, target_name);
      }
    }
  }

  void attributes(xml_node mesh, const std::string& name, const scene::Primitive& p) {
    if (!p.normals.empty())
      source(mesh, name + "-normals", values(p.normals), p.normals.size(), 3, {"X", "Y", "Z"});
    for (size_t s = 0; s < 2; ++s) {
      std::vector<glm::vec2> uv = p.uvs[s];
      for (glm::vec2& v : uv) v.y = 1 - v.y;
      if (!uv.empty()) source(mesh, name + "-uv" + std::to_string(s), values(uv), uv.size(), 2, {"S", "T"});
    }
    if (!p.colors.empty())
      source(mesh, name + "-colors", values(p.colors), p.colors.size(), 4, {"R", "G", "B", "A"});
    if (p.tangents.empty()) return;
    std::vector<glm::vec3> along, across;
    for (size_t v = 0; v < p.tangents.size(); ++v) {
      along.emplace_back(p.tangents[v]);
      const glm::vec3 n = v < p.normals.size() ? p.normals[v] : glm::vec3(0, 0, 1);
      across.push_back(glm::cross(n, along.back()) * p.tangents[v].w);
    }
    source(mesh, name + "-tangents", values(along), along.size(), 3, {"X", "Y", "Z"});
    source(mesh, name + "-binormals", values(across), across.size(), 3, {"X", "Y", "Z"});
  }

  void triangles(xml_node mesh, const std::string& name, const std::string& piece, const scene::Primitive& p,
                 size_t base) {
    xml_node out = mesh.append_child("triangles");
    set(out, "count", std::to_string(p.indices.size() / 3));
    if (p.material.valid()) set(out, "material", id("m", p.material.value()));
    input(out, "VERTEX", name + "-vertices", 0);
    bool own = false;
    const auto give = [&](bool there, const char* semantic, const char* suffix, int set_number = -1) {
      if (there) input(out, semantic, piece + suffix, 1, set_number);
      own = own || there;
    };
    give(!p.normals.empty(), "NORMAL", "-normals");
    give(!p.uvs[0].empty(), "TEXCOORD", "-uv0", 0);
    give(!p.uvs[1].empty(), "TEXCOORD", "-uv1", 1);
    give(!p.colors.empty(), "COLOR", "-colors", 0);
    give(!p.tangents.empty(), "TEXTANGENT", "-tangents", 0);
    give(!p.tangents.empty(), "TEXBINORMAL", "-binormals", 0);
    std::string text;
    for (const uint32_t i : p.indices) {
      (text += text.empty() ? "" : " ") += std::to_string(base + i);
      if (own) text += " " + std::to_string(i);
    }
    add(out, "p", text);
  }

  // --- controllers

  void names(xml_node holder, const std::string& name, const char* kind,
             const std::vector<std::string>& words, const char* param, const char* type) {
    xml_node out = holder.append_child("source");
    set(out, "id", name);
    std::string text;
    for (const std::string& w : words) (text += text.empty() ? "" : " ") += w;
    xml_node array = add(out, kind, text);
    set(array, "id", name + "-array");
    set(array, "count", std::to_string(words.size()));
    xml_node accessor = out.append_child("technique_common").append_child("accessor");
    set(accessor, "source", "#" + name + "-array");
    set(accessor, "count", std::to_string(words.size()));
    set(accessor, "stride", "1");
    xml_node p = accessor.append_child("param");
    set(p, "name", param);
    set(p, "type", type);
  }

  void writeControllers() {
    xml_node all;
    const auto controller = [&](const std::string& name, const std::string& title) {
      if (!all) all = library("library_controllers");
      xml_node out = all.append_child("controller");
      set(out, "id", name);
      if (!title.empty()) set(out, "name", xmlText(title));
      return out;
    };
    for (size_t m = 0; m < model_.meshes.size(); ++m)
      if (const scene::Mesh& mesh = *model_.meshes[m]; !mesh.morph_names.empty())
        writeMorph(controller(id("morph", m), mesh.name), m, mesh);
    std::set<std::string> written;
    for (const scene::Node& node : model_.nodes) {
      if (!node.mesh.valid() || !node.skin.valid()) continue;
      const std::string name = skinName(node);
      if (!written.insert(name).second) continue;
      writeSkin(controller(name, model_.skins[node.skin.value()].name), name, node);
    }
  }

  static std::string skinName(const scene::Node& node) {
    return "skin" + std::to_string(node.skin.value()) + "-" + std::to_string(node.mesh.value());
  }

  void writeMorph(xml_node controller, size_t m, const scene::Mesh& mesh) {
    const std::string name = id("morph", m);
    xml_node morph = controller.append_child("morph");
    set(morph, "source", "#" + id("mesh", m));
    set(morph, "method", "NORMALIZED");
    std::vector<std::string> targets;
    for (size_t t = 0; t < mesh.morph_names.size(); ++t)
      targets.push_back(id("mesh", m) + "-morph" + std::to_string(t));
    names(morph, name + "-targets", "IDREF_array", targets, "MORPH_TARGET", "IDREF");
    source(morph, name + "-weights", list(mesh.morph_weights.data(), mesh.morph_weights.size()),
           mesh.morph_weights.size(), 1, {"MORPH_WEIGHT"});
    xml_node inputs = morph.append_child("targets");
    input(inputs, "MORPH_TARGET", name + "-targets");
    input(inputs, "MORPH_WEIGHT", name + "-weights");
  }

  void writeSkin(xml_node controller, const std::string& name, const scene::Node& node) {
    const scene::Mesh& mesh = model_.mesh(node.mesh);
    const scene::Skin& from = model_.skins[node.skin.value()];
    xml_node skin = controller.append_child("skin");
    set(skin, "source",
        "#" + (mesh.morph_names.empty() ? id("mesh", node.mesh.value()) : id("morph", node.mesh.value())));
    add(skin, "bind_shape_matrix", rows(glm::mat4(1)));
    std::vector<std::string> joints;
    for (const NodeIndex j : from.joints) joints.push_back(id("n", j.value()));
    names(skin, name + "-joints", "Name_array", joints, "JOINT", "name");
    std::string matrices;
    for (const glm::mat4& m : from.inverse_bind) (matrices += matrices.empty() ? "" : " ") += rows(m);
    source(skin, name + "-bind", matrices, from.inverse_bind.size(), 16, {"TRANSFORM"});
    std::string weights, counts, pairs;
    size_t number_of = 0;
    size_t vertices = 0;
    for (const scene::Primitive& p : mesh.primitives) {
      for (size_t v = 0; v < p.positions.size(); ++v, ++vertices) {
        int count = 0;
        const auto take = [&](const std::vector<glm::u16vec4>& bones, const std::vector<glm::vec4>& amounts) {
          if (v >= bones.size() || v >= amounts.size()) return;
          for (int k = 0; k < 4; ++k) {
            if (!(amounts[v][k] > 0)) continue;
            (weights += weights.empty() ? "" : " ") += xmlNumber(amounts[v][k]);
            (pairs += pairs.empty() ? "" : " ") +=
                std::to_string(bones[v][k]) + " " + std::to_string(number_of++);
            ++count;
          }
        };
        take(p.joints, p.weights);
        take(p.more_joints, p.more_weights);
        (counts += counts.empty() ? "" : " ") += std::to_string(count);
      }
    }
    source(skin, name + "-weights", weights, number_of, 1, {"WEIGHT"});
    xml_node inputs = skin.append_child("joints");
    input(inputs, "JOINT", name + "-joints");
    input(inputs, "INV_BIND_MATRIX", name + "-bind");
    inputs = skin.append_child("vertex_weights");
    set(inputs, "count", std::to_string(vertices));
    input(inputs, "JOINT", name + "-joints", 0);
    input(inputs, "WEIGHT", name + "-weights", 1);
    add(inputs, "vcount", counts);
    add(inputs, "v", pairs);
  }

  // --- nodes

  void writeScene() {
    xml_node visual = library("library_visual_scenes").append_child("visual_scene");
    set(visual, "id", "scene");
    struct Open {
      NodeIndex node;
      xml_node parent;
    };
    std::vector<Open> open;
    for (auto r = model_.roots.rbegin(); r != model_.roots.rend(); ++r) open.push_back({*r, visual});
    while (!open.empty()) {
      const Open now = open.back();
      open.pop_back();
      const xml_node made = writeNode(now.parent, now.node);
      const auto& children = model_.node(now.node).children;
      for (auto c = children.rbegin(); c != children.rend(); ++c) open.push_back({*c, made});
    }
  }

  xml_node writeNode(xml_node parent, NodeIndex index) {
    const scene::Node& node = model_.node(index);
    const std::string name = id("n", index.value());
    xml_node out = parent.append_child("node");
    set(out, "id", name);
    if (!node.name.empty()) set(out, "name", xmlText(node.name));
    set(out, "sid", name);
    set(out, "type", joint_[index.value()] ? "JOINT" : "NODE");
    const scene::Placement& l = node.local;
    if (animated_[index.value()]) {
      set(add(out, "matrix", rows(l.matrix())), "sid", "transform");
    } else {
      if (l.position != glm::vec3(0)) add(out, "translate", list(&l.position[0], 3));
      if (l.turn != glm::quat(1, 0, 0, 0)) {
        // In double: an angle in degrees has few bits to lose.
        const double x = l.turn.x, y = l.turn.y, z = l.turn.z, w = l.turn.w;
        const double across = std::sqrt(x * x + y * y + z * z);
        const double angle = 2 * std::atan2(across, w) * 57.29577951308232;
        const double by = across > 0 ? across : 1;
        add(out, "rotate", fmt::format("{} {} {} {}", x / by, y / by, z / by, angle));
      }
      if (l.scale != glm::vec3(1)) add(out, "scale", list(&l.scale[0], 3));
    }
    if (node.mesh.valid()) instance(out, node);
    if (node.camera.valid())
      set(out.append_child("instance_camera"), "url", "#" + id("camera", node.camera.value()));
    if (node.light.valid())
      set(out.append_child("instance_light"), "url", "#" + id("light", node.light.value()));
    return out;
  }

  void instance(xml_node out, const scene::Node& node) {
    const scene::Mesh& mesh = model_.mesh(node.mesh);
    xml_node made;
    if (node.skin.valid() || !mesh.morph_names.empty()) {
      made = out.append_child("instance_controller");
      set(made, "url", "#" + (node.skin.valid() ? skinName(node) : id("morph", node.mesh.value())));
      if (node.skin.valid()) {
        // The roots of the skeleton: joints whose parents are none of it.
        const scene::Skin& skin = model_.skins[node.skin.value()];
        const std::set<NodeIndex> joints(skin.joints.begin(), skin.joints.end());
        for (const NodeIndex j : skin.joints)
          if (joints.count(model_.node(j).parent) == 0) add(made, "skeleton", "#" + id("n", j.value()));
      }
    } else {
      made = out.append_child("instance_geometry");
      set(made, "url", "#" + id("mesh", node.mesh.value()));
    }
    std::set<uint32_t> worn;
    for (const scene::Primitive& p : mesh.primitives)
      if (p.material.valid()) worn.insert(p.material.value());
    if (worn.empty()) return;
    xml_node common = made.append_child("bind_material").append_child("technique_common");
    for (const uint32_t m : worn) {
      xml_node bound = common.append_child("instance_material");
      set(bound, "symbol", id("m", m));
      set(bound, "target", "#" + id("material", m));
      for (int s = 0; s < 2; ++s) {
        xml_node uv = bound.append_child("bind_vertex_input");
        set(uv, "semantic", s == 0 ? "UVSET0" : "UVSET1");
        set(uv, "input_semantic", "TEXCOORD");
        set(uv, "input_set", std::to_string(s));
      }
    }
  }

  // --- animations

  void writeAnimations() {
    if (model_.animations.empty()) return;
    xml_node all = library("library_animations");
    for (size_t a = 0; a < model_.animations.size(); ++a) {
      const scene::Animation& from = model_.animations[a];
      xml_node animation = all.append_child("animation");
      set(animation, "id", id("animation", a));
      if (!from.name.empty()) set(animation, "name", xmlText(from.name));
      std::map<uint32_t, std::vector<const scene::Channel*>> moved;
      for (const scene::Channel& c : from.channels) {
        if (!c.node.valid() || c.times_s.empty()) continue;
        if (c.path == AnimatedPath::weights)
          writeWeights(animation, a, c);
        else
          moved[c.node.value()].push_back(&c);
      }
      for (const auto& [node, channels] : moved) writeMotion(animation, a, NodeIndex(node), channels);
    }
    if (model_.animations.size() < 2) return;
    // Several motions of the same nodes are told apart as clips.
    xml_node clips = library("library_animation_clips");
    for (size_t a = 0; a < model_.animations.size(); ++a) {
      float end = 0;
      for (const scene::Channel& c : model_.animations[a].channels)
        for (const float t : c.times_s) end = std::max(end, t);
      xml_node clip = clips.append_child("animation_clip");
      set(clip, "id", id("clip", a));
      set(clip, "name", xmlText(model_.animations[a].name));
      set(clip, "start", "0");
      set(clip, "end", xmlNumber(end));
      set(clip.append_child("instance_animation"), "url", "#" + id("animation", a));
    }
  }

  void sampler(xml_node animation, const std::string& name, const std::vector<float>& times,
               const std::string& output, size_t width, bool held, const std::string& target) {
    source(animation, name + "-times", list(times.data(), times.size()), times.size(), 1, {"TIME"});
    source(animation, name + "-values", output, times.size(), width, {width == 16 ? "TRANSFORM" : "WEIGHT"});
    names(animation, name + "-ways", "Name_array",
          std::vector<std::string>(times.size(), held ? "STEP" : "LINEAR"), "INTERPOLATION", "name");
    xml_node out = animation.append_child("sampler");
    set(out, "id", name);
    input(out, "INPUT", name + "-times");
    input(out, "OUTPUT", name + "-values");
    input(out, "INTERPOLATION", name + "-ways");
    xml_node channel = animation.append_child("channel");
    set(channel, "source", "#" + name);
    set(channel, "target", target);
  }

  static std::vector<float> timesOf(const std::vector<const scene::Channel*>& channels) {
    std::vector<float> out;
    for (const scene::Channel* c : channels) {
      out.insert(out.end(), c->times_s.begin(), c->times_s.end());
      if (c->interpolation != scene::Interpolation::cubic) continue;
      for (size_t k = 0; k + 1 < c->times_s.size(); ++k)
        for (float t = c->times_s[k] + kSpacing_s; t < c->times_s[k + 1]; t += kSpacing_s) out.push_back(t);
    }
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end(), [](float a, float b) { return b - a < 1e-5F; }), out.end());
    return out;
  }

  static bool heldAll(const std::vector<const scene::Channel*>& channels) {
    return std::all_of(channels.begin(), channels.end(), [](const scene::Channel* c) {
      return c->interpolation == scene::Interpolation::step;
    });
  }

  void writeMotion(xml_node animation, size_t a, NodeIndex node,
                   const std::vector<const scene::Channel*>& channels) {
    const std::vector<float> times = timesOf(channels);
    std::string output;
    for (const float t : times) {
      scene::Placement now = model_.node(node).local;
      for (const scene::Channel* c : channels) {
        float values[4] = {0, 0, 0, 1};
        scene::valueAt(*c, t, values);
        if (c->path == AnimatedPath::position) now.position = {values[0], values[1], values[2]};
        if (c->path == AnimatedPath::scale) now.scale = {values[0], values[1], values[2]};
        if (c->path == AnimatedPath::turn) now.turn = glm::quat(values[3], values[0], values[1], values[2]);
      }
      (output += output.empty() ? "" : " ") += rows(now.matrix());
    }
    const std::string name = id("a", a) + "-" + id("n", node.value());
    sampler(animation, name, times, output, 16, heldAll(channels), id("n", node.value()) + "/transform");
  }

  void writeWeights(xml_node animation, size_t a, const scene::Channel& c) {
    const scene::MeshIndex mesh = model_.node(c.node).mesh;
    const size_t count = scene::numbersOf(c);
    if (!mesh.valid() || count == 0) return;
    const std::vector<float> times = timesOf({&c});
    std::vector<std::string> outputs(count);
    std::vector<float> now(count);
    for (const float t : times) {
      scene::valueAt(c, t, now);
      for (size_t i = 0; i < count; ++i) (outputs[i] += outputs[i].empty() ? "" : " ") += xmlNumber(now[i]);
    }
    for (size_t i = 0; i < count; ++i)
      sampler(animation, id("a", a) + "-" + id("w", c.node.value()) + "-" + std::to_string(i), times,
              outputs[i], 1, heldAll({&c}),
              id("morph", mesh.value()) + "-weights(" + std::to_string(i) + ")");
  }

  const scene::Model& model_;
  const std::vector<std::string>& pictures_;
  const base::Progress* progress_;
  std::vector<bool> animated_, joint_;
  pugi::xml_document document_;
  xml_node root_;
};

}  // namespace

std::string writeCollada(const scene::Model& model, const std::vector<std::string>& pictures,
                         const base::Progress* progress) {
  return ColladaWriter(model, pictures, progress).run();
}

}  // namespace rakugo::formats
