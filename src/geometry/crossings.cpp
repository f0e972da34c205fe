#include "geometry/crossings.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <limits>

#include "base/jobs.h"
#include "geometry/bvh.h"

namespace rakugo::geometry {
namespace {

using dvec2 = glm::dvec2;
using dvec3 = glm::dvec3;

// The side of d on the plane through a, b, c: six times the volume, 0 within the error of the arithmetic.
// Seen from a, which should be a corner of the smaller thing: the error grows with what is measured from
// there.
double side(const dvec3& a, const dvec3& b, const dvec3& c, const dvec3& d) {
  const dvec3 u = b - a, v = c - a, w = d - a;
  const double det = glm::dot(w, glm::cross(u, v));
  const double permanent = (std::abs(u.y * v.z) + std::abs(u.z * v.y)) * std::abs(w.x) +
                           (std::abs(u.z * v.x) + std::abs(u.x * v.z)) * std::abs(w.y) +
                           (std::abs(u.x * v.y) + std::abs(u.y * v.x)) * std::abs(w.z);
  // Coordinates are floats, and what was computed in float lies off by their last bits: a few of those in
  // each factor, not the double's, are the measure.
  return std::abs(det) <= 4e-7 * permanent ? 0 : det;
}

double side(const dvec2& a, const dvec2& b, const dvec2& c) {
  const dvec2 u = b - a, v = c - a;
  const double det = u.x * v.y - u.y * v.x;
  return std::abs(det) <= 4e-7 * (std::abs(u.x * v.y) + std::abs(u.y * v.x)) ? 0 : det;
}

// What a triangle covers of the line in which the other's plane cuts its own, measured along `line`: from its
// corners that lie in that plane and from its edges that go through it. `sides`: of its corners on that
// plane.
std::pair<double, double> covered(const dvec3 (&t)[3], const double (&sides)[3], const dvec3& line) {
  double low = std::numeric_limits<double>::max(), high = std::numeric_limits<double>::lowest();
  const auto add = [&](double at) {
    low = std::min(low, at);
    high = std::max(high, at);
  };
  for (int i = 0; i < 3; ++i) {
    const int k = (i + 1) % 3;
    if (sides[i] == 0) add(glm::dot(line, t[i]));
    if ((sides[i] > 0 && sides[k] < 0) || (sides[i] < 0 && sides[k] > 0))
      add(glm::dot(line, t[i] + (t[k] - t[i]) * (sides[i] / (sides[i] - sides[k]))));
  }
  return {low, high};
}

// Corners on both sides of a plane: one that only touches it is not cut by it.
bool split(const double (&sides)[3]) {
  return std::max({sides[0], sides[1], sides[2]}) > 0 && std::min({sides[0], sides[1], sides[2]}) < 0;
}

using Flat = std::array<dvec2, 3>;

// Wound so that its area counts as positive; false where there is none.
bool woundUp(Flat& t) {
  const double area = side(t[0], t[1], t[2]);
  if (area < 0) std::swap(t[1], t[2]);
  return area != 0;
}

// Two triangles of one plane, both wound up: apart when an edge of either has all of the other on its far
// side.
bool overlap(const Flat& one, const Flat& other) {
  const auto apart = [](const Flat& a, const Flat& b) {
    for (size_t i = 0; i < 3; ++i) {
      const dvec2 &from = a[i], &to = a[(i + 1) % 3];
      if (side(from, to, b[0]) <= 0 && side(from, to, b[1]) <= 0 && side(from, to, b[2]) <= 0) return true;
    }
    return false;
  };
  return !apart(one, other) && !apart(other, one);
}

}  // namespace

bool trianglesCross(const glm::vec3 (&one)[3], const glm::vec3 (&other)[3]) {
  const dvec3 a[3] = {dvec3(one[0]), dvec3(one[1]), dvec3(one[2])},
              b[3] = {dvec3(other[0]), dvec3(other[1]), dvec3(other[2])};
  const double of_b[3] = {side(a[0], a[1], a[2], b[0]), side(a[0], a[1], a[2], b[1]),
                          side(a[0], a[1], a[2], b[2])};
  const dvec3 normal = glm::cross(a[1] - a[0], a[2] - a[0]);
  if (of_b[0] == 0 && of_b[1] == 0 && of_b[2] == 0) {
    const dvec3 most = glm::abs(normal);
    const int drop = most.x >= most.y && most.x >= most.z ? 0 : most.y >= most.z ? 1 : 2;
    const auto flat = [drop](const dvec3& p) { return dvec2(p[(drop + 1) % 3], p[(drop + 2) % 3]); };
    Flat flat_a{flat(a[0]), flat(a[1]), flat(a[2])}, flat_b{flat(b[0]), flat(b[1]), flat(b[2])};
    return woundUp(flat_a) && woundUp(flat_b) && overlap(flat_a, flat_b);
  }
  if (!split(of_b)) return false;
  const double of_a[3] = {side(b[0], b[1], b[2], a[0]), side(b[0], b[1], b[2], a[1]),
                          side(b[0], b[1], b[2], a[2])};
  if (!split(of_a)) return false;
  const dvec3 line = glm::normalize(glm::cross(normal, glm::cross(b[1] - b[0], b[2] - b[0])));
  const auto [a_low, a_high] = covered(a, of_a, line);
  const auto [b_low, b_high] = covered(b, of_b, line);
  const double common = std::min(a_high, b_high) - std::max(a_low, b_low);
  return common > 1e-6 * std::max(a_high - a_low, b_high - b_low);
}

namespace {

// The boxes of triangles, a float's last bit smaller wherever they are wide: of two that only touch there,
// the triangles cannot cross, and neighbours on a level wall or a picture touch so.
std::vector<Bounds> closeBoxes(std::span<const glm::vec3> positions, std::span<const uint32_t> corners) {
  std::vector<Bounds> out = triangleBoxes(positions, corners);
  for (Bounds& box : out)
    for (int i = 0; i < 3; ++i) {
      const float low = std::nextafter(box.min[i], std::numeric_limits<float>::max()),
                  high = std::nextafter(box.max[i], std::numeric_limits<float>::lowest());
      if (low <= high) {
        box.min[i] = low;
        box.max[i] = high;
      }
    }
  return out;
}

// Runs body(i, begin, end) over all items of a tree, some at a time, on all cores; no more once cancelled.
constexpr size_t kSome = 2048;
template <class Body>
void eachSome(const Bvh& tree, const base::Progress* progress, Body body) {
  base::parallelFor((tree.items() + kSome - 1) / kSome, [&](size_t i) {
    if (progress == nullptr || !progress->cancelled())
      body(i, i * kSome, std::min(tree.items(), (i + 1) * kSome));
  });
}

}  // namespace

std::vector<std::pair<uint32_t, uint32_t>> crossingTriangles(std::span<const glm::vec3> positions,
                                                             std::span<const uint32_t> corners,
                                                             const base::Progress* progress) {
  const Bvh tree(closeBoxes(positions, corners));
  std::vector<uint8_t> counts(corners.size() / 3, 0);  // of a triangle, by the one thread that asks for it
  std::vector<std::vector<std::pair<uint32_t, uint32_t>>> found(tree.items() / kSome + 1);
  eachSome(tree, progress, [&](size_t i, size_t begin, size_t end) {
    tree.pairs(begin, end, [&, i](uint32_t one, uint32_t other) {
      const uint32_t *own = corners.data() + size_t{one} * 3, *theirs = corners.data() + size_t{other} * 3;
      int common = 0;
      for (int x = 0; x < 3; ++x)
        for (int y = 0; y < 3; ++y) common += own[x] == theirs[y] ? 1 : 0;
      if (common >= 3 || !trianglesCross({positions[own[0]], positions[own[1]], positions[own[2]]},
                                         {positions[theirs[0]], positions[theirs[1]], positions[theirs[2]]}))
        return true;
      found[i].emplace_back(std::minmax(one, other));
      return ++counts[one] < kMostEach;
    });
  });
  std::vector<std::pair<uint32_t, uint32_t>> out;
  for (const auto& some : found) out.insert(out.end(), some.begin(), some.end());
  std::sort(out.begin(), out.end());
  return out;
}

std::vector<uint32_t> overlappingUvs(std::span<const glm::vec2> uvs, std::span<const uint32_t> indices,
                                     const base::Progress* progress) {
  std::vector<glm::vec3> flat;
  flat.reserve(uvs.size());
  for (const glm::vec2& uv : uvs) flat.emplace_back(uv, 0);
  std::vector<Bounds> boxes = closeBoxes(flat, indices);
  // Those that turn the other way are read the other way.
  std::vector<bool> turned(boxes.size());
  const auto triangle = [&](size_t t) {
    return Flat{dvec2(uvs[indices[t * 3]]), dvec2(uvs[indices[t * 3 + (turned[t] ? 2 : 1)]]),
                dvec2(uvs[indices[t * 3 + (turned[t] ? 1 : 2)]])};
  };
  for (size_t t = 0; t < boxes.size(); ++t) {
    if (boxes[t].empty()) continue;
    const Flat corners = triangle(t);
    const double area = side(corners[0], corners[1], corners[2]);
    turned[t] = area < 0;
    if (area == 0) boxes[t] = Bounds{};
  }
  const Bvh tree(boxes);
  std::vector<uint8_t> covered(boxes.size(), 0);
  std::vector<uint16_t> asked(boxes.size(), 0);
  // Once for each pair; but not where many crowd in one place, as all do whose maker never laid them out.
  constexpr uint16_t kCrowd = 512;
  bool crowded = false;
  const auto mark = [&](uint32_t t) { std::atomic_ref(covered[t]).store(1, std::memory_order_relaxed); };
  const auto marked = [&](uint32_t t) {
    return std::atomic_ref(covered[t]).load(std::memory_order_relaxed) != 0;
  };
  eachSome(tree, progress, [&](size_t, size_t begin, size_t end) {
    tree.pairs(begin, end, [&](uint32_t one, uint32_t other) {
      if (!(marked(one) && marked(other)) && overlap(triangle(one), triangle(other))) mark(one), mark(other);
      if (++asked[one] < kCrowd) return true;
      std::atomic_ref(crowded).store(true, std::memory_order_relaxed);
      return false;
    });
  });
  // There, each that is not known to be covered looks for one that covers it, and is done with the first.
  if (crowded)
    base::parallelFor((boxes.size() + kSome - 1) / kSome, [&](size_t block) {
      if (progress != nullptr && progress->cancelled()) return;
      for (auto t = static_cast<uint32_t>(block * kSome); t < std::min(boxes.size(), (block + 1) * kSome);
           ++t)
        if (!boxes[t].empty() && !marked(t))
          tree.within(boxes[t], [&](uint32_t i) {
            if (i == t || !overlap(triangle(t), triangle(i))) return true;
            mark(t);
            return false;
          });
    });
  std::vector<uint32_t> out;
  for (uint32_t t = 0; t < covered.size(); ++t)
    if (covered[t] != 0) out.push_back(t);
  return out;
}

}  // namespace rakugo::geometry
