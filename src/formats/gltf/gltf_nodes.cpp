// The tree of glTF, its skins, animations, cameras and lights.
#include "formats/gltf/gltf_scene.h"

#include <algorithm>

#include "base/phrase.h"
#include "base/text.h"

namespace rakugo::formats::gltf {

using base::Json;

base::Status ToScene::readCameras() {
  const Json& cameras = listOf(file_.json, "cameras");
  for (size_t i = 0; i < cameras.size(); ++i) {
    scene::Camera c;
    c.name = base::presentable(textOf(cameras[i], "name"));
    c.perspective = textOf(cameras[i], "type") != "orthographic";
    if (c.perspective) {
      const Json& lens = objectOf(cameras[i], "perspective");
      c.fov_y_rad = floatOf(lens, "yfov", c.fov_y_rad);
      c.aspect = floatOf(lens, "aspectRatio", 0);
      c.near_m = floatOf(lens, "znear", c.near_m);
      c.far_m = floatOf(lens, "zfar", 0);
    } else {
      const Json& lens = objectOf(cameras[i], "orthographic");
      const float x = floatOf(lens, "xmag", 1);
      c.size_y = floatOf(lens, "ymag", 1);
      c.aspect = c.size_y != 0 ? x / c.size_y : 0;
      c.near_m = floatOf(lens, "znear", 0);
      c.far_m = floatOf(lens, "zfar", 0);
    }
    out_.model.cameras.push_back(std::move(c));
  }
  return {};
}

base::Status ToScene::readLights() {
  const Json* extension = extensionOf(file_.json, "KHR_lights_punctual");
  if (extension == nullptr) return {};
  const Json& lights = listOf(*extension, "lights");
  for (size_t i = 0; i < lights.size(); ++i) {
    const std::string pointer = "/extensions/KHR_lights_punctual/lights/" + std::to_string(i);
    scene::Light l;
    l.name = base::presentable(textOf(lights[i], "name"));
    const std::string kind = textOf(lights[i], "type");
    l.kind = kind == "spot"          ? scene::Light::Kind::spot
             : kind == "directional" ? scene::Light::Kind::directional
                                     : scene::Light::Kind::point;
    if (!readVector(lights[i], "color", 3, l.color))
      return file_.error("gltf.light", base::phrase("The light's colour is not made of finite numbers."),
                         pointer + "/color");
    l.intensity = floatOf(lights[i], "intensity", 1);
    l.range_m = floatOf(lights[i], "range", 0);
    const Json& cone = objectOf(lights[i], "spot");
    l.inner_rad = floatOf(cone, "innerConeAngle", 0);
    l.outer_rad = floatOf(cone, "outerConeAngle", l.outer_rad);
    out_.model.lights.push_back(std::move(l));
  }
  return {};
}

base::Status ToScene::readNodes() {
  out_.cameras = static_cast<uint32_t>(out_.model.cameras.size());
  out_.lights = static_cast<uint32_t>(out_.model.lights.size());
  RAKUGO_ASSIGN(const std::vector<uint32_t> parents, nodeParents(file_, options_.limits));
  const Json& nodes = listOf(file_.json, "nodes");
  const size_t skins = listOf(file_.json, "skins").size();
  for (size_t i = 0; i < nodes.size(); ++i) {
    const Json& json = nodes[i];
    const std::string pointer = pointerTo("nodes", i);
    scene::Node node;
    node.name = base::presentable(textOf(json, "name"));
    if (parents[i] != UINT32_MAX) node.parent = scene::NodeIndex(parents[i]);
    for (const Json& child : listOf(json, "children"))
      node.children.push_back(scene::NodeIndex(wholeOf(child)));
    std::array<float, 16> matrix{};
    std::array<float, 4> turn{0, 0, 0, 1};
    if (!readVector(json, "matrix", 16, matrix) || !readVector(json, "translation", 3, node.local.position) ||
        !readVector(json, "rotation", 4, turn) || !readVector(json, "scale", 3, node.local.scale))
      return file_.error("gltf.node", base::phrase("The node's placement is not made of finite numbers."),
                         pointer);
    const float length =
        std::sqrt(turn[0] * turn[0] + turn[1] * turn[1] + turn[2] * turn[2] + turn[3] * turn[3]);
    if (length < 1e-6F)
      note("gltf.rotation", base::phrase("The node's rotation is no quaternion and is taken as none."),
           pointer + "/rotation");
    else
      node.local.turn = glm::quat(turn[3] / length, turn[0] / length, turn[1] / length, turn[2] / length);
    if (json.is_object() && json.contains("matrix")) {
      glm::mat4 m;
      for (int k = 0; k < 16; ++k) m[k / 4][k % 4] = matrix[static_cast<size_t>(k)];
      bool exact = true;
      node.local = scene::placementOf(m, exact);
      if (!exact)
        note("gltf.shear", base::phrase("The node's matrix shears; the nearest turn and scale are used."),
             pointer + "/matrix");
    }
    RAKUGO_ASSIGN(const uint32_t mesh, reference(json, "mesh", out_.model.meshes.size(), pointer));
    if (mesh != UINT32_MAX) node.mesh = scene::MeshIndex(mesh);
    RAKUGO_ASSIGN(const uint32_t skin, reference(json, "skin", skins, pointer));
    if (skin != UINT32_MAX) node.skin = scene::SkinIndex(skin);
    RAKUGO_ASSIGN(const uint32_t camera, reference(json, "camera", out_.model.cameras.size(), pointer));
    if (camera != UINT32_MAX) node.camera = scene::CameraIndex(camera);
    if (const Json* lamp = extensionOf(json, "KHR_lights_punctual")) {
      RAKUGO_ASSIGN(const uint32_t light, reference(*lamp, "light", out_.model.lights.size(),
                                                    pointer + "/extensions/KHR_lights_punctual"));
      if (light != UINT32_MAX) node.light = scene::LightIndex(light);
    }
    for (const Json& w : listOf(json, "weights"))
      node.morph_weights.push_back(w.is_number() ? w.get<float>() : 0);
    // A text "region" among the free values of a node names the region of a body that it covers: our own
    // custom (docs/mod-folder.md), so that a modelling program can say so too.
    node.region = base::presentable(textOf(objectOf(json, "extras"), "region"), 64);
    // Lighter versions (gltf_write.cpp) are not read: a preparation makes them, anew from what it has made.
    node.kept =
        keptOf(json, {"KHR_lights_punctual"}, {node.region.empty() ? "lighter" : "region", "lighter"});
    out_.model.nodes.push_back(std::move(node));
  }
  return readScene(parents);
}

base::Status ToScene::readScene(const std::vector<uint32_t>& parents) {
  const size_t nodes = out_.model.nodes.size();
  const Json& scenes = listOf(file_.json, "scenes");
  if (scenes.empty()) {
    if (file_.json.contains("scene"))
      return file_.error("gltf.reference", base::phrase("The default scene does not exist."), "/scene");
    for (size_t i = 0; i < nodes; ++i)
      if (parents[i] == UINT32_MAX) out_.model.roots.push_back(scene::NodeIndex(i));
    return {};
  }
  const uint64_t chosen = unsignedOf(file_.json, "scene", 0);
  if (chosen >= scenes.size())
    return file_.error("gltf.reference", base::phrase("The default scene does not exist."), "/scene");
  const Json& roots = listOf(scenes[chosen], "nodes");
  std::vector<bool> taken(nodes, false);
  for (size_t k = 0; k < roots.size(); ++k) {
    const std::string pointer = pointerTo("scenes", chosen) + "/nodes/" + std::to_string(k);
    const uint64_t root = wholeOf(roots[k]);
    if (root >= nodes)
      return file_.error("gltf.reference", base::phrase("The scene names a node that does not exist."),
                         pointer);
    if (parents[root] != UINT32_MAX || taken[root])
      return file_.error("gltf.tree",
                         base::phrase("The scene names a node that is not a root, or names it twice."),
                         pointer);
    taken[root] = true;
    out_.model.roots.push_back(scene::NodeIndex(root));
  }
  if (scenes.size() > 1)
    note("gltf.scenes", base::phrase("The file has {0} scenes; the default one is read.", scenes.size()),
         "/scenes");
  return {};
}

base::Status ToScene::readSkins() {
  const Json& skins = listOf(file_.json, "skins");
  for (size_t i = 0; i < skins.size(); ++i) {
    scene::Skin skin;
    skin.name = base::presentable(textOf(skins[i], "name"));
    const Json& joints = listOf(skins[i], "joints");
    if (joints.empty()) note("gltf.skin", base::phrase("The skin names no joints."), pointerTo("skins", i));
    for (size_t k = 0; k < joints.size(); ++k) {
      const uint64_t joint = wholeOf(joints[k]);
      if (joint >= out_.model.nodes.size())
        return file_.error("gltf.reference", base::phrase("The skin names a joint that does not exist."),
                           pointerTo("skins", i) + "/joints/" + std::to_string(k));
      skin.joints.push_back(scene::NodeIndex(joint));
    }
    skin.inverse_bind.assign(skin.joints.size(), glm::mat4(1));
    if (skins[i].contains("inverseBindMatrices")) {
      RAKUGO_ASSIGN(skin.inverse_bind,
                    accessors_.vectors<glm::mat4>(unsignedOf(skins[i], "inverseBindMatrices", UINT64_MAX),
                                                  pointerTo("skins", i) + "/inverseBindMatrices"));
      if (skin.inverse_bind.size() < skin.joints.size())
        return file_.error("gltf.skin", base::phrase("There are fewer inverse bind matrices than joints."),
                           pointerTo("skins", i));
      skin.inverse_bind.resize(skin.joints.size());
    }
    skin.kept = keptOf(skins[i]);
    out_.model.skins.push_back(std::move(skin));
  }
  return {};
}

base::Status ToScene::readChannel(const Json& json, const Json& samplers, const std::string& pointer,
                                  scene::Animation& animation) {
  const Json& target = objectOf(json, "target");
  RAKUGO_ASSIGN(const uint32_t node, reference(target, "node", out_.model.nodes.size(), pointer + "/target"));
  RAKUGO_ASSIGN(const uint32_t index, reference(json, "sampler", samplers.size(), pointer));
  // Without a node an extension says what moves.
  if (node == UINT32_MAX || index == UINT32_MAX) {
    note("gltf.animation_path", base::phrase("A channel moves something that is no node and is left out."),
         pointer);
    return {};
  }
  const Json& sampler = samplers[index];
  const std::string path = textOf(target, "path");
  scene::Channel channel;
  channel.node = scene::NodeIndex(node);
  size_t components = 0;
  if (path == "translation") channel.path = scene::AnimatedPath::position, components = 3;
  if (path == "rotation") channel.path = scene::AnimatedPath::turn, components = 4;
  if (path == "scale") channel.path = scene::AnimatedPath::scale, components = 3;
  if (path == "weights") channel.path = scene::AnimatedPath::weights, components = 1;
  if (components == 0) {
    note("gltf.animation_path", base::phrase("A channel moves something unknown and is left out."), pointer);
    return {};
  }
  const std::string interpolation = textOf(sampler, "interpolation");
  channel.interpolation = interpolation == "STEP"          ? scene::Interpolation::step
                          : interpolation == "CUBICSPLINE" ? scene::Interpolation::cubic
                                                           : scene::Interpolation::linear;
  RAKUGO_ASSIGN(channel.times_s, accessors_.floats(unsignedOf(sampler, "input", UINT64_MAX), 1, pointer));
  RAKUGO_ASSIGN(channel.values, accessors_.floats(unsignedOf(sampler, "output", UINT64_MAX),
                                                  static_cast<int>(components), pointer));
  if (channel.path == scene::AnimatedPath::weights) {
    const scene::MeshIndex mesh = out_.model.node(channel.node).mesh;
    components = mesh.valid() ? out_.model.mesh(mesh).morph_names.size() : 0;
    if (components == 0) {
      note("gltf.animation_path",
           base::phrase("A channel moves morph targets that its node does not have and is left out."),
           pointer);
      return {};
    }
  }
  const size_t per_key = components * (channel.interpolation == scene::Interpolation::cubic ? 3 : 1);
  if (channel.values.size() != channel.times_s.size() * per_key)
    return file_.error("gltf.animation", base::phrase("A channel has another number of values than of keys."),
                       pointer);
  animation.channels.push_back(std::move(channel));
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
    for (size_t k = 0; k < channels.size(); ++k)
      RAKUGO_TRY(readChannel(channels[k], samplers,
                             pointerTo("animations", i) + "/channels/" + std::to_string(k), animation));
    animation.kept = keptOf(animations[i]);
    out_.model.animations.push_back(std::move(animation));
  }
  return {};
}

}  // namespace rakugo::formats::gltf
