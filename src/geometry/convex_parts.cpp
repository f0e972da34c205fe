#include "geometry/convex_parts.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>

#include "base/jobs.h"
#include "geometry/bounds.h"
#include "geometry/mass.h"
#include "geometry/topology.h"
#include "geometry/welding.h"

namespace rakugo::geometry {
namespace {

constexpr int kEven = 9;          // cuts tried at even distances along an axis
constexpr size_t kGood = 8;       // and at most so many at edges and faces
constexpr float kSliver = 1e-3F;  // of a cell's extent: nearer to its end nothing is cut

// Triangles as loose corners; a cell's are cut at its planes.
using Soup = std::vector<glm::vec3>;

// An edge at which the surface bends inward, by its ends: a good place to cut.
struct BentEdge {
  glm::vec3 a, b;
};

struct PlaneCut {
  int axis = 0;
  float at = 0;
  double volume = 0;  // of the two hulls together
};

// Tells whether a place lies inside the shape: rays along the three axes vote, each by how often it leaves
// more than it enters. Right for closed shapes, which may overlap; and mostly right for open ones.
class Inside {
 public:
  explicit Inside(const Soup& soup) : soup_(soup) {}
  [[nodiscard]] bool holds(const glm::vec3& p) const {
    int votes = 0;
    for (int axis = 0; axis < 3; ++axis) votes += winding(p, axis) != 0 ? 1 : 0;
    return votes >= 2;
  }

