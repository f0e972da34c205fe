#include "geometry/unwrap.h"

#include <Eigen/Sparse>
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <queue>

#include "geometry/crossings.h"

namespace rakugo::geometry {
namespace {

constexpr uint32_t kNone = UINT32_MAX;
constexpr float kNarrower = 0.8F;  // of a cone, from round to round
constexpr double kFew =
    0.25;  // share of a chart's triangles that are cut out, so that the others stay together
constexpr size_t kSmall = 24;    // triangles; charts with fewer are shared out among their neighbours
constexpr float kWidest = 1.4F;  // how far those may be turned away from the chart's mean
constexpr float kWhole = 3.2F;   // a cone that takes everything that hangs together
constexpr int kTurns = 45;       // directions in which a chart's box is measured, over a quarter turn

struct Corner3 {
  std::array<glm::dvec3, 3> at;
};

// One set of triangles that goes flat together.
struct Chart {
  std::vector<uint32_t> triangles;
  std::vector<glm::dvec2> uv;  // 3 x n, once it is laid flat
  std::vector<uint32_t> bad;   // triangles that keep it from lying flat, where they are few
};

class Unwrapper {
 public:
  Unwrapper(std::span<const glm::vec3> positions, const Topology& topology, const UnwrapOptions& options,
            const base::Progress* progress)
      : positions_(positions), topology_(topology), options_(options), progress_(progress) {
    const size_t n = topology.triangles();
    normal_.resize(n, glm::dvec3(0));
    area_.resize(n, 0);
    double all = 0;
    for (uint32_t t = 0; t < n; ++t) {
      const Corner3 c = cornersOf(t);
      const glm::dvec3 cross = glm::cross(c.at[1] - c.at[0], c.at[2] - c.at[0]);
      area_[t] = glm::length(cross) / 2;
      if (!std::isfinite(area_[t])) area_[t] = 0;
      all += area_[t];
      if (area_[t] > 0) normal_[t] = glm::normalize(cross);
    }
    // Thinner than this, a triangle has no direction to go by.
    const double least = n > 0 ? all / static_cast<double>(n) * 1e-9 : 0;
    for (uint32_t t = 0; t < n; ++t)
      if (area_[t] <= least) area_[t] = 0;
  }

  Unwrapped run() {
    Unwrapped out;
    const size_t n = topology_.triangles();
    out.chart.assign(n, kNone);
    out.uv.assign(n * 3, glm::vec2(0));
    std::vector<uint32_t> all;
    for (uint32_t t = 0; t < n; ++t)
      if (area_[t] > 0) all.push_back(t);
    std::vector<Chart> waiting = grow(all, options_.cone_rad);
    absorb(waiting);
    std::vector<Chart> done;
    float cone = options_.cone_rad;
    // Charts are laid flat side by side; those that fail are parted, and theirs are tried in the next round.
    while (!waiting.empty() && !cancelled()) {
      cone *= kNarrower;
      std::vector<uint8_t> good(waiting.size(), 0);
      base::parallelFor(waiting.size(),
                        [&](size_t i) { good[i] = !cancelled() && layFlat(waiting[i]) ? 1 : 0; });
      std::vector<Chart> next;
      for (size_t i = 0; i < waiting.size(); ++i) {
        if (good[i] != 0) {
          done.push_back(std::move(waiting[i]));
          continue;
        }
        for (Chart& part : parted(waiting[i], cone)) next.push_back(std::move(part));
      }
      waiting = std::move(next);
    }
    // In the order of their first triangle, however many rounds it took.
    for (Chart& chart : done) order(chart);
    std::sort(done.begin(), done.end(),
              [](const Chart& a, const Chart& b) { return a.triangles.front() < b.triangles.front(); });
    for (const Chart& chart : done) {
      for (size_t i = 0; i < chart.triangles.size(); ++i) {
        out.chart[chart.triangles[i]] = out.charts;
        for (size_t k = 0; k < 3; ++k)
          out.uv[size_t{chart.triangles[i]} * 3 + k] = glm::vec2(chart.uv[i * 3 + k]);
      }
      ++out.charts;
    }
    takeRest(out);
    out.stretch_95 = stretchOf(done);
    return out;
  }

