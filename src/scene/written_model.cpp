#include "scene/written_model.h"

#include <algorithm>
#include <cmath>

#include "geometry/finite.h"

namespace rakugo::scene {
namespace {

bool saysExtensions(const std::string& kept) { return kept.find("\"extensions\"") != std::string::npos; }

bool keepsExtensions(const Model& model) {
  const auto in = [](const auto& list) {
    return std::any_of(list.begin(), list.end(), [](const auto& one) { return saysExtensions(one.kept); });
  };
  if (saysExtensions(model.kept) || in(model.nodes) || in(model.materials) || in(model.skins) ||
      in(model.animations))
    return true;
  return std::any_of(model.meshes.begin(), model.meshes.end(),
                     [&](const auto& mesh) { return saysExtensions(mesh->kept) || in(mesh->primitives); });
}

// Which of a list are kept, and the new number of each; all are kept before the first number is asked for.
class Places {
 public:
  Places(size_t count, bool all) : kept_(count, all) {}
  void keep(size_t i) { kept_[i] = true; }
  [[nodiscard]] bool holds(size_t i) const { return kept_[i]; }
  template <class Index>
  [[nodiscard]] Index moved(Index i) const {
    if (!i.valid() || !kept_[i.value()]) return {};
    if (numbers_.empty()) {
      numbers_.reserve(kept_.size());
      uint32_t next = 0;
      for (const bool kept : kept_) numbers_.push_back(kept ? next++ : next);
    }
    return Index(numbers_[i.value()]);
  }
  template <class T>
  void apply(std::vector<T>& list) const {
    size_t to = 0;
    for (size_t i = 0; i < list.size(); ++i)
      if (kept_[i]) {
        if (to != i) list[to] = std::move(list[i]);
        ++to;
      }
    list.resize(to);
  }

