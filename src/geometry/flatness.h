// What carries no shape, and what does not follow its block's box.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

#include "geometry/topology.h"

namespace rakugo::geometry {

/// How flat is flat.
struct FlatOptions {
  float angle_rad = 0.0018F;  ///< 0.1 degrees: between planes, and between edges that go straight on
};

/// What of a body's surface is more than its shape needs, and what stands askew.
struct Flatness {
  /// Places that could go without changing the shape: inside a flat face, or where a straight border or a
  /// straight ridge between two flat faces goes on. Ascending. Places at an edge of three or more triangles
  /// stay.
  std::vector<uint32_t> shapeless;
  /// Edges, each by its first side and in the order of those, that are borders or ridges and run along none
  /// of the box's three axes, the ones positions are in. Edges inside a flat face are of no account: a square
  /// is cut somewhere.
  std::vector<uint32_t> unaligned;
};
/// `positions` (n x 3, any unit) are by place; `normals` by triangle, of length 1 or zero (`unitNormals`).
/// How triangles are wound does not matter, and one without a surface bends nothing. Cost: linear.
Flatness flatnessOf(std::span<const glm::vec3> positions, const Topology& topology,
                    std::span<const glm::vec3> normals, const FlatOptions& options = {});

}  // namespace rakugo::geometry
