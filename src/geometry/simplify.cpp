#include "geometry/simplify.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <numeric>
#include <optional>

#include "geometry/finite.h"
#include "geometry/quadric.h"
#include "geometry/welding.h"

namespace rakugo::geometry {
namespace {

constexpr uint32_t kNoIndex = UINT32_MAX;
constexpr float kEndless = std::numeric_limits<float>::max();
// How much heavier than surface a border or seam is held, per square of its length.
constexpr float kBorderWeight = 10, kSeamWeight = 2;
// Least cosine between a triangle before and after.
constexpr float kLeastTurn = 0.25F;
// Of the places that could go, how many may go in one pass: fewer keep closer to the best order.
constexpr double kShare = 0.75;

// Costs are told apart to a power of two (of the fourth power): what costs about the same is taken in the
// order of the places, of which neighbours mostly lie near each other in memory.
constexpr uint32_t kCostBits = 23;

// How a place may go: anywhere, along the line it lies on, or not at all.
enum class PlaceKind : unsigned char { free, border, seam, fixed };

struct Candidate {
  float cost = kEndless;  // what it is ordered by
  float off2 = 0;         // the square of how far the surface goes
  uint32_t to = kNoIndex;
};

class Simplifier {
 public:
  Simplifier(const SimplifyInput& input, const SimplifyOptions& options, base::Progress* progress)
      : in_(input), options_(options), progress_(progress) {}

  base::Result<Simplified> run() {
    prepare();
    const size_t at_first = triangles_.size();
    while (triangles_.size() > options_.triangles) {
      if (progress_ != nullptr) {
        if (progress_->cancelled()) return base::cancelledError();
        const double span = static_cast<double>(at_first - std::min(at_first, options_.triangles));
        progress_->say("Simplifying",
                       span > 0 ? static_cast<double>(at_first - triangles_.size()) / span : 1);
      }
      if (!pass()) break;
    }
    Simplified out;
    out.indices = std::move(corners_);
    out.triangles = std::move(triangles_);
    out.error = std::sqrt(worst_);
    return out;
  }

 private:
  [[nodiscard]] uint32_t placeAt(size_t corner) const { return corner_places_[corner]; }
  // The next and the one before in the same triangle.
  static size_t nextCorner(size_t c) { return c % 3 == 2 ? c - 2 : c + 1; }
  static size_t lastCorner(size_t c) { return c % 3 == 0 ? c + 2 : c - 1; }

  void prepare() {
    corners_.assign(in_.indices.begin(), in_.indices.end());
    triangles_.resize(corners_.size() / 3);
    std::iota(triangles_.begin(), triangles_.end(), 0U);
    Welding welding = weldEqual(in_.positions);
    place_ = std::move(welding.of);
    first_ = std::move(welding.first);
    at_.reserve(first_.size());
    for (const uint32_t v : first_) at_.push_back(in_.positions[v]);
    const size_t places = at_.size();
    kind_.assign(places, PlaceKind::free);
    line_.assign(places, {kNoIndex, kNoIndex});
    remap_.resize(places);
    std::iota(remap_.begin(), remap_.end(), 0U);
    vertex_map_.resize(in_.positions.size());
    std::iota(vertex_map_.begin(), vertex_map_.end(), 0U);
    stamp_.assign(places, 0);
    busy_.assign(places, 0);
    corner_places_.resize(corners_.size());
    for (size_t c = 0; c < corners_.size(); ++c) corner_places_[c] = place_[corners_[c]];
    findAround();
    classify();
    measure();
  }

  // Corners by place.
  void findAround() {
    begin_.assign(at_.size() + 1, 0);
    for (const uint32_t p : corner_places_) ++begin_[p + 1];
    std::partial_sum(begin_.begin(), begin_.end(), begin_.begin());
    around_.resize(corners_.size());
    std::vector<uint32_t> fill(begin_.begin(), begin_.end() - 1);
    for (uint32_t c = 0; c < corners_.size(); ++c) around_[fill[corner_places_[c]]++] = c;
  }
  [[nodiscard]] std::span<const uint32_t> around(uint32_t place) const {
    return std::span(around_).subspan(begin_[place], begin_[place + 1] - begin_[place]);
  }