 private:
  std::vector<bool> kept_;
  mutable std::vector<uint32_t> numbers_;
};

bool unit(glm::vec3 v) { return geometry::finite(v) && std::abs(glm::dot(v, v) - 1) < 1e-4F; }

// All unit, where that can be done; emptied where it cannot.
template <class V>
void makeUnit(std::vector<V>& list) {
  for (V& v : list) {
    const glm::vec3 way(v);
    if (unit(way)) continue;
    const float length = glm::length(way);
    if (!std::isfinite(length) || !(length > 1e-20F)) return list.clear();
    for (int c = 0; c < 3; ++c) v[c] = way[c] / length;
  }
}

// What of a model the roots reach, and where it stands once the rest is left out.
struct Reached {
  explicit Reached(const Model& model);
  void moveNodes(Model& out) const;
  void moveMaterials(Model& out) const;
  void moveAnimations(Model& out) const;
  bool stable;  // places must stay: extensions may name them
  Places nodes, meshes, skins, materials, images, cameras, lights;
  std::vector<bool> reached;  // nodes, without the bones that only skins name
};

Reached::Reached(const Model& model)
    : stable(keepsExtensions(model)),
      nodes(model.nodes.size(), stable),
      meshes(model.meshes.size(), false),
      skins(model.skins.size(), false),
      materials(model.materials.size(), stable),
      images(model.images.size(), stable),
      cameras(model.cameras.size(), stable),
      lights(model.lights.size(), stable),
      reached(model.nodes.size(), false) {
  for (const NodeIndex i : reachedNodes(model)) {
    const Node& node = model.node(i);
    reached[i.value()] = true;
    nodes.keep(i.value());
    if (node.mesh.valid()) meshes.keep(node.mesh.value());
    for (const LighterMesh& far : node.lighter) meshes.keep(far.mesh.value());
    if (node.skin.valid()) skins.keep(node.skin.value());
    if (node.camera.valid()) cameras.keep(node.camera.value());
    if (node.light.valid()) lights.keep(node.light.value());
  }
  for (size_t i = 0; i < model.skins.size(); ++i)
    if (skins.holds(i))
      for (const NodeIndex joint : model.skins[i].joints)
        for (NodeIndex at = joint; at.valid() && !nodes.holds(at.value()); at = model.node(at).parent)
          nodes.keep(at.value());
  for (size_t i = 0; i < model.meshes.size(); ++i)
    if (meshes.holds(i))
      for (const Primitive& p : model.meshes[i]->primitives)
        if (p.material.valid()) materials.keep(p.material.value());
  for (size_t i = 0; i < model.materials.size(); ++i)
    if (materials.holds(i))
      for (const TextureSlot& slot : kTextureSlots)
        if (const ImageIndex image = (model.materials[i].*slot.use).image; image.valid())
          images.keep(image.value());
}

void Reached::moveNodes(Model& out) const {
  for (size_t i = 0; i < out.nodes.size(); ++i) {
    Node& node = out.nodes[i];
    if (!reached[i]) {
      node.mesh = {};
      node.skin = {};
      node.lighter.clear();
      if (!stable) node.camera = {}, node.light = {};
    }
    node.parent = nodes.moved(node.parent);
    std::erase_if(node.children, [&](NodeIndex child) { return !nodes.holds(child.value()); });
    for (NodeIndex& child : node.children) child = nodes.moved(child);
    node.mesh = meshes.moved(node.mesh);
    for (LighterMesh& far : node.lighter) far.mesh = meshes.moved(far.mesh);
    node.skin = skins.moved(node.skin);
    node.camera = cameras.moved(node.camera);
    node.light = lights.moved(node.light);
  }
  for (NodeIndex& root : out.roots) root = nodes.moved(root);
  for (Skin& skin : out.skins)
    for (NodeIndex& joint : skin.joints) joint = nodes.moved(joint);
}

void Reached::moveMaterials(Model& out) const {
  for (Material& material : out.materials)
    for (const TextureSlot& slot : kTextureSlots) {
      TextureUse& use = material.*slot.use;
      use.image = images.moved(use.image);
    }
  for (size_t i = 0; i < out.meshes.size(); ++i) {
    if (!meshes.holds(i)) continue;
    const bool same =
        std::all_of(out.meshes[i]->primitives.begin(), out.meshes[i]->primitives.end(),
                    [&](const Primitive& p) { return materials.moved(p.material) == p.material; });
    if (same) continue;
    for (Primitive& p : out.editMesh(MeshIndex(i)).primitives) p.material = materials.moved(p.material);
  }
}

void Reached::moveAnimations(Model& out) const {
  for (Animation& animation : out.animations) {
    std::erase_if(animation.channels, [&](const Channel& channel) {
      return !channel.node.valid() || !nodes.holds(channel.node.value());
    });
    for (Channel& channel : animation.channels) channel.node = nodes.moved(channel.node);
  }
  if (!stable) std::erase_if(out.animations, [](const Animation& a) { return a.channels.empty(); });
}

}  // namespace

Model reachedModel(const Model& model) {
  const Reached of(model);
  Model out = model;
  of.moveNodes(out);
  of.moveMaterials(out);
  of.moveAnimations(out);
  of.nodes.apply(out.nodes);
  of.meshes.apply(out.meshes);
  of.skins.apply(out.skins);
  of.materials.apply(out.materials);
  of.images.apply(out.images);
  of.cameras.apply(out.cameras);
  of.lights.apply(out.lights);
  return out;
}

void skinnedToRoots(Model& model) {
  std::vector<bool> joint(model.nodes.size(), false);
  for (const Skin& skin : model.skins)
    for (const NodeIndex i : skin.joints) joint[i.value()] = true;
  for (const NodeIndex i : reachedNodes(model)) {
    if (!model.node(i).skin.valid() || !model.node(i).mesh.valid() || !model.node(i).parent.valid()) continue;
    NodeIndex worn = i;
    // What hangs on it, or follows it as a bone, needs it where it is.
    if (!model.node(i).children.empty() || joint[i.value()]) {
      Node own = model.node(i);
      own.children.clear();
      worn = NodeIndex(model.nodes.size());
      model.nodes.push_back(std::move(own));
      Node& left = model.node(i);
      left.mesh = {};
      left.skin = {};
      left.lighter.clear();
      left.morph_weights.clear();
      left.region.clear();
      for (Animation& animation : model.animations)
        for (Channel& channel : animation.channels)
          if (channel.node == i && channel.path == AnimatedPath::weights) channel.node = worn;
    } else {
      std::erase(model.node(model.node(i).parent).children, i);
      // Where it stood moves nothing any more.
      for (Animation& animation : model.animations)
        std::erase_if(animation.channels, [&](const Channel& channel) {
          return channel.node == i && channel.path != AnimatedPath::weights;
        });
    }
    model.node(worn).parent = {};
    model.node(worn).local = {};
    model.roots.push_back(worn);
  }
  std::erase_if(model.animations, [](const Animation& a) { return a.channels.empty(); });
}

Primitive validAttributes(const Primitive& primitive) {
  Primitive out = primitive;
  const size_t n = out.positions.size();
  for (size_t v = 0; v < out.weights.size(); ++v) {
    glm::vec4& first = out.weights[v];
    glm::vec4 none(0);
    glm::vec4& more = v < out.more_weights.size() ? out.more_weights[v] : none;
    for (int k = 0; k < 4; ++k) {
      if (!std::isfinite(first[k]) || first[k] < 0) first[k] = 0;
      if (!std::isfinite(more[k]) || more[k] < 0) more[k] = 0;
    }
    const float sum = first.x + first.y + first.z + first.w + more.x + more.y + more.z + more.w;
    if (!(sum > 0)) {
      first = {1, 0, 0, 0};
    } else if (std::abs(sum - 1) > 1e-6F) {
      first /= sum;
      more /= sum;
    }
  }
  makeUnit(out.normals);
  if (out.normals.size() != n) out.tangents.clear();
  makeUnit(out.tangents);
  for (glm::vec4& tangent : out.tangents) tangent.w = tangent.w < 0 ? -1.0F : 1.0F;
  for (MorphTarget& morph : out.morphs) {
    if (out.normals.empty()) morph.normals.clear();
    if (out.tangents.empty()) morph.tangents.clear();
  }
  return out;
}

Model writtenModel(const Model& model) {
  Model out = model;
  for (std::shared_ptr<const Mesh>& mesh : out.meshes) {
    auto written = std::make_shared<Mesh>(*mesh);
    std::erase_if(written->primitives,
                  [](const Primitive& p) { return p.indices.size() < 3 || p.positions.empty(); });
    for (Primitive& p : written->primitives) p = validAttributes(p);
    mesh = std::move(written);
  }
  const auto drawn = [&](MeshIndex mesh) { return mesh.valid() && !out.mesh(mesh).primitives.empty(); };
  for (Node& node : out.nodes) {
    if (!drawn(node.mesh)) node.mesh = {}, node.skin = {};
    std::erase_if(node.lighter, [&](const LighterMesh& far) { return !drawn(far.mesh); });
  }
  out = reachedModel(out);
  skinnedToRoots(out);
  return out;
}

}  // namespace rakugo::scene
