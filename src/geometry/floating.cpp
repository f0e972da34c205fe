#include "geometry/floating.h"

#include <array>
#include <cmath>
#include <limits>
#include <vector>

#include "geometry/finite.h"
#include "geometry/hull.h"

namespace rakugo::geometry {
namespace {

// Two directions across `up`, with it right-handed.
std::pair<glm::dvec3, glm::dvec3> acrossUp(const glm::dvec3& up) {
  const glm::dvec3 other = std::abs(up.x) < 0.6 ? glm::dvec3(1, 0, 0) : glm::dvec3(0, 1, 0);
  const glm::dvec3 a = glm::normalize(glm::cross(other, up));
  return {a, glm::cross(up, a)};
}

// A triangle's part at or below a level of its third coordinate; at most four corners.
struct Cut {
  std::array<glm::dvec3, 4> at;
  size_t count = 0;
};
Cut below(const std::array<glm::dvec3, 3>& corners, double level) {
  Cut out;
  for (size_t i = 0; i < 3; ++i) {
    const glm::dvec3 &a = corners[i], &b = corners[(i + 1) % 3];
    if (a.z <= level) out.at[out.count++] = a;
    if ((a.z <= level) != (b.z <= level)) {
      glm::dvec3 edge = a + (b - a) * ((level - a.z) / (b.z - a.z));
      edge.z = level;
      out.at[out.count++] = edge;
    }
  }
  return out;
}

// Calls body(a, b, c) for each triangle in a frame whose third axis is up, cut at the level.
template <class Body>
void eachBelow(std::span<const glm::vec3> positions, std::span<const uint32_t> corners, const glm::dvec3& up,
               double level, const Body& body) {
  const auto [x, y] = acrossUp(up);
  const auto placed = [&, ax = x, ay = y](uint32_t i) {
    const glm::dvec3 p(positions[i]);
    return glm::dvec3(glm::dot(p, ax), glm::dot(p, ay), glm::dot(p, up));
  };
  for (size_t t = 0; t + 2 < corners.size(); t += 3) {
    if (!finite(positions[corners[t]]) || !finite(positions[corners[t + 1]]) ||
        !finite(positions[corners[t + 2]]))
      continue;
    const Cut cut = below({placed(corners[t]), placed(corners[t + 1]), placed(corners[t + 2])}, level);
    for (size_t i = 1; i + 1 < cut.count; ++i) body(cut.at[0], cut.at[i], cut.at[i + 1]);
  }
}

// Twice the area that a triangle covers seen from above, negative where it faces down.
double twiceSeen(const glm::dvec3& a, const glm::dvec3& b, const glm::dvec3& c) {
  return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
}

// The plane of the water within a closed surface: area, and first and second moments about the frame's axes.
// By what of the surface faces down below it: seen from above that covers the plane as often as it lies
// inside.
struct WaterPlane {
  double area = 0, x = 0, y = 0, xx = 0, yy = 0, xy = 0;
};
WaterPlane waterPlane(std::span<const glm::vec3> positions, std::span<const uint32_t> corners,
                      const glm::dvec3& up, double level) {
  WaterPlane out;
  eachBelow(positions, corners, up, level,
            [&](const glm::dvec3& a, const glm::dvec3& b, const glm::dvec3& c) {
              const double area = -twiceSeen(a, b, c) / 2;
              const auto second = [&](double pa, double pb, double pc, double qa, double qb, double qc) {
                return area / 12 * ((pa + pb + pc) * (qa + qb + qc) + pa * qa + pb * qb + pc * qc);
              };
              out.area += area;
              out.x += area * (a.x + b.x + c.x) / 3;
              out.y += area * (a.y + b.y + c.y) / 3;
              out.xx += second(a.x, b.x, c.x, a.x, b.x, c.x);
              out.yy += second(a.y, b.y, c.y, a.y, b.y, c.y);
              out.xy += second(a.x, b.x, c.x, a.y, b.y, c.y);
            });
  return out;
}

}  // namespace

Submerged submergedBelow(std::span<const glm::vec3> positions, std::span<const uint32_t> corners,
                         const glm::dvec3& up, double level) {
  double volume = 0;
  glm::dvec3 first(0);
  eachBelow(positions, corners, up, level,
            [&](const glm::dvec3& a, const glm::dvec3& b, const glm::dvec3& c) {
              // The column from the triangle up to the level.
              const double area = -twiceSeen(a, b, c) / 2;
              const double da = level - a.z, db = level - b.z, dc = level - c.z;
              const double sum = da + db + dc;
              volume += area * sum / 3;
              const auto moment = [&](double pa, double pb, double pc) {
                return area / 12 * ((pa + pb + pc) * sum + pa * da + pb * db + pc * dc);
              };
              first.x += moment(a.x, b.x, c.x);
              first.y += moment(a.y, b.y, c.y);
              // Along up: half way between the triangle and the level, times the depth.
              first.z += level * area * sum / 3 - area / 12 * (sum * sum + da * da + db * db + dc * dc) / 2;
            });
  Submerged out;
  out.volume = volume;
  if (volume == 0) return out;
  const auto [x, y] = acrossUp(up);
  out.center = (x * first.x + y * first.y + up * first.z) / volume;
  return out;
}

std::optional<Floating> floatingOf(std::span<const glm::vec3> positions, std::span<const uint32_t> corners,
                                   const glm::dvec3& up, const glm::dvec3& along, double displaced,
                                   const glm::dvec3& mass_center) {
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (const uint32_t i : corners) {
    if (!finite(positions[i])) continue;
    const double h = glm::dot(glm::dvec3(positions[i]), up);
    low = std::min(low, h);
    high = std::max(high, h);
  }
  if (!(low < high) || !(displaced > 0) || submergedBelow(positions, corners, up, high).volume < displaced)
    return std::nullopt;
  double under = low, over = high;
  for (int i = 0; i < 60 && over - under > 1e-12 * (high - low); ++i) {
    const double middle = (under + over) / 2;
    (submergedBelow(positions, corners, up, middle).volume < displaced ? under : over) = middle;
  }
  Floating out;
  out.level = over;
  out.draught = over - low;
  const Submerged wet = submergedBelow(positions, corners, up, over);
  out.buoyancy = wet.center;
  const WaterPlane plane = waterPlane(positions, corners, up, over);
  if (!(plane.area > 0) || !(wet.volume > 0)) return out;
  // Second moments about the plane's own centre, along `along` and across it.
  const double cx = plane.x / plane.area, cy = plane.y / plane.area;
  const double xx = plane.xx - plane.area * cx * cx, yy = plane.yy - plane.area * cy * cy,
               xy = plane.xy - plane.area * cx * cy;
  const auto [x, y] = acrossUp(up);
  const double ax = glm::dot(along, x), ay = glm::dot(along, y);
  const double ends = ax * ax * xx + 2 * ax * ay * xy + ay * ay * yy;
  const double sides = ay * ay * xx - 2 * ax * ay * xy + ax * ax * yy;
  const double above = glm::dot(wet.center - mass_center, up);
  out.righting_sides = sides / wet.volume + above;
  out.righting_ends = ends / wet.volume + above;
  return out;
}

std::optional<Standing> standingOf(std::span<const glm::vec3> positions, const glm::dvec3& up,
                                   const glm::dvec3& mass_center, double tolerance) {
  double low = std::numeric_limits<double>::infinity();
  for (const glm::vec3& p : positions)
    if (finite(p)) low = std::min(low, glm::dot(glm::dvec3(p), up));
  if (!std::isfinite(low)) return std::nullopt;
  const auto [x, y] = acrossUp(up);
  std::vector<glm::dvec2> feet;
  for (const glm::vec3& p : positions)
    if (finite(p) && glm::dot(glm::dvec3(p), up) <= low + tolerance)
      feet.emplace_back(glm::dot(glm::dvec3(p), x), glm::dot(glm::dvec3(p), y));
  const std::vector<glm::dvec2> ring = convexOutline(std::move(feet));
  const glm::dvec2 at(glm::dot(mass_center, x), glm::dot(mass_center, y));
  Standing out;
  out.height = glm::dot(mass_center, up) - low;
  if (ring.size() < 3) {
    // On a point or an edge it does not stand.
    double nearest = std::numeric_limits<double>::infinity();
    for (const glm::dvec2& p : ring) nearest = std::min(nearest, glm::distance(p, at));
    out.margin = -nearest;
  } else {
    out.margin = std::numeric_limits<double>::infinity();
    for (size_t i = 0; i < ring.size(); ++i) {
      const glm::dvec2 edge = glm::normalize(ring[(i + 1) % ring.size()] - ring[i]), to = at - ring[i];
      out.margin = std::min(out.margin, edge.x * to.y - edge.y * to.x);
    }
  }
  out.angle_rad = std::atan2(out.margin, std::max(out.height, 1e-12));
  return out;
}

}  // namespace rakugo::geometry
