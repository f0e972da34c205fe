// Vertices that are to carry different values at different corners.
#pragma once

#include <cstdint>
#include <functional>
#include <glm/glm.hpp>
#include <span>

#include "scene/model.h"

namespace rakugo::scene {

/// Gives every vertex a copy for each sort of corner it has: `same(c, d)` says whether two corners (numbers
/// in `indices`) of one vertex may stay one. Returns how many vertices came. Cost: linear in corners while
/// few sorts meet in a vertex.
size_t splitCorners(Primitive& primitive, const std::function<bool(uint32_t, uint32_t)>& same);

/// Sets normals, one a corner (3 x m); vertices are split where they differ by more than a hundredth of a
/// degree, about.
void setCornerNormals(Primitive& primitive, std::span<const glm::vec3> normals);

/// The same with tangents.
void setCornerTangents(Primitive& primitive, std::span<const glm::vec4> tangents);

}  // namespace rakugo::scene
