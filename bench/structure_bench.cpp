// What is found of a mesh as a body, beside one sort of its edges' keys in the same run.
#include <benchmark/benchmark.h>
#include <malloc.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fstream>
#include <random>
#include <string>

#include "scene/structure.h"

namespace {

using namespace rakugo;
using Clock = std::chrono::steady_clock;

double seconds(Clock::time_point since) {
  return std::chrono::duration<double>(Clock::now() - since).count();
}

// A closed, wavy ring of `around` x `along` squares with normals and coordinates, its triangles shuffled. Where
// its picture ends, its vertices stand twice, as in any model that was laid out on one.
scene::Model ring(uint32_t around, uint32_t along) {
  scene::Primitive p;
  for (uint32_t y = 0; y <= along; ++y)
    for (uint32_t x = 0; x <= around; ++x) {
      const float a = 6.2831853F * static_cast<float>(x % around) / static_cast<float>(around),
                  b = 6.2831853F * static_cast<float>(y % along) / static_cast<float>(along);
      const float r = 1 + 0.1F * std::sin(7 * a) * std::sin(5 * b);
      p.positions.emplace_back((3 + r * std::cos(b)) * std::cos(a), (3 + r * std::cos(b)) * std::sin(a),
                               r * std::sin(b));
      p.normals.emplace_back(std::cos(b) * std::cos(a), std::cos(b) * std::sin(a), std::sin(b));
      p.uvs[0].emplace_back(static_cast<float>(x) / static_cast<float>(around),
                            1 - static_cast<float>(y) / static_cast<float>(along));
    }
  std::vector<std::array<uint32_t, 3>> triangles;
  for (uint32_t y = 0; y < along; ++y)
    for (uint32_t x = 0; x < around; ++x) {
      const auto at = [&](uint32_t i, uint32_t k) { return k * (around + 1) + i; };
      triangles.push_back({at(x, y), at(x + 1, y), at(x + 1, y + 1)});
      triangles.push_back({at(x, y), at(x + 1, y + 1), at(x, y + 1)});
    }
  std::shuffle(triangles.begin(), triangles.end(), std::mt19937(3));
  for (const auto& t : triangles) p.indices.insert(p.indices.end(), t.begin(), t.end());
  scene::Model model;
  scene::Mesh mesh;
  mesh.primitives.push_back(std::move(p));
  model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
  model.nodes.emplace_back();
  model.nodes[0].mesh = scene::MeshIndex(0);
  model.roots = {scene::NodeIndex(0)};
  scene::assignKeys(model);
  return model;
}

// One sort of the keys of all edges: the least that anything which knows neighbours costs.
double sortOfEdges(const scene::Model& model) {
  const auto& indices = model.meshes[0]->primitives[0].indices;
  std::vector<uint64_t> keys;
  keys.reserve(indices.size());
  for (size_t i = 0; i < indices.size(); i += 3)
    for (size_t k = 0; k < 3; ++k) {
      const uint64_t a = indices[i + k], b = indices[i + (k + 1) % 3];
      keys.push_back(std::min(a, b) << 32 | std::max(a, b));
    }
  const auto begin = Clock::now();
  std::sort(keys.begin(), keys.end());
  benchmark::DoNotOptimize(keys.data());
  return seconds(begin);
}

// A line of what the kernel tells of this process, in bytes.
double toldBytes(const char* what) {
  std::ifstream status("/proc/self/status");
  for (std::string line; std::getline(status, line);)
    if (line.starts_with(what)) return std::stod(line.substr(line.find(':') + 1)) * 1024;
  return 0;
}

// The most memory a call takes beside what was there before it.
template <class Call>
double mostBytes(Call call) {
  malloc_trim(0);
  std::ofstream("/proc/self/clear_refs") << "5";  // forget the most so far
  const double before = toldBytes("VmRSS");
  call();
  return toldBytes("VmHWM") - before;
}

void BM_Structure(benchmark::State& state) {
  const auto side = static_cast<uint32_t>(std::sqrt(static_cast<double>(state.range(0)) / 2));
  const scene::Model model = ring(side, side);
  scene::StructureOptions options;
  options.thorough = state.range(1) != 0;
  const auto check = scene::structureOf(model, 1, options).value().at(0);
  if (!check.closed || check.euler != 0 || check.shells != 1 ||
      check.fault(scene::FaultCode::self_intersections).count != 0 ||
      check.fault(scene::FaultCode::uvs_overlapping).count != 0)
    return state.SkipWithError("the ring is not found to be one");
  std::vector<double> ratios;
  for (auto _ : state) {
    const auto begin = Clock::now();
    benchmark::DoNotOptimize(scene::structureOf(model, 1, options));
    const double ours = seconds(begin);
    ratios.push_back(ours / sortOfEdges(model));
    state.SetIterationTime(ours);
  }
  std::sort(ratios.begin(), ratios.end());
  const double bytes = mostBytes([&] { benchmark::DoNotOptimize(scene::structureOf(model, 1, options)); });
  state.counters["bytes_each"] = bytes / static_cast<double>(check.triangles);
  state.counters["of_sort"] = ratios[ratios.size() / 2];
}
BENCHMARK(BM_Structure)
    ->ArgsProduct({{10'000, 100'000, 1'000'000}, {0, 1}})
    ->ArgNames({"triangles", "thorough"})
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond)
    ->Iterations(5);

}  // namespace

BENCHMARK_MAIN();
