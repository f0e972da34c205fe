#include "geometry/hull.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <queue>

#include "geometry/bounds.h"
#include "geometry/finite.h"

namespace rakugo::geometry {
namespace {

constexpr uint32_t kNone = std::numeric_limits<uint32_t>::max();

struct Face {
  std::array<uint32_t, 3> at{};      // points, counter-clockwise from outside
  std::array<uint32_t, 3> beside{};  // the face across the edge from at[i] to at[i + 1]
  glm::dvec3 normal{0};
  double offset = 0;
  std::vector<uint32_t> outside;  // points that see the face, each in the list of one face alone
  double farthest = 0;
  uint32_t farthest_point = kNone;
  uint32_t born = 0;  // tells a face from an earlier one of the same number
  bool gone = false;
  [[nodiscard]] double above(const glm::dvec3& p) const { return glm::dot(normal, p) - offset; }
};

class Quickhull {
 public:
  Quickhull(std::span<const glm::vec3> points, const HullOptions& options) : options_(options) {
    points_.reserve(points.size());
    Bounds box;
    for (const glm::vec3& p : points)
      if (finite(p)) points_.emplace_back(p), box.add(p);
    diagonal_ = glm::length(glm::dvec3(box.size()));
    tolerance_ = std::max(options.tolerance, 1e-12) * diagonal_;
    start_of_.resize(points_.size(), kNone);
  }

  Hull run() {
    if (points_.size() < 4 || !(diagonal_ > 0) || !begin()) return {};
    size_t corners = 4;
    const size_t most =
        options_.most_corners == 0 ? points_.size() : std::max<size_t>(4, options_.most_corners);
    while (!queue_.empty() && corners < most) {
      const Due next = queue_.top();
      queue_.pop();
      const Face& face = faces_[next.face];
      if (face.gone || face.born != next.born || face.farthest_point == kNone) continue;
      corners += addPoint(next.face) ? 1 : 0;
    }
    return result();
  }

 private:
  struct Due {
    double distance;
    uint32_t face, born;
    bool operator<(const Due& other) const {
      return distance != other.distance ? distance < other.distance : face > other.face;
    }
  };

  // Four points that are far apart. False where all lie in one plane.
  bool begin() {
    std::array<uint32_t, 6> ends{};
    for (uint32_t i = 0; i < points_.size(); ++i)
      for (int axis = 0; axis < 3; ++axis) {
        const auto low = static_cast<size_t>(2 * axis), high = low + 1;
        if (points_[i][axis] < points_[ends[low]][axis]) ends[low] = i;
        if (points_[i][axis] > points_[ends[high]][axis]) ends[high] = i;
      }
    uint32_t a = 0, b = 0, c = 0, d = 0;
    double most = -1;
    for (const uint32_t i : ends)
      for (const uint32_t j : ends)
        if (const double apart = glm::distance(points_[i], points_[j]); apart > most)
          most = apart, a = i, b = j;
    const glm::dvec3 along = glm::normalize(points_[b] - points_[a]);
    most = 0;
    for (uint32_t i = 0; i < points_.size(); ++i)
      if (const double off = glm::length(glm::cross(points_[i] - points_[a], along)); off > most)
        most = off, c = i;
    if (most <= tolerance_) return false;
    const glm::dvec3 normal = glm::normalize(glm::cross(points_[b] - points_[a], points_[c] - points_[a]));
    most = 0;
    for (uint32_t i = 0; i < points_.size(); ++i)
      if (const double off = std::abs(glm::dot(points_[i] - points_[a], normal)); off > most)
        most = off, d = i;
    if (most <= tolerance_) return false;
    if (glm::dot(points_[d] - points_[a], normal) > 0) std::swap(b, c);
    // d lies below a, b, c now.
    faces_.resize(4);
    const std::array<std::array<uint32_t, 3>, 4> sides = {{{a, b, c}, {a, d, b}, {b, d, c}, {c, d, a}}};
    const std::array<std::array<uint32_t, 3>, 4> beside = {{{1, 2, 3}, {3, 2, 0}, {1, 3, 0}, {2, 1, 0}}};
    for (uint32_t f = 0; f < 4; ++f) {
      faces_[f].at = sides[f];
      faces_[f].beside = beside[f];
      place(faces_[f]);
    }
    for (uint32_t i = 0; i < points_.size(); ++i)
      if (i != a && i != b && i != c && i != d) give(i, std::array<uint32_t, 4>{0, 1, 2, 3});
    for (uint32_t f = 0; f < 4; ++f) queue(f);
    return true;
  }

  void place(Face& face) const {
    const glm::dvec3& a = points_[face.at[0]];
    const glm::dvec3 n = glm::cross(points_[face.at[1]] - a, points_[face.at[2]] - a);
    const double length = glm::length(n);
    face.normal = length > 0 ? n / length : glm::dvec3(0);
    face.offset = glm::dot(face.normal, a);
  }

  // Puts a point on the list of the first face that it sees.
  template <class Faces>
  void give(uint32_t point, const Faces& faces) {
    for (const uint32_t f : faces) {
      const double above = faces_[f].above(points_[point]);
      if (above <= tolerance_) continue;
      if (above > faces_[f].farthest) faces_[f].farthest = above, faces_[f].farthest_point = point;
      faces_[f].outside.push_back(point);
      return;
    }
  }

  void queue(uint32_t f) {
    if (faces_[f].farthest_point != kNone) queue_.push({faces_[f].farthest, f, faces_[f].born});
  }