  enum class SideKind : unsigned char { smooth, border, seam, crowded };
  [[nodiscard]] SideKind sideKind(uint32_t c) const {
    const uint32_t v = corners_[c], w = corners_[nextCorner(c)], a = placeAt(c), b = placeAt(nextCorner(c));
    if (a == b) return SideKind::crowded;
    uint32_t same = 0, back = 0;
    bool alike = false;
    for (const uint32_t other : around(a))
      if (placeAt(nextCorner(other)) == b) ++same;
    for (const uint32_t other : around(b))
      if (placeAt(nextCorner(other)) == a) {
        ++back;
        alike = corners_[other] == w && corners_[nextCorner(other)] == v;
      }
    if (same != 1 || back > 1) return SideKind::crowded;
    return back == 0 ? SideKind::border : alike ? SideKind::smooth : SideKind::seam;
  }

  // Borders and seams: what lies on one, and how it goes on.
  void classify() {
    side_.resize(corners_.size());
    parts(corners_.size(), [&](size_t c) { side_[c] = sideKind(static_cast<uint32_t>(c)); });
    const std::vector<Lines> lines = linesOfPlaces();
    parts(at_.size(), [&](size_t p) { kind_[p] = placeKind(p, lines[p]); });
    if (!options_.may_go.empty())
      for (size_t v = 0; v < place_.size(); ++v)
        if (options_.may_go[v] == 0) kind_[place_[v]] = PlaceKind::fixed;
    if (!options_.only_to.empty()) {
      only_to_.assign(at_.size(), kNoIndex);
      for (size_t v = 0; v < place_.size(); ++v)
        if (options_.only_to[v] != kNoIndex) only_to_[place_[v]] = place_[options_.only_to[v]];
    }
  }

  // How many borders and seams end and begin at a place.
  struct Lines {
    unsigned char border_in = 0, border_out = 0, seam_out = 0, seam_in = 0;
    bool stays = false;
  };

  std::vector<Lines> linesOfPlaces() {
    std::vector<Lines> lines(at_.size());
    const auto more = [](unsigned char& count) {
      count = static_cast<unsigned char>(std::min(count + 1, 9));
    };
    for (size_t c = 0; c < corners_.size(); ++c) {
      if (side_[c] == SideKind::smooth) continue;
      const uint32_t a = placeAt(c), b = placeAt(nextCorner(c));
      switch (side_[c]) {
        case SideKind::smooth:
          break;
        case SideKind::crowded:
          lines[a].stays = lines[b].stays = true;
          break;
        case SideKind::border:
          more(lines[a].border_out);
          more(lines[b].border_in);
          line_[a][1] = b;
          line_[b][0] = a;
          break;
        case SideKind::seam:
          if (lines[a].seam_out == 0)
            line_[a][0] = b;
          else
            line_[a][1] = b;
          more(lines[a].seam_out);
          more(lines[b].seam_in);
          break;
      }
    }
    return lines;
  }

  [[nodiscard]] PlaceKind placeKind(size_t p, const Lines& l) const {
    const bool border = l.border_in + l.border_out > 0, seam = l.seam_in + l.seam_out > 0;
    PlaceKind kind = PlaceKind::free;
    if (l.stays || (border && seam))
      kind = PlaceKind::fixed;
    else if (border)
      kind = l.border_in == 1 && l.border_out == 1 && line_[p][0] != line_[p][1] ? PlaceKind::border
                                                                                 : PlaceKind::fixed;
    else if (seam)
      kind = l.seam_out == 2 && l.seam_in == 2 && line_[p][0] != line_[p][1] ? PlaceKind::seam
                                                                             : PlaceKind::fixed;
    if (!finite(at_[p])) kind = PlaceKind::fixed;
    // Two vertices without a seam, or three: fans that touch in a point.
    uint32_t v = kNoIndex, w = kNoIndex;
    bool third = false;
    for (const uint32_t c : around(static_cast<uint32_t>(p))) {
      const uint32_t here = corners_[c];
      if (v == kNoIndex || here == v)
        v = here;
      else if (w == kNoIndex || here == w)
        w = here;
      else
        third = true;
    }
    return third || (w != kNoIndex) != (kind == PlaceKind::seam) ? PlaceKind::fixed : kind;
  }

