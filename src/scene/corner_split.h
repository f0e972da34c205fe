// Splits vertices whose corners need different attribute values.
#pragma once

#include <cstdint>
#include <functional>
#include <glm/glm.hpp>
#include <span>

#include "scene/model.h"

namespace rakugo::scene {

/// Splits each vertex into one vertex for each group of equal corners. `same(c, d)`: whether the corners c
/// and d (positions in `indices`) of one vertex may share it. Returns the number of vertices added. Cost:
/// linear in corners while a vertex has few groups.
size_t splitCorners(Primitive& primitive, const std::function<bool(uint32_t, uint32_t)>& same);

/// Sets normals, one a corner (3 x m); vertices are split where they differ by more than a hundredth of a
/// degree, about.
void setCornerNormals(Primitive& primitive, std::span<const glm::vec3> normals);

/// The same with tangents.
void setCornerTangents(Primitive& primitive, std::span<const glm::vec4> tangents);

}  // namespace rakugo::scene
