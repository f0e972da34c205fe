// Parts taken apart, put together and added. Kernels of the steps in steps_assembly.cpp.
#pragma once

#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::prepare {

/// A new part below `parent` (or a root), at rest, without a mesh. Its key is the parent's and its name, made
/// unique with "#2", "#3".
scene::NodeIndex addPart(scene::Model& model, const std::string& name, scene::NodeIndex parent);

/// The part of that key when a root reaches it; an invalid index otherwise.
scene::NodeIndex findReached(const scene::Model& model, const std::string& key);

/// Whether a root reaches the part.
bool isReached(const scene::Model& model, scene::NodeIndex part);

/// Takes a part, with all below it, out of the tree.
void unlinkPart(scene::Model& model, scene::NodeIndex part);

/// Places a part below its parent so that it comes to stand at `place` in the model's space; `world` has the
/// matrix of its parent.
void putAt(scene::Model& model, scene::NodeIndex part, const glm::mat4& place,
           const std::vector<glm::mat4>& world);

/// The loose pieces of a mesh: triangles that share a place hang together. For each primitive, the number of
/// its piece a triangle; pieces are numbered in the order of their first triangle.
struct LoosePieces {
  std::vector<std::vector<uint32_t>> of;
  uint32_t count = 0;
};
LoosePieces loosePieces(const scene::Mesh& mesh);

/// A mesh for each piece; vertices and primitives that one does not need are not in it. Cost: linear.
std::vector<scene::Mesh> splitMesh(const scene::Mesh& mesh, const LoosePieces& pieces);

/// Adds the primitives of `from` to `to`, each to the first one of the same material that carries the same
/// lists, or as one of its own. Both have the same number of morph targets, or `to` has no primitives.
void joinMesh(scene::Mesh& to, const scene::Mesh& from);

}  // namespace rakugo::prepare
