// Models made at random of everything the scene can hold, for tests of readers and writers.
#pragma once

#include <algorithm>
#include <cmath>
#include <random>

#include "scene/model.h"

namespace rakugo::test {

/// A model with a tree, skins, morph targets, materials with pictures, animations, cameras and lights, all by
/// chance, all finite. Every vertex is used and none is like another. Kinds of keys are linear and held; with
/// `cubic` curves too.
class ModelMaker {
 public:
  explicit ModelMaker(uint32_t seed) : random_(seed) {}

  scene::Model make(bool cubic = false) {
    model_ = {};
    nodes();
    pictures();
    materials();
    // One a node at most: weights of a mesh that nothing wears belong to no skin.
    const size_t meshes = std::min<size_t>(1 + below(3), model_.nodes.size());
    for (size_t m = 0; m < meshes; ++m) mesh();
    wear();
    motions(cubic);
    scene::assignKeys(model_);
    return model_;
  }

  uint32_t below(uint32_t n) { return static_cast<uint32_t>(random_()) % n; }
  float real(float from = -2, float to = 2) {
    return from + (to - from) * static_cast<float>(random_() >> 8) / static_cast<float>(1U << 24);
  }
  glm::vec3 vec(float from = -2, float to = 2) { return {real(from, to), real(from, to), real(from, to)}; }
  glm::quat turn() {
    const glm::vec4 q(real(), real(), real(), real());
    return glm::length(q) > 0.1F ? glm::normalize(glm::quat(q.w, q.x, q.y, q.z)) : glm::quat(1, 0, 0, 0);
  }
  std::string name() {
    static const char* const kNames[] = {
        "Hull", "rope & <tackle>", "mast \"main\"", "ünter", "a#b", "x/y", "o", "日本"};
    return std::string(kNames[below(8)]) + std::to_string(below(1000));
  }

 private:
  void nodes() {
    const size_t count = 2 + below(8);
    for (size_t i = 0; i < count; ++i) {
      scene::Node n;
      n.name = name();
      n.local.position = vec();
      if (below(2) != 0) n.local.turn = turn();
      if (below(3) == 0) n.local.scale = vec(0.5F, 2);
      const scene::NodeIndex index(i);
      if (i > 0 && below(3) != 0) {
        n.parent = scene::NodeIndex(below(static_cast<uint32_t>(i)));
        model_.node(n.parent).children.push_back(index);
      } else {
        model_.roots.push_back(index);
      }
      model_.nodes.push_back(std::move(n));
    }
    // In the order of the tree, so that formats which know that order alone keep the numbers.
    const auto order = scene::reachedNodes(model_);
    std::vector<scene::NodeIndex> place(count);
    for (size_t i = 0; i < count; ++i) place[order[i].value()] = scene::NodeIndex(i);
    scene::Model sorted;
    for (const scene::NodeIndex i : order) {
      scene::Node n = model_.node(i);
      if (n.parent.valid()) n.parent = place[n.parent.value()];
      for (scene::NodeIndex& c : n.children) c = place[c.value()];
      sorted.nodes.push_back(std::move(n));
    }
    for (const scene::NodeIndex r : model_.roots) sorted.roots.push_back(place[r.value()]);
    model_ = std::move(sorted);
  }

  void pictures() {
    const size_t count = below(3);
    for (size_t i = 0; i < count; ++i) {
      scene::Image image;
      image.uri = "tex/p " + std::to_string(i) + "#.png";
      image.name = "p" + std::to_string(i);
      image.mime = "image/png";
      image.bytes = std::make_shared<const base::Bytes>(8 + i, std::byte{7});
      model_.images.push_back(std::move(image));
    }
  }

  void materials() {
    const size_t count = below(4);
    for (size_t i = 0; i < count; ++i) {
      scene::Material m;
      m.name = name();
      m.base_color = {real(0, 1), real(0, 1), real(0, 1), below(2) != 0 ? 1.0F : real(0.1F, 0.9F)};
      m.alpha = m.base_color.w < 1 ? scene::AlphaMode::blend
                : below(2) != 0    ? scene::AlphaMode::mask
                                   : scene::AlphaMode::opaque;
      m.metallic = real(0, 1);
      m.roughness = real(0, 1);
      m.emissive = vec(0, 1);
      m.double_sided = below(2) != 0;
      if (m.alpha == scene::AlphaMode::mask) m.alpha_cutoff = real(0, 1);
      for (const scene::TextureSlot& slot : scene::kTextureSlots) {
        if (model_.images.empty() || below(2) != 0) continue;
        scene::TextureUse& use = m.*slot.use;
        use.image = scene::ImageIndex(below(static_cast<uint32_t>(model_.images.size())));
        use.uv_set = below(2);
        use.filter = below(2) != 0 ? scene::Filter::nearest : scene::Filter::linear;
        use.wrap_u = static_cast<scene::Wrap>(below(3));
        use.wrap_v = static_cast<scene::Wrap>(below(3));
      }
      model_.materials.push_back(std::move(m));
    }
  }

