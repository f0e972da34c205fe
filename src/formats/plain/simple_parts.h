// What the readers of formats without a tree share. Private to this library.
#pragma once

#include <filesystem>
#include <memory>
#include <string>

#include "scene/model.h"

namespace rakugo::formats {

/// A part without a parent, at rest.
inline void addPart(scene::Model& model, scene::Mesh mesh) {
  scene::Node node;
  node.name = mesh.name;
  node.mesh = scene::MeshIndex(model.meshes.size());
  model.roots.emplace_back(model.nodes.size());
  model.nodes.push_back(std::move(node));
  model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
}

/// What a part is called where the file has no name for it: the file's, without its ending.
inline std::string partNameOf(const std::string& file) { return std::filesystem::path(file).stem().string(); }

}  // namespace rakugo::formats
