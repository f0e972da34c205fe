// Shells as bodies: whether they are closed, what they hold, which lies within which.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <span>
#include <vector>

#include "geometry/bounds.h"
#include "geometry/topology.h"

namespace rakugo::geometry {

struct ShellFacts {
  uint32_t triangles = 0;
  bool closed = false;  ///< every edge has two triangles
  double volume = 0;    ///< in cubed units, by the shell's own winding (flipped triangles turned): negative
                        ///< where it is wound inward; 0 if open
  bool hollow = false;  ///< closed, wound inward, and within an odd number of others: what it holds is
                        ///< missing from them. One wound outward there is a body in a body.
  bool inside_out = false;  ///< closed, wound inward, and no hollow
  Bounds box;
};

/// Facts of each shell. `positions` are by place. The volume is the sum of signed tetrahedra (Zhang and Chen,
/// "Efficient feature extraction for 2D/3D objects in mesh representation", 2001) about a corner of
/// the shell. Cost: n log n.
std::vector<ShellFacts> shellFacts(std::span<const glm::vec3> positions, const Topology& topology,
                                   const Shells& shells);

/// Triangles that lie wholly inside a closed shell other than their own, where nobody can see them: those of
/// hollows and of shells in shells, and of open shells triangle by triangle. Ascending. Cost: n log n for
/// what lies within others' boxes.
std::vector<uint32_t> hiddenTriangles(std::span<const glm::vec3> positions, const Topology& topology,
                                      const Shells& shells, const std::vector<ShellFacts>& facts);

/// The area of triangles (3 x n), in squared units; those with a corner that is not finite count nothing.
double areaOf(std::span<const glm::vec3> positions, std::span<const uint32_t> corners);

}  // namespace rakugo::geometry
