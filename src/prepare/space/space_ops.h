// Moving a whole model: similarity transforms, shifts, and baking. Kernels of the steps in steps_space.cpp.
#pragma once

#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::prepare {

/// Carries the whole model - meshes, placements, skins, animations - through p -> factor * (turn * p). `turn`
/// must be a signed permutation (a quarter turn), so that scales along axes stay scales along axes. World
/// positions become exactly that.
void transformAll(scene::Model& model, const glm::mat3& turn, float factor);

/// Carries one mesh through a matrix: normals by its inverse transpose, tangents and morph targets along;
/// winding is turned round where it mirrors.
void moveMesh(scene::Mesh& mesh, const glm::mat4& matrix);

/// Stretches the model along its own axes by factors (not 0). Every vertex comes to stand where the stretch
/// puts it; parts and bones keep their turn and scale, and what that cannot hold goes into the meshes. Ways
/// that animations move parts by are stretched as they lie at rest.
void stretchAll(scene::Model& model, glm::vec3 factors);

/// Moves the model by `shift` in its own space. Models whose meshes are at rest have their vertices moved, so
/// that they stay at rest; others have their roots moved.
void shiftAll(scene::Model& model, glm::vec3 shift);

/// Puts the placement of every part into its mesh and leaves the part at rest; parts without one, below which
/// there is none, stay where they are. World positions stay; winding, normals and tangents are put right
/// under negative and uneven scale. Bones, animated parts and what they hang on keep their placement; their
/// names are returned.
std::vector<std::string> bakeAll(scene::Model& model);

/// Flags of the reached parts that have a mesh, or one below them.
std::vector<bool> carriesMesh(const scene::Model& model);

/// Parts that bones, animations or skins need where they are: joints, animated parts, and all parts above
/// them.
std::vector<bool> heldInPlace(const scene::Model& model);

}  // namespace rakugo::prepare
