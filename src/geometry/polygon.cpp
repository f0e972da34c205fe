#include "geometry/polygon.h"

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
  const size_t before = out.size();
  std::vector<uint32_t> left(corners.size());
  for (uint32_t i = 0; i < left.size(); ++i) left[i] = i;
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
        return fan(corners.size(), out);
      }
    }
  }
  out.insert(out.end(), {left[0], left[1], left[2]});
}

}  // namespace rakugo::geometry
