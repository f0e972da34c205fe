#include "geometry/flatness.h"

#include <algorithm>
#include <cmath>
#include <iterator>

#include "base/jobs.h"

namespace rakugo::geometry {
namespace {

constexpr size_t kManySides = 1 << 16;  // sides that are worth a core of its own

// Whether two neighbours lie in one plane. Of two directions of length 1 the distance of their ends tells the
// angle, even a small one.
class Planes {
 public:
  Planes(const Topology& topology, std::span<const glm::vec3> normals, double angle_rad)
      : topology_(topology),
        normals_(normals),
        most_apart2_(static_cast<float>(std::pow(2 * std::sin(angle_rad / 2), 2))) {}
  [[nodiscard]] bool same(uint32_t side, uint32_t twin) const {
    const glm::vec3 &one = normals_[side / 3], &two = normals_[twin / 3];
    const float way = !topology_.wound_alike && topology_.from(side) == topology_.from(twin) ? 1.0F : -1.0F;
    const float x = one.x + way * two.x, y = one.y + way * two.y, z = one.z + way * two.z;
    return x * x + y * y + z * z <= most_apart2_ || one == glm::vec3(0) || two == glm::vec3(0);
  }

 private:
  const Topology& topology_;
  std::span<const glm::vec3> normals_;
  float most_apart2_;
};

// Whether a side runs along one of the axes, or has no length.
bool alongAxis(const glm::vec3& a, const glm::vec3& b, float sine2) {
  const float x = (b.x - a.x) * (b.x - a.x), y = (b.y - a.y) * (b.y - a.y), z = (b.z - a.z) * (b.z - a.z);
  return !(std::min(x + y, std::min(y + z, z + x)) > sine2 * (x + y + z));
}

// The edges that show: borders, and those between triangles in different planes; each by its first side.
// Those that run askew are listed once more.
struct SeenEdges {
  std::vector<uint32_t> sides, askew;
};

SeenEdges seenEdges(std::span<const glm::vec3> positions, const Topology& topology, const Planes& planes,
                    float sine2, size_t begin, size_t end) {
  // First the sides that are the first of their edge: which of two is, nobody can guess.
  const std::span<const uint32_t> twins(topology.twin);
  SeenEdges out;
  out.sides.resize(end - begin);
  size_t count = 0;
  for (auto side = static_cast<uint32_t>(begin); side < end; ++side) {
    const uint32_t twin = twins[side];
    out.sides[count] = side;
    count += twin > side && twin != Topology::kNonManifold && twin != Topology::kCollapsed ? 1 : 0;
  }
  out.sides.resize(count);
  std::erase_if(out.sides, [&](uint32_t side) {
    return twins[side] != Topology::kBorder && planes.same(side, twins[side]);
  });
  std::copy_if(out.sides.begin(), out.sides.end(), std::back_inserter(out.askew), [&](uint32_t side) {
    return !alongAxis(positions[topology.from(side)], positions[topology.to(side)], sine2);
  });
  return out;
}

// How many seen edges each place has, counted up to three; kUnused where no triangle is, kStays at an edge of
// three triangles or more.
constexpr uint16_t kMostSeen = 3, kStays = 4, kUnused = 5;
std::vector<uint16_t> seenAtPlaces(const Topology& topology, const std::vector<SeenEdges>& seen) {
  std::vector<uint16_t> out(topology.places, kUnused);
  for (uint32_t c = 0; c < topology.corners.size(); ++c)
    if (topology.twin[c] != Topology::kCollapsed) out[topology.corners[c]] = 0;
  const auto add = [&](uint32_t place) { out[place] += out[place] < kMostSeen ? 1 : 0; };
  for (const SeenEdges& piece : seen)
    for (const uint32_t side : piece.sides) {
      add(topology.from(side));
      add(topology.to(side));
    }
  for (const IrregularEdge& edge : topology.irregular)
    if (edge.count > 2) out[edge.a] = out[edge.b] = kStays;
  return out;
}

// Whether the way from one place over another to a third is straight.
bool straight(const glm::vec3& from, const glm::vec3& over, const glm::vec3& to, double cosine) {
  const glm::dvec3 one = glm::dvec3(over) - glm::dvec3(from), two = glm::dvec3(to) - glm::dvec3(over);
  const double dot = glm::dot(one, two);
  return dot > 0 && dot * dot >= cosine * cosine * glm::dot(one, one) * glm::dot(two, two);
}

// Places inside a face, or where a seen edge goes straight on.
std::vector<uint32_t> shapelessPlaces(std::span<const glm::vec3> positions, const Topology& topology,
                                      const std::vector<SeenEdges>& seen, double cosine) {
  std::vector<uint16_t> at = seenAtPlaces(topology, seen);
  if (std::find(at.begin(), at.end(), 2) != at.end()) {
    std::vector<uint32_t> other(topology.places, UINT32_MAX);  // the end of the first of two edges
    const auto add = [&](uint32_t place, uint32_t end) {
      if (at[place] != 2) return;
      if (other[place] == UINT32_MAX)
        other[place] = end;
      else if (straight(positions[other[place]], positions[place], positions[end], cosine))
        at[place] = 0;
    };
    for (const SeenEdges& piece : seen)
      for (const uint32_t side : piece.sides) {
        add(topology.from(side), topology.to(side));
        add(topology.to(side), topology.from(side));
      }
  }
  std::vector<uint32_t> out;
  for (uint32_t p = 0; p < topology.places; ++p)
    if (at[p] == 0) out.push_back(p);
  return out;
}

}  // namespace

Flatness flatnessOf(std::span<const glm::vec3> positions, const Topology& topology,
                    std::span<const glm::vec3> normals, const FlatOptions& options) {
  Flatness out;
  const auto angle = static_cast<double>(options.angle_rad);
  const Planes planes(topology, normals, angle);
  const auto sine2 = static_cast<float>(std::pow(std::sin(angle), 2));
  std::vector<SeenEdges> seen(base::piecesOf(topology.corners.size(), kManySides));
  base::parallelPieces(topology.corners.size(), kManySides, [&](size_t piece, size_t begin, size_t end) {
    seen[piece] = seenEdges(positions, topology, planes, sine2, begin, end);
  });
  for (const SeenEdges& piece : seen)
    out.unaligned.insert(out.unaligned.end(), piece.askew.begin(), piece.askew.end());
  for (const IrregularEdge& edge : topology.irregular)
    if (edge.count > 2 && !alongAxis(positions[edge.a], positions[edge.b], sine2))
      out.unaligned.push_back(topology.irregular_half_edges[edge.first]);
  out.shapeless = shapelessPlaces(positions, topology, seen, std::cos(angle));
  return out;
}

}  // namespace rakugo::geometry