  void mesh() {
    auto mesh = std::make_shared<scene::Mesh>();
    mesh->name = name();
    const size_t morphs = below(3);
    const size_t primitives = 1 + below(2);
    skinned_.push_back(below(2) != 0);
    for (size_t t = 0; t < morphs; ++t) {
      mesh->morph_names.push_back(name());
      mesh->morph_weights.push_back(real(0, 1));
    }
    for (size_t k = 0; k < primitives; ++k) {
      scene::Primitive p;
      const uint32_t n = 3 + below(20);
      const bool normals = below(2) != 0, colors = below(2) != 0, tangents = normals && below(2) != 0;
      const bool more = skinned_.back() && below(2) != 0;
      for (uint32_t v = 0; v < n; ++v) {
        p.positions.emplace_back(real(), real(), static_cast<float>(v));
        if (normals) p.normals.push_back(glm::normalize(vec() + glm::vec3(0, 0, 3)));
        if (tangents)
          p.tangents.emplace_back(glm::normalize(glm::cross(p.normals[v], {1, 0, 0})), v % 2 == 0 ? 1 : -1);
        p.uvs[0].emplace_back(real(), real());
        p.uvs[1].emplace_back(real(), real());
        if (colors) p.colors.emplace_back(vec(0, 1), real(0, 1));
        if (skinned_.back()) influences(p, more);
      }
      for (size_t t = 0; t < morphs; ++t) {
        scene::MorphTarget morph;
        for (uint32_t v = 0; v < n; ++v) morph.positions.push_back(vec());
        p.morphs.push_back(std::move(morph));
      }
      for (uint32_t v = 0; v + 2 < n; ++v) p.indices.insert(p.indices.end(), {v, v + 1, v + 2});
      if (!model_.materials.empty())
        p.material = scene::MaterialIndex(below(static_cast<uint32_t>(model_.materials.size())));
      mesh->primitives.push_back(std::move(p));
    }
    model_.meshes.push_back(std::move(mesh));
  }

  // Weights that fall, as readers that sort them leave them.
  void influences(scene::Primitive& p, bool more) {
    p.joints.emplace_back(0, 1, 0, 0);
    p.weights.emplace_back(more ? 0.5F : 0.75F, 0.25F, 0, 0);
    if (!more) return;
    p.joints.back() = {0, 1, 0, 1};
    p.weights.back() = {0.375F, 0.25F, 0.1875F, 0.125F};
    p.more_joints.emplace_back(1, 0, 0, 0);
    p.more_weights.emplace_back(0.0625F, 0, 0, 0);
  }

  void wear() {
    for (size_t m = 0; m < model_.meshes.size(); ++m) {
      // Each mesh once, on a node that has none yet.
      for (scene::Node& n : model_.nodes) {
        if (n.mesh.valid()) continue;
        n.mesh = scene::MeshIndex(m);
        if (!skinned_[m]) break;
        scene::Skin skin;
        skin.name = name();
        skin.joints = {scene::NodeIndex(0), scene::NodeIndex(1)};
        for (int j = 0; j < 2; ++j) {
          glm::mat4 bind(1);
          bind[3] = glm::vec4(vec(), 1);
          skin.inverse_bind.push_back(bind);
        }
        n.skin = scene::SkinIndex(model_.skins.size());
        model_.skins.push_back(std::move(skin));
        break;
      }
    }
    if (below(2) != 0) {
      scene::Camera c;
      c.name = name();
      c.fov_y_rad = real(0.3F, 1.2F);
      c.aspect = real(0.5F, 2);
      c.far_m = 50;
      model_.cameras.push_back(c);
      model_.nodes.back().camera = scene::CameraIndex(0);
    }
    if (below(2) != 0) {
      scene::Light l;
      l.name = name();
      l.kind = static_cast<scene::Light::Kind>(below(3));
      l.color = vec(0, 1);
      l.outer_rad = 0.5F;
      model_.lights.push_back(l);
      model_.nodes.back().light = scene::LightIndex(0);
    }
    skinned_.clear();
  }

  void motions(bool cubic) {
    const size_t count = below(3);
    for (size_t a = 0; a < count; ++a) {
      scene::Animation animation;
      animation.name = name();
      // All channels of a node share their times: formats that write whole placements keep the keys then.
      const scene::NodeIndex node(below(static_cast<uint32_t>(model_.nodes.size())));
      const auto way = static_cast<scene::Interpolation>(below(cubic ? 3 : 2));
      for (const auto path :
           {scene::AnimatedPath::turn, scene::AnimatedPath::scale, scene::AnimatedPath::position}) {
        scene::Channel c;
        c.node = node;
        c.path = path;
        c.interpolation = way;
        const size_t width = path == scene::AnimatedPath::turn ? 4 : 3;
        glm::quat before(1, 0, 0, 0);
        for (int k = 0; k < 4; ++k) {
          c.times_s.push_back(static_cast<float>(k) * 0.5F);
          for (int part = 0; part < (way == scene::Interpolation::cubic ? 3 : 1); ++part) {
            glm::quat q = turn();
            if (glm::dot(q, before) < 0) q = -q;
            before = q;
            const glm::vec3 v = path == scene::AnimatedPath::scale ? vec(0.5F, 2) : vec();
            if (width == 4)
              c.values.insert(c.values.end(), {q.x, q.y, q.z, q.w});
            else
              c.values.insert(c.values.end(), {v.x, v.y, v.z});
          }
        }
        animation.channels.push_back(std::move(c));
      }
      model_.animations.push_back(std::move(animation));
    }
  }

  std::mt19937 random_;
  scene::Model model_;
  std::vector<bool> skinned_;
};

}  // namespace rakugo::test
