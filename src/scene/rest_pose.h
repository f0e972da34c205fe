// A skinned mesh where its bones stand at rest.
#pragma once

#include "scene/model.h"
#include "scene/whole_mesh.h"

namespace rakugo::scene {

/// Matrices from the mesh as stored to the model's space, one a joint of the skin: the joint's own times its
/// inverse bind matrix (glTF 2.0, section 3.7.3.3). `world` is what `worldMatrices` gives.
std::vector<glm::mat4> skinMatrices(const Model& model, SkinIndex skin, const std::vector<glm::mat4>& world);

/// The mesh of a part in the model's space, as its bones put it at rest: positions by the weighted matrices,
/// normals by their inverse transposes, morph targets along. Weights that do not sum to one are scaled to; a
/// vertex without any stays where it is stored. Unskinned parts, and those whose bones change nothing (1e-6),
/// give their own mesh, shared. Positions that a joint beyond the skin's list would move stay too. Cost: a
/// matrix a vertex.
std::shared_ptr<const Mesh> restMesh(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world);

/// Where the vertices of a part are when nodes stand as `world` says (`worldMatrices` of a pose), in the
/// model's space, of all primitives one after another; empty for a part without a mesh. As `placedMesh`, but
/// nothing besides positions is worked out. Cost: linear, on all cores.
std::vector<glm::vec3> placedPositions(const Model& model, NodeIndex part,
                                       const std::vector<glm::mat4>& world);

/// Where the vertices of one part stand: matrices from the mesh as stored to the model's space.
class Standing {
 public:
  /// `world` is what `worldMatrices` gives. The model must outlive this.
  Standing(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world);
  /// Of a vertex: the part's own, or the weighted one of its bones; a skinned vertex without weights stays
  /// where it is stored.
  [[nodiscard]] glm::mat4 of(const Primitive& primitive, size_t vertex) const;

 private:
  bool skinned_;
  glm::mat4 part_{1};
  std::vector<glm::mat4> joints_;
};

/// All of a part's primitives as one list, with positions in the model's space as its bones put them at rest;
/// empty for a part without a mesh, or none at all. Cost: a matrix a vertex.
WholeMesh placedMesh(const Model& model, NodeIndex part, const std::vector<glm::mat4>& world);

}  // namespace rakugo::scene
