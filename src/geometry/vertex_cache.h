// The order of triangles and vertices that a graphics card reads with the least work.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace rakugo::geometry {

/// Vertices transformed per triangle by a first-in-first-out cache of `cache_size` vertices (average cache
/// miss ratio). 3 is the worst, about 0.6 is good for a closed mesh. 0 for no triangles.
double averageCacheMissRatio(std::span<const uint32_t> indices, uint32_t vertex_count,
                             uint32_t cache_size = 16);

/// The same triangles (each with its winding, though it may begin at another corner) in an order of few cache
/// misses: the fan of one vertex after another, each begun at the vertex that has been in the cache longest,
/// after P. Sander, D. Nehab and J. Barczak, "Fast triangle reordering for vertex locality and reduced
/// overdraw" (2007), with the neighbours by corner, so that a walk looks up no triangle. Triangles with two
/// equal corners come last. Deterministic. Cost: linear. Indices must be below vertex_count.
std::vector<uint32_t> orderForVertexCache(std::span<const uint32_t> indices, uint32_t vertex_count);

/// For each old vertex its new place, in the order of first use by `indices`; vertices never used get
/// 0xFFFFFFFF. `used` receives the number of used vertices.
std::vector<uint32_t> orderOfFirstUse(std::span<const uint32_t> indices, uint32_t vertex_count,
                                      uint32_t& used);

}  // namespace rakugo::geometry
