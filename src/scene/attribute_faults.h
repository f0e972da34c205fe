// Faults of what vertices carry beside their position: normals and texture coordinates. All in the mesh's own
// space.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// A duplicate vertex, and the earlier vertex that it can be merged with.
struct VertexTwin {
  uint32_t vertex = 0, earlier = 0;
};

/// Flags of the vertices that a triangle names.
std::vector<uint8_t> usedVertices(const Primitive& primitive);

/// Duplicate vertices: those that can be merged with an earlier vertex. Two vertices are duplicates when
/// their positions differ by at most `tolerance` (0: not at all) and all their other attributes agree:
/// normals and tangents to one degree, texture coordinates to 1e-5, colours to 1/512, joints and weights to
/// 1e-3. `among`: the vertices to look at, ascending; vertices that no triangle uses should not be among
/// them, and vertices far from all others may be left out. `placed`: one position a vertex, by which
/// distances are measured. The result is ascending; the earlier vertex of a pair is never a duplicate itself.
std::vector<VertexTwin> coincidentTwins(const Primitive& primitive, std::span<const glm::vec3> placed,
                                        std::span<const uint32_t> among, float tolerance);

/// Vertices whose normal is not finite, more than a hundredth off from unit length, or turned away from the
/// area-weighted mean of the faces round it. Nothing where there are no normals. `triangles` (3 x n): the
/// primitive's, in any order: one that keeps neighbours together is walked faster.
std::vector<uint32_t> badNormals(const Primitive& primitive, std::span<const uint32_t> triangles);

/// Corners of triangles, by their place in `primitive.indices`, whose texture coordinate is not finite or
/// more than 1e-4 outside 0..1; ascending. Vertices that no triangle uses are none. Needs coordinates for all
/// vertices.
std::vector<uint32_t> uvsOutside(const Primitive& primitive);

/// Faults of the UV mapping of triangles, by their numbers in `triangles` (as above); ascending.
struct PictureFaults {
  std::vector<uint32_t> mirrored;   ///< seen from their front, the coordinates run the other way round
  std::vector<uint32_t> collapsed;  ///< they have a surface, but on the picture a point or a line
  std::vector<uint32_t> stretched;  ///< others drawn out more than eight times as far one way as across
};
/// Needs coordinates for all vertices. How far a picture is drawn out is the ratio of the singular values of
/// the map from picture to surface (P. Sander, J. Snyder, S. Gortler and H. Hoppe, "Texture Mapping
/// Progressive Meshes", 2001), as if the picture were square. Triangles as thin as needles tell nothing.
PictureFaults pictureFaults(const Primitive& primitive, std::span<const uint32_t> triangles);

}  // namespace rakugo::scene
