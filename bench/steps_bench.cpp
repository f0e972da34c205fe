// Editing a preparation of twenty steps on a model of 100,000 triangles: the last step, and the first.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <cmath>

#include "prepare/replay.h"

namespace {

using namespace rakugo;
using base::Json;
using Clock = std::chrono::steady_clock;

double seconds(Clock::time_point since) {
  return std::chrono::duration<double>(Clock::now() - since).count();
}

prepare::SourceModel source() {
  auto read = std::make_shared<formats::ReadModel>();
  scene::Primitive p;
  constexpr uint32_t kSide = 224;  // 100,352 triangles
  for (uint32_t y = 0; y <= kSide; ++y)
    for (uint32_t x = 0; x <= kSide; ++x) {
      const float a = static_cast<float>(x) / kSide, b = static_cast<float>(y) / kSide;
      p.positions.emplace_back(a * 4, b * 4, 0.3F * std::sin(9 * a) * std::cos(7 * b));
      p.normals.emplace_back(0, 0, 1);
      p.uvs[0].emplace_back(a, 1 - b);
    }
  for (uint32_t y = 0; y < kSide; ++y)
    for (uint32_t x = 0; x < kSide; ++x) {
      const uint32_t a = y * (kSide + 1) + x;
      p.indices.insert(p.indices.end(), {a, a + 1, a + kSide + 2, a, a + kSide + 2, a + kSide + 1});
    }
  scene::Mesh mesh;
  mesh.primitives.push_back(std::move(p));
  scene::Model& model = read->model;
  model.meshes.push_back(std::make_shared<const scene::Mesh>(std::move(mesh)));
  model.nodes.emplace_back();
  model.nodes[0].name = "sheet";
  model.nodes[0].mesh = scene::MeshIndex(0);
  model.roots = {scene::NodeIndex(0)};
  scene::assignKeys(model);
  return read;
}

std::vector<mod::StepDoc> steps() {
  std::vector<mod::StepDoc> out;
  const auto add = [&](const char* kind, const Json& values) {
    Json all = prepare::initialValues(*prepare::findStepKind(kind));
    all.update(values);
    out.push_back({"s" + std::to_string(out.size()), kind, true, all});
  };
  add("read_lengths", Json{{"unit", "cm"}});
  add("turn", Json{{"forward", "+X"}, {"up", "+Z"}});
  add("scale", Json{{"factor", 100.0}});
  for (const char* along : {"length", "width", "height"})
    add("stretch", Json{{"along", along}, {"factor", 1.1}});
  add("bake", Json::object());
  for (int i = 0; i < 3; ++i) add("weld", Json{{"distance_mm", 0.01}});
  for (const char* kind :
       {"remove_degenerate", "remove_duplicates", "orient", "remove_unused", "remove_needles"})
    add(kind, Json::object());
  add("make_normals", Json{{"which", "all"}});
  add("make_tangents", Json::object());
  add("remove_specks", Json{{"size_mm", 1.0}});
  add("rename", Json{{"part", "sheet"}, {"name", "deck"}});
  add("origin", Json{{"to", "centre"}});
  return out;
}

// `first`: the first step is edited, not the last.
void BM_EditAStep(benchmark::State& state) {
  const bool first = state.range(0) != 0;
  const auto model = source();
  const rulebook::Rulebook book;
  std::vector<mod::StepDoc> list = steps();
  prepare::Replayer replayer;
  if (!replayer.replay(model, list, book, {})) return state.SkipWithError("the steps do not run");
  std::vector<double> ratios, took;
  int turn = 0;
  for (auto _ : state) {
    // What the steps cost by themselves, one after another.
    double alone = 0;
    if (first) {
      auto own = std::make_shared<scene::Model>(model->model);
      prepare::StepContext context;
      context.book = &book;
      for (const mod::StepDoc& step : list) {
        auto next = std::make_shared<scene::Model>(*own);
        const auto begin = Clock::now();
        prepare::applyStep(*prepare::findStepKind(step.kind), *next, step.values, context);
        alone += seconds(begin);
        own = next;
      }
    }
    ++turn;
    if (first)
      list[0].values["unit"] = turn % 2 != 0 ? "mm" : "cm";
    else
      list.back().values["to"] = turn % 2 != 0 ? "floor_centre" : "centre";
    const auto begin = Clock::now();
    const auto made = replayer.replay(model, list, book, {});
    const double spent = seconds(begin);
    if (!made || replayer.stepsRun() != (first ? list.size() : 1))
      return state.SkipWithError("other steps were run than those that changed");
    took.push_back(spent * 1000);
    ratios.push_back(first ? spent / alone : spent / 0.010);
    state.SetIterationTime(spent);
  }
  std::sort(ratios.begin(), ratios.end());
  std::sort(took.begin(), took.end());
  state.counters["ms"] = took[took.size() / 2];
  state.counters[first ? "x_steps_alone" : "x_10ms"] = ratios[ratios.size() / 2];
}
BENCHMARK(BM_EditAStep)->Arg(0)->Arg(1)->UseManualTime()->Iterations(7)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