 private:
  [[nodiscard]] bool cancelled() const { return progress_ != nullptr && progress_->cancelled(); }

  [[nodiscard]] Corner3 cornersOf(uint32_t t) const {
    Corner3 out;
    for (size_t k = 0; k < 3; ++k) out.at[k] = glm::dvec3(positions_[topology_.corners[size_t{t} * 3 + k]]);
    return out;
  }

  // The triangle over an edge that is wound as this one; none over borders and the like.
  [[nodiscard]] uint32_t neighbour(uint32_t half_edge) const {
    if (!topology_.hasTwin(half_edge)) return kNone;
    const uint32_t twin = topology_.twin[half_edge];
    if (topology_.from(twin) != topology_.to(half_edge)) return kNone;
    return area_[twin / 3] > 0 ? twin / 3 : kNone;
  }

  // Charts over some triangles: the largest that is left begins one; then whatever turns least from its mean.
  [[nodiscard]] std::vector<Chart> grow(const std::vector<uint32_t>& among, float cone_rad) {
    std::vector<uint32_t> seeds = among;
    std::stable_sort(seeds.begin(), seeds.end(), [&](uint32_t a, uint32_t b) { return area_[a] > area_[b]; });
    if (of_.empty()) of_.assign(topology_.triangles(), kNone);
    if (within_.empty()) within_.assign(topology_.triangles(), 0);
    ++round_;
    for (const uint32_t t : among) of_[t] = kNone, within_[t] = round_;
    const double least = std::cos(static_cast<double>(cone_rad));
    std::vector<Chart> out;
    using Entry = std::pair<double, uint32_t>;  // how far it is turned away, and the triangle
    for (const uint32_t seed : seeds) {
      if (of_[seed] != kNone) continue;
      const auto number = static_cast<uint32_t>(out.size());
      Chart& chart = out.emplace_back();
      glm::dvec3 mean(0);
      std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue;
      queue.emplace(0, seed);
      while (!queue.empty()) {
        const uint32_t t = queue.top().second;
        queue.pop();
        if (of_[t] != kNone) continue;
        const double length = glm::length(mean);
        if (length > 0 && glm::dot(mean, normal_[t]) < least * length) continue;
        of_[t] = number;
        chart.triangles.push_back(t);
        mean += normal_[t] * area_[t];
        for (uint32_t k = 0; k < 3; ++k)
          if (const uint32_t o = neighbour(t * 3 + k); o != kNone && of_[o] == kNone && within_[o] == round_)
            queue.emplace(1 - glm::dot(normal_[o], glm::normalize(mean)), o);
      }
    }
    return out;
  }

  // Right after they were grown. What lies between charts, a few triangles each, goes to the neighbour that
  // it turns least away from, though it turns farther than others may.
  void absorb(std::vector<Chart>& charts) {
    std::vector<glm::dvec3> means(charts.size(), glm::dvec3(0));
    using Entry =
        std::tuple<double, uint32_t, uint32_t>;  // how far it is turned away, the triangle, the chart
    std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue;
    std::vector<uint32_t> few;
    for (uint32_t c = 0; c < charts.size(); ++c) {
      const bool small = charts[c].triangles.size() < kSmall;
      for (const uint32_t t : charts[c].triangles) {
        means[c] += normal_[t] * area_[t];
        of_[t] = small ? kNone : c;
        if (small) few.push_back(t);
      }
    }
    const auto offer = [&](uint32_t t, uint32_t chart) {
      queue.emplace(1 - glm::dot(normal_[t], glm::normalize(means[chart])), t, chart);
    };
    for (const uint32_t t : few)
      for (uint32_t k = 0; k < 3; ++k)
        if (const uint32_t o = neighbour(t * 3 + k); o != kNone && within_[o] == round_ && of_[o] != kNone)
          offer(t, of_[o]);
    const double most = 1 - std::cos(static_cast<double>(kWidest));
    while (!queue.empty()) {
      const auto [turned, t, chart] = queue.top();
      queue.pop();
      if (turned > most) break;
      if (of_[t] != kNone) continue;
      of_[t] = chart;
      charts[chart].triangles.push_back(t);
      for (uint32_t k = 0; k < 3; ++k)
        if (const uint32_t o = neighbour(t * 3 + k); o != kNone && within_[o] == round_ && of_[o] == kNone)
          offer(o, chart);
    }
    // What nobody takes stays as it was.
    for (uint32_t c = 0; c < charts.size(); ++c)
      if (charts[c].triangles.size() < kSmall)
        std::erase_if(charts[c].triangles, [&](uint32_t t) { return of_[t] != kNone; });
    std::erase_if(charts, [](const Chart& chart) { return chart.triangles.empty(); });
    std::vector<Chart> whole;
    // A chart that lost triangles may hang together no more.
    for (Chart& chart : charts) {
      if (chart.triangles.size() >= kSmall) {
        whole.push_back(std::move(chart));
        continue;
      }
      for (Chart& part : grow(chart.triangles, kWhole)) whole.push_back(std::move(part));
    }
    charts = std::move(whole);
  }

