// Convex hulls beside those of a library that is known for them, in the same run.
#include <benchmark/benchmark.h>
extern "C" {
#include <libqhull_r/qhull_ra.h>
}

#include <cmath>
#include <random>

#include "bench_support.h"
#include "geometry/hull.h"
#include "geometry/mass.h"

namespace {

using namespace rakugo;

std::vector<glm::vec3> points(size_t count, bool on_surface) {
  std::mt19937 random(7);
  std::normal_distribution<float> any;
  std::uniform_real_distribution<float> share(0, 1);
  std::vector<glm::vec3> out;
  for (size_t i = 0; i < count; ++i) {
    const glm::vec3 p = glm::normalize(glm::vec3(any(random), any(random), any(random)));
    out.push_back(on_surface ? p : p * std::cbrt(share(random)));
  }
  return out;
}

// The volume of the peer's hull.
double peerHull(std::vector<double>& places, int count) {
  qhT qh;
  qh_zero(&qh, nullptr);
  char options[] = "qhull Qt";
  if (qh_new_qhull(&qh, 3, count, places.data(), False, options, nullptr, nullptr) != 0) return 0;
  qh_getarea(&qh, qh.facet_list);
  const double volume = qh.totvol;
  qh_freeqhull(&qh, qh_ALL);
  int left = 0, total = 0;
  qh_memfreeshort(&qh, &left, &total);
  return volume;
}

void hull(benchmark::State& state) {
  const std::vector<glm::vec3> from = points(static_cast<size_t>(state.range(0)), state.range(1) != 0);
  std::vector<double> places;
  for (const glm::vec3& p : from)
    for (int i = 0; i < 3; ++i) places.push_back(static_cast<double>(p[i]));
  geometry::Hull made;
  double volume = 0;
  for (auto _ : state) {
    const double own = bench::seconds([&] { made = geometry::convexHull(from); }, 3);
    const double peer = bench::seconds([&] { volume = peerHull(places, static_cast<int>(from.size())); }, 3);
    state.SetIterationTime(own);
    state.counters["of_the_peer"] = own / peer;
    state.counters["corners"] = static_cast<double>(made.corners.size());
  }
  const double own = geometry::massOf(made.corners, made.triangles).volume;
  bench::must(std::abs(own / volume - 1) < 1e-4, "both hulls hold as much");
}
BENCHMARK(hull)
    ->Args({100'000, 0})
    ->Args({100'000, 1})
    ->Args({20'000, 0})
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
