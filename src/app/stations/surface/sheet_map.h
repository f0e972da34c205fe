// Where a material's triangles lie on its picture: what the picture sheet draws over it.
#pragma once

#include <cstdint>
#include <glm/glm.hpp>
#include <optional>
#include <utility>
#include <vector>

#include "app/bench/bench_scene.h"
#include "base/jobs.h"

namespace rakugo::app {

/// What is wrong with a triangle's texture coordinates; one alone is told, the first of these.
enum class SheetFault : unsigned char { none, overlapping, collapsed, stretched, mirrored };

struct SheetTriangle {
  std::array<glm::vec2, 3> uv;       ///< origin at the picture's top left
  std::array<uint32_t, 3> vertices;  ///< of the part's mesh
  uint32_t part = 0;                 ///< position in the scene's parts
  SheetFault fault = SheetFault::none;
};

struct SheetMap {
  std::vector<SheetTriangle> triangles;
  /// Edges of triangles on the picture, each once: between two triangles, and where an island of them ends.
  std::vector<std::pair<glm::vec2, glm::vec2>> inner, borders;
  std::array<size_t, 5> faults{};  ///< how many triangles have each `SheetFault`
  size_t islands = 0;
  bool complete = true;  ///< false where overlaps were not looked for, because there is too much
};

/// The map of a material of the scene (a position in its list), by the set of texture coordinates that its
/// picture uses (0 or 1). Parts without that set are left out. Ends soon, with what it has, once `progress`
/// is cancelled. Cost: n log n; meant for another thread than the window's.
SheetMap sheetMap(const BenchScene& scene, size_t material, unsigned uv_set, const base::Progress& progress);

/// The triangle under a place on the picture: of those that hold it the one that is drawn last, or nothing.
std::optional<size_t> triangleAt(const SheetMap& map, glm::vec2 uv);

}  // namespace rakugo::app
