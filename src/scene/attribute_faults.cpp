#include "scene/attribute_faults.h"

#include <cmath>

#include "geometry/finite.h"
#include "geometry/welding.h"

namespace rakugo::scene {
namespace {

// Vertices at one place that are compared with another: a whole file may crowd in one.
constexpr int kMostUnlike = 64;

// Whether two vertices carry the same, as far as anybody could see.
bool alike(const Primitive& p, uint32_t a, uint32_t b) {
  constexpr float kDegree = 0.99985F;  // its cosine
  const auto near = [](const auto& list, uint32_t i, uint32_t k, float most) {
    if (list.empty()) return true;
    const auto apart = glm::abs(list[i] - list[k]);
    for (int c = 0; c < static_cast<int>(apart.length()); ++c)
      if (!(apart[c] <= most)) return false;
    return true;
  };
  if (!p.normals.empty() && !(glm::dot(p.normals[a], p.normals[b]) >= kDegree) &&
      p.normals[a] != p.normals[b])
    return false;
  if (!p.tangents.empty() && !(glm::dot(glm::vec3(p.tangents[a]), glm::vec3(p.tangents[b])) >= kDegree &&
                               p.tangents[a].w == p.tangents[b].w))
    return false;
  for (const MorphTarget& m : p.morphs)
    if (!near(m.positions, a, b, 1e-5F)) return false;
  return near(p.uvs[0], a, b, 1e-5F) && near(p.uvs[1], a, b, 1e-5F) && near(p.colors, a, b, 1.0F / 512) &&
         near(p.weights, a, b, 1e-3F) && near(p.more_weights, a, b, 1e-3F) &&
         (p.joints.empty() || p.joints[a] == p.joints[b]) &&
         (p.more_joints.empty() || p.more_joints[a] == p.more_joints[b]);
}

}  // namespace

std::vector<uint8_t> usedVertices(const Primitive& primitive) {
  std::vector<uint8_t> out(primitive.positions.size(), 0);
  for (const uint32_t i : primitive.indices) out[i] = 1;
  return out;
}

std::vector<VertexTwin> coincidentTwins(const Primitive& primitive, std::span<const glm::vec3> placed,
                                        std::span<const uint32_t> among, float tolerance) {
  std::vector<glm::vec3> at(among.size());
  for (size_t i = 0; i < at.size(); ++i) at[i] = placed[among[i]];
  const geometry::Welding welding =
      tolerance > 0 ? geometry::weldNear(at, tolerance) : geometry::weldEqual(at);
  // By place, the vertices that are unlike each other: few. Kept as chains through the list.
  std::vector<uint32_t> first(welding.places(), UINT32_MAX), next(among.size(), UINT32_MAX);
  std::vector<VertexTwin> out;
  for (uint32_t i = 0; i < among.size(); ++i) {
    if (!geometry::finite(at[i])) continue;
    uint32_t* link = &first[welding.of[i]];
    int tried = 0;
    while (*link != UINT32_MAX && tried < kMostUnlike && !alike(primitive, among[*link], among[i])) {
      link = &next[*link];
      ++tried;
    }
    if (*link == UINT32_MAX)
      *link = i;
    else if (tried < kMostUnlike)
      out.push_back({among[i], among[*link]});
  }
  return out;
}

std::vector<uint32_t> badNormals(const Primitive& primitive, std::span<const uint32_t> triangles) {
  std::vector<uint32_t> out;
  const size_t n = primitive.positions.size();
  if (primitive.normals.size() != n) return out;
  std::vector<glm::vec3> faces(n, glm::vec3(0));
  for (size_t i = 0; i + 2 < triangles.size(); i += 3) {
    const uint32_t* t = triangles.data() + i;
    const glm::vec3 face = glm::cross(primitive.positions[t[1]] - primitive.positions[t[0]],
                                      primitive.positions[t[2]] - primitive.positions[t[0]]);
    if (!geometry::finite(face)) continue;
    for (int k = 0; k < 3; ++k) faces[t[k]] += face;
  }
  for (uint32_t v = 0; v < n; ++v) {
    const glm::vec3 normal = primitive.normals[v];
    // Squares of 0.99 and 1.01; what is not finite is no length.
    const float length2 = glm::dot(normal, normal);
    if (!(length2 >= 0.9801F && length2 <= 1.0201F) || glm::dot(normal, faces[v]) < 0) out.push_back(v);
  }
  return out;
}

std::vector<uint32_t> uvsOutside(const Primitive& primitive) {
  std::vector<uint32_t> out;
  constexpr float kLow = -1e-4F, kHigh = 1 + 1e-4F;
  const size_t corners = primitive.indices.size() / 3 * 3;
  for (uint32_t c = 0; c < corners; ++c) {
    const glm::vec2 uv = primitive.uvs[0][primitive.indices[c]];
    if (!(uv.x >= kLow && uv.x <= kHigh && uv.y >= kLow && uv.y <= kHigh)) out.push_back(c);
  }
  return out;
}

PictureFaults pictureFaults(const Primitive& primitive, std::span<const uint32_t> triangles) {
  constexpr double kStretched = 8, kCollapsed = 1000, kNeedle = 1e-3;
  // Of the ratio r of singular values, (r + 1/r)^2.
  constexpr auto limit = [](double r) { return (r + 1 / r) * (r + 1 / r); };
  PictureFaults out;
  for (uint32_t t = 0; t < triangles.size() / 3; ++t) {
    const uint32_t* c = triangles.data() + size_t{t} * 3;
    const glm::dvec2 from(primitive.uvs[0][c[0]]), u = glm::dvec2(primitive.uvs[0][c[1]]) - from,
                                                   v = glm::dvec2(primitive.uvs[0][c[2]]) - from;
    const double twice = u.x * v.y - u.y * v.x;
    // V runs downwards, so that what is right turns clockwise in numbers.
    if (twice > 1e-12) out.mirrored.push_back(t);
    const glm::dvec3 at(primitive.positions[c[0]]), d = glm::dvec3(primitive.positions[c[1]]) - at,
                                                    e = glm::dvec3(primitive.positions[c[2]]) - at;
    const glm::dvec3 normal = glm::cross(d, e), f = e - d;
    const double twice_area2 = glm::dot(normal, normal),
                 longest2 = std::max({glm::dot(d, d), glm::dot(e, e), glm::dot(f, f)});
    if (!(twice_area2 > kNeedle * kNeedle * longest2 * longest2) || !std::isfinite(twice)) continue;
    // Both directions of the picture on the surface, each times the triangle's double area on the picture.
    const glm::dvec3 along = d * v.y - e * u.y, across = e * u.x - d * v.x;
    const double sum = glm::dot(along, along) + glm::dot(across, across), shape = sum * sum;
    // The product of both singular values is what the one area is times the other.
    const double product2 = twice_area2 * twice * twice;
    if (!(shape <= limit(kCollapsed) * product2) || product2 == 0)
      out.collapsed.push_back(t);
    else if (shape > limit(kStretched) * product2)
      out.stretched.push_back(t);
  }
  return out;
}

}  // namespace rakugo::scene