  // All faces that the point sees, or lies in the plane of, in one piece round the first; and the edges
  // between them and the rest, in order.
  bool horizonOf(uint32_t first, const glm::dvec3& eye) {
    seen_.assign(1, first);
    faces_[first].gone = true;
    edges_.clear();
    for (size_t i = 0; i < seen_.size(); ++i)
      for (size_t side = 0; side < 3; ++side) {
        const uint32_t other = faces_[seen_[i]].beside[side];
        if (faces_[other].gone) continue;
        if (faces_[other].above(eye) > -1e-3 * tolerance_) {
          faces_[other].gone = true;
          seen_.push_back(other);
        }
      }
    for (const uint32_t f : seen_)
      for (size_t side = 0; side < 3; ++side)
        if (!faces_[faces_[f].beside[side]].gone) {
          const uint32_t from = faces_[f].at[side];
          if (start_of_[from] != kNone) return false;  // it passes a point twice
          start_of_[from] = static_cast<uint32_t>(edges_.size());
          edges_.push_back({from, faces_[f].at[(side + 1) % 3], faces_[f].beside[side]});
        }
    if (edges_.size() < 3) return false;
    ordered_.clear();
    for (uint32_t at = 0; ordered_.size() < edges_.size();) {
      ordered_.push_back(edges_[at]);
      at = start_of_[edges_[at].to];
      if (at == kNone) return false;
      if (at == 0) break;
    }
    return ordered_.size() == edges_.size();
  }

  // Takes the farthest point of a face in. False where rounding leaves no clean horizon: the point is left
  // out.
  bool addPoint(uint32_t first) {
    const uint32_t point = faces_[first].farthest_point;
    const bool clean = horizonOf(first, points_[point]);
    for (const Edge& edge : edges_) start_of_[edge.from] = kNone;
    if (!clean) {
      for (const uint32_t f : seen_) faces_[f].gone = false;
      Face& face = faces_[first];
      std::erase(face.outside, point);
      face.farthest = 0;
      face.farthest_point = kNone;
      for (const uint32_t p : face.outside)
        if (const double above = face.above(points_[p]); above > face.farthest)
          face.farthest = above, face.farthest_point = p;
      queue(first);
      return false;
    }
    made_.clear();
    for (size_t i = 0; i < ordered_.size(); ++i) made_.push_back(newFace());
    for (size_t i = 0; i < ordered_.size(); ++i) {
      Face& face = faces_[made_[i]];
      const Edge& edge = ordered_[i];
      face.at = {edge.from, edge.to, point};
      face.beside = {edge.beyond, made_[(i + 1) % made_.size()],
                     made_[(i + made_.size() - 1) % made_.size()]};
      place(face);
      Face& beyond = faces_[edge.beyond];
      for (size_t side = 0; side < 3; ++side)
        if (beyond.at[side] == edge.to && beyond.at[(side + 1) % 3] == edge.from)
          beyond.beside[side] = made_[i];
    }
    for (const uint32_t f : seen_) {
      for (const uint32_t p : faces_[f].outside)
        if (p != point) give(p, made_);
      std::vector<uint32_t>().swap(faces_[f].outside);
      free_.push_back(f);
    }
    for (const uint32_t f : made_) queue(f);
    return true;
  }

  uint32_t newFace() {
    if (free_.empty()) {
      faces_.emplace_back();
      return static_cast<uint32_t>(faces_.size() - 1);
    }
    const uint32_t f = free_.back();
    free_.pop_back();
    const uint32_t born = faces_[f].born + 1;
    faces_[f] = {};
    faces_[f].born = born;
    return f;
  }

  Hull result() const {
    Hull out;
    std::vector<uint32_t> number(points_.size(), kNone);
    for (const Face& face : faces_)
      if (!face.gone)
        for (const uint32_t p : face.at) number[p] = 0;
    for (uint32_t p = 0; p < points_.size(); ++p)
      if (number[p] != kNone) {
        number[p] = static_cast<uint32_t>(out.corners.size());
        out.corners.emplace_back(points_[p]);
      }
    for (const Face& face : faces_) {
      if (face.gone) continue;
      for (const uint32_t p : face.at) out.triangles.push_back(number[p]);
    }
    out.beyond = farthestOutside();
    return out;
  }

  // A point is on the list of one face that it sees, and may lie farther off another.
  [[nodiscard]] double farthestOutside() const {
    double out = 0;
    for (const Face& face : faces_) {
      if (face.gone) continue;
      for (const uint32_t p : face.outside)
        for (const Face& other : faces_)
          if (!other.gone) out = std::max(out, other.above(points_[p]));
    }
    return out;
  }

  struct Edge {
    uint32_t from, to, beyond;
  };
  const HullOptions options_;
  std::vector<glm::dvec3> points_;
  double diagonal_ = 0, tolerance_ = 0;
  std::vector<Face> faces_;
  std::vector<uint32_t> free_, seen_, made_, start_of_;
  std::vector<Edge> edges_, ordered_;
  std::priority_queue<Due> queue_;
};

}  // namespace

Hull convexHull(std::span<const glm::vec3> points, const HullOptions& options) {
  return Quickhull(points, options).run();
}

std::vector<glm::dvec2> convexOutline(std::vector<glm::dvec2> points) {
  std::sort(points.begin(), points.end(),
            [](const glm::dvec2& a, const glm::dvec2& b) { return a.x != b.x ? a.x < b.x : a.y < b.y; });
  std::vector<glm::dvec2> out;
  if (points.size() < 3) return points;
  const auto turns = [](const glm::dvec2& a, const glm::dvec2& b, const glm::dvec2& c) {
    return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
  };
  for (int half = 0; half < 2; ++half) {
    const size_t begin = out.size();
    for (const glm::dvec2& p : points) {
      while (out.size() >= begin + 2 && turns(out[out.size() - 2], out.back(), p) <= 0) out.pop_back();
      out.push_back(p);
    }
    out.pop_back();
    std::reverse(points.begin(), points.end());
  }
  return out;
}

}  // namespace rakugo::geometry
