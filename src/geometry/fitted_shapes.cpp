#include "geometry/fitted_shapes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>
#include <random>
#include <vector>

#include "geometry/bounds.h"

namespace rakugo::geometry {
namespace {

constexpr size_t kMostFaces = 128;
constexpr double kPi = 3.14159265358979323846;

// Two directions across a third, so that (a, b, along) is right-handed.
std::pair<glm::dvec3, glm::dvec3> across(const glm::dvec3& along) {
  const glm::dvec3 other = std::abs(along.x) < 0.6 ? glm::dvec3(1, 0, 0) : glm::dvec3(0, 1, 0);
  const glm::dvec3 a = glm::normalize(glm::cross(other, along));
  return {a, glm::cross(along, a)};
}

std::vector<glm::dvec2> seenAlong(std::span<const glm::vec3> points, const glm::dvec3& a,
                                  const glm::dvec3& b) {
  std::vector<glm::dvec2> out;
  out.reserve(points.size());
  for (const glm::vec3& p : points) out.emplace_back(glm::dot(glm::dvec3(p), a), glm::dot(glm::dvec3(p), b));
  return out;
}

struct Rectangle {
  glm::dvec2 along{1, 0}, low{0}, high{0};  // along, and across it to the left
  [[nodiscard]] double area() const { return (high.x - low.x) * (high.y - low.y); }
};

Rectangle leastRectangle(const std::vector<glm::dvec2>& ring) {
  Rectangle best;
  double least = std::numeric_limits<double>::infinity();
  for (size_t i = 0; i < ring.size(); ++i) {
    const glm::dvec2 edge = ring[(i + 1) % ring.size()] - ring[i];
    const double length = glm::length(edge);
    if (!(length > 0)) continue;
    Rectangle one;
    one.along = edge / length;
    const glm::dvec2 left(-one.along.y, one.along.x);
    one.low = glm::dvec2(std::numeric_limits<double>::infinity());
    one.high = -one.low;
    for (const glm::dvec2& p : ring) {
      const glm::dvec2 at(glm::dot(p, one.along), glm::dot(p, left));
      one.low = glm::min(one.low, at);
      one.high = glm::max(one.high, at);
    }
    if (one.area() < least) least = one.area(), best = one;
  }
  return best;
}

struct Circle {
  glm::dvec2 center{0};
  double radius = -1;
  [[nodiscard]] bool holds(const glm::dvec2& p) const {
    return glm::distance(center, p) <= radius * (1 + 1e-12) + 1e-15;
  }
};

Circle through(const glm::dvec2& a, const glm::dvec2& b) { return {(a + b) / 2.0, glm::distance(a, b) / 2}; }
Circle through(const glm::dvec2& a, const glm::dvec2& b, const glm::dvec2& c) {
  const glm::dvec2 ab = b - a, ac = c - a;
  const double twice = 2 * (ab.x * ac.y - ab.y * ac.x);
  if (std::abs(twice) < 1e-300) {
    Circle widest = through(a, b);
    for (const Circle& one : {through(a, c), through(b, c)})
      if (one.radius > widest.radius) widest = one;
    return widest;
  }
  const double bb = glm::dot(ab, ab), cc = glm::dot(ac, ac);
  const glm::dvec2 off((ac.y * bb - ab.y * cc) / twice, (ab.x * cc - ac.x * bb) / twice);
  return {a + off, glm::length(off)};
}

// Welzl's, without recursion: a point outside lies on the circle round those before it.
Circle leastCircle(std::vector<glm::dvec2> points) {
  std::shuffle(points.begin(), points.end(), std::mt19937(1));
  Circle out;
  for (size_t i = 0; i < points.size(); ++i) {
    if (out.radius >= 0 && out.holds(points[i])) continue;
    out = {points[i], 0};
    for (size_t j = 0; j < i; ++j) {
      if (out.holds(points[j])) continue;
      out = through(points[i], points[j]);
      for (size_t k = 0; k < j; ++k)
        if (!out.holds(points[k])) out = through(points[i], points[j], points[k]);
    }
  }
  return out;
}

struct Ball {
  glm::dvec3 center{0};
  double radius = -1;
  [[nodiscard]] bool holds(const glm::dvec3& p) const {
    return radius >= 0 && glm::distance(center, p) <= radius * (1 + 1e-12) + 1e-15;
  }
};

// The ball with up to four points on its surface, its centre in what they span.
Ball ballThrough(const std::vector<glm::dvec3>& on) {
  if (on.empty()) return {};
  if (on.size() == 1) return {on[0], 0};
  if (on.size() == 2) return {(on[0] + on[1]) / 2.0, glm::distance(on[0], on[1]) / 2};
  const glm::dvec3 a = on[1] - on[0], b = on[2] - on[0];
  const glm::dvec3 n = glm::cross(a, b);
  if (on.size() == 3) {
    const double twice = 2 * glm::dot(n, n);
    if (twice < 1e-300) return {};
    const glm::dvec3 off = (glm::dot(b, b) * glm::cross(n, a) + glm::dot(a, a) * glm::cross(b, n)) / twice;
    return {on[0] + off, glm::length(off)};
  }
  const glm::dvec3 c = on[3] - on[0];
  const double twice = 2 * glm::dot(a, glm::cross(b, c));
  if (std::abs(twice) < 1e-300) return {};
  const glm::dvec3 off = (glm::dot(c, c) * glm::cross(a, b) + glm::dot(b, b) * glm::cross(c, a) +
                          glm::dot(a, a) * glm::cross(b, c)) /
                         twice;
  return {on[0] + off, glm::length(off)};
}

// Of the first `count` points, with those in `on` on the surface. No deeper than four.
Ball ballRound(const std::vector<glm::dvec3>& points, size_t count, const std::vector<glm::dvec3>& on) {
  Ball out = ballThrough(on);
  if (on.size() == 4) return out;
  for (size_t i = 0; i < count; ++i) {
    if (out.holds(points[i])) continue;
    std::vector<glm::dvec3> more = on;
    more.push_back(points[i]);
    if (const Ball next = ballRound(points, i, more); next.radius >= 0) out = next;
  }
  return out;
}

// Directions that a round shape may lie along.
std::vector<glm::dvec3> roundAxes(const Hull& hull) {
  const FittedBox box = leastBox(hull);
  return {box.axes[0], box.axes[1], box.axes[2], {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
}

template <class Make, class Volume>
FittedRound leastRound(const Hull& hull, Make make, Volume volume) {
  FittedRound best;
  double least = std::numeric_limits<double>::infinity();
  for (const glm::dvec3& axis : roundAxes(hull)) {
    const auto [a, b] = across(axis);
    const Circle circle = leastCircle(seenAlong(hull.corners, a, b));
    if (circle.radius < 0) continue;
    FittedRound one;
    one.axis = axis;
    one.radius = circle.radius;
    const auto [low, high] = make(axis, a * circle.center.x + b * circle.center.y, circle.radius);
    one.height = std::max(0.0, high - low);
    one.center = a * circle.center.x + b * circle.center.y + axis * ((low + high) / 2);
    if (volume(one) < least) least = volume(one), best = one;
  }
  return best;
}

}  // namespace

FittedBox boxAlongAxes(std::span<const glm::vec3> points) {
  const Bounds box = boundsOf(points);
  FittedBox out;
  out.center = box.center();
  out.size = box.size();
  return out;
}

namespace {

// The directions of the largest faces, each once.
std::vector<glm::dvec3> largestFaces(const Hull& hull) {
  std::vector<std::pair<double, glm::dvec3>> faces;
  for (size_t t = 0; t + 2 < hull.triangles.size(); t += 3) {
    const glm::dvec3 a(hull.corners[hull.triangles[t]]), b(hull.corners[hull.triangles[t + 1]]),
        c(hull.corners[hull.triangles[t + 2]]);
    const glm::dvec3 n = glm::cross(b - a, c - a);
    if (const double length = glm::length(n); length > 0) faces.emplace_back(length, n / length);
  }
  std::stable_sort(faces.begin(), faces.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<glm::dvec3> out;
  for (const auto& [area, up] : faces) {
    if (out.size() == kMostFaces) break;
    const auto same = [&, way = up](const glm::dvec3& one) {
      return std::abs(glm::dot(one, way)) > 1 - 1e-10;
    };
    if (std::none_of(out.begin(), out.end(), same)) out.push_back(up);
  }
  return out;
}

}  // namespace

FittedBox leastBox(const Hull& hull) {
  FittedBox best = boxAlongAxes(hull.corners);
  for (const glm::dvec3& up : largestFaces(hull)) {
    const auto [x, y] = across(up);
    const Rectangle base = leastRectangle(convexOutline(seenAlong(hull.corners, x, y)));
    double low = std::numeric_limits<double>::infinity(), high = -low;
    for (const glm::vec3& p : hull.corners) {
      const double h = glm::dot(glm::dvec3(p), up);
      low = std::min(low, h);
      high = std::max(high, h);
    }
    if (!(base.area() * (high - low) < best.volume() * (1 - 1e-9))) continue;
    FittedBox one;
    one.axes = {x * base.along.x + y * base.along.y, y * base.along.x - x * base.along.y, up};
    one.size = {base.high.x - base.low.x, base.high.y - base.low.y, high - low};
    one.center = one.axes * glm::dvec3((base.low + base.high) / 2.0, (low + high) / 2);
    best = one;
  }
  return best;
}

FittedBall leastBall(std::span<const glm::vec3> points) {
  std::vector<glm::dvec3> all(points.begin(), points.end());
  std::shuffle(all.begin(), all.end(), std::mt19937(1));
  const Ball ball = ballRound(all, all.size(), {});
  return {ball.center, std::max(0.0, ball.radius)};
}

FittedRound leastCylinder(const Hull& hull) {
  return leastRound(
      hull,
      [&](const glm::dvec3& axis, const glm::dvec3&, double) {
        double low = std::numeric_limits<double>::infinity(), high = -low;
        for (const glm::vec3& p : hull.corners) {
          const double h = glm::dot(glm::dvec3(p), axis);
          low = std::min(low, h);
          high = std::max(high, h);
        }
        return std::pair(low, high);
      },
      [](const FittedRound& one) { return kPi * one.radius * one.radius * one.height; });
}

FittedRound leastCapsule(const Hull& hull) {
  return leastRound(
      hull,
      [&](const glm::dvec3& axis, const glm::dvec3& middle, double radius) {
        // Both ends of the straight part lie so that the round end over it still holds each corner.
        double low = std::numeric_limits<double>::infinity(), high = -low;
        for (const glm::vec3& p : hull.corners) {
          const double h = glm::dot(glm::dvec3(p), axis);
          const double off = glm::length(glm::dvec3(p) - axis * h - middle);
          const double cap = std::sqrt(std::max(0.0, radius * radius - off * off));
          low = std::min(low, h + cap);
          high = std::max(high, h - cap);
        }
        if (low > high) low = high = (low + high) / 2;  // a ball would do
        return std::pair(low, high);
      },
      [](const FittedRound& one) {
        return kPi * one.radius * one.radius * (one.height + 4.0 / 3 * one.radius);
      });
}

}  // namespace rakugo::geometry
