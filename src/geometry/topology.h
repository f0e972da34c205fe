// How triangles hang together: edges, borders, fans. After vertices of equal position are taken as one, so
// that seams of normals and UVs are no borders.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// An edge of one triangle (a border) or of three and more (non-manifold). Its half-edges are
/// `Topology::irregular_half_edges` [first, first + count).
struct IrregularEdge {
  uint32_t a = 0, b = 0;  ///< places, a < b
  uint32_t first = 0, count = 0;
};

/// Triangles over places (3 x n) and their half-edges. A half-edge is named by the number of its first
/// corner, 3t + k, and runs from corner k of triangle t to the next corner. Triangles with two equal corners
/// have no edges.
struct Topology {
  /// In `twin`, for a half-edge without a twin: its triangle has two equal corners; its edge is a border; its
  /// edge has three or more triangles.
  static constexpr uint32_t kCollapsed = UINT32_MAX, kBorder = kCollapsed - 1, kNonManifold = kCollapsed - 2;
  std::vector<uint32_t> corners;         ///< 3 x n places
  std::vector<uint32_t> twin;            ///< by half-edge: the other one of its edge; else one of the above
  std::vector<IrregularEdge> irregular;  ///< in the order of (a, b)
  std::vector<uint32_t> irregular_half_edges;  ///< by edge, ascending in each
  size_t edges = 0;                            ///< how many, of any number of triangles
  uint32_t places = 0;
  bool wound_alike = true;  ///< at every edge of two triangles both are wound the same way round

  [[nodiscard]] size_t triangles() const { return corners.size() / 3; }
  [[nodiscard]] uint32_t from(uint32_t half_edge) const { return corners[half_edge]; }
  [[nodiscard]] uint32_t to(uint32_t half_edge) const { return corners[nextHalfEdge(half_edge)]; }
  [[nodiscard]] bool hasTwin(uint32_t half_edge) const { return twin[half_edge] < kNonManifold; }
  [[nodiscard]] bool collapsed(size_t triangle) const { return twin[triangle * 3] == kCollapsed; }
  /// Every edge has exactly two triangles, and there is at least one edge.
  [[nodiscard]] bool closed() const { return edges > 0 && irregular.empty(); }
  /// Keeps the triangles alone.
  void dropNeighbours() { twin = {}, irregular = {}, irregular_half_edges = {}; }

  /// The half-edges of the same triangle after and before one.
  static uint32_t nextHalfEdge(uint32_t half_edge) {
    return half_edge % 3 == 2 ? half_edge - 2 : half_edge + 1;
  }
  static uint32_t previousHalfEdge(uint32_t half_edge) {
    return half_edge % 3 == 0 ? half_edge + 2 : half_edge - 1;
  }
};

/// `corners`: 3 x n numbers below `places`, n below 2^30. Cost: n log n, on all cores where it is much.
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
/// triangle; `kCollapsed` for collapsed triangles. `flipped`: wound against the others of their shell: of two
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
