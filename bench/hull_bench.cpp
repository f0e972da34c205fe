// Convex hulls beside those of a library that is known for them, in the same run.
#include <benchmark/benchmark.h>
extern "C" {
#include <libqhull_r/qhull_ra.h>
}

#include <algorithm>
#include <cmath>
#include <random>

#include "bench_support.h"
#include "formats/read_model.h"
#include "geometry/bounds.h"
#include "geometry/convex_parts.h"
#include "geometry/hull.h"
#include "geometry/mass.h"
#include "scene/rest_pose.h"

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

// How far a point lies outside all of the hulls, 0 within one; metres.
double outside(const std::vector<geometry::Hull>& hulls, const glm::dvec3& p) {
  double out = 1e9;
  for (const geometry::Hull& hull : hulls) {
    double most = 0;
    for (size_t t = 0; t < hull.triangles.size(); t += 3) {
      const glm::dvec3 a(hull.corners[hull.triangles[t]]), b(hull.corners[hull.triangles[t + 1]]),
          c(hull.corners[hull.triangles[t + 2]]);
      most = std::max(most, glm::dot(glm::normalize(glm::cross(b - a, c - a)), p - a));
    }
    out = std::min(out, most);
  }
  return out;
}

// What triangles enclose, where they are closed and may overlap: by columns along z, 400 each way.
double enclosed(const std::vector<glm::vec3>& positions, const std::vector<uint32_t>& corners) {
  constexpr int kColumns = 400;
  const geometry::Bounds box = geometry::boundsOf(positions);
  std::vector<std::vector<std::pair<double, int>>> crossings(kColumns * kColumns);
  const glm::dvec2 step = glm::dvec2(box.size()) / static_cast<double>(kColumns);
  for (size_t t = 0; t + 2 < corners.size(); t += 3) {
    const glm::dvec3 a(positions[corners[t]]), b(positions[corners[t + 1]]), c(positions[corners[t + 2]]);
    const glm::dvec3 n = glm::cross(b - a, c - a);
    if (n.z == 0) continue;
    const auto first = [&](int i, double v) {
      return std::max(0, static_cast<int>((v - static_cast<double>(box.min[i])) / step[i]) - 1);
    };
    const int x0 = first(0, std::min({a.x, b.x, c.x})), x1 = first(0, std::max({a.x, b.x, c.x})) + 2,
              y0 = first(1, std::min({a.y, b.y, c.y})), y1 = first(1, std::max({a.y, b.y, c.y})) + 2;
    for (int x = x0; x <= std::min(x1, kColumns - 1); ++x)
      for (int y = y0; y <= std::min(y1, kColumns - 1); ++y) {
        const glm::dvec2 p = glm::dvec2(box.min) + step * glm::dvec2(x + 0.513, y + 0.487);
        const auto side = [&](const glm::dvec3& from, const glm::dvec3& to) {
          return (to.x - from.x) * (p.y - from.y) - (to.y - from.y) * (p.x - from.x);
        };
        const double s = side(a, b), u = side(b, c), v = side(c, a);
        if (!((s > 0 && u > 0 && v > 0) || (s < 0 && u < 0 && v < 0))) continue;
        crossings[static_cast<size_t>(x * kColumns + y)].emplace_back(
            a.z - ((p.x - a.x) * n.x + (p.y - a.y) * n.y) / n.z, n.z > 0 ? -1 : 1);
      }
  }
  double length = 0;
  for (auto& column : crossings) {
    std::sort(column.begin(), column.end());
    int within = 0;
    for (size_t i = 0; i + 1 < column.size(); ++i) {
      within += column[i].second;
      if (within > 0) length += column[i + 1].first - column[i].first;
    }
  }
  return length * step.x * step.y;
}

struct Boat {
  std::vector<glm::vec3> positions;
  std::vector<uint32_t> corners;
};

// A demo boat, as its exporter wrote it: an open shell.
Boat readBoat(const char* file) {
  const auto read = formats::readModelFile(std::string(RAKUGO_SOURCE_DIR "/examples/mods/") + file);
  bench::must(static_cast<bool>(read), "the boat can be read");
  Boat out;
  const auto world = scene::worldMatrices(read->model);
  for (const scene::NodeIndex i : scene::reachedNodes(read->model)) {
    const scene::WholeMesh whole = scene::placedMesh(read->model, i, world);
    const auto first = static_cast<uint32_t>(out.positions.size());
    out.positions.insert(out.positions.end(), whole.positions.begin(), whole.positions.end());
    for (const uint32_t v : whole.indices) out.corners.push_back(first + v);
  }
  return out;
}

