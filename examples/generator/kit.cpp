#include "kit.h"

#include "scene/primitive_edit.h"

namespace rakugo::demo {

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

}  // namespace rakugo::demo
