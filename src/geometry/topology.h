// How triangles hang together: edges, borders, fans. After vertices of equal position are taken as one, so
// that seams of normals and UVs are no borders.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// An edge and the triangles at it: `sides` [first, first + count) are corner numbers 3t + k, whose edge runs
/// from corner k of triangle t to the next one.
struct Edge {
  uint32_t a = 0, b = 0;  ///< places, a < b
  uint32_t first = 0, count = 0;
};

/// Triangles over places (3 x n), their edges in the order of (a, b). Triangles with two equal corners have
/// no edges here; `edge_of` is then `kNoEdge`.
struct Topology {
  static constexpr uint32_t kNoEdge = UINT32_MAX;
  std::vector<uint32_t> corners;  ///< 3 x n places
  std::vector<Edge> edges;
  std::vector<uint32_t> sides;    ///< corner numbers, by edge
  std::vector<uint32_t> edge_of;  ///< by corner number
  std::vector<uint32_t> mate;     ///< by corner number: the other side of an edge of two; else `kNoEdge`
  uint32_t places = 0;

  [[nodiscard]] size_t triangles() const { return corners.size() / 3; }
  [[nodiscard]] uint32_t from(uint32_t side) const { return corners[side]; }
  [[nodiscard]] uint32_t to(uint32_t side) const { return corners[side - side % 3 + (side + 1) % 3]; }
  /// Keeps the triangles alone: what else is here takes five times as much memory as they do.
  void dropNeighbours() { edges = {}, sides = {}, edge_of = {}, mate = {}; }
  [[nodiscard]] bool collapsed(size_t triangle) const { return edge_of[triangle * 3] == kNoEdge; }
};

/// `corners`: 3 x n numbers below `places`. Cost: n log n.
Topology topologyOf(std::vector<uint32_t> corners, uint32_t places);

/// A border, walked from edge to edge; the places along it. `closed` when it comes back to its beginning, as
/// it does but where three triangles meet at an edge.
struct BorderLoop {
  std::vector<uint32_t> places;
  bool closed = true;
};
/// The borders (edges with one triangle), each in one loop. Where two borders touch in a place, they are kept
/// apart by the fans of triangles there. Loops begin with the lowest edge. Cost: linear.
std::vector<BorderLoop> borderLoops(const Topology& topology);

/// Places where the triangles form more than one fan (two cones that touch at their tips), not counting those
/// on an edge with three or more triangles. Ascending. Cost: linear.
std::vector<uint32_t> nonManifoldPlaces(const Topology& topology);

/// Triangles with the same three places as an earlier one, in whatever order. Ascending; those with two equal
/// corners are left out. Cost: linear.
std::vector<uint32_t> duplicateTriangles(const Topology& topology);

/// Triangles that hang together by edges: a shell's number for each, shells in the order of their first
/// triangle; `kNoEdge` for collapsed triangles. `flipped`: wound against the others of their shell: of two
/// ways to wind a shell alike, the one that turns fewer triangles (in a tie, the one that keeps the first). A
/// shell that cannot be wound alike (a Moebius band) is walked from its first triangle.
struct Shells {
  std::vector<uint32_t> of;
  std::vector<bool> flipped;
  uint32_t count = 0;
};
/// Cost: linear.
Shells shellsOf(const Topology& topology);

}  // namespace rakugo::geometry
