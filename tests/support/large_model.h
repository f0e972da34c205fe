// A model of many parts and bones, as an exporter leaves a ship: groups of boxes, and a rope along a chain of
// bones.
#pragma once

#include <array>
#include <string>

#include "made_rig.h"
#include "scene/model.h"

namespace rakugo::test {

/// A box of 12 triangles about the origin, its sides so long.
inline scene::Primitive boxOf(float side) {
  scene::Primitive out;
  for (int i = 0; i < 8; ++i)
    out.positions.push_back(glm::vec3((i & 1) != 0 ? 1 : -1, (i & 2) != 0 ? 1 : -1, (i & 4) != 0 ? 1 : -1) *
                            (side / 2));
  out.indices = {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4,
                 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5};
  return out;
}

/// `parts` boxes called "plank_7" under groups of fifty, each of a mesh of its own, and a rope of a box a
/// bone that follows `bones` bones in a chain.
inline scene::Model largeModel(int parts, int bones) {
  scene::Model model;
  size_t group = 0;
  for (int i = 0; i < parts; ++i) {
    if (i % 50 == 0) {
      scene::Node node;
      node.name = "deck_" + std::to_string(i / 50);
      group = model.nodes.size();
      model.roots.emplace_back(group);
      model.nodes.push_back(std::move(node));
    }
    scene::Mesh mesh;
    mesh.primitives.push_back(boxOf(0.05F + 0.0001F * static_cast<float>(i)));
    model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
    scene::Node node;
    node.name = "plank_" + std::to_string(i);
    node.mesh = scene::MeshIndex(model.meshes.size() - 1);
    node.parent = scene::NodeIndex(group);
    node.local.position = glm::vec3(static_cast<float>(i % 50) * 0.1F, static_cast<float>(i / 50) * 0.1F, 0);
    model.nodes[group].children.emplace_back(model.nodes.size());
    model.nodes.push_back(std::move(node));
  }
  std::vector<RigBone> chain;
  scene::Primitive rope;
  for (int i = 0; i < bones; ++i) {
    const glm::vec3 at(static_cast<float>(i) * 0.05F, 0, 1);
    chain.push_back({"rope_" + std::to_string(i), i - 1, at});
    const scene::Primitive box = boxOf(0.02F);
    const auto first = static_cast<uint32_t>(rope.positions.size());
    for (const glm::vec3& p : box.positions) {
      rope.positions.push_back(p + at);
      rope.joints.push_back({static_cast<uint16_t>(i), 0, 0, 0});
      rope.weights.push_back({1, 0, 0, 0});
    }
    for (const uint32_t index : box.indices) rope.indices.push_back(first + index);
  }
  if (bones > 0) {
    addRig(model, chain);
    wearRig(model, "rope", std::move(rope));
  }
  scene::assignKeys(model);
  return model;
}

}  // namespace rakugo::test
