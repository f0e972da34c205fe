#include "geometry/tangents.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <numeric>

#include "geometry/topology.h"

namespace rakugo::geometry {
namespace {

constexpr uint32_t kNoCorner = UINT32_MAX;

size_t nextCorner(size_t c) { return c % 3 == 2 ? c - 2 : c + 1; }
size_t lastCorner(size_t c) { return c % 3 == 0 ? c + 2 : c - 1; }

bool counts(float v) { return std::abs(v) > std::numeric_limits<float>::min(); }
glm::vec3 unit(glm::vec3 v) {
  const float length = glm::length(v);
  return counts(length) && std::isfinite(length) ? v / length : glm::vec3(0);
}
glm::vec3 unitAcross(glm::vec3 v, glm::vec3 normal) { return unit(v - normal * glm::dot(normal, v)); }

// How the picture lies on one triangle.
struct Lay {
  glm::vec3 u{0};        // the direction in which u grows, unit length
  bool upright = false;  // the picture is not mirrored
  bool none = true;      // the coordinates do not say
};

class Tangents {
 public:
  Tangents(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals,
           std::span<const glm::vec2> uvs, std::span<const uint32_t> indices)
      : positions_(positions), normals_(normals), uvs_(uvs), indices_(indices) {}

  std::vector<glm::vec4> run() {
    weld();
    layAll();
    pairSides();
    group();
    return evaluate();
  }

 private:
  // Vertices that are equal in all three are one.
  void weld() {
    std::vector<uint32_t> order(positions_.size());
    std::iota(order.begin(), order.end(), 0U);
    const auto key = [&](uint32_t v) {
      const glm::vec3 p = positions_[v], n = normals_[v];
      const glm::vec2 t = uvs_[v];
      std::array<uint32_t, 8> out{};
      const float all[8] = {p.x, p.y, p.z, n.x, n.y, n.z, t.x, t.y};
      // 0 and -0 are the same.
      for (size_t i = 0; i < 8; ++i) out[i] = std::bit_cast<uint32_t>(all[i] + 0.0F);
      return out;
    };
    std::sort(order.begin(), order.end(), [&](uint32_t a, uint32_t b) {
      const auto x = key(a), y = key(b);
      return x != y ? x < y : a < b;
    });
    std::vector<uint32_t> of(positions_.size());
    uint32_t count = 0;
    for (size_t i = 0; i < order.size(); ++i) {
      if (i > 0 && key(order[i]) != key(order[i - 1])) ++count;
      of[order[i]] = count;
    }
    std::vector<uint32_t> corners(indices_.size());
    for (size_t c = 0; c < corners.size(); ++c) corners[c] = of[indices_[c]];
    // A triangle with two corners at one place says nothing, even if their normals differ.
    empty_.assign(corners.size() / 3, false);
    for (size_t t = 0; t < empty_.size(); ++t) {
      const glm::vec3 a = at(t * 3), b = at(t * 3 + 1), c = at(t * 3 + 2);
      empty_[t] = a == b || b == c || c == a;
      if (empty_[t]) corners[t * 3 + 1] = corners[t * 3];  // no edges
    }
    topology_ = topologyOf(corners, positions_.empty() ? 0 : count + 1);
    welded_.resize(indices_.size());
    for (size_t c = 0; c < welded_.size(); ++c) welded_[c] = of[indices_[c]];
  }

  void layAll() {
    lay_.resize(empty_.size());
    for (size_t t = 0; t < lay_.size(); ++t) {
      if (empty_[t]) continue;
      const auto uv = [&](size_t k) {
        const glm::vec2 v = uvs_[indices_[t * 3 + k]];
        return glm::vec2(v.x, 1 - v.y);
      };
      const glm::vec2 a = uv(1) - uv(0), b = uv(2) - uv(0);
      const glm::vec3 d = at(t * 3 + 1) - at(t * 3), e = at(t * 3 + 2) - at(t * 3);
      const float area = a.x * b.y - a.y * b.x;
      Lay& lay = lay_[t];
      lay.upright = area > 0;
      if (!counts(area) || !std::isfinite(area)) continue;
      const glm::vec3 u = b.y * d - a.y * e, v = a.x * e - b.x * d;
      lay.u = unit(u) * (lay.upright ? 1.0F : -1.0F);
      lay.none = !counts(glm::length(u) / std::abs(area)) || !counts(glm::length(v) / std::abs(area));
    }
  }

