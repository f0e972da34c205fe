#include "geometry/polygon.h"

#include <algorithm>
#include <cmath>

namespace rakugo::geometry {
namespace {

float cross2(glm::vec2 a, glm::vec2 b) { return a.x * b.y - a.y * b.x; }

// Twice the signed area of a triangle in the plane.
float turn(glm::vec2 a, glm::vec2 b, glm::vec2 c) { return cross2(b - a, c - a); }

bool inside(glm::vec2 p, glm::vec2 a, glm::vec2 b, glm::vec2 c) {
  return turn(a, b, p) >= 0 && turn(b, c, p) >= 0 && turn(c, a, p) >= 0;
}

void fan(size_t count, std::vector<uint32_t>& out) {
  for (uint32_t i = 1; i + 1 < count; ++i) out.insert(out.end(), {0, i, i + 1});
}

// The corners as seen along the normal, so that the polygon runs counter-clockwise.
std::vector<glm::vec2> flattened(std::span<const glm::vec3> corners, glm::vec3 normal) {
  const glm::vec3 n = glm::abs(normal);
  std::vector<glm::vec2> out;
  out.reserve(corners.size());
  // Dropping the largest component keeps the shape; the sign keeps the turning sense.
  for (const glm::vec3& c : corners) {
    if (n.z >= n.x && n.z >= n.y)
      out.emplace_back(normal.z > 0 ? c.x : -c.x, c.y);
    else if (n.x >= n.y)
      out.emplace_back(normal.x > 0 ? c.y : -c.y, c.z);
    else
      out.emplace_back(normal.y > 0 ? c.z : -c.z, c.x);
  }
  return out;
}

bool isEar(const std::vector<glm::vec2>& flat, const std::vector<uint32_t>& left, size_t at) {
  const size_t n = left.size();
  const glm::vec2 a = flat[left[(at + n - 1) % n]], b = flat[left[at]], c = flat[left[(at + 1) % n]];
  if (turn(a, b, c) <= 0) return false;
  for (size_t i = 0; i < n; ++i) {
    const glm::vec2 p = flat[left[i]];
    // Corners of the ear, also where the outline touches itself there, do not count as inside.
    if (p == a || p == b || p == c) continue;
    if (inside(p, a, b, c)) return false;
  }
  return true;
}

// Cuts a counter-clockwise ring into triangles; false, and nothing added, when no ear is left.
bool clipEars(const std::vector<glm::vec2>& flat, std::vector<uint32_t> left, std::vector<uint32_t>& out) {
  const size_t before = out.size();
  size_t at = 0, refused = 0;
  while (left.size() > 3) {
    if (isEar(flat, left, at)) {
      const size_t n = left.size();
      out.insert(out.end(), {left[(at + n - 1) % n], left[at], left[(at + 1) % n]});
      left.erase(left.begin() + static_cast<std::ptrdiff_t>(at));
      refused = 0;
      // Going on behind the ear, not beside it: slivers in a row would follow.
      at = (at + 1) % left.size();
    } else {
      at = (at + 1) % left.size();
      if (++refused > left.size()) {
        out.resize(before);
        return false;
      }
    }
  }
  out.insert(out.end(), {left[0], left[1], left[2]});
  return true;
}

float ringArea(const std::vector<glm::vec2>& flat, const std::vector<uint32_t>& ring) {
  float out = 0;
  for (size_t i = 0; i < ring.size(); ++i)
    out += cross2(flat[ring[i]] - flat[ring[0]], flat[ring[(i + 1) % ring.size()]] - flat[ring[0]]);
  return out;
}

// Whether two segments cross in their insides.
bool cross(glm::vec2 a, glm::vec2 b, glm::vec2 c, glm::vec2 d) {
  if (a == c || a == d || b == c || b == d) return false;
  return (turn(a, b, c) > 0) != (turn(a, b, d) > 0) && (turn(c, d, a) > 0) != (turn(c, d, b) > 0);
}

bool crossesRing(const std::vector<glm::vec2>& flat, const std::vector<uint32_t>& ring, glm::vec2 a,
                 glm::vec2 b) {
  for (size_t i = 0; i < ring.size(); ++i)
    if (cross(a, b, flat[ring[i]], flat[ring[(i + 1) % ring.size()]])) return true;
  return false;
}

// Puts hole `h` into the ring, by a cut to the nearest corner that its first corner sees; holes that come
// later must not be crossed. One that sees no corner stays out.
void joinHole(const std::vector<glm::vec2>& flat, const std::vector<std::vector<uint32_t>>& rings, size_t h,
              std::vector<uint32_t>& ring) {
  const std::vector<uint32_t>& hole = rings[h];
  const glm::vec2 from = flat[hole[0]];
  size_t best = SIZE_MAX;
  float nearest = 0;
  for (size_t i = 0; i < ring.size(); ++i) {
    const glm::vec2 to = flat[ring[i]];
    const float distance = glm::dot(to - from, to - from);
    if (best != SIZE_MAX && distance >= nearest) continue;
    const glm::vec2 before = flat[ring[(i + ring.size() - 1) % ring.size()]],
                    after = flat[ring[(i + 1) % ring.size()]];
    const bool left_of_first = turn(before, to, from) > 0, left_of_second = turn(to, after, from) > 0;
    const bool convex = turn(before, to, after) > 0;
    if (convex ? !(left_of_first && left_of_second) : !(left_of_first || left_of_second)) continue;
    bool seen = !crossesRing(flat, ring, from, to);
    for (size_t k = h; k < rings.size() && seen; ++k) seen = !crossesRing(flat, rings[k], from, to);
    if (!seen) continue;
    best = i;
    nearest = distance;
  }
  if (best == SIZE_MAX) return;
  std::vector<uint32_t> cut(hole.begin(), hole.end());
  cut.push_back(hole[0]);
  cut.push_back(ring[best]);
  ring.insert(ring.begin() + static_cast<std::ptrdiff_t>(best) + 1, cut.begin(), cut.end());
}

}  // namespace

glm::vec3 newellNormal(std::span<const glm::vec3> corners) {
  glm::vec3 out(0);
  for (size_t i = 0; i < corners.size(); ++i) {
    // Relative to the first corner: far from the origin the products would drown the differences.
    const glm::vec3 a = corners[i] - corners[0], b = corners[(i + 1) % corners.size()] - corners[0];
    out += glm::cross(a, b);
  }
  return out;
}

void triangulatePolygon(std::span<const glm::vec3> corners, std::vector<uint32_t>& out) {
  if (corners.size() < 3) return;
  if (corners.size() == 3) return fan(3, out);
  const glm::vec3 normal = newellNormal(corners);
  const float area = glm::dot(normal, normal);
  if (!(area > 0) || !std::isfinite(area) || corners.size() > kMostEars) return fan(corners.size(), out);
  const std::vector<glm::vec2> flat = flattened(corners, normal);
  if (corners.size() == 4) {
    // The diagonal that leaves both halves turned the right way.
    const bool first = turn(flat[0], flat[1], flat[2]) >= 0 && turn(flat[0], flat[2], flat[3]) >= 0;
    if (first) return fan(4, out);
    out.insert(out.end(), {1, 2, 3, 1, 3, 0});
    return;
  }
  std::vector<uint32_t> ring(corners.size());
  for (uint32_t i = 0; i < ring.size(); ++i) ring[i] = i;
  if (!clipEars(flat, std::move(ring), out)) fan(corners.size(), out);
}

void triangulateWithHoles(std::span<const glm::vec3> corners, std::span<const size_t> holes,
                          std::vector<uint32_t>& out) {
  const size_t outline = holes.empty() ? corners.size() : std::min(holes[0], corners.size());
  const glm::vec3 normal = newellNormal(corners.first(outline));
  const float area = glm::dot(normal, normal);
  if (outline < 3 || !(area > 0) || !std::isfinite(area) || corners.size() > kMostEars)
    return triangulatePolygon(corners.first(outline), out);
  const std::vector<glm::vec2> flat = flattened(corners, normal);
  std::vector<uint32_t> ring(outline);
  for (uint32_t i = 0; i < outline; ++i) ring[i] = i;
  std::vector<std::vector<uint32_t>> rings;
  for (size_t h = 0; h < holes.size(); ++h) {
    const size_t end = h + 1 < holes.size() ? holes[h + 1] : corners.size();
    if (end > corners.size() || end < holes[h] + 3) continue;
    std::vector<uint32_t> hole;
    for (size_t i = holes[h]; i < end; ++i) hole.push_back(static_cast<uint32_t>(i));
    if (ringArea(flat, hole) > 0) std::reverse(hole.begin(), hole.end());
    // It is joined at its rightmost corner.
    std::rotate(hole.begin(),
                std::max_element(hole.begin(), hole.end(),
                                 [&](uint32_t a, uint32_t b) { return flat[a].x < flat[b].x; }),
                hole.end());
    rings.push_back(std::move(hole));
  }
  // From the right to the left: a hole then sees the outline, or one that is joined already.
  std::sort(rings.begin(), rings.end(),
            [&](const auto& a, const auto& b) { return flat[a[0]].x > flat[b[0]].x; });
  for (size_t h = 0; h < rings.size(); ++h) joinHole(flat, rings, h, ring);
  if (!clipEars(flat, std::move(ring), out)) triangulatePolygon(corners.first(outline), out);
}

}  // namespace rakugo::geometry
