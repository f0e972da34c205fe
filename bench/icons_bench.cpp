// 200 icons of 256 x 256 without a display: of 200 models, each with its own scene and pictures.
#include <benchmark/benchmark.h>

#include <chrono>

#include "app/bench/headless_icons.h"
#include "bench_support.h"
#include "mod/store.h"

namespace {

using namespace rakugo;
using bench::must;
using Clock = std::chrono::steady_clock;

void takeMany(benchmark::State& state) {
  constexpr int kIcons = 200;
  constexpr double kMost_s = 20;
  const std::filesystem::path folder = std::filesystem::path(RAKUGO_SOURCE_DIR) / "examples/mods/lamplight";
  auto loaded = mod::loadMod(folder);
  must(static_cast<bool>(loaded), "the demo mod");
  mod::ModState many = *loaded;
  for (int i = 1; i < kIcons; ++i) {
    const std::string name = "lamp-" + std::to_string(i);
    many.models[name] = std::as_const(many.models).at("quay-lamp");
    mod::ObjectDoc object = std::as_const(many.objects).at("quay-lamp");
    object.pieces.front().name = object.pieces.front().model = name;
    many.objects[name] = std::move(object);
  }
  auto book = rulebook::findRulebook(many.card.rulebook);
  must(static_cast<bool>(book), "the rulebook");
  for (rulebook::Kind& kind : book->kinds)
    if (kind.id == "fitting") kind.icon_width = kind.icon_height = 256;
  const auto x = check::Examiner(folder, std::make_shared<const rulebook::Rulebook>(std::move(book).value()))
                     .examine(std::make_shared<const mod::ModState>(many));
  must(static_cast<bool>(x), "the examination");
  std::vector<std::string> objects;
  for (const auto& [name, doc] : many.objects) objects.push_back(name);
  double longest_s = 0;
  for (auto _ : state) {
    const auto begin = Clock::now();
    mod::ModState next = many;
    const auto taken = app::takeIcons(**x, next, objects);
    must(static_cast<bool>(taken), "OpenGL without a display");
    longest_s = std::max(longest_s, std::chrono::duration<double>(Clock::now() - begin).count());
    must(taken->size() == kIcons, "all of them");
    for (const app::TakenIcon& one : *taken) must(one.problem.empty(), one.problem.c_str());
  }
  state.counters["longest_s"] = longest_s;
  state.counters["of_20_s"] = longest_s / kMost_s;
}
BENCHMARK(takeMany)->Unit(benchmark::kSecond)->Iterations(1);

}  // namespace

BENCHMARK_MAIN();