  // Smaller charts in place of one; where a narrower cone parts nothing, halves of it.
  [[nodiscard]] std::vector<Chart> parted(const Chart& chart, float cone_rad) {
    if (!chart.bad.empty() &&
        static_cast<double>(chart.bad.size()) < kFew * static_cast<double>(chart.triangles.size())) {
      // Those that fold over go; the others may fall into pieces, and are tried again as they are.
      std::vector<uint32_t> rest;
      std::set_difference(chart.triangles.begin(), chart.triangles.end(), chart.bad.begin(), chart.bad.end(),
                          std::back_inserter(rest));
      std::vector<Chart> out = grow(rest, kWhole);
      for (Chart& one : grow(chart.bad, cone_rad)) out.push_back(std::move(one));
      return out;
    }
    std::vector<Chart> parts = grow(chart.triangles, cone_rad);
    absorb(parts);
    if (parts.size() > 1 || chart.triangles.size() < 2) return parts;
    // By the longer side of its box.
    glm::dvec3 least(INFINITY), most(-INFINITY);
    const auto middle = [&](uint32_t t) {
      const Corner3 c = cornersOf(t);
      return (c.at[0] + c.at[1] + c.at[2]) / 3.0;
    };
    for (const uint32_t t : chart.triangles)
      least = glm::min(least, middle(t)), most = glm::max(most, middle(t));
    const glm::dvec3 size = most - least;
    const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    std::vector<uint32_t> list = chart.triangles;
    std::stable_sort(list.begin(), list.end(),
                     [&](uint32_t a, uint32_t b) { return middle(a)[axis] < middle(b)[axis]; });
    const auto half = list.begin() + static_cast<std::ptrdiff_t>(list.size() / 2);
    // Either half may fall into several pieces that hang together.
    parts.clear();
    for (const auto& [begin, end] : {std::pair(list.begin(), half), std::pair(half, list.end())})
      for (Chart& one : grow(std::vector<uint32_t>(begin, end), kWhole)) parts.push_back(std::move(one));
    return parts;
  }

  // Least squares conformal map of a chart; false where it overlaps itself, is turned over or stretches too
  // far.
  bool layFlat(Chart& chart) const {
    std::sort(chart.triangles.begin(), chart.triangles.end());
    const size_t n = chart.triangles.size();
    std::map<uint32_t, uint32_t> number;  // places of the chart
    for (const uint32_t t : chart.triangles)
      for (size_t k = 0; k < 3; ++k)
        number.emplace(topology_.corners[size_t{t} * 3 + k], static_cast<uint32_t>(number.size()));
    std::vector<glm::dvec3> at(number.size());
    for (const auto& [place, i] : number) at[i] = glm::dvec3(positions_[place]);
    std::vector<glm::dvec2> flat(at.size(), glm::dvec2(0));
    if (n == 1) {
      const auto [x, y] = planeOf(normal_[chart.triangles[0]]);
      for (size_t i = 0; i < at.size(); ++i)
        flat[i] = {glm::dot(at[i] - at[0], x), glm::dot(at[i] - at[0], y)};
    } else if (!solve(chart, number, at, flat)) {
      return false;
    }
    chart.uv.resize(n * 3);
    for (size_t i = 0; i < n; ++i)
      for (size_t k = 0; k < 3; ++k)
        chart.uv[i * 3 + k] = flat[number.at(topology_.corners[size_t{chart.triangles[i]} * 3 + k])];
    if (!scale(chart)) return false;
    turn(chart);
    chart.bad.clear();
    return n == 1 || isGood(chart);
  }

