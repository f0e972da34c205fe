#include "scene/corner_split.h"

#include "scene/primitive_edit.h"

namespace rakugo::scene {
namespace {

constexpr float kSame = 1e-4F;  // apart, as points on the unit ball

}  // namespace

size_t splitCorners(Primitive& p, const std::function<bool(uint32_t, uint32_t)>& same) {
  // By vertex: the first corner of each of its sorts, as a chain, and which vertex that sort has.
  struct Sort {
    uint32_t corner, vertex, next;
  };
  std::vector<Sort> sorts;
  std::vector<uint32_t> head(p.positions.size(), UINT32_MAX);
  const size_t before = p.positions.size();
  for (uint32_t c = 0; c < p.indices.size(); ++c) {
    const uint32_t v = p.indices[c];
    uint32_t at = head[v], last = UINT32_MAX;
    while (at != UINT32_MAX && !same(sorts[at].corner, c)) {
      last = at;
      at = sorts[at].next;
    }
    if (at == UINT32_MAX) {
      at = static_cast<uint32_t>(sorts.size());
      uint32_t vertex = v;
      if (last == UINT32_MAX)
        head[v] = at;
      else {
        sorts[last].next = at;
        vertex = appendVertex(p, p, v, p.positions[v], v < p.normals.size() ? p.normals[v] : glm::vec3(0));
      }
      sorts.push_back({c, vertex, UINT32_MAX});
    }
    p.indices[c] = sorts[at].vertex;
  }
  return p.positions.size() - before;
}

void setCornerNormals(Primitive& p, std::span<const glm::vec3> normals) {
  splitCorners(p, [&](uint32_t a, uint32_t b) { return glm::distance(normals[a], normals[b]) < kSame; });
  p.normals.resize(p.positions.size(), glm::vec3(0, 0, 1));
  // From behind, so that the first corner of each vertex decides.
  for (size_t c = p.indices.size(); c-- > 0;) p.normals[p.indices[c]] = normals[c];
}

void setCornerTangents(Primitive& p, std::span<const glm::vec4> tangents) {
  splitCorners(p, [&](uint32_t a, uint32_t b) {
    return tangents[a].w == tangents[b].w &&
           glm::distance(glm::vec3(tangents[a]), glm::vec3(tangents[b])) < kSame;
  });
  p.tangents.resize(p.positions.size(), glm::vec4(1, 0, 0, 1));
  for (size_t c = p.indices.size(); c-- > 0;) p.tangents[p.indices[c]] = tangents[c];
}

}  // namespace rakugo::scene
