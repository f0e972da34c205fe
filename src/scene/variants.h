// Size variants of one model: a game blends them vertex by vertex, so both need the same vertices in the same
// order.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "scene/model.h"

namespace rakugo::scene {

/// The first thing in which two variants differ.
struct VariantDifference {
  enum class What : unsigned char { parts, primitives, vertices, triangles, corner, coordinates };
  What what = What::parts;
  std::string part;       ///< name in the first model; empty for `parts`
  size_t primitive = 0;   ///< of the part
  uint64_t index = 0;     ///< of the corner or the vertex
  uint64_t a = 0, b = 0;  ///< counts, or the vertices a corner names
};
/// "parts", "vertices"...
const char* differenceName(VariantDifference::What what);

/// How the second model's vertices would have to stand: its vertex `order[i]` where the first has vertex i.
struct PrimitiveOrder {
  std::string part;
  size_t primitive = 0;
  std::vector<uint32_t> order;
};

struct VariantReport {
  bool same = false;  ///< counts, corners and texture coordinates agree
  uint64_t vertices[2] = {0, 0}, triangles[2] = {0, 0};
  std::optional<VariantDifference> first;  ///< nothing when `same`
  bool only_order = false;                 ///< not the same, but re-ordering makes them so
  std::vector<PrimitiveOrder> proposal;    ///< of all primitives when `only_order`
};

/// Compares the reached parts, in the order of the tree. Texture coordinates count as equal within 1e-4.
/// Where only the order differs, vertices are matched by their coordinates and by how they hang together
/// (colour refinement of Weisfeiler and Leman, 1968), what is still alike by where it lies within the model's
/// box; and the match is checked triangle by triangle before it is proposed. Cost: n log n times a few
/// rounds.
VariantReport compareVariants(const Model& a, const Model& b);

/// Puts the vertices and triangles of `b` in the order that the report of `compareVariants(a, b)` proposes;
/// `b` is then the same as `a` but for where its vertices stand. Nothing happens when the report proposes
/// none.
void orderLike(Model& b, const Model& a, const VariantReport& report);

/// A size between two that are the same: everything of `a`, with vertices and normals `share` of the way to
/// those of `b`. Parts stand where those of `a` do.
Model blendedVariants(const Model& a, const Model& b, float share);

}  // namespace rakugo::scene
