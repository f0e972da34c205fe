#include "geometry/volume_weights.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <limits>
#include <numeric>
#include <queue>

#include "geometry/bounds.h"
#include "geometry/finite.h"
#include "geometry/nearest.h"

namespace rakugo::geometry {
namespace {

constexpr float kFar = std::numeric_limits<float>::max();

// The box of a mesh in cubes, one more all round.
class Cells {
 public:
  Cells(const Bounds& box, uint32_t along) {
    const glm::vec3 size = box.size();
    const float longest = std::max({size.x, size.y, size.z, 1e-6F});
    cell_ = longest / static_cast<float>(along);
    low_ = box.min - glm::vec3(1.5F * cell_);
    for (int c = 0; c < 3; ++c) count_[c] = static_cast<int>(std::ceil(size[c] / cell_)) + 3;
    inside_.assign(
        static_cast<size_t>(count_.x) * static_cast<size_t>(count_.y) * static_cast<size_t>(count_.z), 0);
  }
  [[nodiscard]] float cell() const { return cell_; }
  [[nodiscard]] size_t size() const { return inside_.size(); }
  [[nodiscard]] bool inside(size_t i) const { return inside_[i] != 0; }
  [[nodiscard]] glm::ivec3 at(glm::vec3 p) const {
    return glm::clamp(glm::ivec3(glm::floor((p - low_) / cell_)), glm::ivec3(0), count_ - 1);
  }
  [[nodiscard]] size_t number(glm::ivec3 c) const {
    return (static_cast<size_t>(c.z) * static_cast<size_t>(count_.y) + static_cast<size_t>(c.y)) *
               static_cast<size_t>(count_.x) +
           static_cast<size_t>(c.x);
  }
  [[nodiscard]] glm::ivec3 place(size_t i) const {
    const auto x = static_cast<size_t>(count_.x), y = static_cast<size_t>(count_.y);
    return {static_cast<int>(i % x), static_cast<int>(i / x % y), static_cast<int>(i / x / y)};
  }
  [[nodiscard]] glm::vec3 middle(glm::ivec3 c) const { return low_ + (glm::vec3(c) + 0.5F) * cell_; }
  [[nodiscard]] bool holds(glm::ivec3 c) const {
    return glm::all(glm::greaterThanEqual(c, glm::ivec3(0))) && glm::all(glm::lessThan(c, count_));
  }

  void addTriangle(glm::vec3 a, glm::vec3 b, glm::vec3 c) {
    // Samples closer together than half a cell.
    const float longest = std::max({glm::distance(a, b), glm::distance(b, c), glm::distance(c, a)});
    const int n = static_cast<int>(std::clamp(std::ceil(longest / cell_ * 2.2F), 1.0F, 1024.0F));
    for (int i = 0; i <= n; ++i)
      for (int k = 0; k + i <= n; ++k) {
        const float u = static_cast<float>(i) / static_cast<float>(n),
                    v = static_cast<float>(k) / static_cast<float>(n);
        inside_[number(at(a + (b - a) * u + (c - a) * v))] = 1;
      }
  }

