// Changes to a primitive that keep all its lists in step.
#pragma once

#include <cstdint>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// Keeps the vertices of that order (numbers below the vertex count, none twice) and no others; triangles
/// that name another one go. Every attribute and morph target follows.
void keepVertices(Primitive& primitive, const std::vector<uint32_t>& order);

/// A primitive of those triangles alone (numbers, none twice) and the vertices they use, in the order of
/// their first use. `scratch` is as long as the primitive's vertices and filled with UINT32_MAX, before and
/// after: so that many small pieces of a large primitive cost no more than what is in them.
Primitive takenTriangles(const Primitive& primitive, const std::vector<uint32_t>& triangles,
                         std::vector<uint32_t>& scratch);

/// Leaves out vertices that no triangle names; their order stays. Returns how many went.
size_t dropUnusedVertices(Primitive& primitive);

/// Leaves out the triangles of that list (ascending numbers); vertices stay.
void dropTriangles(Primitive& primitive, const std::vector<uint32_t>& triangles);

/// Makes each vertex that could be one with an earlier one (`coincidentTwins`, by the mesh's own
/// positions) that one, and leaves it out. Triangles that collapse go. Returns how many vertices went.
size_t weldVertices(Primitive& primitive, float tolerance);

/// Appends a vertex to `to` that carries what vertex `v` of `from` does (the two may be one), but for its
/// position and normal. Lists that `to` has and `from` has not get zeros; colours white. Returns its number.
uint32_t appendVertex(Primitive& to, const Primitive& from, uint32_t v, glm::vec3 position, glm::vec3 normal);

}  // namespace rakugo::scene