void addBox(Boat& boat, const glm::vec3& low, const glm::vec3& high) {
  const auto first = static_cast<uint32_t>(boat.positions.size());
  for (int i = 0; i < 8; ++i)
    boat.positions.emplace_back((i & 1) != 0 ? high.x : low.x, (i & 2) != 0 ? high.y : low.y,
                                (i & 4) != 0 ? high.z : low.z);
  for (const uint32_t v : {0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4,
                           2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5})
    boat.corners.push_back(first + v);
}

// A boat that is closed, so that what it holds is known: a hull with a sheer, a house, a funnel and a mast.
Boat madeBoat() {
  constexpr uint32_t kStations = 40, kRound = 24;
  Boat out;
  for (uint32_t s = 0; s <= kStations; ++s) {
    const float x = -1 + 2.0F * static_cast<float>(s) / kStations, half = 1.5F * (1 - 0.85F * x * x * x * x);
    const float deck = 1 + 0.5F * x * x;
    for (uint32_t r = 0; r <= kRound; ++r) {
      const float turn = 3.14159265F * static_cast<float>(r) / kRound;
      out.positions.emplace_back(5 * x, -half * std::cos(turn),
                                 deck - (deck + 0.8F) * std::pow(std::max(0.0F, std::sin(turn)), 0.7F));
    }
  }
  const auto at = [](uint32_t s, uint32_t r) { return s * (kRound + 1) + r; };
  for (uint32_t s = 0; s < kStations; ++s)
    for (uint32_t r = 0; r <= kRound; ++r) {
      const uint32_t next = (r + 1) % (kRound + 1);  // the last is the deck
      out.corners.insert(out.corners.end(),
                         {at(s, r), at(s + 1, next), at(s + 1, r), at(s, r), at(s, next), at(s + 1, next)});
    }
  for (uint32_t r = 1; r < kRound; ++r) {
    out.corners.insert(out.corners.end(), {at(0, 0), at(0, r + 1), at(0, r)});
    out.corners.insert(out.corners.end(), {at(kStations, 0), at(kStations, r), at(kStations, r + 1)});
  }
  if (geometry::massOf(out.positions, out.corners).volume < 0)
    for (size_t t = 0; t < out.corners.size(); t += 3) std::swap(out.corners[t + 1], out.corners[t + 2]);
  addBox(out, {-1, -0.8F, 0.9F}, {1.2F, 0.8F, 2.8F});
  addBox(out, {-2.2F, -0.3F, 0.9F}, {-1.6F, 0.3F, 3.2F});
  addBox(out, {3, -0.1F, 0.9F}, {3.2F, 0.1F, 4.5F});
  return out;
}

// Boats in convex parts: how much the parts hold beyond what the boat does, against one hull.
void convexParts(benchmark::State& state) {
  static const char* kFiles[] = {"slipway/sources/tug/tug.glb", "tidewater/sources/dinghy/dinghy.glb"};
  const bool made = state.range(0) == 2;
  const Boat boat = made ? madeBoat() : readBoat(kFiles[state.range(0)]);
  std::vector<geometry::Hull> parts;
  geometry::ConvexPartsOptions options;
  options.most_parts = 16;
  for (auto _ : state)
    state.SetIterationTime(
        bench::seconds([&] { parts = geometry::convexParts(boat.positions, boat.corners, options); }, 1));
  double volume = 0, out_m = 0;
  for (const geometry::Hull& part : parts) volume += geometry::volumeOf(part);
  for (const uint32_t v : boat.corners)
    out_m = std::max(out_m, outside(parts, glm::dvec3(boat.positions[v])));
  bench::must(out_m < 1e-4, "the parts hold the boat");
  const double one = geometry::volumeOf(geometry::convexHull(boat.positions));
  state.counters["triangles"] = static_cast<double>(boat.corners.size()) / 3;
  state.counters["parts"] = static_cast<double>(parts.size());
  state.counters["of_one_hull"] = volume / one;
  const double held = enclosed(boat.positions, boat.corners);
  state.counters["beyond"] = volume / held - 1;
  state.counters["one_hull_beyond"] = one / held - 1;
}
BENCHMARK(convexParts)->DenseRange(0, 2)->Iterations(1)->UseManualTime()->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
