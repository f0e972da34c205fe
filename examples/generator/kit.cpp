#include "kit.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "scene/primitive_edit.h"

namespace rakugo::demo {
namespace {

// Distance from a point to a segment.
float distance(glm::vec3 p, glm::vec3 a, glm::vec3 b) {
  const glm::vec3 d = b - a;
  const float len = glm::dot(d, d);
  const float t = len > 1e-12F ? std::clamp(glm::dot(p - a, d) / len, 0.0F, 1.0F) : 0.0F;
  return glm::distance(p, a + d * t);
}

}  // namespace

scene::NodeIndex addNode(scene::Model& model, const std::string& name, scene::NodeIndex parent) {
  scene::Node node;
  node.name = name;
  node.parent = parent;
  model.nodes.push_back(node);
  const scene::NodeIndex at(model.nodes.size() - 1);
  if (parent.valid())
    model.node(parent).children.push_back(at);
  else
    model.roots.push_back(at);
  return at;
}

void tidy(std::vector<scene::Primitive>& primitives) {
  geometry::Bounds box;
  for (const scene::Primitive& p : primitives) box.add(geometry::boundsOf(p.positions));
  for (scene::Primitive& p : primitives) {
    scene::weldVertices(p, glm::length(box.size()) * 2e-5F);
    scene::dropUnusedVertices(p);
  }
}

scene::NodeIndex addPart(scene::Model& model, const std::string& name, scene::NodeIndex parent,
                         std::vector<scene::Primitive> primitives) {
  tidy(primitives);
  const scene::NodeIndex at = addNode(model, name, parent);
  model.meshes.push_back(std::make_shared<const scene::Mesh>(scene::Mesh{name, std::move(primitives)}));
  model.node(at).mesh = scene::MeshIndex(model.meshes.size() - 1);
  return at;
}

scene::Primitive plain(const Shape& shape, const glm::mat4& to, scene::MaterialIndex material) {
  scene::Primitive p = shape.finish(to, material);
  for (glm::vec3& v : p.positions) v = {rounded(v.x), rounded(v.y), rounded(v.z)};
  for (glm::vec3& n : p.normals) n = {rounded(n.x), rounded(n.y), rounded(n.z)};
  p.uvs[0].clear();
  return p;
}

scene::MaterialIndex addMaterial(scene::Model& model, const std::string& name, glm::vec4 color,
                                 float metallic, float roughness, const std::string& picture) {
  scene::Material m;
  m.name = name;
  m.base_color = color;
  m.metallic = metallic;
  m.roughness = roughness;
  if (!picture.empty()) {
    scene::Image image;
    image.uri = picture;
    model.images.push_back(image);
    m.base_color_texture.image = scene::ImageIndex(model.images.size() - 1);
  }
  model.materials.push_back(m);
  return scene::MaterialIndex(model.materials.size() - 1);
}

scene::Model inGltfAxes(scene::Model model) {
  for (size_t m = 0; m < model.meshes.size(); ++m)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(m)).primitives) {
      for (glm::vec3& v : p.positions) v = {v.y, v.z, v.x};
      for (glm::vec3& n : p.normals) n = {n.y, n.z, n.x};
    }
  for (scene::Node& node : model.nodes) {
    glm::vec3& p = node.local.position;
    p = {p.y, p.z, p.x};
  }
  for (scene::Skin& skin : model.skins)
    for (glm::mat4& m : skin.inverse_bind) m[3] = {m[3].y, m[3].z, m[3].x, 1};
  return model;
}

void roundAll(scene::Model& model, float scale) {
  for (size_t m = 0; m < model.meshes.size(); ++m) {
    std::vector<scene::Primitive>& primitives = model.editMesh(scene::MeshIndex(m)).primitives;
    for (scene::Primitive& p : primitives) {
      const auto round = [](float v) { return std::round(v * 16384.0F) / 16384.0F; };
      for (glm::vec3& v : p.positions) v = {round(v.x * scale), round(v.y * scale), round(v.z * scale)};
      for (glm::vec3& n : p.normals) n = {round(n.x), round(n.y), round(n.z)};
      for (auto& set : p.uvs)
        for (glm::vec2& uv : set) uv = {round(uv.x), round(uv.y)};
    }
    tidy(primitives);
  }
}

void skinTo(scene::Model& model, scene::NodeIndex root, const rulebook::Skeleton& skeleton,
            const std::function<std::string(const rulebook::Bone&)>& name) {
  const std::vector<scene::NodeIndex> parts = scene::reachedNodes(model);
  std::map<std::string, scene::NodeIndex> nodes;
  scene::Skin skin;
  skin.name = "keeper";
  for (const rulebook::Bone& bone : skeleton.bones) {
    const bool top = bone.parent.empty();
    const auto node = addNode(model, name(bone), top ? root : nodes.at(bone.parent));
    model.node(node).local.position = at(bone) - (top ? glm::vec3(0) : at(*skeleton.findBone(bone.parent)));
    nodes[bone.id] = node;
    skin.joints.push_back(node);
    glm::mat4 inverse(1);
    inverse[3] = glm::vec4(-at(bone), 1);
    skin.inverse_bind.push_back(inverse);
  }
  // Each vertex follows the two nearest bones, the nearer the more; the ground bone moves nothing by itself.
  for (size_t m = 0; m < model.meshes.size(); ++m)
    for (scene::Primitive& p : model.editMesh(scene::MeshIndex(m)).primitives)
      for (const glm::vec3& v : p.positions) {
        std::vector<std::pair<float, size_t>> near;
        for (size_t b = 1; b < skeleton.bones.size(); ++b) {
          float best = glm::distance(v, at(skeleton.bones[b]));
          bool last = true;
          for (const rulebook::Bone& child : skeleton.bones)
            if (child.parent == skeleton.bones[b].id) {
              best = std::min(best, distance(v, at(skeleton.bones[b]), at(child)));
              last = false;
            }
          // A hand, a foot, a head goes on beyond where its bone begins.
          if (const rulebook::Bone* parent = skeleton.findBone(skeleton.bones[b].parent);
              last && parent != nullptr)
            best = std::min(best, distance(v, at(skeleton.bones[b]),
                                           at(skeleton.bones[b]) +
                                               glm::normalize(at(skeleton.bones[b]) - at(*parent)) * 0.16F));
          near.emplace_back(best, b);
        }
        std::sort(near.begin(), near.end());
        const float a = 1 / (near[0].first + 0.02F), b = 1 / (near[1].first + 0.02F);
        const float share = std::round(a * a * a / (a * a * a + b * b * b) * 256) / 256;
        p.joints.emplace_back(near[0].second, near[1].second, 0, 0);
        p.weights.emplace_back(share, 1 - share, 0, 0);
      }
  model.skins.push_back(std::move(skin));
  for (const scene::NodeIndex part : parts)
    if (model.node(part).mesh.valid()) model.node(part).skin = scene::SkinIndex(model.skins.size() - 1);
}

}  // namespace rakugo::demo
