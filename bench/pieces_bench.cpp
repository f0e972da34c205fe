// An object of 500 pieces, one of a pair dragged: what the core does for each place that the hand goes
// through.
#include <benchmark/benchmark.h>

#include <chrono>

#include "bench_support.h"
#include "mod/following.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/parts/pieces.h"

namespace {

using namespace rakugo;
using bench::must;
using Clock = std::chrono::steady_clock;

void dragOne(benchmark::State& state) {
  mod::ObjectDoc object;
  for (int i = 0; i < 500; ++i) {
    mod::PieceDoc piece;
    piece.name = "rivet-" + std::to_string(i);
    piece.model = "rivet";
    piece.position_m = {0.01 * i, 0.3, 0.1};
    if (i % 2 != 0) piece.parent = "rivet-0";  // half of them hang on one
    object.pieces.push_back(std::move(piece));
  }
  const glm::vec3 side(0, 1, 0);
  must(prepare::pairPieces(object, "rivet-497", "rivet-499", side).ok(), "a pair");
  double longest_ms = 0;
  int step = 0;
  for (auto _ : state) {
    const auto begin = Clock::now();
    mod::ObjectDoc next = object;
    const prepare::PiecePlace place{{0.001 * ++step, 0.2, 0.4}, {0, 0, 0, 1}};
    must(prepare::placePiece(next, "rivet-497", place, side).ok(), "it is placed");
    glm::mat4 all(0);
    for (const mod::PieceDoc& piece : next.pieces) all += prepare::placeInObject(next, piece);
    benchmark::DoNotOptimize(all);
    object = std::move(next);
    longest_ms =
        std::max(longest_ms, std::chrono::duration<double, std::milli>(Clock::now() - begin).count());
  }
  must(object.pieces[499].position_m[1] == -0.2, "the pair follows");
  state.counters["longest_ms"] = longest_ms;
  state.counters["longest_of_2_ms"] = longest_ms / 2;
}

// The same of a design that two variants follow, one of them at half its size.
void dragDesign(benchmark::State& state) {
  mod::ModState mod;
  mod::ObjectDoc& design = mod.objects["design"];
  for (int i = 0; i < 500; ++i) {
    mod::PieceDoc piece;
    piece.name = "rivet-" + std::to_string(i);
    piece.model = "rivet";
    piece.position_m = {0.01 * i, 0.3, 0.1};
    if (i % 2 != 0) piece.parent = "rivet-0";
    design.pieces.push_back(std::move(piece));
  }
  for (const auto& [name, scale] : {std::pair("plain", 1.0), std::pair("small", 0.5)}) {
    mod.objects[name] = mod.objects.at("design");
    must(mod::followObject(mod, name, "design", scale).ok(), "it follows");
    if (scale != 1) must(mod::likeDesign(mod, name, {}).ok(), "it is as the design");
  }
  double longest_ms = 0;
  int step = 0;
  for (auto _ : state) {
    mod::ModState next = mod;
    next.objects["design"].pieces[400].position_m[0] = 0.001 * ++step;
    const auto begin = Clock::now();
    mod::followDesigns(next, mod);
    longest_ms =
        std::max(longest_ms, std::chrono::duration<double, std::milli>(Clock::now() - begin).count());
    mod = std::move(next);
  }
  must(mod.objects.at("small").pieces[400].position_m[0] == 0.5 * (0.001 * step), "the variant follows");
  state.counters["longest_ms"] = longest_ms;
  state.counters["longest_of_2_ms"] = longest_ms / 2;
}

BENCHMARK(dragDesign)->Iterations(500)->Unit(benchmark::kMicrosecond);
BENCHMARK(dragOne)->Iterations(2000)->Unit(benchmark::kMicrosecond);

}  // namespace

BENCHMARK_MAIN();
