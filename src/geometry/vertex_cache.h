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

/// The same triangles (each with its winding) in an order of few cache misses: greedy, by a score of cache
/// position and remaining triangles per vertex, after T. Forsyth, "Linear-Speed Vertex Cache Optimisation"
/// (2006). Deterministic. Cost: linear in the number of triangles for meshes of bounded valence. Indices must
/// be below vertex_count.
std::vector<uint32_t> orderForVertexCache(std::span<const uint32_t> indices, uint32_t vertex_count);

/// For each old vertex its new place, in the order of first use by `indices`; vertices never used get
/// 0xFFFFFFFF. `used` receives the number of used vertices.
std::vector<uint32_t> orderOfFirstUse(std::span<const uint32_t> indices, uint32_t vertex_count,
                                      uint32_t& used);

}  // namespace rakugo::geometry