  static std::pair<glm::dvec3, glm::dvec3> planeOf(glm::dvec3 normal) {
    const glm::dvec3 other = std::abs(normal.x) < 0.6 ? glm::dvec3(1, 0, 0) : glm::dvec3(0, 1, 0);
    const glm::dvec3 x = glm::normalize(glm::cross(other, normal));
    return {x, glm::cross(normal, x)};
  }

  bool solve(const Chart& chart, const std::map<uint32_t, uint32_t>& number,
             const std::vector<glm::dvec3>& at, std::vector<glm::dvec2>& flat) const {
    // Pinned: the two places farthest apart in the plane of the chart's mean normal.
    glm::dvec3 mean(0);
    for (const uint32_t t : chart.triangles) mean += normal_[t] * area_[t];
    if (!(glm::length(mean) > 0)) return false;
    const std::pair<glm::dvec3, glm::dvec3> plane = planeOf(glm::normalize(mean));
    uint32_t a = 0, b = 0;
    for (int pass = 0; pass < 2; ++pass) {
      double far = -1;
      for (uint32_t i = 0; i < at.size(); ++i)
        if (const double d = glm::distance(at[i], at[a]); d > far) far = d, b = i;
      if (pass == 0) std::swap(a, b);
    }
    if (a == b || !(glm::distance(at[a], at[b]) > 0)) return false;
    const auto projected = [&](uint32_t i) {
      return glm::dvec2(glm::dot(at[i] - at[a], plane.first), glm::dot(at[i] - at[a], plane.second));
    };
    glm::dvec2 toward = projected(b);
    if (!(glm::length(toward) > 0)) return false;
    toward = glm::normalize(toward) * glm::distance(at[a], at[b]);
    flat[a] = {0, 0};
    flat[b] = toward;
    std::vector<int> column(at.size(), -1);
    int free = 0;
    for (uint32_t i = 0; i < at.size(); ++i)
      if (i != a && i != b) column[i] = free++;
    if (free == 0) return true;
    // For each triangle, that the map is conformal: two rows over the free u's and v's (Lévy and others,
    // equation 3).
    std::vector<Eigen::Triplet<double>> entries;
    const auto rows = static_cast<Eigen::Index>(chart.triangles.size() * 2);
    Eigen::VectorXd right = Eigen::VectorXd::Zero(rows);
    for (size_t i = 0; i < chart.triangles.size(); ++i) {
      const uint32_t t = chart.triangles[i];
      const Corner3 c = cornersOf(t);
      const glm::dvec3 along = glm::normalize(c.at[1] - c.at[0]), up = glm::cross(normal_[t], along);
      std::array<glm::dvec2, 3> p;
      for (size_t k = 0; k < 3; ++k)
        p[k] = {glm::dot(c.at[k] - c.at[0], along), glm::dot(c.at[k] - c.at[0], up)};
      const double weight = 1 / std::sqrt(2 * area_[t]);
      for (size_t k = 0; k < 3; ++k) {
        const glm::dvec2 w = (p[(k + 2) % 3] - p[(k + 1) % 3]) * weight;
        const uint32_t v = number.at(topology_.corners[size_t{t} * 3 + k]);
        const auto real = static_cast<int>(2 * i), imaginary = real + 1;
        if (column[v] >= 0) {
          entries.emplace_back(real, 2 * column[v], w.x);
          entries.emplace_back(real, 2 * column[v] + 1, -w.y);
          entries.emplace_back(imaginary, 2 * column[v], w.y);
          entries.emplace_back(imaginary, 2 * column[v] + 1, w.x);
        } else {
          right[real] -= w.x * flat[v].x - w.y * flat[v].y;
          right[imaginary] -= w.y * flat[v].x + w.x * flat[v].y;
        }
      }
    }
    Eigen::SparseMatrix<double> matrix(rows, Eigen::Index{2} * free);
    matrix.setFromTriplets(entries.begin(), entries.end());
    const Eigen::SparseMatrix<double> normal = matrix.transpose() * matrix;
    Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(normal);
    if (solver.info() != Eigen::Success) return false;
    const Eigen::VectorXd found = solver.solve(matrix.transpose() * right);
    if (solver.info() != Eigen::Success) return false;
    for (uint32_t i = 0; i < at.size(); ++i)
      if (column[i] >= 0)
        flat[i] = {found[Eigen::Index{2} * column[i]], found[Eigen::Index{2} * column[i] + 1]};
    return std::all_of(flat.begin(), flat.end(),
                       [](glm::dvec2 v) { return std::isfinite(v.x) && std::isfinite(v.y); });
  }

