#include "app/stations/surface/sheet_map.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <map>

#include "geometry/crossings.h"
#include "geometry/union_find.h"
#include "scene/attribute_faults.h"

namespace rakugo::app {
namespace {

constexpr size_t kMostForOverlaps = 300'000;  // triangles

// The texture coordinates of all vertices of a part, or nothing.
std::vector<glm::vec2> coordinatesOf(const bundle::MeshPayload& mesh, unsigned uv_set) {
  const bundle::Attribute* at = mesh.find(uv_set == 0 ? bundle::Semantic::uv0 : bundle::Semantic::uv1);
  if (at == nullptr || at->format != bundle::AttributeFormat::f32x2) return {};
  std::vector<glm::vec2> out(mesh.vertex_count);
  for (uint32_t v = 0; v < mesh.vertex_count; ++v)
    std::memcpy(&out[v], mesh.vertices.data() + size_t{v} * mesh.stride + at->offset, sizeof(glm::vec2));
  return out;
}

bool finite(glm::vec2 v) { return std::isfinite(v.x) && std::isfinite(v.y); }

// The triangles of one part that wear the material.
void addPart(const BenchScene& scene, uint32_t number, size_t material, unsigned uv_set,
             const base::Progress& progress, SheetMap& out) {
  const BenchPart& part = scene.parts[number];
  scene::Primitive worn;
  for (const bundle::Submesh& run : part.mesh.submeshes)
    if (run.material < part.materials.size() && part.materials[run.material] == material)
      worn.indices.insert(
          worn.indices.end(), part.mesh.indices.begin() + static_cast<std::ptrdiff_t>(run.first_index),
          part.mesh.indices.begin() + static_cast<std::ptrdiff_t>(size_t{run.first_index} + run.index_count));
  if (worn.indices.empty() || part.places.size() != part.mesh.vertex_count) return;
  worn.uvs[0] = coordinatesOf(part.mesh, uv_set);
  if (worn.uvs[0].empty()) return;
  worn.positions = part.places;
  std::vector<SheetFault> faults(worn.indices.size() / 3, SheetFault::none);
  const scene::PictureFaults found = scene::pictureFaults(worn, worn.indices);
  const auto mark = [&](const std::vector<uint32_t>& list, SheetFault fault) {
    for (const uint32_t t : list) faults[t] = fault;
  };
  mark(found.mirrored, SheetFault::mirrored);
  mark(found.stretched, SheetFault::stretched);
  mark(found.collapsed, SheetFault::collapsed);
  if (out.triangles.size() + faults.size() <= kMostForOverlaps)
    mark(geometry::overlappingUvs(worn.uvs[0], worn.indices, &progress), SheetFault::overlapping);
  else
    out.complete = false;
  for (size_t t = 0; t < faults.size(); ++t) {
    const std::array<uint32_t, 3> corners{worn.indices[3 * t], worn.indices[3 * t + 1],
                                          worn.indices[3 * t + 2]};
    const auto& uv = worn.uvs[0];
    if (!finite(uv[corners[0]]) || !finite(uv[corners[1]]) || !finite(uv[corners[2]])) continue;
    out.triangles.push_back({{uv[corners[0]], uv[corners[1]], uv[corners[2]]}, corners, number, faults[t]});
    ++out.faults[static_cast<size_t>(faults[t])];
  }
}

// Edges by their ends on the picture: vertices are split for other reasons too.
void addEdges(SheetMap& out) {
  using End = std::pair<float, float>;
  struct Edge {
    End a, b;
    uint32_t triangle;
  };
  std::vector<Edge> edges;
  edges.reserve(out.triangles.size() * 3);
  for (size_t t = 0; t < out.triangles.size(); ++t)
    for (size_t c = 0; c < 3; ++c) {
      const glm::vec2 p = out.triangles[t].uv[c], o = out.triangles[t].uv[(c + 1) % 3];
      const End a{p.x, p.y}, b{o.x, o.y};
      if (a != b) edges.push_back({std::min(a, b), std::max(a, b), static_cast<uint32_t>(t)});
    }
  std::sort(edges.begin(), edges.end(), [](const Edge& x, const Edge& y) {
    return std::tie(x.a, x.b, x.triangle) < std::tie(y.a, y.b, y.triangle);
  });
  geometry::UnionFind islands(out.triangles.size());
  for (size_t i = 0; i < edges.size();) {
    size_t end = i + 1;
    while (end < edges.size() && edges[end].a == edges[i].a && edges[end].b == edges[i].b) {
      islands.join(edges[i].triangle, edges[end].triangle);
      ++end;
    }
    (end - i > 1 ? out.inner : out.borders)
        .push_back({{edges[i].a.first, edges[i].a.second}, {edges[i].b.first, edges[i].b.second}});
    i = end;
  }
  for (uint32_t t = 0; t < out.triangles.size(); ++t) out.islands += islands.first(t) == t ? 1 : 0;
}

}  // namespace

SheetMap sheetMap(const BenchScene& scene, size_t material, unsigned uv_set, const base::Progress& progress) {
  SheetMap out;
  for (uint32_t part = 0; part < scene.parts.size() && !progress.cancelled(); ++part)
    addPart(scene, part, material, uv_set, progress, out);
  if (!progress.cancelled()) addEdges(out);
  return out;
}

std::optional<size_t> triangleAt(const SheetMap& map, glm::vec2 uv) {
  for (size_t t = map.triangles.size(); t-- > 0;) {
    const auto& c = map.triangles[t].uv;
    const auto side = [&](glm::vec2 a, glm::vec2 b) {
      return (b.x - a.x) * (uv.y - a.y) - (b.y - a.y) * (uv.x - a.x);
    };
    const float x = side(c[0], c[1]), y = side(c[1], c[2]), z = side(c[2], c[0]);
    if ((x >= 0 && y >= 0 && z >= 0) || (x <= 0 && y <= 0 && z <= 0))
      if (x != 0 || y != 0 || z != 0) return t;
  }
  return std::nullopt;
}

}  // namespace rakugo::app