  // What each place's surroundings weigh.
  void measure() {
    quadrics_.assign(at_.size(), {});
    parts(at_.size(), [&](size_t p) {
      if (kind_[p] == PlaceKind::fixed && !finite(at_[p])) return;
      Quadric& q = quadrics_[p];
      for (const uint32_t c : around(static_cast<uint32_t>(p))) {
        const glm::vec3 o = at_[p], b = at_[placeAt(nextCorner(c))] - o, d = at_[placeAt(lastCorner(c))] - o;
        const glm::vec3 cross = glm::cross(b, d);
        const float length = glm::length(cross);
        if (!(length > 0) || !std::isfinite(length)) continue;
        const glm::vec3 n = cross / length;
        q.addPlane(n, 0, length * 0.5F, true);
        hold(q, side_[c], b, n);
        hold(q, side_[lastCorner(c)], d, n);
      }
    });
    side_ = {};
  }
  static void hold(Quadric& q, SideKind side, glm::vec3 edge, glm::vec3 n) {
    if (side == SideKind::smooth) return;
    const float length2 = glm::dot(edge, edge);
    const glm::vec3 across = glm::cross(edge, n);
    const float size = glm::length(across);
    if (size > 0)
      q.addPlane(across / size, 0, length2 * (side == SideKind::seam ? kSeamWeight : kBorderWeight), false);
  }

  // The square of how far the surface would go, about: the mean over the surface that p stands for.
  [[nodiscard]] float offBy(uint32_t p, uint32_t q) const {
    const Quadric& from = quadrics_[p];
    const float sum = from.at(at_[q] - at_[p]);
    return from.weight > 0 ? sum / from.weight : sum > 0 ? kEndless : 0;
  }

  // A short way is better than a long one that costs as much: triangles stay compact. Costs are squares of
  // squares, so that one root is enough.
  [[nodiscard]] float reach(uint32_t p, uint32_t q) const {
    const glm::vec3 way = at_[q] - at_[p];
    const float surface = quadrics_[p].weight;
    return surface > 0 ? std::sqrt(glm::dot(way, way) / surface) : 1;
  }

  // Whether a triangle at corner `c` of place `p` would turn over, or lose its surface, when p went to q.
  [[nodiscard]] bool turns(uint32_t p, uint32_t q, uint32_t c) const {
    const uint32_t x = remap_[placeAt(nextCorner(c))], y = remap_[placeAt(lastCorner(c))];
    if (x == q || y == q || x == y || x == p || y == p) return false;  // it goes
    const glm::vec3 side = at_[y] - at_[x];
    const glm::vec3 now = glm::cross(side, at_[p] - at_[x]), then = glm::cross(side, at_[q] - at_[x]);
    const float now2 = glm::dot(now, now), then2 = glm::dot(then, then);
    const float across = glm::dot(side, side), down = glm::dot(at_[q] - at_[x], at_[q] - at_[x]);
    if (!(then2 > 1e-10F * across * std::max(across, down))) return true;
    const float dot = glm::dot(now, then);
    return now2 > 0 && !(dot > 0 && dot * dot > kLeastTurn * kLeastTurn * now2 * then2);
  }