  // Over each side at most one neighbour that runs against it.
  void pairSides() {
    beyond_.assign(indices_.size(), kNoCorner);
    for (uint32_t s = 0; s < beyond_.size(); ++s)
      if (topology_.hasTwin(s) && topology_.from(topology_.twin[s]) == topology_.to(s))
        beyond_[s] = topology_.twin[s];
    for (const IrregularEdge& edge : topology_.irregular)
      for (uint32_t i = edge.first; i < edge.first + edge.count; ++i) {
        const uint32_t s = topology_.irregular_half_edges[i];
        if (beyond_[s] != kNoCorner) continue;
        for (uint32_t j = i + 1; j < edge.first + edge.count; ++j) {
          const uint32_t o = topology_.irregular_half_edges[j];
          if (beyond_[o] != kNoCorner || topology_.from(o) != topology_.to(s)) continue;
          beyond_[s] = o;
          beyond_[o] = s;
          break;
        }
      }
  }

  void group() {
    group_.assign(indices_.size(), kNoCorner);
    uint32_t count = 0;
    std::vector<uint32_t> open;
    for (uint32_t c = 0; c < indices_.size(); ++c) {
      if (empty_[c / 3] || lay_[c / 3].none || group_[c] != kNoCorner) continue;
      const bool upright = lay_[c / 3].upright;
      upright_.push_back(upright);
      open = {c};
      while (!open.empty()) {
        const uint32_t now = open.back();
        open.pop_back();
        if (group_[now] != kNoCorner) continue;
        Lay& lay = lay_[now / 3];
        const uint32_t t = now / 3 * 3;
        // One that could lie either way goes with the first that takes it in.
        if (lay.none && group_[t] == kNoCorner && group_[t + 1] == kNoCorner && group_[t + 2] == kNoCorner)
          lay.upright = upright;
        if (lay.upright != upright) continue;
        group_[now] = count;
        // The one over its own side is looked at first, with all that lies behind it.
        const auto before = static_cast<uint32_t>(lastCorner(now));
        if (beyond_[before] != kNoCorner) open.push_back(beyond_[before]);
        if (beyond_[now] != kNoCorner) open.push_back(static_cast<uint32_t>(nextCorner(beyond_[now])));
      }
      ++count;
    }
  }

  std::vector<glm::vec4> evaluate() {
    std::vector<glm::vec3> sums(upright_.size(), glm::vec3(0));
    for (size_t c = 0; c < indices_.size(); ++c) {
      if (group_[c] == kNoCorner || lay_[c / 3].none) continue;
      const glm::vec3 n = normals_[indices_[c]];
      const glm::vec3 back = unitAcross(at(lastCorner(c)) - at(c), n),
                      on = unitAcross(at(nextCorner(c)) - at(c), n);
      const float angle = std::acos(std::clamp(glm::dot(back, on), -1.0F, 1.0F));
      if (std::isfinite(angle)) sums[group_[c]] += unitAcross(lay_[c / 3].u, n) * angle;
    }
    std::vector<glm::vec4> out(indices_.size());
    std::vector<uint32_t> good(positions_.size() + 1,
                               kNoCorner);  // by welded vertex, the first corner that knows
    for (uint32_t c = 0; c < indices_.size(); ++c) {
      if (group_[c] == kNoCorner) continue;
      out[c] = glm::vec4(unit(sums[group_[c]]), upright_[group_[c]] ? 1 : -1);
      if (good[welded_[c]] == kNoCorner) good[welded_[c]] = c;
    }
    for (size_t c = 0; c < indices_.size(); ++c) {
      if (group_[c] == kNoCorner && good[welded_[c]] != kNoCorner) out[c] = out[good[welded_[c]]];
      if (glm::vec3(out[c]) != glm::vec3(0)) continue;
      const glm::vec3 n = normals_[indices_[c]];
      const glm::vec3 axis = std::abs(n.x) < 0.7F ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0);
      const glm::vec3 any = unitAcross(axis, n);
      out[c] = glm::vec4(any == glm::vec3(0) ? glm::vec3(1, 0, 0) : any, out[c].w == 0 ? 1 : out[c].w);
    }
    return out;
  }

  [[nodiscard]] glm::vec3 at(size_t c) const { return positions_[indices_[c]]; }

  std::span<const glm::vec3> positions_, normals_;
  std::span<const glm::vec2> uvs_;
  std::span<const uint32_t> indices_;
  std::vector<uint32_t> welded_, beyond_, group_;  // by corner
  std::vector<bool> empty_;                        // by triangle
  std::vector<Lay> lay_;                           // by triangle
  std::vector<bool> upright_;                      // by group
  Topology topology_;
};

}  // namespace

std::vector<glm::vec4> cornerTangents(std::span<const glm::vec3> positions,
                                      std::span<const glm::vec3> normals, std::span<const glm::vec2> uvs,
                                      std::span<const uint32_t> indices) {
  return Tangents(positions, normals, uvs, indices).run();
}

}  // namespace rakugo::geometry