  static double areaOf(const glm::dvec2& a, const glm::dvec2& b, const glm::dvec2& c) {
    return ((b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x)) / 2;
  }

  // To the area that it has as a surface.
  bool scale(Chart& chart) const {
    double flat = 0, surface = 0;
    for (size_t i = 0; i < chart.triangles.size(); ++i) {
      flat += areaOf(chart.uv[i * 3], chart.uv[i * 3 + 1], chart.uv[i * 3 + 2]);
      surface += area_[chart.triangles[i]];
    }
    if (!(flat > 0) || !std::isfinite(flat)) return false;
    const double by = std::sqrt(surface / flat);
    for (glm::dvec2& uv : chart.uv) uv *= by;
    return true;
  }

  // So that its box is smallest, lying on both axes.
  static void turn(Chart& chart) {
    double best = INFINITY;
    glm::dvec2 direction(1, 0), corner(0);
    for (int i = 0; i < kTurns; ++i) {
      const double angle = i * 1.5707963267948966 / kTurns;
      const glm::dvec2 d(std::cos(angle), std::sin(angle));
      glm::dvec2 least(INFINITY), most(-INFINITY);
      for (const glm::dvec2& uv : chart.uv) {
        const glm::dvec2 p(uv.x * d.x + uv.y * d.y, -uv.x * d.y + uv.y * d.x);
        least = glm::min(least, p), most = glm::max(most, p);
      }
      const double area = (most.x - least.x) * (most.y - least.y);
      if (area < best - 1e-12) best = area, direction = d, corner = least;
    }
    for (glm::dvec2& uv : chart.uv)
      uv = glm::dvec2(uv.x * direction.x + uv.y * direction.y, -uv.x * direction.y + uv.y * direction.x) -
           corner;
  }

  // Where it is not, `bad` has the triangles that are turned over, or the most stretched ones.
  [[nodiscard]] bool isGood(Chart& chart) const {
    std::vector<std::pair<double, double>> stretches;  // and the area that has it
    double all = 0;
    for (size_t i = 0; i < chart.triangles.size(); ++i) {
      const double flat = areaOf(chart.uv[i * 3], chart.uv[i * 3 + 1], chart.uv[i * 3 + 2]);
      if (!(flat > 0)) {  // turned over, or a line
        chart.bad.push_back(chart.triangles[i]);
        continue;
      }
      const double ratio = flat / area_[chart.triangles[i]];
      stretches.emplace_back(std::max(ratio, 1 / ratio), area_[chart.triangles[i]]);
      all += area_[chart.triangles[i]];
    }
    if (!chart.bad.empty()) return false;
    if (percentile(stretches, all) > options_.most_stretch) {
      for (size_t i = 0; i < chart.triangles.size(); ++i) {
        const double ratio =
            areaOf(chart.uv[i * 3], chart.uv[i * 3 + 1], chart.uv[i * 3 + 2]) / area_[chart.triangles[i]];
        if (std::max(ratio, 1 / ratio) > options_.most_stretch) chart.bad.push_back(chart.triangles[i]);
      }
      return false;
    }
    std::vector<glm::vec2> uvs;
    std::vector<uint32_t> indices;
    for (const glm::dvec2& uv : chart.uv) {
      indices.push_back(static_cast<uint32_t>(uvs.size()));
      uvs.emplace_back(uv);
    }
    return overlappingUvs(uvs, indices, nullptr).empty();
  }