  // The square of how much attributes at `p` would change when it went to `q`; endless where no wedge of q
  // is known for a wedge of p.
  [[nodiscard]] float attributeCost(uint32_t p, uint32_t q) const {
    if (in_.attribute_count == 0) return 0;
    float worst = 0;
    uint32_t seen = kNoIndex;
    for (const uint32_t c : around(p)) {
      if (corners_[c] == seen) continue;
      // A seam's place has two vertices; their fans are told apart by the vertex.
      const uint32_t v = corners_[c];
      const uint32_t target = wedgeToward(p, v, q);
      if (target == kNoIndex) return kEndless;
      worst = std::max(worst, fanChange(p, q, v, target));
      seen = v;
    }
    return worst;
  }
  // Of vertex v's fan after the collapse, the triangle that lies where v was, and what it says there.
  [[nodiscard]] float fanChange(uint32_t p, uint32_t q, uint32_t v, uint32_t target) const {
    float best = -kEndless;
    glm::vec3 share(1, 0, 0);
    uint32_t vx = target, vy = target;
    for (const uint32_t c : around(p)) {
      if (corners_[c] != v) continue;
      const uint32_t cx = corners_[nextCorner(c)], cy = corners_[lastCorner(c)];
      const uint32_t x = place_[cx], y = place_[cy];
      if (x == q || y == q) continue;
      const glm::vec3 b = at_[x] - at_[q], d = at_[y] - at_[q], o = at_[p] - at_[q];
      const float bb = glm::dot(b, b), bd = glm::dot(b, d), dd = glm::dot(d, d), ob = glm::dot(o, b),
                  od = glm::dot(o, d);
      const float det = bb * dd - bd * bd;
      if (!(det > 0)) continue;
      const float s = (ob * dd - od * bd) / det, t = (od * bb - ob * bd) / det;
      const float least = std::min({s, t, 1 - s - t});
      if (least <= best) continue;
      best = least;
      share = {1 - s - t, s, t};
      vx = cx;
      vy = cy;
    }
    share = glm::clamp(share, 0.0F, 1.0F);
    share /= share.x + share.y + share.z;
    const size_t k = in_.attribute_count;
    float sum = 0;
    for (size_t i = 0; i < k; ++i) {
      const float change = share.x * in_.attributes[target * k + i] + share.y * in_.attributes[vx * k + i] +
                           share.z * in_.attributes[vy * k + i] - in_.attributes[v * k + i];
      sum += change * change;
    }
    return std::isfinite(sum) ? sum : kEndless;
  }

  // The vertex at `q` in a triangle of vertex v of p; before a pass begins, nothing is remapped.
  [[nodiscard]] uint32_t wedgeToward(uint32_t p, uint32_t v, uint32_t q) const {
    for (const uint32_t c : around(p)) {
      if (corners_[c] != v) continue;
      if (placeAt(nextCorner(c)) == q) return corners_[nextCorner(c)];
      if (placeAt(lastCorner(c)) == q) return corners_[lastCorner(c)];
    }
    return kNoIndex;
  }

  [[nodiscard]] bool anyTurns(uint32_t p, uint32_t q) const {
    for (const uint32_t c : around(p))
      if (turns(p, q, c)) return true;
    return false;
  }

  [[nodiscard]] Candidate bestWay(uint32_t p) const {
    Candidate best;
    const float limit = options_.max_error < 1e18F ? options_.max_error * options_.max_error : kEndless;
    const float attribute_limit = options_.max_attribute_error < 1e18F
                                      ? options_.max_attribute_error * options_.max_attribute_error
                                      : kEndless;
    const auto look = [&](uint32_t q, bool closely) {
      if (!only_to_.empty() && only_to_[p] != kNoIndex && only_to_[p] != q) return;
      const float off2 = offBy(p, q);
      if (!(off2 <= limit)) return;
      const float way = reach(p, q);
      float price = off2 * off2 * way;
      if (!(price < best.cost)) return;
      if (closely) {
        const float attributes = attributeCost(p, q);
        if (!(attributes <= attribute_limit)) return;
        price = (off2 + attributes) * (off2 + attributes) * way;
        if (!(price < best.cost) || anyTurns(p, q)) return;
      }
      best = {price, off2, q};
    };
    const auto lookAtAll = [&](bool closely) {
      best = {};
      if (kind_[p] == PlaceKind::free) {
        for (const uint32_t c : around(p)) look(placeAt(nextCorner(c)), closely);
      } else {
        for (const uint32_t q : line_[p])
          if (q != kNoIndex) look(q, closely);
      }
    };
    lookAtAll(options_.every_way);
    if (best.to == kNoIndex || options_.every_way) return best;
    // Mostly the way that moves the surface least can be gone; only else are the others worth a closer look.
    const float attributes = attributeCost(p, best.to);
    if (!(attributes <= attribute_limit) || anyTurns(p, best.to))
      lookAtAll(true);
    else
      best.cost = (best.off2 + attributes) * (best.off2 + attributes) * reach(p, best.to);
    return best;
  }

