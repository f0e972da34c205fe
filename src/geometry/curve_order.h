// Vertices in an order that keeps neighbours together, and what that order tells: which stand at one place,
// and which are close to another.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <utility>
#include <vector>

#include "geometry/bounds.h"
#include "geometry/welding.h"

namespace rakugo::geometry {

/// Vertices along a Z-order curve through a grid of 1024 cells a side about them (Morton, "A computer
/// oriented geodetic data base", 1966); those of positions that are not finite come last. The positions it is
/// made of must outlive it and stay as they are.
class CurveOrder {
 public:
  /// `positions` (n x 3, any space) and their box. Cost: linear; n log n where many vertices crowd in few
  /// cells.
  CurveOrder(std::span<const glm::vec3> positions, const Bounds& box);

  /// The same vertices share the same places as by weldEqual, but places are numbered along the curve:
  /// anything that walks places and their neighbours finds most of them in the processor's cache, in whatever
  /// order a file has its vertices. Cost: linear.
  [[nodiscard]] Welding weld() const;

  /// Numbers of all vertices with another vertex within `tolerance` (>= 0, same unit), ascending. May contain
  /// false positives where a cell is crowded. Cost: linear, but for a search for each vertex that lies within
  /// `tolerance` of a side of its cell.
  [[nodiscard]] std::vector<uint32_t> withNeighbour(float tolerance) const;

 private:
  static constexpr uint32_t kCells = 1024;
  static constexpr uint32_t kNowhere = UINT32_MAX >> 1;  // after every cell: those are 30 bits
  struct Item {
    uint32_t cell, vertex;
  };
  // A cell along one axis.
  [[nodiscard]] uint32_t along(float from, float at) const;
  [[nodiscard]] size_t endOfCell(size_t begin) const;
  [[nodiscard]] bool nearInCell(size_t begin, size_t end, uint32_t vertex, float tolerance) const;
  [[nodiscard]] bool nearBeyond(size_t item, float tolerance) const;
  [[nodiscard]] std::pair<size_t, size_t> itemsOf(uint32_t cell, size_t from) const;

  std::span<const glm::vec3> positions_;
  glm::vec3 corner_;
  float scale_ = 0;  // cells a unit
  std::vector<Item> items_;
};

}  // namespace rakugo::geometry