  static double percentile(std::vector<std::pair<double, double>>& stretches, double all) {
    std::sort(stretches.begin(), stretches.end());
    double seen = 0;
    for (const auto& [stretch, area] : stretches) {
      seen += area;
      if (seen >= 0.95 * all) return stretch;
    }
    return 1;
  }

  [[nodiscard]] double stretchOf(const std::vector<Chart>& charts) const {
    std::vector<std::pair<double, double>> stretches;
    double all = 0;
    for (const Chart& chart : charts)
      for (size_t i = 0; i < chart.triangles.size(); ++i) {
        const double ratio =
            areaOf(chart.uv[i * 3], chart.uv[i * 3 + 1], chart.uv[i * 3 + 2]) / area_[chart.triangles[i]];
        stretches.emplace_back(std::max(ratio, 1 / ratio), area_[chart.triangles[i]]);
        all += area_[chart.triangles[i]];
      }
    return percentile(stretches, all);
  }

  // `triangles` are sorted by layFlat; a chart that was never laid flat has none of its own.
  static void order(Chart& chart) {
    if (chart.uv.size() != chart.triangles.size() * 3)
      chart.uv.assign(chart.triangles.size() * 3, glm::dvec2(0));
  }

  // Triangles without area lie with a neighbour that has one, at the places that they share; alone at (0, 0).
  void takeRest(Unwrapped& out) const {
    std::map<std::pair<uint32_t, uint32_t>, glm::vec2> known;  // by chart and place
    for (uint32_t t = 0; t < out.chart.size(); ++t)
      if (out.chart[t] != kNone)
        for (size_t k = 0; k < 3; ++k)
          known[{out.chart[t], topology_.corners[size_t{t} * 3 + k]}] = out.uv[size_t{t} * 3 + k];
    bool any = false;
    for (uint32_t t = 0; t < out.chart.size(); ++t) {
      if (out.chart[t] != kNone) continue;
      uint32_t chart = kNone;
      for (uint32_t k = 0; k < 3 && chart == kNone; ++k)
        if (topology_.hasTwin(t * 3 + k)) {
          const uint32_t other = topology_.twin[t * 3 + k] / 3;
          if (area_[other] > 0) chart = out.chart[other];
        }
      if (chart == kNone) {
        any = true;
        continue;
      }
      out.chart[t] = chart;
      glm::vec2 one(0);
      for (size_t k = 0; k < 3; ++k)
        if (const auto at = known.find({chart, topology_.corners[size_t{t} * 3 + k]}); at != known.end())
          one = at->second;
      for (size_t k = 0; k < 3; ++k) {
        const auto at = known.find({chart, topology_.corners[size_t{t} * 3 + k]});
        out.uv[size_t{t} * 3 + k] = at != known.end() ? at->second : one;
      }
    }
    if (!any) return;
    for (uint32_t& chart : out.chart)
      if (chart == kNone) chart = out.charts;
    ++out.charts;
  }

  std::span<const glm::vec3> positions_;
  const Topology& topology_;
  const UnwrapOptions& options_;
  const base::Progress* progress_;
  std::vector<glm::dvec3> normal_;
  std::vector<double> area_;
  std::vector<uint32_t> of_, within_;
  uint32_t round_ = 0;
};

}  // namespace

Unwrapped unwrap(std::span<const glm::vec3> positions, const Topology& topology, const UnwrapOptions& options,
                 const base::Progress* progress) {
  return Unwrapper(positions, topology, options, progress).run();
}

}  // namespace rakugo::geometry