  // One round of collapses. False when nothing could be done.
  bool pass() {
    const size_t places = at_.size();
    candidates_.assign(places, {});
    parts(places, [&](size_t p) {
      if (kind_[p] == PlaceKind::fixed || begin_[p] == begin_[p + 1]) return;
      candidates_[p] = bestWay(static_cast<uint32_t>(p));
    });
    std::vector<uint64_t> order;
    for (uint32_t p = 0; p < places; ++p)
      if (candidates_[p].to != kNoIndex)
        order.push_back(uint64_t{std::bit_cast<uint32_t>(candidates_[p].cost) >> kCostBits} << 32 | p);
    if (order.empty()) return false;
    const size_t wanted = (triangles_.size() - options_.triangles + 1) / 2;
    const auto share = static_cast<size_t>(static_cast<double>(order.size()) * kShare) + 1;
    // No more than are wanted: a dear one must not go because cheap ones are in each other's way.
    size_t last = std::min({order.size(), share, wanted});
    size_t done = 0;
    removed_ = 0;
    ++round_;
    // When all that was to be tried is in the way of something, the rest is tried too.
    for (size_t first = 0; first < order.size() && done == 0; last = order.size()) {
      std::nth_element(order.begin() + static_cast<std::ptrdiff_t>(first),
                       order.begin() + static_cast<std::ptrdiff_t>(last - 1), order.end());
      std::sort(order.begin() + static_cast<std::ptrdiff_t>(first),
                order.begin() + static_cast<std::ptrdiff_t>(last));
      for (size_t i = first; i < last && triangles_.size() - removed_ > options_.triangles; ++i)
        done += collapse(static_cast<uint32_t>(order[i])) ? 1 : 0;
      first = last;
    }
    if (done == 0) return false;
    rewrite();
    findAround();
    return true;
  }

  bool collapse(uint32_t p) {
    const uint32_t q = candidates_[p].to;
    if (busy_[p] == round_ || busy_[q] == round_ || remap_[p] != p || remap_[q] != q) return false;
    // Around both: places that are neighbours of either. A common one must belong to a triangle that goes.
    ++stamp_now_;
    for (const uint32_t c : around(q)) {
      stamp_[remap_[placeAt(nextCorner(c))]] = stamp_now_;
      stamp_[remap_[placeAt(lastCorner(c))]] = stamp_now_;
    }
    size_t common = 0, going = 0;
    bool moved = false;
    const uint32_t twice = ++stamp_now_;
    for (const uint32_t c : around(p)) {
      const uint32_t old_x = placeAt(nextCorner(c)), old_y = placeAt(lastCorner(c));
      const uint32_t x = remap_[old_x], y = remap_[old_y];
      moved = moved || x != old_x || y != old_y;
      if (x == y || x == p || y == p) continue;
      if (x == q || y == q) ++going;
      for (const uint32_t n : {x, y})
        if (n != q && stamp_[n] == twice - 1) {
          stamp_[n] = twice;
          ++common;
        }
    }
    if (going == 0 || common != going || going != (kind_[p] == PlaceKind::border ? 1U : 2U)) return false;
    // Where nothing has moved since the candidates were looked at, that holds still.
    if (moved && anyTurns(p, q)) return false;
    if (kind_[p] != PlaceKind::free && !carryLine(p, q)) return false;
    // Each of its vertices becomes the one of q on the same side.
    for (const uint32_t c : around(p)) {
      const uint32_t v = corners_[c];
      if (vertex_map_[v] != v) continue;
      const uint32_t to = wedgeToward(p, v, q);
      vertex_map_[v] = to != kNoIndex ? to : v;
    }
    remap_[p] = q;
    busy_[p] = busy_[q] = round_;
    // Its neighbours' surroundings have changed; they may take in another one, but not go in this pass.
    quadrics_[q].add(quadrics_[p], at_[p] - at_[q]);
    worst_ = std::max(worst_, candidates_[p].off2);
    removed_ += going;
    return true;
  }

