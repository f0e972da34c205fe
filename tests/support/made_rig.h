// Small rigged models, for tests of what bones do.
#pragma once

#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::test {

struct RigBone {
  std::string name;
  int parent;    ///< in the list; below 0: a root
  glm::vec3 at;  ///< in the model's space
};

/// Adds nodes for the bones, all turned by `turn` in the model's space, and a skin of them. Returns the node
/// of the first; the others follow it.
inline size_t addRig(scene::Model& model, const std::vector<RigBone>& bones,
                     glm::quat turn = glm::quat(1, 0, 0, 0)) {
  const size_t first = model.nodes.size();
  const auto place = [&](const RigBone& bone) {
    glm::mat4 out = glm::mat4_cast(turn);
    out[3] = glm::vec4(bone.at, 1);
    return out;
  };
  scene::Skin skin;
  for (size_t i = 0; i < bones.size(); ++i) {
    scene::Node node;
    node.name = bones[i].name;
    glm::mat4 above(1);
    if (bones[i].parent >= 0) {
      const auto parent = static_cast<size_t>(bones[i].parent);
      node.parent = scene::NodeIndex(first + parent);
      model.nodes[first + parent].children.emplace_back(first + i);
      above = place(bones[parent]);
    } else {
      model.roots.emplace_back(first + i);
    }
    bool exact = true;
    node.local = scene::placementOf(glm::inverse(above) * place(bones[i]), exact);
    model.nodes.push_back(std::move(node));
    skin.joints.emplace_back(first + i);
    skin.inverse_bind.push_back(glm::inverse(place(bones[i])));
  }
  model.skins.push_back(std::move(skin));
  return first;
}

/// Adds a part that wears the newest skin, and gives all parts their keys.
inline void wearRig(scene::Model& model, const char* name, scene::Primitive primitive) {
  scene::Mesh mesh;
  mesh.primitives.push_back(std::move(primitive));
  model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
  scene::Node part;
  part.name = name;
  part.mesh = scene::MeshIndex(model.meshes.size() - 1);
  part.skin = scene::SkinIndex(model.skins.size() - 1);
  model.roots.emplace_back(model.nodes.size());
  model.nodes.push_back(std::move(part));
  scene::assignKeys(model);
}

/// A model in the first game's axes, without anything in it.
inline scene::Model standingModel() {
  scene::Model out;
  out.frame = {geometry::Axis::plus_z, geometry::Axis::plus_x};
  out.frame.turned = true;
  return out;
}

}  // namespace rakugo::test