  // What no way from the outermost cell reaches is inside.
  void fill() {
    std::vector<uint8_t> outside(inside_.size(), 0);
    std::vector<size_t> waiting = {0};
    outside[0] = 1;
    static constexpr int kWays[6][3] = {{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
    while (!waiting.empty()) {
      const glm::ivec3 c = place(waiting.back());
      waiting.pop_back();
      for (const auto& way : kWays) {
        const glm::ivec3 next = c + glm::ivec3(way[0], way[1], way[2]);
        if (!holds(next)) continue;
        const size_t i = number(next);
        if (outside[i] != 0 || inside_[i] != 0) continue;
        outside[i] = 1;
        waiting.push_back(i);
      }
    }
    for (size_t i = 0; i < inside_.size(); ++i)
      if (outside[i] == 0) inside_[i] = 1;
  }

 private:
  float cell_ = 1;
  glm::vec3 low_{0};
  glm::ivec3 count_{1};
  std::vector<uint8_t> inside_;
};

// The cells inside, numbered one after the other: distances are kept for these alone.
struct Inner {
  std::vector<int32_t> of;      // by cell; -1: outside
  std::vector<uint32_t> cells;  // by number
};

template <class Body>
void alongLine(const Cells& cells, const BoneLine& line, Body body) {
  const int n = static_cast<int>(
      std::clamp(std::ceil(glm::distance(line.a, line.b) / cells.cell() * 2), 1.0F, 4096.0F));
  for (int i = 0; i <= n; ++i)
    body(line.a + (line.b - line.a) * (static_cast<float>(i) / static_cast<float>(n)));
}

// From the lines of one bone to every inner cell, from cell to cell (Dijkstra).
std::vector<float> distances(const Cells& cells, const Inner& inner, std::span<const BoneLine> lines,
                             uint32_t bone) {
  std::vector<float> out(inner.cells.size(), kFar);
  using Step = std::pair<float, uint32_t>;
  std::priority_queue<Step, std::vector<Step>, std::greater<>> waiting;
  const auto begin = [&](uint32_t i, float distance) {
    if (distance >= out[i]) return;
    out[i] = distance;
    waiting.emplace(distance, i);
  };
  for (const BoneLine& line : lines) {
    if (line.bone != bone) continue;
    bool any = false;
    alongLine(cells, line, [&](glm::vec3 p) {
      const glm::ivec3 c = cells.at(p);
      if (const int32_t i = inner.of[cells.number(c)]; i >= 0) {
        begin(static_cast<uint32_t>(i), distanceFromLine(cells.middle(c), line.a, line.b));
        any = true;
      }
    });
    if (any) continue;
    // A line outside begins at the cell that is nearest to it.
    uint32_t nearest = 0;
    float least = kFar;
    for (uint32_t i = 0; i < inner.cells.size(); ++i)
      if (const float away = distanceFromLine(cells.middle(cells.place(inner.cells[i])), line.a, line.b);
          away < least)
        least = away, nearest = i;
    if (least < kFar) begin(nearest, least);
  }
  while (!waiting.empty()) {
    const auto [distance, i] = waiting.top();
    waiting.pop();
    if (distance > out[i]) continue;
    const glm::ivec3 c = cells.place(inner.cells[i]);
    for (int z = -1; z <= 1; ++z)
      for (int y = -1; y <= 1; ++y)
        for (int x = -1; x <= 1; ++x) {
          const glm::ivec3 next = c + glm::ivec3(x, y, z);
          if (!cells.holds(next)) continue;
          const int32_t to = inner.of[cells.number(next)];
          if (to < 0) continue;
          const float way = cells.cell() * std::sqrt(static_cast<float>(x * x + y * y + z * z));
          begin(static_cast<uint32_t>(to), distance + way);
        }
  }
  return out;
}

// At a place: blended from the cells around it that are inside.
float distanceAt(const Cells& cells, const Inner& inner, const std::vector<float>& of, glm::vec3 p) {
  const glm::ivec3 home = cells.at(p);
  float sum = 0, share = 0;
  for (int z = -1; z <= 1; ++z)
    for (int y = -1; y <= 1; ++y)
      for (int x = -1; x <= 1; ++x) {
        const glm::ivec3 c = home + glm::ivec3(x, y, z);
        if (!cells.holds(c)) continue;
        const int32_t i = inner.of[cells.number(c)];
        if (i < 0 || of[static_cast<size_t>(i)] == kFar) continue;
        const float away = glm::distance(p, cells.middle(c)) / cells.cell();
        const float own = std::max(1.6F - away, 0.0F);
        sum += own * of[static_cast<size_t>(i)];
        share += own;
      }
  return share > 0 ? sum / share : kFar;
}

VertexWeights weightsOf(std::vector<std::pair<float, uint32_t>>& near, float least,
                        const VolumeWeightOptions& options) {
  VertexWeights out;
  std::sort(near.begin(), near.end());
  float sum = 0;
  const size_t most = std::clamp<size_t>(options.most, 1, 4);
  for (size_t k = 0; k < std::min(most, near.size()); ++k) {
    if (near[k].first == kFar) break;
    const float ratio = std::max(near[0].first, least) / std::max(near[k].first, least);
    const float weight = std::pow(ratio, options.sharpness);
    if (weight < 0.02F) break;
    out.bone[k] = near[k].second;
    out.weight[k] = weight;
    sum += weight;
  }
  if (sum > 0)
    for (float& w : out.weight) w /= sum;
  else if (!near.empty())
    out.bone[0] = near[0].second, out.weight[0] = 1;
  return out;
}

// Bones that lie within the body; all where none does.
std::vector<uint32_t> bonesWithin(const Cells& cells, const Inner& inner, std::span<const BoneLine> lines) {
  uint32_t count = 0;
  for (const BoneLine& line : lines) count = std::max(count, line.bone + 1);
  std::vector<size_t> in(count, 0), all(count, 0);
  for (const BoneLine& line : lines)
    alongLine(cells, line, [&](glm::vec3 p) {
      ++all[line.bone];
      // A place beyond the box is not in its outermost cell.
      const glm::ivec3 c = cells.at(p);
      if (glm::distance(cells.middle(c), p) < cells.cell() && inner.of[cells.number(c)] >= 0) ++in[line.bone];
    });
  std::vector<uint32_t> out;
  for (uint32_t b = 0; b < count; ++b)
    if (all[b] > 0 && in[b] * 2 > all[b]) out.push_back(b);
  if (out.empty())
    for (uint32_t b = 0; b < count; ++b)
      if (all[b] > 0) out.push_back(b);
  return out;
}

}  // namespace

base::Result<std::vector<VertexWeights>> volumeWeights(std::span<const glm::vec3> positions,
                                                       std::span<const uint32_t> corners,
                                                       std::span<const BoneLine> lines,
                                                       const VolumeWeightOptions& options,
                                                       base::Progress* progress) {
  std::vector<VertexWeights> out(positions.size());
  std::vector<BoneLine> good;
  for (const BoneLine& line : lines)
    if (finite(line.a) && finite(line.b) && line.bone < 65'536) good.push_back(line);
  Bounds box;
  for (const glm::vec3& p : positions)
    if (finite(p)) box.add(p);
  if (good.empty() || box.empty()) return out;
  Cells cells(box, std::clamp(options.cells, 8U, 256U));
  for (size_t t = 0; t + 2 < corners.size(); t += 3) {
    const glm::vec3 a = positions[corners[t]], b = positions[corners[t + 1]], c = positions[corners[t + 2]];
    if (finite(a) && finite(b) && finite(c)) cells.addTriangle(a, b, c);
    if (t % 30'000 == 0 && progress != nullptr && progress->cancelled()) return base::cancelledError();
  }
  cells.fill();
  Inner inner;
  inner.of.assign(cells.size(), -1);
  for (size_t i = 0; i < cells.size(); ++i)
    if (cells.inside(i)) {
      inner.of[i] = static_cast<int32_t>(inner.cells.size());
      inner.cells.push_back(static_cast<uint32_t>(i));
    }
  const std::vector<uint32_t> bones = bonesWithin(cells, inner, good);
  std::vector<std::vector<float>> away(bones.size());
  std::atomic<size_t> done{0};
  base::parallelFor(bones.size(), [&](size_t b) {
    if (progress != nullptr && progress->cancelled()) return;
    away[b] = distances(cells, inner, good, bones[b]);
    if (progress != nullptr)
      progress->say("Measuring the way to each bone",
                    static_cast<double>(++done) / static_cast<double>(bones.size()));
  });
  if (progress != nullptr && progress->cancelled()) return base::cancelledError();
  constexpr size_t kRun = 4096;
  base::parallelFor((positions.size() + kRun - 1) / kRun, [&](size_t run) {
    std::vector<std::pair<float, uint32_t>> near;
    for (size_t v = run * kRun; v < std::min(positions.size(), (run + 1) * kRun); ++v) {
      near.clear();
      for (size_t b = 0; b < bones.size(); ++b)
        near.emplace_back(finite(positions[v]) ? distanceAt(cells, inner, away[b], positions[v]) : kFar,
                          bones[b]);
      out[v] = weightsOf(near, cells.cell() * 0.5F, options);
    }
  });
  return out;
}

}  // namespace rakugo::geometry
