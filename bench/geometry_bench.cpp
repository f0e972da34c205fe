// Kernels that make meshes lighter, beside the same work by a library that is linked here alone, in the same
// run.
#include <benchmark/benchmark.h>
#include <meshoptimizer.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <numeric>
#include <random>

#include "geometry/crossings.h"
#include "geometry/nearest.h"
#include "geometry/simplify.h"
#include "geometry/unwrap.h"
#include "geometry/vertex_cache.h"
#include "geometry/welding.h"

namespace {

using namespace rakugo;
using Clock = std::chrono::steady_clock;

double seconds(Clock::time_point since) {
  return std::chrono::duration<double>(Clock::now() - since).count();
}

struct Shape {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> indices;
};

// A wavy tube with two open ends and a seam along it: the vertices of the first and the last column stand at
// the same places.
Shape tube(uint32_t side) {
  Shape s;
  for (uint32_t y = 0; y <= side; ++y)
    for (uint32_t x = 0; x <= side; ++x) {
      const float a = 6.2831853F * static_cast<float>(x % side) / static_cast<float>(side),
                  b = static_cast<float>(y) / static_cast<float>(side);
      const float r = 1 + 0.1F * std::sin(7 * a) * std::sin(31 * b) + 0.02F * std::sin(41 * a + 60 * b);
      s.positions.emplace_back(r * std::cos(a), r * std::sin(a), 4 * b);
    }
  const auto at = [&](uint32_t x, uint32_t y) { return y * (side + 1) + x; };
  for (uint32_t y = 0; y < side; ++y)
    for (uint32_t x = 0; x < side; ++x)
      for (const uint32_t v :
           {at(x, y), at(x + 1, y), at(x + 1, y + 1), at(x, y), at(x + 1, y + 1), at(x, y + 1)})
        s.indices.push_back(v);
  return s;
}

double ratioOf(std::vector<double>& ratios) {
  std::sort(ratios.begin(), ratios.end());
  return ratios[ratios.size() / 2];
}

void BM_Simplify(benchmark::State& state) {
  const Shape shape = tube(707);  // 999,698 triangles
  constexpr size_t kTarget = 10'000;
  std::vector<double> ratios;
  geometry::Distances ours, theirs;
  size_t left = 0, left_peer = 0;
  double border = 0;
  for (auto _ : state) {
    auto begin = Clock::now();
    geometry::SimplifyOptions options;
    options.triangles = kTarget;
    const auto made = geometry::simplify({shape.positions, shape.indices, {}, 0}, options).value();
    const double own = seconds(begin);
    begin = Clock::now();
    std::vector<uint32_t> peer(shape.indices.size());
    float error = 0;
    peer.resize(meshopt_simplify(peer.data(), shape.indices.data(), shape.indices.size(),
                                 &shape.positions[0].x, shape.positions.size(), sizeof(glm::vec3),
                                 kTarget * 3, 1.0F, 0, &error));
    const double other = seconds(begin);
    ratios.push_back(own / other);
    state.SetIterationTime(own);
    state.PauseTiming();
    left = made.triangles.size();
    left_peer = peer.size() / 3;
    ours = geometry::distancesFrom({shape.positions, made.indices}, shape.positions);
    theirs = geometry::distancesFrom({shape.positions, peer}, shape.positions);
    // The open ends lie at heights 0 and 4 still, and nothing else does.
    std::vector<glm::vec3> ends;
    for (const auto& p : shape.positions)
      if (p.z == 0 || p.z == 4) ends.push_back(p);
    border = geometry::distancesFrom({shape.positions, made.indices}, ends).largest;
    if (left > kTarget) state.SkipWithError("more triangles than were asked for");
    state.ResumeTiming();
  }
  state.counters["x_peer"] = ratioOf(ratios);
  state.counters["triangles"] = static_cast<double>(left);
  state.counters["triangles_peer"] = static_cast<double>(left_peer);
  state.counters["largest_x_peer"] = ours.largest / theirs.largest;
  state.counters["mean_x_peer"] = ours.mean / theirs.mean;
  state.counters["border_off"] = border;
}
// A hundred thousand triangles laid flat, against the five seconds that they may take.
void BM_Unwrap(benchmark::State& state) {
  const Shape shape = tube(224);  // 100,352 triangles
  const geometry::Welding places = geometry::weldEqual(shape.positions);
  std::vector<glm::vec3> at;
  for (const uint32_t v : places.first) at.push_back(shape.positions[v]);
  std::vector<uint32_t> corners;
  for (const uint32_t v : shape.indices) corners.push_back(places.of[v]);
  const geometry::Topology topology = geometry::topologyOf(corners, static_cast<uint32_t>(at.size()));
  double longest_s = 0;
  geometry::Unwrapped found;
  for (auto _ : state) {
    const auto begin = Clock::now();
    found = geometry::unwrap(at, topology);
    longest_s = std::max(longest_s, seconds(begin));
  }
  if (!geometry::overlappingUvs(found.uv,
                                [&] {
                                  std::vector<uint32_t> all(found.uv.size());
                                  std::iota(all.begin(), all.end(), 0U);
                                  // Charts lie on each other until they are packed: each moves aside.
                                  for (size_t c = 0; c < found.uv.size(); ++c)
                                    found.uv[c] +=
                                        8.0F * glm::vec2(found.chart[c / 3] % 32, found.chart[c / 3] / 32);
                                  return all;
                                }())
           .empty())
    state.SkipWithError("something overlaps");
  state.counters["of_5_s"] = longest_s / 5;
  state.counters["charts"] = found.charts;
  state.counters["stretch_95"] = found.stretch_95;
}

BENCHMARK(BM_Unwrap)->Unit(benchmark::kMillisecond);
BENCHMARK(BM_Simplify)->UseManualTime()->Iterations(3)->Unit(benchmark::kMillisecond);

void BM_VertexCache(benchmark::State& state) {
  constexpr uint32_t kSide = 707;
  std::vector<uint32_t> names((kSide + 1) * (kSide + 1));
  std::iota(names.begin(), names.end(), 0U);
  std::mt19937 random(5);
  std::shuffle(names.begin(), names.end(), random);
  std::vector<std::array<uint32_t, 3>> triangles;
  for (uint32_t y = 0; y < kSide; ++y)
    for (uint32_t x = 0; x < kSide; ++x) {
      const auto at = [&](uint32_t i, uint32_t k) { return names[k * (kSide + 1) + i]; };
      triangles.push_back({at(x, y), at(x + 1, y), at(x + 1, y + 1)});
      triangles.push_back({at(x, y), at(x + 1, y + 1), at(x, y + 1)});
    }
  std::shuffle(triangles.begin(), triangles.end(), random);
  std::vector<uint32_t> indices;
  for (const auto& t : triangles) indices.insert(indices.end(), t.begin(), t.end());
  const auto count = static_cast<uint32_t>(names.size());
  std::vector<double> ratios;
  double ours = 0, theirs = 0;
  for (auto _ : state) {
    auto begin = Clock::now();
    const auto made = geometry::orderForVertexCache(indices, count);
    const double own = seconds(begin);
    begin = Clock::now();
    std::vector<uint32_t> peer(indices.size());
    meshopt_optimizeVertexCache(peer.data(), indices.data(), indices.size(), count);
    const double other = seconds(begin);
    ratios.push_back(own / other);
    state.SetIterationTime(own);
    ours = geometry::averageCacheMissRatio(made, count, 16);
    theirs = geometry::averageCacheMissRatio(peer, count, 16);
  }
  state.counters["x_peer"] = ratioOf(ratios);
  state.counters["acmr"] = ours;
  state.counters["acmr_peer"] = theirs;
}
BENCHMARK(BM_VertexCache)->UseManualTime()->Iterations(3)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
