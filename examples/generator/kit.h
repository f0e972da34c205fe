// Putting a model together: nodes, parts, materials.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "rulebook/rulebook.h"
#include "scene/model.h"
#include "shapes.h"

namespace rakugo::demo {

/// Where a bone begins, in the game's space.
inline glm::vec3 at(const rulebook::Bone& bone) {
  return {static_cast<float>(bone.at_m[0]), static_cast<float>(bone.at_m[1]),
          static_cast<float>(bone.at_m[2])};
}
/// A node without a mesh, below `parent` or a root.
scene::NodeIndex addNode(scene::Model& model, const std::string& name, scene::NodeIndex parent);
/// Shapes are put together from pieces: vertices that are alike where those meet become one, and those that
/// no triangle uses go.
void tidy(std::vector<scene::Primitive>& primitives);
/// A node with a mesh of those primitives, tidied.
scene::NodeIndex addPart(scene::Model& model, const std::string& name, scene::NodeIndex parent,
                         std::vector<scene::Primitive> primitives);
/// A shape as a primitive without UVs, its numbers rounded.
scene::Primitive plain(const Shape& shape, const glm::mat4& to, scene::MaterialIndex material = {});
/// A material; `picture` is the path of its base colour as the model file names it, or empty.
scene::MaterialIndex addMaterial(scene::Model& model, const std::string& name, glm::vec4 color,
                                 float metallic, float roughness, const std::string& picture = {});

/// From the first game's axes to those glTF asks for: +Y up, +Z forward. Bones are at rest but for their
/// places.
scene::Model inGltfAxes(scene::Model model);
/// Scales all meshes and rounds their numbers: files are compared byte by byte, whatever library of
/// mathematics made them.
void roundAll(scene::Model& model, float scale);
/// Gives the model the bones of a skeleton below `root` and lets all of its meshes follow them, by nearness;
/// `name` gives each bone the name it has in the file.
void skinTo(scene::Model& model, scene::NodeIndex root, const rulebook::Skeleton& skeleton,
            const std::function<std::string(const rulebook::Bone&)>& name);

}  // namespace rakugo::demo