  // A border or seam goes on from p's other neighbour to q. False where that would close it to nothing, or
  // a vertex of p has no counterpart at q.
  bool carryLine(uint32_t p, uint32_t q) {
    const uint32_t other = line_[p][0] == q ? line_[p][1] : line_[p][0];
    if (other == kNoIndex || other == q) return false;
    for (const uint32_t c : around(p))
      if (wedgeToward(p, corners_[c], q) == kNoIndex) return false;
    const auto replace = [&](uint32_t in, uint32_t old, uint32_t now) {
      for (uint32_t& n : line_[in])
        if (n == old) n = now;
    };
    replace(other, p, q);
    replace(q, p, other);
    return true;
  }

  // Puts the collapses into the triangles.
  void rewrite() {
    size_t out = 0;
    for (size_t t = 0; t < triangles_.size(); ++t) {
      std::array<uint32_t, 3> v{};
      for (size_t k = 0; k < 3; ++k) v[k] = vertex_map_[corners_[t * 3 + k]];
      std::array<uint32_t, 3> p{};
      for (size_t k = 0; k < 3; ++k) p[k] = remap_[placeAt(t * 3 + k)];
      const auto [a, b, c] = p;
      const bool was = placeAt(t * 3) != placeAt(t * 3 + 1) && placeAt(t * 3 + 1) != placeAt(t * 3 + 2) &&
                       placeAt(t * 3 + 2) != placeAt(t * 3);
      // Triangles that came without a surface are not this function's to take away.
      if (was && (a == b || b == c || c == a)) continue;
      for (size_t k = 0; k < 3; ++k) {
        corners_[out * 3 + k] = v[k];
        corner_places_[out * 3 + k] = p[k];
      }
      triangles_[out++] = triangles_[t];
    }
    corners_.resize(out * 3);
    corner_places_.resize(out * 3);
    triangles_.resize(out);
  }

  // body(i) for i below n, on all cores where that is worth it.
  template <class Body>
  void parts(size_t n, Body body) const {
    constexpr size_t kChunk = 1 << 14;
    base::parallelFor((n + kChunk - 1) / kChunk, [&](size_t chunk) {
      const size_t end = std::min(n, (chunk + 1) * kChunk);
      for (size_t i = chunk * kChunk; i < end; ++i) body(i);
    });
  }

  const SimplifyInput& in_;
  const SimplifyOptions& options_;
  base::Progress* progress_;
  std::vector<uint32_t> corners_, triangles_;  // what is left
  std::vector<uint32_t> corner_places_;        // by corner
  std::vector<uint32_t> place_, first_;        // by vertex; by place
  std::vector<glm::vec3> at_;                  // by place
  std::vector<PlaceKind> kind_;                // by place
  std::vector<std::array<uint32_t, 2>> line_;  // by place on a border or seam: its neighbours along it
  std::vector<SideKind> side_;                 // by corner, while the beginning is measured
  std::vector<Quadric> quadrics_;              // by place
  std::vector<uint32_t> only_to_;              // by place; empty when none is bound
  std::vector<uint32_t> begin_, around_;       // corners by place
  std::vector<uint32_t> remap_, vertex_map_;   // where places and vertices have gone
  std::vector<uint32_t> stamp_, busy_;         // by place
  uint32_t stamp_now_ = 0, round_ = 0;
  std::vector<Candidate> candidates_;
  size_t removed_ = 0;
  float worst_ = 0;
};

}  // namespace

base::Result<Simplified> simplify(const SimplifyInput& input, const SimplifyOptions& options,
                                  base::Progress* progress) {
  return Simplifier(input, options, progress).run();
}

}  // namespace rakugo::geometry
