// Pointing at a model of a million triangles, at rest and in a pose: the ray that the bench casts for every
// move of the pointer, on the window's thread, against the 4 ms it may take there.
#include <benchmark/benchmark.h>

#include <cmath>
#include <random>

#include "app/bench/bench_hit.h"
#include "base/bytes.h"
#include "bench_support.h"

namespace {

using namespace rakugo;
using Clock = std::chrono::steady_clock;
constexpr double kMost_ms = 4;

// A wrinkled ball of `side` by `side` quads, and the same stretched: what a pose makes of it.
glm::vec3 onBall(int i, int j, int side, float stretch) {
  const float u = 6.2831853F * static_cast<float>(i) / static_cast<float>(side),
              v = 3.1415926F * static_cast<float>(j) / static_cast<float>(side);
  const float r = 1 + 0.05F * std::sin(23 * u) * std::sin(17 * v);
  return {r * std::sin(v) * std::cos(u), r * std::sin(v) * std::sin(u), stretch * r * std::cos(v)};
}

app::BenchPart ballOf(int side, glm::vec3 at) {
  app::BenchPart part;
  part.mesh.stride = 12;
  part.mesh.attributes = {{bundle::Semantic::position, bundle::AttributeFormat::f32x3, 0}};
  part.mesh.vertex_count = static_cast<uint32_t>((side + 1) * (side + 1));
  base::ByteWriter out;
  for (int j = 0; j <= side; ++j)
    for (int i = 0; i <= side; ++i)
      for (int c = 0; c < 3; ++c) out.write<float>(onBall(i, j, side, 1)[c]);
  part.mesh.vertices = out.take();
  const auto row = static_cast<uint32_t>(side + 1);
  for (uint32_t j = 0; j < static_cast<uint32_t>(side); ++j)
    for (uint32_t i = 0; i < static_cast<uint32_t>(side); ++i) {
      const uint32_t a = j * row + i;
      for (const uint32_t v : {a, a + 1, a + row, a + 1, a + row + 1, a + row})
        part.mesh.indices.push_back(v);
    }
  part.mesh.submeshes = {{0, static_cast<uint32_t>(part.mesh.indices.size()), 0}};
  part.world[3] = glm::vec4(at, 1);
  part.materials = {0};
  return part;
}

// `parts` balls in a row, a million triangles together.
std::shared_ptr<app::BenchScene> balls(int parts) {
  auto scene = std::make_shared<app::BenchScene>();
  scene->materials.resize(1);
  const int side = static_cast<int>(std::sqrt(500000.0 / parts)) + 1;
  for (int i = 0; i < parts; ++i) scene->parts.push_back(ballOf(side, {2.2F * static_cast<float>(i), 0, 0}));
  app::addTrees(scene->parts);
  return scene;
}

app::PosedScene bent(const std::shared_ptr<app::BenchScene>& scene) {
  app::PosedScene out;
  out.scene = scene;
  out.pose = std::make_shared<app::BenchPose>();
  for (const app::BenchPart& part : scene->parts) {
    app::PosedScene::Bent one{part.places, {}};
    for (glm::vec3& p : one.places) p.z *= 1.5F;
    one.tree = geometry::Bvh(geometry::triangleBoxes(one.places, part.mesh.indices));
    out.parts.push_back(std::move(one));
  }
  return out;
}

// The slowest of many rays from all round, and their mean; some miss.
void pointAt(benchmark::State& state, bool posed) {
  const auto scene = balls(static_cast<int>(state.range(0)));
  const app::PosedScene pose = bent(scene);
  app::HitOptions options;
  if (posed) options.posed = &pose;
  size_t triangles = 0;
  for (const app::BenchPart& part : scene->parts) triangles += part.mesh.indices.size() / 3;
  bench::must(triangles >= 1'000'000, "the model has a million triangles");
  std::mt19937 random(7);
  std::uniform_real_distribution<float> share(-1, 1);
  const float long_m = 2.2F * static_cast<float>(state.range(0) - 1);
  double slowest_ms = 0, all_ms = 0;
  size_t rays = 0, met = 0;
  for (auto _ : state)
    for (int i = 0; i < 2000; ++i) {
      const glm::vec3 from(share(random) * long_m + long_m / 2, share(random) * 5, 4 + share(random));
      const glm::vec3 to((share(random) + 1) / 2 * long_m + share(random), share(random), share(random));
      const auto begin = Clock::now();
      const auto found = app::hit(*scene, from, glm::normalize(to - from), options);
      const double ms = std::chrono::duration<double, std::milli>(Clock::now() - begin).count();
      slowest_ms = std::max(slowest_ms, ms);
      all_ms += ms;
      ++rays;
      met += found ? 1 : 0;
    }
  bench::must(met > rays / 4 && met < rays, "some rays meet the model and some miss it");
  state.counters["mean_us"] = all_ms / static_cast<double>(rays) * 1000;
  state.counters["slowest_ms"] = slowest_ms;
  state.counters["slowest_of_4_ms"] = slowest_ms / kMost_ms;
}

void atRest(benchmark::State& state) { pointAt(state, false); }
void inAPose(benchmark::State& state) { pointAt(state, true); }

BENCHMARK(atRest)->Arg(1)->Arg(1000)->Iterations(3)->Unit(benchmark::kMillisecond);
BENCHMARK(inAPose)->Arg(1)->Arg(1000)->Iterations(3)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
