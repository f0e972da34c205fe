// Putting a model together: nodes, parts, materials.
#pragma once

#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::demo {

/// A node without a mesh, below `parent` or a root.
scene::NodeIndex addNode(scene::Model& model, const std::string& name, scene::NodeIndex parent);
/// Shapes are put together from pieces: vertices that are alike where those meet become one, and those that
/// no triangle uses go.
void tidy(std::vector<scene::Primitive>& primitives);
/// A node with a mesh of those primitives, tidied.
scene::NodeIndex addPart(scene::Model& model, const std::string& name, scene::NodeIndex parent,
                         std::vector<scene::Primitive> primitives);
/// A material; `picture` is the path of its base colour as the model file names it, or empty.
scene::MaterialIndex addMaterial(scene::Model& model, const std::string& name, glm::vec4 color,
                                 float metallic, float roughness, const std::string& picture = {});

}  // namespace rakugo::demo
