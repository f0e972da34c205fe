// What a step changed, in figures.
#pragma once

#include <glm/glm.hpp>
#include <string>

#include "scene/model.h"

namespace rakugo::prepare {

/// A model in figures, as it stands between two steps.
struct StepFigures {
  uint64_t triangles = 0;
  uint64_t parts = 0;    ///< nodes with a mesh
  uint64_t bones = 0;    ///< nodes that reached parts follow
  size_t materials = 0;  ///< that reached parts wear
  glm::vec3 size_m{0};   ///< of the box round all vertices, in the model's space; zero where it has none
  bool operator==(const StepFigures&) const = default;
};

/// Cost: linear in vertices.
StepFigures figuresOf(const scene::Model& model);

/// What differs, one after another: "10,924 → 9,000 triangles, size 252 m → 2.52 m, 24 → 20 bones". Sizes are
/// compared from the longest side to the shortest, so that a turn changes none; below a thousandth they are
/// the same. Empty where nothing differs.
std::string changeText(const StepFigures& before, const StepFigures& after);

}  // namespace rakugo::prepare