 private:
  // Edges belong to one of the two triangles that share them: the ray passes through one alone.
  [[nodiscard]] int winding(const glm::vec3& p, int axis) const {
    const int u = (axis + 1) % 3, v = (axis + 2) % 3;
    const glm::dvec3 q(p);
    int out = 0;
    for (size_t t = 0; t + 2 < soup_.size(); t += 3) {
      const glm::vec3 *a = &soup_[t], *b = a + 1, *c = a + 2;
      if (std::max({(*a)[axis], (*b)[axis], (*c)[axis]}) < p[axis]) continue;
      int crossings = 0;
      for (const auto& [from, to] : {std::pair(a, b), {b, c}, {c, a}}) {
        const bool up = (*from)[v] <= p[v] && (*to)[v] > p[v], down = (*from)[v] > p[v] && (*to)[v] <= p[v];
        if (!up && !down) continue;
        // Along the edge in the direction in which both its triangles see it, so that both say the same.
        const glm::dvec3 low(up ? *from : *to), high(up ? *to : *from);
        if (low[u] + (high[u] - low[u]) * ((q[v] - low[v]) / (high[v] - low[v])) > q[u])
          crossings += up ? 1 : -1;
      }
      if (crossings == 0) continue;
      const glm::dvec3 origin(*a), n = glm::cross(glm::dvec3(*b) - origin, glm::dvec3(*c) - origin);
      const double at = origin[axis] - ((q[u] - origin[u]) * n[u] + (q[v] - origin[v]) * n[v]) / n[axis];
      if (at > q[axis]) out += crossings;
    }
    return out;
  }
  const Soup& soup_;
};

struct Cell {
  glm::vec3 low{0}, high{0};     // the cell of space
  std::array<bool, 8> within{};  // which of its corners lie inside the shape; bit 0: high x
  Soup soup;
  Hull hull;
  double volume = 0;
  std::optional<PlaneCut> best;
  double promise = 0;  // what the best cut takes away, or is worth for the cut after it
  [[nodiscard]] glm::vec3 corner(size_t i) const {
    return {(i & 1) != 0 ? high.x : low.x, (i & 2) != 0 ? high.y : low.y, (i & 4) != 0 ? high.z : low.z};
  }
};

void addPolygon(const std::array<glm::vec3, 4>& polygon, size_t count, Soup& out) {
  for (size_t i = 2; i < count; ++i) {
    out.push_back(polygon[0]);
    out.push_back(polygon[i - 1]);
    out.push_back(polygon[i]);
  }
}

// What lies on one side of a plane across an axis, the cut edges included.
void addSide(const glm::vec3* corners, int axis, float at, bool above, Soup& out) {
  std::array<glm::vec3, 4> polygon;
  size_t count = 0;
  for (int i = 0; i < 3; ++i) {
    const glm::vec3 &a = corners[i], &b = corners[(i + 1) % 3];
    const bool in = above ? a[axis] >= at : a[axis] <= at, next = above ? b[axis] >= at : b[axis] <= at;
    if (in) polygon[count++] = a;
    if (in == next || a[axis] == at || b[axis] == at) continue;
    // From the lower end to the higher, so that both triangles of an edge are cut in the same place.
    const glm::vec3 &low = a[axis] < b[axis] ? a : b, &high = a[axis] < b[axis] ? b : a;
    glm::vec3 p = low + (high - low) * ((at - low[axis]) / (high[axis] - low[axis]));
    p[axis] = at;
    polygon[count++] = p;
  }
  addPolygon(polygon, count, out);
}

bool facesUp(const glm::vec3* corners, int axis) {
  return glm::cross(corners[1] - corners[0], corners[2] - corners[0])[axis] > 0;
}

Soup sideOf(const Soup& soup, int axis, float at, bool above) {
  Soup out;
  out.reserve(soup.size());
  for (size_t t = 0; t + 2 < soup.size(); t += 3) {
    const float a = soup[t][axis], b = soup[t + 1][axis], c = soup[t + 2][axis];
    const float low = std::min({a, b, c}), high = std::max({a, b, c});
    // What lies in the plane belongs to the side on which the body is; the other only touches it.
    const bool flat = low == at && high == at;
    if (flat ? above != facesUp(&soup[t], axis) : above ? low >= at : high <= at)
      out.insert(out.end(), soup.begin() + static_cast<std::ptrdiff_t>(t),
                 soup.begin() + static_cast<std::ptrdiff_t>(t) + 3);
    else if (low < at && high > at)
      addSide(&soup[t], axis, at, above, out);
  }
  return out;
}

// A corner of what the shape has in a cell lies on its surface, or is one of the cell's own.
void makeHull(Cell& cell) {
  std::vector<glm::vec3> points = cell.soup;
  for (size_t i = 0; i < 8; ++i)
    if (cell.within[i]) points.push_back(cell.corner(i));
  cell.hull = convexHull(points);
  cell.volume = volumeOf(cell.hull);
}

std::array<Cell, 2> halvesOf(const Cell& cell, int axis, float at, const Inside& inside) {
  std::array<Cell, 2> out;
  for (size_t half = 0; half < 2; ++half) {
    Cell& one = out[half];
    one.low = cell.low;
    one.high = cell.high;
    one.within = cell.within;
    (half == 0 ? one.high : one.low)[axis] = at;
    one.soup = sideOf(cell.soup, axis, at, half == 1);
  }
  const size_t bit = size_t{1} << axis;
  for (size_t i = 0; i < 8; ++i)
    if ((i & bit) == 0) out[1].within[i] = out[0].within[i | bit] = inside.holds(out[1].corner(i));
  for (Cell& one : out) makeHull(one);
  return out;
}

// Where edges bend inward across an axis, and where faces lie across it: the longest and largest first.
std::vector<float> goodPlaces(const Cell& cell, const std::vector<BentEdge>& edges, const Bounds& box,
                              int axis) {
  const float step = box.size()[axis] / 64;
  if (!(step > 0) || !std::isfinite(step)) return {};
  struct Place {
    double weight = 0, most = 0;
    float at = 0;
  };
  std::map<int, Place> places;
  const auto add = [&](float at, float weight) {
    Place& place = places[static_cast<int>(std::floor((at - box.min[axis]) / step))];
    const auto counts = static_cast<double>(weight);
    place.weight += counts;
    if (counts > place.most) place.most = counts, place.at = at;
  };
  for (const BentEdge& edge : edges)
    for (const glm::vec3& end : {edge.a, edge.b}) {
      if (glm::any(glm::lessThan(end, box.min)) || glm::any(glm::greaterThan(end, box.max))) continue;
      glm::vec3 across = edge.b - edge.a;
      across[axis] = 0;
      add(end[axis], glm::length(across));
    }
  for (size_t t = 0; t + 2 < cell.soup.size(); t += 3) {
    const glm::vec3 &a = cell.soup[t], &b = cell.soup[t + 1], &c = cell.soup[t + 2];
    if (std::abs(a[axis] - b[axis]) < step / 64 && std::abs(a[axis] - c[axis]) < step / 64)
      add(a[axis], std::sqrt(glm::length(glm::cross(b - a, c - a))));
  }
  std::vector<Place> sorted;
  for (const auto& [bin, place] : places)
    if (place.weight > 0) sorted.push_back(place);
  std::stable_sort(sorted.begin(), sorted.end(),
                   [](const Place& a, const Place& b) { return a.weight > b.weight; });
  if (sorted.size() > kGood) sorted.resize(kGood);
  std::vector<float> out;
  for (const Place& place : sorted) out.push_back(place.at);
  return out;
}

Bounds boxOf(const Hull& hull) {
  Bounds out;
  for (const glm::vec3& v : hull.corners) out.add(v);
  return out;
}

void tryCuts(Cell& cell, std::vector<PlaneCut> cuts, const Inside& inside) {
  base::parallelFor(cuts.size(), [&](size_t i) {
    const auto halves = halvesOf(cell, cuts[i].axis, cuts[i].at, inside);
    cuts[i].volume = halves[0].volume + halves[1].volume;
  });
  for (const PlaneCut& cut : cuts)
    if (!cell.best || cut.volume < cell.best->volume) cell.best = cut;
}

std::vector<PlaneCut> cutsOf(const Cell& cell, int even, const std::vector<BentEdge>& bent) {
  std::vector<PlaneCut> out;
  if (cell.hull.empty()) return out;
  const Bounds box = boxOf(cell.hull);
  for (int axis = 0; axis < 3; ++axis) {
    const float low = box.min[axis], high = box.max[axis], margin = kSliver * (high - low);
    for (int i = 1; i <= even; ++i)
      out.push_back({axis, low + (high - low) * static_cast<float>(i) / static_cast<float>(even + 1), 0});
    for (const float at : goodPlaces(cell, bent, box, axis))
      if (at > low + margin && at < high - margin) out.push_back({axis, at, 0});
  }
  return out;
}

// The share of a cell's hull that the shape does not fill, by places spread over it.
double emptyShare(const Cell& cell, const Inside& inside) {
  constexpr int kAcross = 7;
  const Bounds box = boxOf(cell.hull);
  std::vector<glm::dvec4> planes;
  for (size_t t = 0; t < cell.hull.triangles.size(); t += 3) {
    const glm::dvec3 a(cell.hull.corners[cell.hull.triangles[t]]);
    const glm::dvec3 n = glm::cross(glm::dvec3(cell.hull.corners[cell.hull.triangles[t + 1]]) - a,
                                    glm::dvec3(cell.hull.corners[cell.hull.triangles[t + 2]]) - a);
    planes.emplace_back(n, glm::dot(n, a));
  }
  int held = 0, all = 0;
  for (int i = 0; i < kAcross * kAcross * kAcross; ++i) {
    // Off the middle, where edges and faces often are.
    const glm::vec3 share((static_cast<float>(i % kAcross) + 0.53F) / kAcross,
                          (static_cast<float>(i / kAcross % kAcross) + 0.47F) / kAcross,
                          (static_cast<float>(i / kAcross / kAcross) + 0.51F) / kAcross);
    const glm::vec3 p = box.min + box.size() * share;
    if (std::any_of(planes.begin(), planes.end(),
                    [&](const glm::dvec4& f) { return glm::dot(glm::dvec3(f), glm::dvec3(p)) > f.w; }))
      continue;
    ++all;
    held += inside.holds(p) ? 1 : 0;
  }
  return all == 0 ? 0 : 1 - static_cast<double>(held) / all;
}

// A frame gains nothing by its first cut: what a cut is worth is tried with the one after it.
void lookAhead(Cell& cell, const std::vector<BentEdge>& bent, const Inside& inside) {
  constexpr int kFew = 4;
  std::vector<PlaneCut> cuts = cutsOf(cell, kFew, bent);
  std::vector<double> after(cuts.size());
  base::parallelFor(cuts.size(), [&](size_t i) {
    const auto halves = halvesOf(cell, cuts[i].axis, cuts[i].at, inside);
    cuts[i].volume = halves[0].volume + halves[1].volume;
    after[i] = cuts[i].volume;
    for (const Cell& half : halves)
      for (const PlaneCut& next : cutsOf(half, kFew, bent)) {
        const auto quarters = halvesOf(half, next.axis, next.at, inside);
        after[i] = std::min(after[i], cuts[i].volume - half.volume + quarters[0].volume + quarters[1].volume);
      }
  });
  for (size_t i = 0; i < cuts.size(); ++i)
    // Each of the two cuts is worth half of what both take away.
    if (const double worth = (cell.volume - after[i]) / 2; worth > cell.promise)
      cell.promise = worth, cell.best = cuts[i];
}

void findCut(Cell& cell, const std::vector<BentEdge>& bent, const Inside& inside, double least) {
  constexpr size_t kHeavy = 60'000;  // corners: what is heavier is not looked at so closely
  constexpr double kEmpty = 0.08;
  if (cell.hull.empty()) return;
  tryCuts(cell, cutsOf(cell, kEven, bent), inside);
  if (!cell.best) return;
  // Round the best, nearer and nearer.
  const Bounds box = boxOf(cell.hull);
  for (float step = 0.5F / (kEven + 1); step > 0.01F; step /= 2) {
    const PlaneCut best = *cell.best;
    std::vector<PlaneCut> around;
    for (const float way : {-1.0F, 1.0F}) {
      const float at = best.at + way * step * box.size()[best.axis];
      if (at > box.min[best.axis] && at < box.max[best.axis]) around.push_back({best.axis, at, 0});
    }
    tryCuts(cell, std::move(around), inside);
  }
  cell.promise = cell.volume - cell.best->volume;
  if (cell.promise < std::max(least, cell.volume * kEmpty / 4) && cell.volume * kEmpty > least &&
      cell.soup.size() < kHeavy && emptyShare(cell, inside) > kEmpty)
    lookAhead(cell, bent, inside);
}

// Bodies that are convex together become one, as cuts that a later one made needless; then those that grow
// least by it, until there are few enough.
void joinParts(std::vector<Hull>& parts, size_t most) {
  constexpr double kSame = 1e-5;
  struct Join {
    size_t a = 0, b = 0;
    double growth = 0, volume = 0;
  };
  const auto whole = [&](size_t a, size_t b) {
    std::vector<glm::vec3> both = parts[a].corners;
    both.insert(both.end(), parts[b].corners.begin(), parts[b].corners.end());
    return convexHull(both);
  };
  std::vector<double> volumes;
  for (const Hull& part : parts) volumes.push_back(volumeOf(part));
  std::vector<Join> joins;
  const auto weigh = [&](std::vector<Join> added) {
    base::parallelFor(added.size(), [&](size_t i) {
      Join& join = added[i];
      join.volume = volumeOf(whole(join.a, join.b));
      join.growth = join.volume - volumes[join.a] - volumes[join.b];
    });
    joins.insert(joins.end(), added.begin(), added.end());
  };
  std::vector<Join> all;
  for (size_t a = 0; a < parts.size(); ++a)
    for (size_t b = a + 1; b < parts.size(); ++b) all.push_back({a, b, 0, 0});
  weigh(std::move(all));
  for (size_t left = parts.size(); left > 1; --left) {
    const auto best = std::min_element(joins.begin(), joins.end(),
                                       [](const Join& a, const Join& b) { return a.growth < b.growth; });
    if (left <= most && best->growth > (best->volume - best->growth) * kSame) break;
    const Join join = *best;
    parts[join.a] = whole(join.a, join.b);
    parts[join.b] = {};
    volumes[join.a] = join.volume;
    std::vector<Join> anew;
    for (Join& one : joins)
      if ((one.a == join.a) != (one.b == join.a) && one.a != join.b && one.b != join.b) anew.push_back(one);
    std::erase_if(joins, [&](const Join& one) {
      return one.a == join.a || one.b == join.a || one.a == join.b || one.b == join.b;
    });
    weigh(std::move(anew));
  }
  std::erase_if(parts, [](const Hull& part) { return part.empty(); });
}

std::vector<BentEdge> bentEdges(std::span<const glm::vec3> positions, std::span<const uint32_t> corners) {
  const Welding welding = weldEqual(positions);
  std::vector<uint32_t> welded;
  for (size_t t = 0; t + 2 < corners.size(); t += 3) {
    const uint32_t a = welding.of[corners[t]], b = welding.of[corners[t + 1]], c = welding.of[corners[t + 2]];
    if (a != b && b != c && c != a) welded.insert(welded.end(), {a, b, c});
  }
  const Topology topology = topologyOf(welded, static_cast<uint32_t>(welding.first.size()));
  const auto place = [&](size_t corner) { return glm::dvec3(positions[welding.first[welded[corner]]]); };
  std::vector<BentEdge> out;
  for (uint32_t h = 0; h < topology.twin.size(); ++h) {
    const uint32_t twin = topology.twin[h];
    if (!topology.hasTwin(h) || twin < h) continue;
    const size_t t = size_t{h} / 3 * 3;
    const glm::dvec3 a = place(t), n = glm::cross(place(t + 1) - a, place(t + 2) - a);
    const glm::dvec3 to = place(Topology::previousHalfEdge(twin)) - a;
    // Beyond the plane of this triangle by more than two degrees or so: the other one rises from it.
    if (glm::dot(n, to) > 0.04 * glm::length(n) * glm::length(to))
      out.push_back({glm::vec3(place(h)), glm::vec3(place(Topology::nextHalfEdge(h)))});
  }
  return out;
}

}  // namespace

double volumeOf(const Hull& hull) {
  return hull.empty() ? 0 : std::abs(massOf(hull.corners, hull.triangles).volume);
}

std::vector<Hull> convexParts(std::span<const glm::vec3> positions, std::span<const uint32_t> corners,
                              const ConvexPartsOptions& options) {
  const auto finite = [&](uint32_t v) {
    return v < positions.size() && std::isfinite(positions[v].x) && std::isfinite(positions[v].y) &&
           std::isfinite(positions[v].z);
  };
  std::vector<uint32_t> whole;
  Soup soup;
  for (size_t t = 0; t + 2 < corners.size(); t += 3) {
    if (!finite(corners[t]) || !finite(corners[t + 1]) || !finite(corners[t + 2])) continue;
    for (size_t i = t; i < t + 3; ++i) {
      whole.push_back(corners[i]);
      soup.push_back(positions[corners[i]]);
    }
  }
  if (soup.empty()) return {};
  const Inside inside(soup);
  std::vector<Cell> cells(1);
  cells[0].soup = soup;
  const Bounds box = boundsOf(soup);
  cells[0].low = box.min;
  cells[0].high = box.max;
  makeHull(cells[0]);
  if (cells[0].hull.empty()) return {};
  const std::vector<BentEdge> bent = bentEdges(positions, whole);
  const double least = options.least_gain * cells[0].volume;
  findCut(cells[0], bent, inside, least);
  // Cut finer than asked, then joined: the best few parts are seldom those that the first cuts make.
  const size_t most_parts = std::max<size_t>(1, options.most_parts);
  while (cells.size() < most_parts + most_parts / 2) {
    if (options.stop && options.stop()) break;
    const auto at = std::max_element(cells.begin(), cells.end(),
                                     [](const Cell& a, const Cell& b) { return a.promise < b.promise; });
    if (!at->best || at->promise <= least) break;
    std::array<Cell, 2> halves = halvesOf(*at, at->best->axis, at->best->at, inside);
    for (Cell& half : halves) findCut(half, bent, inside, least);
    const auto place = static_cast<size_t>(at - cells.begin());
    cells[place] = std::move(halves[0]);
    cells.insert(cells.begin() + static_cast<std::ptrdiff_t>(place) + 1, std::move(halves[1]));
    std::erase_if(cells, [](const Cell& cell) { return cell.hull.empty(); });
  }
  std::vector<Hull> out;
  for (Cell& cell : cells) out.push_back(std::move(cell.hull));
  joinParts(out, most_parts);
  if (options.most_corners == 0) return out;
  HullOptions limits;
  limits.most_corners = std::max<size_t>(4, options.most_corners);
  for (Hull& hull : out) hull = convexHull(hull.corners, limits);
  return out;
}

}  // namespace rakugo::geometry
